using System.Collections.Concurrent;
using System.IO.Compression;
using System.Net;
using System.Net.Http.Headers;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json.Nodes;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Tests.Machines;

namespace RustyLedger.Server.Tests.Hosting;

/// <summary>
/// Whatever anybody sends is answered, never with a fault of the ledger's own. Every operation of the OpenAPI document is asked with bodies
/// made after its schema and spoilt; the seed is fixed.
/// </summary>
public sealed class FuzzTests
{
    private const int Requests = 10_000;
    private const int SpoiltFiles = 400;
    private const int SpoiltBundles = 200;

    [Fact]
    public async Task No_request_is_a_fault_of_the_ledger()
    {
        using var ledger = await TestLedger.Start(demo: true);
        var document = await ledger.Get("/api/openapi.json");
        var operations = document["paths"]!
            .AsObject()
            .SelectMany(path => path.Value!.AsObject().Select(method => (Path: path.Key, Method: method.Key, Operation: method.Value!)))
            .ToList();
        Assert.True(operations.Count > 90);
        var faults = new ConcurrentBag<string>();
        await Parallel.ForEachAsync(
            Enumerable.Range(0, Requests),
            new ParallelOptions { MaxDegreeOfParallelism = 4 },
            async (i, cancel) =>
            {
                var (path, method, operation) = operations[i % operations.Count];
                var spoiler = new Spoiler(new Random(i), document);
                using var request = spoiler.Request(path, method, operation);
                using var answer = await ledger.Http.SendAsync(request, cancel);
                var said = await answer.Content.ReadAsStringAsync(cancel);
                if ((int)answer.StatusCode == 500 || said.Contains("\"status\":500", StringComparison.Ordinal))
                {
                    faults.Add(
                        $"{i}: {method} {request.RequestUri} "
                            + (request.Content is null ? "" : await request.Content.ReadAsStringAsync(cancel))
                    );
                }
                // What is no address at all is turned away before the ledger hears of it.
                else if (
                    answer.StatusCode == HttpStatusCode.RequestUriTooLong
                    || request.RequestUri!.OriginalString.Split('?')[0].Contains("%00", StringComparison.Ordinal)
                )
                {
                    Assert.InRange((int)answer.StatusCode, 400, 414);
                }
                else if ((int)answer.StatusCode >= 400 && answer.Content.Headers.ContentType?.MediaType != "application/problem+json")
                {
                    faults.Add($"{i}: {method} {request.RequestUri} answers {(int)answer.StatusCode} without problem details");
                }
                else if (said.Contains("RustyLedger.", StringComparison.Ordinal) || said.Contains("System.", StringComparison.Ordinal))
                {
                    faults.Add($"{i}: {method} {request.RequestUri} names a type: {said[..Math.Min(300, said.Length)]}");
                }
            }
        );
        Assert.True(
            faults.IsEmpty,
            string.Join(
                '\n',
                faults
                    .DistinctBy(f => f.Split(' ')[1] + f.Split(' ')[2].Split('?')[0].Length)
                    .OrderBy(f => f.Length)
                    .Take(25)
                    .Prepend($"{faults.Count} of {Requests}:")
            )
        );
    }

    [Fact]
    public async Task No_machine_file_is_a_fault_of_the_ledger()
    {
        using var ledger = await TestLedger.Start();
        var whole = TestLedger.DemoMachine("ly-08").ToJsonString();
        var faults = new List<string>();
        for (var i = 0; i < SpoiltFiles; i++)
        {
            var file = JsonNode.Parse(whole)!;
            var what = new Spoiler(new Random(i), file).SpoilOne(file);
            var (status, body) = await ledger.Post("/api/machine-files", file);
            if (status == 500)
            {
                faults.Add($"{i}: {what}: {body.ToJsonString()}");
            }
        }

        Assert.True(faults.Count == 0, string.Join('\n', faults.Take(25).Prepend($"{faults.Count} of {SpoiltFiles}:")));
    }

