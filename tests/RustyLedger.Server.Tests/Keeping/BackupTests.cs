using System.IO.Compression;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging.Abstractions;
using Microsoft.Extensions.Options;
using Microsoft.Extensions.Time.Testing;
using RustyLedger.Server.Hosting;
using RustyLedger.Server.Keeping;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Tests.Keeping;

public sealed class BackupTests
{
    private readonly string _folder = Directory.CreateTempSubdirectory("ledger-").FullName;

    private static async Task<(int Code, string Said)> Run(string command, string file, string data)
    {
        using var said = new StringWriter();
        try
        {
            var code = await KeepingCommands.Run(command, file, new LedgerOptions { Data = data }, TimeProvider.System, said);
            return (code, said.ToString());
        }
        catch (StartException refusal)
        {
            return (refusal.Code, refusal.Message);
        }
    }

    /// <summary>Machines are begun while backups are made: whatever was acknowledged before one began is in it.</summary>
    [Fact]
    public async Task A_backup_taken_under_load_holds_all_that_was_acknowledged_before_it()
    {
        using var ledger = await TestLedger.Start(demo: true);
        var acknowledged = 0;
        var isDone = false;
        var writing = Task.Run(async () =>
        {
            for (var i = 0; !Volatile.Read(ref isDone); i++)
            {
                var (status, _) = await ledger.Post("/api/machines", Lines.Machine($"m{i}", $"XL-{i}"));
                Assert.Equal(200, status);
                Interlocked.Increment(ref acknowledged);
            }
        });
        for (var i = 0; i < 3; i++)
        {
            await Task.Delay(150);
            var before = Volatile.Read(ref acknowledged);
            var file = Path.Combine(_folder, $"b{i}.zip");
            Assert.Equal(0, (await Run("backup", file, ledger.Data)).Code);
            var after = Volatile.Read(ref acknowledged);
            var data = Path.Combine(_folder, $"restored{i}");
            Assert.Equal(0, (await Run("restore", file, data)).Code);
            using var restored = await TestLedger.Start(data);
            await using var book = new SqliteConnection($"Data Source={Path.Combine(data, "ledger.db")};Mode=ReadOnly;Pooling=False");
            await book.OpenAsync();
            await using var command = book.CreateCommand();
            command.CommandText = "SELECT COUNT(*) FROM Machines WHERE Tag LIKE 'XL-%'";
            var count = (int)(long)(await command.ExecuteScalarAsync())!;
            // One may be written and not acknowledged yet.
            Assert.InRange(count, before, after + 1);
            Assert.Equal(
                (await ledger.Get("/api/machines/LY-04/file")).ToJsonString(),
                (await restored.Get("/api/machines/LY-04/file")).ToJsonString()
            );
        }

        Volatile.Write(ref isDone, true);
        await writing;
        Assert.True(acknowledged > 0);
    }

    [Fact]
    public async Task What_was_there_is_kept_aside_and_a_folder_in_use_is_refused()
    {
        using var ledger = await TestLedger.Start(demo: true);
        var file = Path.Combine(_folder, "b.zip");
        await Run("backup", file, ledger.Data);
        var (code, said) = await Run("restore", file, ledger.Data);
        Assert.Equal(6, code);
        Assert.Contains("is in use", said, StringComparison.Ordinal);

        var data = Path.Combine(_folder, "own");
        using (var own = await TestLedger.Start(data))
        {
            await own.Post("/api/people", new { id = "p9", name = "Only here" });
        }

        (code, said) = await Run("restore", file, data);
        Assert.Equal((0, true), (code, said.Contains("What was there is kept in", StringComparison.Ordinal)));
        using (var restored = await TestLedger.Start(data))
        {
            Assert.DoesNotContain("Only here", (await restored.Get("/api/people")).ToJsonString(), StringComparison.Ordinal);
        }

        var aside = Assert.Single(Directory.GetDirectories(data, "set-aside-*"));
        using var before = await TestLedger.Start(aside);
        Assert.Contains("Only here", (await before.Get("/api/people")).ToJsonString(), StringComparison.Ordinal);
    }

