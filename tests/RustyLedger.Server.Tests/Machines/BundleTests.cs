using System.IO.Compression;
using System.Net.Http.Headers;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Machines;
using RustyLedger.Server.Tests.Photographs;

namespace RustyLedger.Server.Tests.Machines;

public sealed class BundleTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    private readonly LedgerProcess _ledger = demo.Ledger;

    private static async Task<(int Status, JsonNode Body)> Post(LedgerProcess ledger, string path, byte[] bundle)
    {
        using var content = new ByteArrayContent(bundle) { Headers = { ContentType = new MediaTypeHeaderValue("application/zip") } };
        using var answer = await ledger.Http.PostAsync(path, content);
        return ((int)answer.StatusCode, JsonNode.Parse(await answer.Content.ReadAsStringAsync())!);
    }

    [Fact]
    public async Task A_machine_goes_out_as_a_bundle_and_into_another_ledger_as_it_was()
    {
        var zip = await _ledger.Http.GetByteArrayAsync("/api/machines/LY-08/bundle");
        using (var archive = new ZipArchive(new MemoryStream(zip)))
        {
            Assert.Equal(3, archive.Entries.Count(e => e.FullName.StartsWith("pictures/", StringComparison.Ordinal)));
            Assert.Contains(archive.Entries, e => e.FullName == "terminals/stenwath-sw204-c.csv");
        }

        using var other = await LedgerProcess.Start();
        var (seen, preview) = await Post(other, "/api/bundles/preview", zip);
        Assert.Equal((200, false), (seen, (bool)preview["changesNothing"]!));
        Assert.Contains("machine LY-08, Eddy-brake cycle ergometer", preview["adds"]!.AsArray().Select(a => (string)a!));
        Assert.Contains("3 photographs", preview["adds"]!.AsArray().Select(a => (string)a!));
        Assert.Empty((await other.Get("/api/machines"))["machines"]!.AsArray());

        Assert.Equal((200, "LY-08"), await Taken(other, zip));
        Assert.Equal(await _ledger.Http.GetStringAsync("/api/machines/LY-08/file"), await other.Http.GetStringAsync("/api/machines/LY-08/file"));
        // The same once more changes nothing, and neither does the other ledger's own bundle of it.
        var edits = (await other.Get("/api/edits/Machine/ly-08")).AsArray().Count;
        Assert.True((bool)(await Post(other, "/api/bundles/preview", zip)).Body["changesNothing"]!);
        Assert.Equal((200, "LY-08"), await Taken(other, zip));
        Assert.Equal((200, "LY-08"), await Taken(other, await other.Http.GetByteArrayAsync("/api/machines/LY-08/bundle")));
        Assert.Equal(edits, (await other.Get("/api/edits/Machine/ly-08")).AsArray().Count);

        // What has been written here since is never written over.
        await other.Post("/api/notes", new { id = Lines.NewId(), machineId = "ly-08", visitId = (string?)null, text = "saddle creaks", personId = "bram" });
        var (_, clash) = await Post(other, "/api/bundles/preview", zip);
        Assert.StartsWith("Machine LY-08 is here already", (string)Assert.Single(clash["clashes"]!.AsArray())!, StringComparison.Ordinal);
        Assert.Equal(409, (await Post(other, "/api/bundles", zip)).Status);

        static async Task<(int, string)> Taken(LedgerProcess ledger, byte[] zip)
        {
            var (status, body) = await Post(ledger, "/api/bundles", zip);
            return (status, (string)body["tag"]!);
        }
    }

    [Fact]
    public async Task A_board_type_with_other_contents_stops_the_bundle()
    {
        var zip = await _ledger.Http.GetByteArrayAsync("/api/machines/LY-04/bundle");
        using var other = await LedgerProcess.Start(demo: true);
        var machine = JsonNode.Parse(Encoding.UTF8.GetString(BundleFile.Read(new MemoryStream(zip)).Machine))!;
        (machine["machine"]!["id"], machine["machine"]!["tag"], machine["boardTypes"]![0]!["name"]) = ("ly-44", "LY-44", "Zone board, other");
        var (_, preview) = await Post(other, "/api/bundles/preview", Bundle(new() { ["machine.json"] = Encoding.UTF8.GetBytes(machine.ToJsonString()) }));
        var clashes = preview["clashes"]!.AsArray().Select(c => (string)c!).ToList();
        Assert.Contains("Board type CW-4471 rev C is here with other contents.", clashes);
        Assert.Contains(clashes, c => c.StartsWith("The picture of Zone 1", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Damaged_bundles_are_refused_over_HTTP_and_nothing_is_written()
    {
        var zip = await _ledger.Http.GetByteArrayAsync("/api/machines/LY-08/bundle");
        using var other = await LedgerProcess.Start();
        var dice = new Random(5);
        for (var i = 0; i < 60; i++)
        {
            var damaged = i % 3 == 0 ? zip[..dice.Next(zip.Length)] : (byte[])zip.Clone();
            for (var n = 0; n < 40 && i % 3 > 0; n++)
            {
                damaged[dice.Next(damaged.Length)] ^= (byte)(1 << dice.Next(8));
            }

            var (status, problem) = await Post(other, "/api/bundles", damaged);
            Assert.True(status == 400 && (string)problem["field"]! == "bundle", problem.ToJsonString());
        }

        Assert.Empty((await other.Get("/api/machines"))["machines"]!.AsArray());
        Assert.False(Directory.Exists(Path.Combine(other.Data, "photographs")) && Directory.EnumerateFiles(Path.Combine(other.Data, "photographs"), "*", SearchOption.AllDirectories).Any());
    }

    /// <summary>
    /// Ten thousand damaged bundles with a fixed seed: cut, bits turned, entries swapped, names that lead out of the folder, archives
    /// within, sizes that lie, and machine files with a value of another type. Each is refused by a reason, or nothing of it is lost.
    /// </summary>
    [Fact]
    public async Task Ten_thousand_damaged_bundles_are_refused()
    {
        var machine = await File.ReadAllBytesAsync(Path.Combine(LedgerProcess.DemoFolder, "ly-06.json"));
        var pictures = Enumerable.Range(0, 3).Select(i => Pictures.Of(SkiaSharp.SKEncodedImageFormat.Jpeg, 20 + i)).ToList();
        var parts = new Dictionary<string, byte[]> { ["machine.json"] = machine, ["terminals/b.csv"] = "connector,pin\r\n"u8.ToArray() };
        foreach (var picture in pictures)
        {
            parts[$"pictures/{Convert.ToHexStringLower(SHA256.HashData(picture))}.jpg"] = picture;
        }

        var whole = Bundle(parts);
        Assert.Equal(pictures.Count, BundleFile.Read(new MemoryStream(whole)).Pictures.Count);
        var dice = new Random(20261125);
        var reasons = new Dictionary<string, int>();
        for (var i = 0; i < 10_000; i++)
        {
            var kind = i % 10;
            var damaged = kind switch
            {
                0 => whole[..dice.Next(whole.Length)],
                1 or 2 => Turned(whole, dice, 1 + dice.Next(30)),
                3 => Bundle(Swapped(parts, dice)),
                4 => Bundle(parts, more: (Outside(dice), "x"u8.ToArray())),
                5 => Bundle(parts, more: (dice.Next(2) == 0 ? "pictures/inner.zip" : $"terminals/{new string('a', dice.Next(70, 200))}.csv", whole)),
                6 => Bundle(parts, lie: dice),
                7 => [.. whole[dice.Next(1, whole.Length)..], .. whole[..dice.Next(whole.Length)]],
                _ => Bundle(new(parts) { ["machine.json"] = OtherType(machine, dice) }),
            };
            try
            {
                var read = BundleFile.Read(new MemoryStream(damaged));
                await MachineFileImport.Understand(new MemoryStream(read.Machine), default);
                // Bits of a time stamp may turn, and a second copy may stand in front: then all must be as it was.
                Assert.True(kind is 1 or 2 or 7 && read.Machine.AsSpan().SequenceEqual(machine) && read.Pictures.Count == pictures.Count && read.Pictures.All(p => p.Value.AsSpan().SequenceEqual(parts[$"pictures/{p.Key}"])), $"damage {kind} of round {i} was taken");
            }
            catch (ProblemException refusal)
            {
                Assert.Equal(400, refusal.Status);
                Assert.NotEmpty(refusal.Message);
                var reason = refusal.Message.Split(' ') is [.., var last] ? $"{kind} {last}" : "";
                reasons[reason] = reasons.GetValueOrDefault(reason) + 1;
            }
        }

        // It is not one and the same reason that refuses them all.
        Assert.True(reasons.Count > 15, string.Join('\n', reasons.Keys));
    }

    private static byte[] Turned(byte[] whole, Random dice, int bits)
    {
        var turned = (byte[])whole.Clone();
        for (var n = 0; n < bits; n++)
        {
            turned[dice.Next(turned.Length)] ^= (byte)(1 << dice.Next(8));
        }

        return turned;
    }

    private static Dictionary<string, byte[]> Swapped(Dictionary<string, byte[]> parts, Random dice)
    {
        var swapped = new Dictionary<string, byte[]>(parts);
        var names = parts.Keys.Where(k => k.StartsWith("pictures/", StringComparison.Ordinal)).Append("machine.json").ToArray();
        dice.Shuffle(names);
        (swapped[names[0]], swapped[names[1]]) = (swapped[names[1]], swapped[names[0]]);
        // The list says what was there before.
        swapped["="] = JsonSerializer.SerializeToUtf8Bytes(parts.Select(p => new BundleEntry(p.Key, p.Value.Length, Convert.ToHexStringLower(SHA256.HashData(p.Value)))), MachineFile.Json);
        return swapped;
    }

    private static string Outside(Random dice)
    {
        string[] ways = ["../machine.json", "pictures/../../etc/passwd", "/etc/passwd", @"..\machine.json", "C:/x", "terminals/../x.csv", "machine.json/", "Machine.json", "pictures//x.jpg", "pictures/.jpg", "readme.txt", "terminals/..csv"];
        return ways[dice.Next(ways.Length)];
    }

    /// <summary>A scalar or list somewhere in the file becomes an object that no member is.</summary>
    private static byte[] OtherType(byte[] machine, Random dice)
    {
        var root = JsonNode.Parse(machine)!;
        var at = root;
        while (true)
        {
            if (at is JsonObject { Count: > 0 } members)
            {
                var (name, value) = members.ElementAt(dice.Next(members.Count));
                if (value is JsonObject or JsonArray { Count: > 0 } && dice.Next(4) > 0)
                {
                    at = value;
                    continue;
                }

                members[name] = new JsonObject { ["x"] = new JsonArray() };
            }
            else if (at is JsonArray { Count: > 0 } list)
            {
                var item = dice.Next(list.Count);
                if (list[item] is JsonObject next)
                {
                    at = next;
                    continue;
                }

                list[item] = new JsonObject { ["x"] = new JsonArray() };
            }
            else
            {
                root["version"] = "one";
            }

            return Encoding.UTF8.GetBytes(root.ToJsonString());
        }
    }

    /// <param name="more">An entry that does not belong there; it is in the list, so that only its name speaks against it.</param>
    /// <param name="lie">Makes one size in the list a lie.</param>
    private static byte[] Bundle(Dictionary<string, byte[]> parts, (string Name, byte[] Content)? more = null, Random? lie = null)
    {
        var entries = parts.Where(p => p.Key != "=").Select(p => (Name: p.Key, Content: p.Value)).ToList();
        if (more is { } stray)
        {
            entries.Add(stray);
        }

        var list = entries.ConvertAll(e => new BundleEntry(e.Name, e.Content.Length, Convert.ToHexStringLower(SHA256.HashData(e.Content))));
        if (lie is not null)
        {
            var at = lie.Next(list.Count);
            list[at] = lie.Next(3) switch { 0 => list[at] with { Bytes = list[at].Bytes + 1 + lie.Next(1000) }, 1 => list[at] with { Sha256 = new string('0', 64) }, _ => list[at] with { Path = list[at].Path + "x" } };
        }

        using var file = new MemoryStream();
        using (var zip = new ZipArchive(file, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var (name, content) in entries)
            {
                using var entry = zip.CreateEntry(name).Open();
                entry.Write(content);
            }

            using var manifest = zip.CreateEntry("bundle.json").Open();
            var said = parts.TryGetValue("=", out var before) ? JsonSerializer.Deserialize<List<BundleEntry>>(before, MachineFile.Json)! : list;
            JsonSerializer.Serialize(manifest, new BundleManifest(BundleManifest.FormatName, BundleManifest.CurrentVersion, "LY-06", said), MachineFile.Json);
        }

        return file.ToArray();
    }
}