    /// <summary>One place of one text in it is wrong, its list telling the hash of what is there; or its own bytes are.</summary>
    [Fact]
    public async Task No_bundle_is_a_fault_of_the_ledger()
    {
        using var from = await TestLedger.Start(demo: true);
        using var into = await TestLedger.Start();
        var whole = await from.Http.GetByteArrayAsync("/api/machines/LY-08/bundle");
        string[] texts = [BundleFile.MachineName, BundleFile.VersionsName, BundleFile.ManifestName];
        var (faults, refused) = (new List<string>(), 0);
        for (var i = 0; i < SpoiltBundles; i++)
        {
            var dice = new Random(i);
            var name = texts.ElementAtOrDefault(i % (texts.Length + 1));
            var what = "bytes";
            byte[] bundle;
            if (name is null)
            {
                bundle = [.. whole];
                bundle[dice.Next(bundle.Length)] ^= (byte)dice.Next(1, 256);
                bundle = dice.Next(4) == 0 ? bundle[..dice.Next(bundle.Length)] : bundle;
            }
            else
            {
                (bundle, what) = await Spoilt(whole, name, dice);
            }

            foreach (var path in (string[])["/api/bundles/preview", "/api/bundles"])
            {
                var (status, body) = await BundleTests.Post(into, path, bundle);
                var said = body.ToJsonString();
                refused += status == 200 ? 0 : 1;
                if (
                    status >= 500
                    || said.Contains("\"status\":500", StringComparison.Ordinal)
                    || said.Contains("System.", StringComparison.Ordinal)
                )
                {
                    faults.Add($"{i}: {name} {what}: {path} {said}");
                }
            }
        }

        Assert.True(faults.Count == 0, string.Join('\n', faults.Take(25).Prepend($"{faults.Count} of {SpoiltBundles}:")));
        Assert.True(refused > SpoiltBundles, $"{refused} were refused");
        // After all that, the whole one is taken in.
        Assert.Equal(200, (await BundleTests.Post(into, "/api/bundles/preview", whole)).Status);
    }

    private static async Task<(byte[] Bundle, string What)> Spoilt(byte[] whole, string name, Random dice)
    {
        var packed = new MemoryStream();
        await packed.WriteAsync(whole);
        string what;
        using (var zip = new ZipArchive(packed, ZipArchiveMode.Update, leaveOpen: true))
        {
            var file = await Read(zip, name);
            what = new Spoiler(dice, file).SpoilOne(file);
            var written = Put(zip, name, file);
            if (name != BundleFile.ManifestName)
            {
                var manifest = await Read(zip, BundleFile.ManifestName);
                var entry = manifest["entries"]!.AsArray().Single(e => (string)e!["path"]! == name)!;
                entry["bytes"] = written.Length;
                entry["sha256"] = Convert.ToHexStringLower(SHA256.HashData(written));
                Put(zip, BundleFile.ManifestName, manifest);
            }
        }

        return (packed.ToArray(), what);

        static async Task<JsonNode> Read(ZipArchive zip, string name)
        {
            await using var text = await zip.GetEntry(name)!.OpenAsync();
            return (await JsonNode.ParseAsync(text))!;
        }

        static byte[] Put(ZipArchive zip, string name, JsonNode file)
        {
            zip.GetEntry(name)!.Delete();
            var written = Encoding.UTF8.GetBytes(file.ToJsonString());
            using var entry = zip.CreateEntry(name).Open();
            entry.Write(written);
            return written;
        }
    }

    /// <summary>Makes requests after their schema, with something wrong in them here and there.</summary>
    private sealed class Spoiler(Random dice, JsonNode document)
    {
        private const double Spoils = 0.08;

        private static readonly string[] _ids =
        [
            "ly-04",
            "LY-04",
            "ly04-v1",
            "r3",
            "edda",
            "cawdale-zone-c",
            "ly-03",
            "z1",
            "x",
            "00000000",
            "ly03-s1",
            "none",
        ];

        private static readonly string[] _texts =
        [
            "",
            " ",
            "x",
            "24.1",
            "\u0000",
            "\u0007bell",
            "\ud800",
            "é\u0301",
            new('y', 5000),
            "null",
            "{}",
            "../../etc/passwd",
            "'; DROP TABLE Pins; --",
            "=1+1",
            "9999999999999999999999",
            "2026-02-30",
            "2026-11-26T10:00:00Z",
            "-",
            "OL",
            "24 V ±5 %",
            "\r\n",
            "%00",
        ];

        public HttpRequestMessage Request(string path, string method, JsonNode operation)
        {
            var parameters = operation["parameters"]?.AsArray() ?? [];
            var query = new StringBuilder();
            foreach (var parameter in parameters)
            {
                var name = (string)parameter!["name"]!;
                if ((string)parameter["in"]! == "path")
                {
                    path = path.Replace($"{{{name}}}", Uri.EscapeDataString(Word()), StringComparison.Ordinal);
                }
                else if (dice.NextDouble() < 0.7)
                {
                    query.Append(query.Length == 0 ? '?' : '&').Append(name).Append('=').Append(Uri.EscapeDataString(Word()));
                }
            }

            var request = new HttpRequestMessage(new HttpMethod(method.ToUpperInvariant()), path + query);
            if (operation["requestBody"]?["content"]?.AsObject() is { Count: > 0 } content)
            {
                var (type, schema) = content.First();
                request.Content =
                    type == "application/json"
                        ? new StringContent(Body(schema?["schema"]), Encoding.UTF8, type)
                        : new ByteArrayContent(Encoding.UTF8.GetBytes(Text()));
                request.Content.Headers.ContentType = new MediaTypeHeaderValue(dice.NextDouble() < 0.02 ? "text/plain" : type);
            }

            return request;
        }