    /// <summary>Each part of a backup is spoilt in turn: it is refused, and what is there stays as it is.</summary>
    [Fact]
    public async Task A_backup_that_is_cut_spoilt_or_none_is_refused_and_changes_nothing()
    {
        using var ledger = await TestLedger.Start(demo: true);
        var file = Path.Combine(_folder, "b.zip");
        await Run("backup", file, ledger.Data);
        var data = Path.Combine(_folder, "own");
        using (await TestLedger.Start(data)) { }

        var book = await File.ReadAllBytesAsync(Path.Combine(data, "ledger.db"));
        async Task Refused(string what, string says)
        {
            var (code, said) = await Run("restore", what, data);
            Assert.NotEqual(0, code);
            Assert.Contains(says, said, StringComparison.Ordinal);
            Assert.Equal(book, await File.ReadAllBytesAsync(Path.Combine(data, "ledger.db")));
            Assert.Empty(Directory.GetDirectories(data, "restore-*"));
        }

        await Refused(Path.Combine(_folder, "none.zip"), "There is no file");
        var whole = await File.ReadAllBytesAsync(file);
        var cut = Path.Combine(_folder, "cut.zip");
        await File.WriteAllBytesAsync(cut, whole[..(whole.Length / 2)]);
        await Refused(cut, "cut or damaged");

        var other = Path.Combine(_folder, "other.zip");
        await using (var zip = await ZipFile.OpenAsync(other, ZipArchiveMode.Create))
        {
            await using var entry = zip.CreateEntry("backup.json").Open();
            entry.Write("""{"format":"photo-album","version":1,"ledger":"","madeAt":"2026-01-01T00:00:00Z","parts":[],"missing":[]}"""u8);
        }

        await Refused(other, "it is no backup of a ledger");
        foreach (var name in (string[])["ledger.db", "photographs/"])
        {
            var spoilt = Path.Combine(_folder, "spoilt.zip");
            File.Copy(file, spoilt, overwrite: true);
            await using (var zip = await ZipFile.OpenAsync(spoilt, ZipArchiveMode.Update))
            {
                var entry = zip.Entries.First(e => e.FullName.StartsWith(name, StringComparison.Ordinal));
                await using var stream = entry.Open();
                stream.Position = stream.Length / 2;
                stream.Write("spoilt"u8);
            }

            await Refused(spoilt, "is damaged");
        }
    }

    [Theory]
    [InlineData("""{"format":"rusty-ledger/backup","version":1}""")]
    [InlineData("""{"format":"rusty-ledger/backup","version":1,"ledger":"","madeAt":"2026-01-01T00:00:00Z","parts":[null],"missing":[]}""")]
    [InlineData("""{"format":"rusty-ledger/backup","version":1,"ledger":"","madeAt":"2026-01-01T00:00:00Z","parts":[],"missing":[]}""")]
    [InlineData("[]")]
    [InlineData("null")]
    public async Task A_backup_whose_list_says_too_little_is_refused_in_words(string list)
    {
        var file = Path.Combine(_folder, "b.zip");
        await using (var zip = await ZipFile.OpenAsync(file, ZipArchiveMode.Create))
        {
            await using var entry = zip.CreateEntry(BackupList.FileName).Open();
            entry.Write(System.Text.Encoding.UTF8.GetBytes(list));
        }

        var (code, said) = await Run("restore", file, Path.Combine(_folder, "own"));
        Assert.Equal(StartException.Book, code);
        Assert.Contains($"{file} cannot be restored", said, StringComparison.Ordinal);
    }

