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
    private readonly TestLedger _ledger = demo.Ledger;

    internal static async Task<(int Status, JsonNode Body)> Post(TestLedger ledger, string path, byte[] bundle)
    {
        using var content = new ByteArrayContent(bundle) { Headers = { ContentType = new MediaTypeHeaderValue("application/zip") } };
        using var answer = await ledger.Http.PostAsync(path, content);
        return ((int)answer.StatusCode, JsonNode.Parse(await answer.Content.ReadAsStringAsync())!);
    }

    private static async Task<(int Status, string Tag)> Taken(TestLedger ledger, byte[] zip)
    {
        var (status, body) = await Post(ledger, "/api/bundles", zip);
        return (status, (string?)body["tag"] ?? (string?)body["detail"] ?? "");
    }

    private static async Task<(int Status, JsonNode Body)> TakenWith(
        TestLedger ledger,
        byte[] zip,
        Dictionary<string, string> choices,
        string path = "/api/bundles"
    )
    {
        using var form = new MultipartFormDataContent
        {
            { new StringContent(JsonSerializer.Serialize(choices)), "choices" },
            { new ByteArrayContent(zip), "bundle", "b.zip" },
        };
        using var answer = await ledger.Http.PostAsync(path, form);
        var text = await answer.Content.ReadAsStringAsync();
        return ((int)answer.StatusCode, JsonNode.Parse(text.TrimEnd().Split('\n')[^1])!);
    }

    private static Task<byte[]> Bundle(TestLedger ledger, string of) => ledger.Http.GetByteArrayAsync($"/api/{of}/bundle");

    private static List<string> Texts(JsonNode preview, string list) =>
        [.. preview[list]!.AsArray().Select(l => l is JsonObject ? (string)l["words"]! : (string)l!)];

    private static async Task<string> Colour(TestLedger ledger, string pin) =>
        (string)
            (await ledger.Get("/api/machines/LY-08/file"))["boardTypes"]!
                .AsArray()
                .SelectMany(t => t!["elements"]!.AsArray())
                .SelectMany(e => e!["pins"]!.AsArray())
                .First(p => (string)p!["id"]! == pin)!["colours"]!;

    private static async Task Paint(TestLedger ledger, string colours)
    {
        var pin = (await ledger.Get("/api/machines/ly-08/boards/cb/map"))["pins"]!.AsArray().Single(p => (string)p!["id"]! == "j1-2")!;
        var (status, said) = await ledger.Send(
            HttpMethod.Put,
            "/api/board-types/stenwath-sw204-c/pins/j1/j1-2",
            new
            {
                version = (int)pin["version"]!,
                label = (string)pin["label"]!,
                colours,
                signal = (string)pin["signal"]!,
            }
        );
        Assert.True(status == 200, said.ToJsonString());
    }

    [Fact]
    public async Task A_machine_goes_out_as_a_bundle_and_into_another_ledger_as_it_was()
    {
        var zip = await Bundle(_ledger, "machines/LY-08");
        using (var archive = new ZipArchive(new MemoryStream(zip)))
        {
            Assert.Equal(3, archive.Entries.Count(e => e.FullName.StartsWith("pictures/", StringComparison.Ordinal)));
            Assert.Contains(archive.Entries, e => e.FullName == "terminals/stenwath-sw204-c.csv");
        }

        using var other = await TestLedger.Start();
        var (seen, preview) = await Post(other, "/api/bundles/preview", zip);
        Assert.Equal((200, false), (seen, (bool)preview["changesNothing"]!));
        Assert.Equal("machine LY-08, Eddy-brake cycle ergometer", (string)preview["words"]!);
        Assert.Contains(Texts(preview, "adds"), a => a.StartsWith("machine LY-08: ", StringComparison.Ordinal));
        Assert.Contains(Texts(preview, "adds"), a => a.StartsWith("photograph of ", StringComparison.Ordinal));
        Assert.Empty((await other.Get("/api/machines"))["machines"]!.AsArray());

        Assert.Equal((200, "LY-08"), await Taken(other, zip));
        Assert.Equal(
            await _ledger.Http.GetStringAsync("/api/machines/LY-08/file"),
            await other.Http.GetStringAsync("/api/machines/LY-08/file")
        );
        // The same once more changes nothing, and neither does the other ledger's own bundle of it.
        var edits = (await other.Get("/api/edits/Machine/ly-08")).AsArray().Count;
        Assert.True((bool)(await Post(other, "/api/bundles/preview", zip)).Body["changesNothing"]!);
        Assert.Equal((200, "LY-08"), await Taken(other, zip));
        Assert.Equal((200, "LY-08"), await Taken(other, await Bundle(other, "machines/LY-08")));
        Assert.Equal(edits, (await other.Get("/api/edits/Machine/ly-08")).AsArray().Count);
    }

    [Fact]
    public async Task Readings_and_settings_stand_in_it_for_other_programs()
    {
        using var archive = new ZipArchive(new MemoryStream(await Bundle(_ledger, "machines/LY-03")));
        var settings = archive.Entries.Where(e => e.FullName.StartsWith("settings/", StringComparison.Ordinal)).ToList();
        Assert.Equal((await _ledger.Get("/api/machines/LY-03/file"))["snapshots"]!.AsArray().Count, settings.Count);
        using (var reader = new StreamReader(settings[0].Open()))
        {
            Assert.Equal("code,value,unit,name", await reader.ReadLineAsync());
        }

        using var measured = new ZipArchive(new MemoryStream(await Bundle(_ledger, "machines/LY-04")));
        var readings = measured.Entries.Where(e => e.FullName.StartsWith("readings/", StringComparison.Ordinal)).ToList();
        Assert.NotEmpty(readings);
        var round = (string)
            (await _ledger.Get("/api/machines/LY-04/file"))["visits"]!
                .AsArray()
                .SelectMany(v => v!["rounds"]!.AsArray())
                .First(r => r!["readings"]!.AsArray().Count > 0)!["id"]!;
        using var csv = new StreamReader(readings.Single(r => r.FullName.EndsWith($"-{round}.csv", StringComparison.Ordinal)).Open());
        using var direct = new StreamReader(await _ledger.Http.GetStreamAsync($"/api/rounds/{round}/readings.csv"));
        Assert.Equal(await direct.ReadToEndAsync(), await csv.ReadToEndAsync());
    }

    [Fact]
    public async Task What_another_ledger_wrote_comes_back_and_what_both_wrote_is_asked()
    {
        using var home = await TestLedger.Start(demo: true);
        using var away = await TestLedger.Start();
        Assert.Equal((200, "LY-08"), await Taken(away, await Bundle(home, "machines/LY-08")));

        // Written there, and not here: it comes in without a question.
        await Paint(away, "GN");
        var note = Lines.NewId();
        await away.Post(
            "/api/notes",
            new
            {
                id = note,
                machineId = "ly-08",
                visitId = (string?)null,
                text = "saddle creaks",
                personId = "bram",
            }
        );
        var back = await Bundle(away, "machines/LY-08");
        var (_, preview) = await Post(home, "/api/bundles/preview", back);
        Assert.Equal(["note “saddle creaks”"], Texts(preview, "adds"));
        Assert.Equal(["pin J1·2 of board type SW-204 rev C"], Texts(preview, "changes"));
        Assert.Equal(
            ("colours", "green"),
            ((string)preview["changes"]![0]!["members"]![0]!["name"]!, (string)preview["changes"]![0]!["members"]![0]!["there"]!)
        );
        Assert.Empty(Texts(preview, "clashes"));
        Assert.Equal((200, "LY-08"), await Taken(home, back));
        Assert.Equal("GN", await Colour(home, "j1-2"));
        Assert.Equal(
            await home.Http.GetStringAsync("/api/machines/LY-08/file"),
            await away.Http.GetStringAsync("/api/machines/LY-08/file")
        );
        // The change stands in the log like any other.
        var log = (await home.Get("/api/edits/Pin/stenwath-sw204-c/j1/j1-2")).AsArray();
        Assert.Contains(log, e => e!.ToJsonString().Contains("GN", StringComparison.Ordinal));

        // Written on both sides: nothing is taken until it is said which one stands.
        await Paint(home, "YE");
        await Paint(away, "VT");
        var clashing = await Bundle(away, "machines/LY-08");
        var clash = Assert.Single((await Post(home, "/api/bundles/preview", clashing)).Body["clashes"]!.AsArray())!;
        Assert.Equal(("yellow", "violet"), ((string)clash["members"]![0]!["here"]!, (string)clash["members"]![0]!["there"]!));
        Assert.Equal(409, (await Post(home, "/api/bundles", clashing)).Status);
        Assert.Equal("YE", await Colour(home, "j1-2"));
        Assert.Equal(200, (await TakenWith(home, clashing, new() { [(string)clash["key"]!] = "here" })).Status);
        Assert.Equal("YE", await Colour(home, "j1-2"));
        Assert.True((bool)(await Post(home, "/api/bundles/preview", clashing)).Body["changesNothing"]!);

        // What was decided here goes back there without a question.
        var decided = await Bundle(home, "machines/LY-08");
        Assert.Empty(Texts((await Post(away, "/api/bundles/preview", decided)).Body, "clashes"));
        Assert.Equal((200, "LY-08"), await Taken(away, decided));
        Assert.Equal("YE", await Colour(away, "j1-2"));
        await Paint(home, "OG");
        await Paint(away, "PK");
        var last = await Bundle(away, "machines/LY-08");
        var (status, steps) = await TakenWith(home, last, new() { [(string)clash["key"]!] = "there" }, "/api/bundles/watched");
        Assert.Equal((200, "LY-08"), (status, (string)steps["tag"]!));
        Assert.Equal("PK", await Colour(home, "j1-2"));
        // A choice that is none.
        Assert.Equal("choices", (string)(await TakenWith(home, last, new() { ["x"] = "both" })).Body["field"]!);
    }

    [Fact]
    public async Task What_was_taken_away_there_goes_here_and_comes_back_when_it_is_put_back()
    {
        using var home = await TestLedger.Start(demo: true);
        using var away = await TestLedger.Start();
        await Taken(away, await Bundle(home, "machines/LY-08"));
        var note = (string)(await away.Get("/api/machines/LY-08/file"))["boardNotes"]![0]!["id"]!;
        var count = (await home.Get("/api/machines/LY-08/file"))["boardNotes"]!.AsArray().Count;
        using (var retired = await away.Http.PostAsync($"/api/board-notes/{note}/retire", null))
        {
            retired.EnsureSuccessStatusCode();
        }

        var without = await Bundle(away, "machines/LY-08");
        Assert.Single(Texts((await Post(home, "/api/bundles/preview", without)).Body, "removes"));
        Assert.Equal((200, "LY-08"), await Taken(home, without));
        Assert.Equal(count - 1, (await home.Get("/api/machines/LY-08/file"))["boardNotes"]!.AsArray().Count);

        // The older bundle does not bring it back by itself, though it comes from a ledger that has not heard of this one.
        Assert.True((bool)(await Post(home, "/api/bundles/preview", await Bundle(_ledger, "machines/LY-08"))).Body["changesNothing"]!);
    }

    /// <summary>
    /// To and fro: a text that is put back is the newest, and a pin added to a connector that was taken away on the other side is asked
    /// about.
    /// </summary>
    [Fact]
    public async Task What_is_put_back_is_newer_and_what_is_added_to_something_taken_away_is_asked()
    {
        using var home = await TestLedger.Start(demo: true);
        using var away = await TestLedger.Start();
        await Taken(away, await Bundle(home, "machines/LY-08"));
        var first = await Colour(home, "j1-2");
        await Paint(away, "GN");
        await Taken(home, await Bundle(away, "machines/LY-08"));
        await Paint(home, first);
        var back = await Bundle(home, "machines/LY-08");
        Assert.Equal(["pin J1·2 of board type SW-204 rev C"], Texts((await Post(away, "/api/bundles/preview", back)).Body, "changes"));
        Assert.Equal((200, "LY-08"), await Taken(away, back));
        Assert.Equal(first, await Colour(away, "j1-2"));

        // A connector that both know is taken away here, while a pin is added to it there.
        await Change(
            home,
            new
            {
                kind = "add",
                row = "element",
                parent = "",
                id = "j90",
                column = (string?)null,
                before = "",
                text = "",
                cells = new Dictionary<string, string> { ["designator"] = "J90" },
            }
        );
        await Taken(away, await Bundle(home, "machines/LY-08"));
        await Change(
            home,
            new
            {
                kind = "remove",
                row = "element",
                parent = "",
                id = "j90",
                column = (string?)null,
                before = "",
                text = "",
                cells = (object?)null,
            }
        );
        await Change(
            away,
            new
            {
                kind = "add",
                row = "pin",
                parent = "j90",
                id = "j90-1",
                column = (string?)null,
                before = "",
                text = "",
                cells = new Dictionary<string, string> { ["label"] = "1" },
            }
        );
        var added = await Bundle(away, "machines/LY-08");
        var clash = Assert.Single((await Post(home, "/api/bundles/preview", added)).Body["clashes"]!.AsArray())!;
        Assert.False((bool)clash["isHere"]!);
        Assert.Equal(409, (await Post(home, "/api/bundles", added)).Status);
        Assert.Equal(200, (await TakenWith(home, added, new() { [(string)clash["key"]!] = "there" })).Status);
        var elements = (await home.Get("/api/machines/ly-08/boards/cb/map"))["pins"]!.AsArray();
        Assert.Contains(elements, p => (string)p!["id"]! == "j90-1");
    }

    private static async Task Change(TestLedger ledger, object edit)
    {
        var (status, said) = await ledger.Post("/api/board-types/stenwath-sw204-c/tables", new[] { edit });
        Assert.True(status == 200 && said["refusals"] is not JsonArray { Count: > 0 }, said.ToJsonString());
    }

    [Fact]
    public async Task A_model_and_a_board_type_go_out_alone()
    {
        using var other = await TestLedger.Start();
        var model = await Bundle(_ledger, "models/cawdale-trundle");
        Assert.Equal("model Trundle 4 luggage belt", (string)(await Post(other, "/api/bundles/preview", model)).Body["words"]!);
        Assert.Equal(200, (await Post(other, "/api/bundles", model)).Status);
        Assert.Equal(
            (await _ledger.Get("/api/models/cawdale-trundle"))["safety"]!.ToJsonString(),
            (await other.Get("/api/models/cawdale-trundle"))["safety"]!.ToJsonString()
        );
        Assert.Equal(
            (await _ledger.Get("/api/board-types/cawdale-zone-c/marks")).ToJsonString(),
            (await other.Get("/api/board-types/cawdale-zone-c/marks")).ToJsonString()
        );
        Assert.True((bool)(await Post(other, "/api/bundles/preview", model)).Body["changesNothing"]!);

        var type = await Bundle(_ledger, "board-types/stenwath-sw204-c");
        var taken = await Post(other, "/api/bundles", type);
        Assert.Equal((200, "boardType", "stenwath-sw204-c"), (taken.Status, (string)taken.Body["kind"]!, (string)taken.Body["id"]!));
        Assert.Equal(
            (await _ledger.Get("/api/board-types/stenwath-sw204-c/drawing")).ToJsonString(),
            (await other.Get("/api/board-types/stenwath-sw204-c/drawing")).ToJsonString()
        );
        // A machine that has both comes after them, and finds them here.
        Assert.Equal((200, "LY-04"), await Taken(other, await Bundle(_ledger, "machines/LY-04")));
        Assert.Equal(404, (int)(await _ledger.Http.GetAsync("/api/models/none/bundle")).StatusCode);
    }

    [Fact]
    public async Task A_board_type_that_would_break_another_machine_is_refused()
    {
        using var home = await TestLedger.Start(demo: true);
        var (versions, library) = Parts(await Bundle(home, "board-types/stenwath-sw204-c"), "library.json");
        // The supply's own pins are gone there, and with them what the model joins to them.
        var elements = library["boardTypes"]![0]!["elements"]!.AsArray();
        elements.Remove(elements.Single(e => (string)e!["id"]! == "j1"));
        library["boardTypes"]![0]!["links"]!.AsArray().Clear();
        library["boardTypes"]![0]!["checks"]!.AsArray().Clear();
        var spoilt = Bundle(
            new() { ["library.json"] = Encoding.UTF8.GetBytes(library.ToJsonString()), ["versions.json"] = versions },
            kind: BundleKind.BoardType
        );
        var before = await home.Http.GetStringAsync("/api/machines/LY-08/file");
        var (_, preview) = await Post(home, "/api/bundles/preview", spoilt);
        Assert.Equal(["LY-08"], Texts(preview, "alsoOn"));
        Assert.Contains(Texts(preview, "removes"), r => r.StartsWith("J1", StringComparison.Ordinal));
        var (status, problem) = await Post(home, "/api/bundles", spoilt);
        Assert.Equal(409, status);
        Assert.StartsWith(
            "On LY-08, which uses the same, the wiring would no longer fit together",
            (string)problem["detail"]!,
            StringComparison.Ordinal
        );
        Assert.Equal(before, await home.Http.GetStringAsync("/api/machines/LY-08/file"));
    }

    [Fact]
    public async Task What_cannot_be_taken_in_says_why()
    {
        using var other = await TestLedger.Start(demo: true);
        var (versions, machine) = Parts(await Bundle(_ledger, "machines/LY-04"), "machine.json");
        async Task<JsonNode> Seen(Action<JsonNode> change)
        {
            var changed = machine.DeepClone();
            change(changed);
            return (
                await Post(
                    other,
                    "/api/bundles/preview",
                    Bundle(new() { ["machine.json"] = Encoding.UTF8.GetBytes(changed.ToJsonString()), ["versions.json"] = versions })
                )
            ).Body;
        }

        Assert.Contains(
            "LY-04 is the tag of another machine here. Give one of the two another tag first.",
            Texts(await Seen(m => m["machine"]!["id"] = "ly-44"), "refused")
        );
        var twice = await Seen(m =>
            m["visits"]!
                .AsArray()
                .SelectMany(v => v!["rounds"]!.AsArray())
                .SelectMany(r => r!["readings"]!.AsArray())
                .First(r => (string)r!["kind"]! == "taken")!["meter"] = "another"
        );
        Assert.Contains(Texts(twice, "refused"), r => r.EndsWith("it is written once and never changed.", StringComparison.Ordinal));
        Assert.False((bool)twice["changesNothing"]!);
        Assert.Contains(
            Texts(await Seen(m => m["photographs"]![0]!["hash"] = new string('a', 64)), "refused"),
            r => r.EndsWith("is not in the bundle.", StringComparison.Ordinal)
        );
        // Without versions nobody can say who wrote last.
        var alone = machine.DeepClone();
        alone["boardTypes"]![0]!["name"] = "Zone board, other";
        using var bare = await TestLedger.Start();
        await bare.Post("/api/machine-files", TestLedger.DemoMachine("ly-04"));
        var (_, clash) = await Post(
            bare,
            "/api/bundles/preview",
            Bundle(new() { ["machine.json"] = Encoding.UTF8.GetBytes(alone.ToJsonString()) })
        );
        Assert.Equal(["board type CW-4471 rev C"], Texts(clash, "clashes"));
        // A bundle that says it is of one thing and holds another.
        Assert.Equal(
            "bundle",
            (string)
                (await Post(bare, "/api/bundles", Bundle(new() { ["library.json"] = Library() }, kind: BundleKind.Model))).Body["field"]!
        );
    }

    private static byte[] Library() =>
        JsonSerializer.SerializeToUtf8Bytes(new LibraryFile(LibraryFile.FormatName, 1, [], [], null), MachineFile.Json);

    private static (byte[] Versions, JsonNode Content) Parts(byte[] zip, string content)
    {
        using var archive = new ZipArchive(new MemoryStream(zip));
        byte[] Bytes(string name)
        {
            using var copy = new MemoryStream();
            using var entry = archive.GetEntry(name)!.Open();
            entry.CopyTo(copy);
            return copy.ToArray();
        }

        return (Bytes("versions.json"), JsonNode.Parse(Bytes(content))!);
    }

    [Fact]
    public async Task Damaged_bundles_are_refused_over_HTTP_and_nothing_is_written()
    {
        var zip = await Bundle(_ledger, "machines/LY-08");
        using var other = await TestLedger.Start();
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
        Assert.False(
            Directory.Exists(Path.Combine(other.Data, "photographs"))
                && Directory.EnumerateFiles(Path.Combine(other.Data, "photographs"), "*", SearchOption.AllDirectories).Any()
        );
    }

    /// <summary>
    /// Ten thousand damaged bundles with a fixed seed: cut, bits turned, entries swapped, names that lead out of the folder, archives
    /// within, entries too large, sizes that lie, and machine files with a value of another type. Each is refused by a reason, or
    /// nothing of it is lost.
    /// </summary>
    [Fact]
    public async Task Ten_thousand_damaged_bundles_are_refused()
    {
        var machine = await File.ReadAllBytesAsync(Path.Combine(TestLedger.DemoFolder, "ly-06", "machine.json"));
        var pictures = Enumerable.Range(0, 3).Select(i => Pictures.Of(SkiaSharp.SKEncodedImageFormat.Jpeg, 20 + i)).ToList();
        var versions = Encoding.UTF8.GetBytes("""{"machine/ly-06":{"shape":"0123456789abcdef","writes":{"a":1}}}""");
        var parts = new Dictionary<string, byte[]>
        {
            ["machine.json"] = machine,
            ["versions.json"] = versions,
            ["terminals/b.csv"] = "connector,pin\r\n"u8.ToArray(),
        };
        foreach (var picture in pictures)
        {
            parts[$"pictures/{Convert.ToHexStringLower(SHA256.HashData(picture))}.jpg"] = picture;
        }

        var whole = Bundle(parts);
        using (var sound = BundleFile.Read(new MemoryStream(whole)))
        {
            Assert.Equal(pictures.Count, sound.Pictures.Count);
        }

        var oversized = Oversized(parts);
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
                5 when i % 20 == 5 => oversized[dice.Next(oversized.Count)],
                5 => Bundle(
                    parts,
                    more: (dice.Next(2) == 0 ? "pictures/inner.zip" : $"terminals/{new string('a', dice.Next(81, 200))}.csv", whole)
                ),
                6 => Bundle(parts, lie: dice),
                7 => [.. whole[dice.Next(1, whole.Length)..], .. whole[..dice.Next(whole.Length)]],
                8 when i % 20 == 8 => Bundle(new(parts) { ["versions.json"] = OtherType(versions, dice) }),
                8 => Bundle(parts, kind: dice.Next(2) == 0 ? BundleKind.Model : BundleKind.BoardType),
                _ => Bundle(new(parts) { ["machine.json"] = OtherType(machine, dice) }),
            };
            try
            {
                using var read = BundleFile.Read(new MemoryStream(damaged));
                await MachineFileImport.Understand(read.OpenContent, default);
                await using var content = new MemoryStream();
                await read.OpenContent().CopyToAsync(content);
                // Bits of a time stamp may turn, and a second copy may stand in front: then all must be as it was.
                Assert.True(
                    kind is 1 or 2 or 7
                        && content.ToArray().AsSpan().SequenceEqual(machine)
                        && read.Pictures.Count == pictures.Count
                        && read.Pictures.All(p => read.Picture(p).AsSpan().SequenceEqual(parts[$"pictures/{p}"])),
                    $"damage {kind} of round {i} was taken"
                );
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

    /// <summary>
    /// A text and a picture too large to be taken, and a text that says it is small and unpacks to a thousand times that.
    /// </summary>
    private static List<byte[]> Oversized(Dictionary<string, byte[]> parts)
    {
        var more = new Dictionary<string, byte[]>(parts) { ["terminals/c.csv"] = new byte[64_000] };
        more["="] = JsonSerializer.SerializeToUtf8Bytes(
            more.Select(p => p.Key == "terminals/c.csv" ? (p.Key, Value: p.Value[..64]) : (p.Key, p.Value))
                .Select(p => new BundleEntry(p.Key, p.Value.Length, Convert.ToHexStringLower(SHA256.HashData(p.Value)))),
            MachineFile.Json
        );
        var lying = Bundle(more);
        // Its size stands in the central directory and in front of its content; both say 64 now, as the list does.
        var (said, truth) = (BitConverter.GetBytes(64), BitConverter.GetBytes(64_000));
        for (var at = lying.AsSpan().IndexOf(truth); at >= 0; at = lying.AsSpan().IndexOf(truth))
        {
            said.CopyTo(lying, at);
        }

        return
        [
            Bundle(new(parts) { ["terminals/c.csv"] = new byte[(64 * 1024 * 1024) + 1] }),
            Bundle(new(parts) { [$"pictures/{new string('a', 64)}.jpg"] = new byte[(20 * 1024 * 1024) + 1] }),
            lying,
        ];
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
        swapped["="] = JsonSerializer.SerializeToUtf8Bytes(
            parts.Select(p => new BundleEntry(p.Key, p.Value.Length, Convert.ToHexStringLower(SHA256.HashData(p.Value)))),
            MachineFile.Json
        );
        return swapped;
    }

    private static string Outside(Random dice)
    {
        string[] ways =
        [
            "../machine.json",
            "pictures/../../etc/passwd",
            "/etc/passwd",
            @"..\machine.json",
            "C:/x",
            "terminals/../x.csv",
            "machine.json/",
            "Machine.json",
            "pictures//x.jpg",
            "pictures/.jpg",
            "readme.txt",
            "terminals/..csv",
        ];
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
    internal static byte[] Bundle(
        Dictionary<string, byte[]> parts,
        (string Name, byte[] Content)? more = null,
        Random? lie = null,
        BundleKind kind = BundleKind.Machine
    )
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
            list[at] = lie.Next(3) switch
            {
                0 => list[at] with { Bytes = list[at].Bytes + 1 + lie.Next(1000) },
                1 => list[at] with { Sha256 = new string('0', 64) },
                _ => list[at] with { Path = list[at].Path + "x" },
            };
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
            var said = parts.TryGetValue("=", out var before)
                ? JsonSerializer.Deserialize<List<BundleEntry>>(before, MachineFile.Json)!
                : list;
            JsonSerializer.Serialize(
                manifest,
                new BundleManifest(BundleManifest.FormatName, BundleManifest.CurrentVersion, kind, "LY-06", said),
                MachineFile.Json
            );
        }

        return file.ToArray();
    }
}