        private string Word() => dice.NextDouble() < 0.75 ? _ids[dice.Next(_ids.Length)] : Safe(Text());

        /// <summary>Half a sign cannot be sent in an address.</summary>
        private static string Safe(string text) => text.Any(char.IsSurrogate) ? "half" : text;

        private string Text() => _texts[dice.Next(_texts.Length)];

        private string Body(JsonNode? schema)
        {
            var body = Made(schema, 0)?.ToJsonString() ?? "null";
            return dice.NextDouble() < 0.03 ? body[..dice.Next(body.Length + 1)]
                : dice.NextDouble() < 0.01 ? new string('[', 3000)
                : body;
        }

        private JsonNode? Made(JsonNode? schema, int depth)
        {
            if (dice.NextDouble() < Spoils)
            {
                return Wrong();
            }

            while ((string?)schema?["$ref"] is { } reference)
            {
                schema = document["components"]!["schemas"]![reference[(reference.LastIndexOf('/') + 1)..]];
            }

            if (schema?["oneOf"]?.AsArray() is { Count: > 0 } choices)
            {
                return Made(choices[dice.Next(choices.Count)], depth + 1);
            }

            if (schema?["enum"]?.AsArray() is { Count: > 0 } words)
            {
                return words[dice.Next(words.Count)]?.DeepClone();
            }

            var type = schema?["type"] switch
            {
                JsonArray many => (string?)many.FirstOrDefault(t => (string?)t != "null"),
                JsonValue one => (string?)one,
                _ => null,
            };
            switch (type)
            {
                case "object" when depth < 8:
                    var made = new JsonObject();
                    foreach (var (name, of) in schema!["properties"]?.AsObject() ?? [])
                    {
                        if (dice.NextDouble() > 0.04)
                        {
                            made[name] = Made(of, depth + 1);
                        }
                    }

                    if (schema["additionalProperties"] is JsonObject values && dice.NextDouble() < 0.5)
                    {
                        made[Text()] = Made(values, depth + 1);
                    }

                    return made;
                case "array" when depth < 8:
                    return new JsonArray([.. Enumerable.Range(0, dice.Next(3)).Select(_ => Made(schema!["items"], depth + 1))]);
                case "integer":
                    return JsonValue.Create(dice.Next(-2, 40));
                case "number":
                    return JsonValue.Create(Math.Round(dice.NextDouble() * 100, 2));
                case "boolean":
                    return JsonValue.Create(dice.Next(2) == 0);
                case "string":
                    return (string?)schema!["format"] switch
                    {
                        "date-time" => JsonValue.Create("2026-11-26T10:00:00Z"),
                        "date" => JsonValue.Create("2026-11-26"),
                        _ => JsonValue.Create(dice.NextDouble() < 0.5 ? _ids[dice.Next(_ids.Length)] : Text()),
                    };
                default:
                    return null;
            }
        }

        private JsonNode? Wrong() =>
            dice.Next(10) switch
            {
                0 => null,
                1 => JsonValue.Create(Text()),
                2 => JsonNode.Parse("1e400"),
                3 => JsonValue.Create(long.MaxValue),
                4 => new JsonArray(null, null),
                5 => new JsonObject { ["x"] = null },
                6 => JsonValue.Create(-1),
                7 => JsonValue.Create(true),
                8 => new JsonArray(new JsonObject()),
                _ => JsonValue.Create(0.5),
            };

        /// <summary>Puts something wrong in one place of a document.</summary>
        public string SpoilOne(JsonNode root)
        {
            var places = new List<JsonNode>();
            void Walk(JsonNode? node)
            {
                switch (node)
                {
                    case JsonObject members:
                        places.Add(members);
                        foreach (var (_, value) in members)
                        {
                            Walk(value);
                        }

                        break;
                    case JsonArray items:
                        places.Add(items);
                        foreach (var item in items)
                        {
                            Walk(item);
                        }

                        break;
                }
            }

            Walk(root);
            var at = places[dice.Next(places.Count)];
            switch (at)
            {
                case JsonObject { Count: > 0 } members:
                    var name = members.ElementAt(dice.Next(members.Count)).Key;
                    if (dice.Next(6) == 0)
                    {
                        members.Remove(name);
                        return $"{members.GetPath()} without {name}";
                    }

                    members[name] = Wrong();
                    return $"{members.GetPath()}.{name} is {members[name]?.ToJsonString() ?? "null"}";
                case JsonArray { Count: > 0 } items:
                    var place = dice.Next(items.Count);
                    items[place] = Wrong();
                    return $"{items.GetPath()}[{place}] is {items[place]?.ToJsonString() ?? "null"}";
                default:
                    return SpoilOne(root);
            }
        }
    }
}