    /// <summary>Many a byte of a ZIP tells nothing that matters, such as the time of a part: then it is whole.</summary>
    [Fact]
    public async Task A_backup_with_a_wrong_byte_is_whole_or_refused_in_words()
    {
        using var ledger = await TestLedger.Start();
        var file = Path.Combine(_folder, "b.zip");
        await Run("backup", file, ledger.Data);
        var whole = await File.ReadAllBytesAsync(file);
        var refused = 0;
        for (var seed = 0; seed < 150; seed++)
        {
            var dice = new Random(seed);
            byte[] bytes = [.. whole];
            // Half of them where the ZIP keeps its own list.
            bytes[seed % 2 == 0 ? dice.Next(bytes.Length) : bytes.Length - 1 - dice.Next(Math.Min(300, bytes.Length))] ^= (byte)
                dice.Next(1, 256);
            await File.WriteAllBytesAsync(file, bytes);
            try
            {
                await Backup.Check(file, CancellationToken.None);
            }
            catch (StartException refusal)
            {
                refused++;
                Assert.Contains(file, refusal.Message, StringComparison.Ordinal);
            }
        }

        Assert.InRange(refused, 75, 150);
        Assert.Equal([file], Directory.GetFiles(_folder));
    }

    /// <summary>Killed between any two steps of changing places, the next start finishes it.</summary>
    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public async Task A_restore_that_was_cut_off_is_finished_by_the_next_start(bool hadPictures)
    {
        using var ledger = await TestLedger.Start(demo: true);
        var file = Path.Combine(_folder, "b.zip");
        await Run("backup", file, ledger.Data);
        for (var moves = 0; moves < 5; moves++)
        {
            var data = Path.Combine(_folder, $"own{moves}");
            using (await TestLedger.Start(data)) { }

            if (hadPictures)
            {
                await File.WriteAllTextAsync(
                    Path.Combine(Directory.CreateDirectory(Path.Combine(data, "photographs")).FullName, "old"),
                    ""
                );
            }

            var stamp = "20260101T000000000Z";
            var from = Path.Combine(data, $"restore-{stamp}");
            Directory.CreateDirectory(from);
            await Backup.Check(file, CancellationToken.None, from);
            var had = Directory
                .GetFiles(data, "ledger.db*")
                .Concat(Directory.GetDirectories(data, "photographs"))
                .Select(Path.GetFileName)
                .ToList();
            await File.WriteAllTextAsync(
                Path.Combine(data, "restore.json"),
                System.Text.Json.JsonSerializer.Serialize(
                    new
                    {
                        From = $"restore-{stamp}",
                        Aside = $"set-aside-{stamp}",
                        Had = had,
                    }
                )
            );
            var aside = Directory.CreateDirectory(Path.Combine(data, $"set-aside-{stamp}")).FullName;
            (string From, string To)[] steps =
            [
                .. had.Select(n => (Path.Combine(data, n!), Path.Combine(aside, n!))),
                (Path.Combine(from, "photographs"), Path.Combine(data, "photographs")),
                (Path.Combine(from, "ledger.db"), Path.Combine(data, "ledger.db")),
            ];
            foreach (var (at, to) in steps.Take(moves))
            {
                Directory.Move(at, to);
            }

            using var next = await TestLedger.Start(data);
            Assert.Equal(0, (await Run("check", "", data)).Code);
            Assert.True((int)(await next.Get("/api/machines"))["total"]! > 5);
            Assert.Empty(Directory.GetDirectories(data, "restore-*"));
            Assert.Equal(hadPictures, File.Exists(Path.Combine(aside, "photographs", "old")));
        }
    }

    [Fact]
    public async Task Check_names_what_is_wrong_with_book_and_pictures()
    {
        using var ledger = await TestLedger.Start(demo: true);
        var (code, said) = await Run("check", "", ledger.Data);
        Assert.Equal((0, true), (code, said.Contains("All is well.", StringComparison.Ordinal)));

        var pictures = Directory
            .GetFiles(Path.Combine(ledger.Data, "photographs"), "*", SearchOption.AllDirectories)
            .Where(f => !f.EndsWith(".small.jpg", StringComparison.Ordinal))
            .Order()
            .ToList();
        File.Delete(pictures[0]);
        await File.AppendAllTextAsync(pictures[1], "spoilt");
        (code, said) = await Run("check", "", ledger.Data);
        Assert.Equal(1, code);
        Assert.Contains(
            $"A picture is gone: {Path.GetRelativePath(Path.Combine(ledger.Data, "photographs"), pictures[0])}",
            said,
            StringComparison.Ordinal
        );
        Assert.Contains("A picture is damaged", said, StringComparison.Ordinal);
        // A backup takes what there is, and says what is missing.
        (code, said) = await Run("backup", Path.Combine(_folder, "b.zip"), ledger.Data);
        Assert.Equal((0, true), (code, said.Contains("Not in it, since its file is gone", StringComparison.Ordinal)));
    }

    [Fact]
    public async Task One_is_made_a_day_so_many_are_kept_and_an_old_one_is_said()
    {
        var clock = new FakeTimeProvider(DateTimeOffset.UtcNow);
        using var ledger = await TestLedger.Start();
        using var keeper = new BackupKeeper(
            ledger.Service<IServiceScopeFactory>(),
            Options.Create(new LedgerOptions { Data = ledger.Data }),
            clock,
            NullLogger<BackupKeeper>.Instance
        );
        async Task<BackupsKept> Kept()
        {
            await using var scope = ledger.Service<IServiceScopeFactory>().CreateAsyncScope();
            return await keeper.Kept(scope.ServiceProvider.GetRequiredService<LedgerContext>(), CancellationToken.None);
        }

        Assert.False(await keeper.MakeWhereDue(CancellationToken.None), "an empty ledger has nothing to keep");
        await ledger.Post("/api/machines", Lines.Machine("m1", "LY-80"));
        Assert.True(await keeper.MakeWhereDue(CancellationToken.None));
        Assert.False(await keeper.MakeWhereDue(CancellationToken.None));
        for (var day = 0; day < 16; day++)
        {
            clock.Advance(TimeSpan.FromHours(25));
            Assert.True(await keeper.MakeWhereDue(CancellationToken.None));
        }

        var kept = await Kept();
        Assert.Equal((14, false), (kept.Count, kept.IsOld));
        clock.Advance(TimeSpan.FromDays(4));
        Assert.True((await Kept()).IsOld);
        await keeper.Make(CancellationToken.None);
        Assert.False((await Kept()).IsOld);
        // The same by the page of the shop, with the clock on the wall.
        var (status, now) = await ledger.Post("/api/backups", new { });
        Assert.Equal((200, true), (status, (int)now["count"]! > 0));
    }

    /// <summary>A picture whose file is gone or cut is said in its place, and stops neither a bundle nor a machine file.</summary>
    [Fact]
    public async Task A_picture_that_is_gone_stops_no_bundle()
    {
        using var ledger = await TestLedger.Start(demo: true);
        var photographs = (await ledger.Get("/api/machines/ly-08/photographs")).AsArray();
        var hash = (string)photographs[0]!["hash"]!;
        var file = Directory
            .GetFiles(Path.Combine(ledger.Data, "photographs", hash[..2]), $"{hash}.*")
            .Single(f => !f.EndsWith(".small.jpg", StringComparison.Ordinal));
        foreach (var spoil in (Action[])[() => File.WriteAllBytes(file, [1, 2, 3]), () => File.Delete(file)])
        {
            spoil();
            using var other = await TestLedger.Start();
            using var bundle = new ByteArrayContent(await ledger.Http.GetByteArrayAsync("/api/machines/LY-08/bundle"));
            bundle.Headers.ContentType = new("application/zip");
            var taken = await other.Http.PostAsync("/api/bundles", bundle);
            Assert.True(taken.IsSuccessStatusCode, await taken.Content.ReadAsStringAsync());
            Assert.Equal(photographs.Count, (await other.Get("/api/machines/ly-08/photographs")).AsArray().Count);
            Assert.Equal(404, (int)(await other.Http.GetAsync($"/api/pictures/{hash}")).StatusCode);

            using var third = await TestLedger.Start();
            Assert.Equal(200, (await third.Post("/api/machine-files", await ledger.Get("/api/machines/LY-08/file"))).Status);
        }
    }

    [Fact]
    public async Task Health_says_whether_it_can_write()
    {
        using var ledger = await TestLedger.Start(demo: true);
        var health = await ledger.Get("/health");
        Assert.Equal((true, true), ((bool)health["canRead"]!, (bool)health["canWrite"]!));
        Assert.True((long)health["freeBytes"]! > 0);
    }
}
