using System.Net.Sockets;
using Microsoft.Data.Sqlite;

namespace RustyLedger.Server.Tests.Keeping;

/// <summary>Every start ends well, or says in a line or two what happened and what to do, and changes nothing.</summary>
public sealed class StartTests
{
    private readonly string _data = Directory.CreateTempSubdirectory("ledger-").FullName;

    private string Book => Path.Combine(_data, "ledger.db");

    private async Task Refused(int code, string says, params string[] more)
    {
        var refusal = await Assert.ThrowsAsync<InvalidOperationException>(() => LedgerProcess.Start(_data, more));
        Assert.StartsWith($"The server ended with {code}: ledger: ", refusal.Message, StringComparison.Ordinal);
        Assert.Contains(says, refusal.Message, StringComparison.Ordinal);
        Assert.DoesNotContain("   at ", refusal.Message, StringComparison.Ordinal);
        Assert.InRange(refusal.Message.Trim().Split('\n').Length, 1, 3);
    }

    [Fact]
    public async Task A_second_server_on_one_folder_is_told_who_has_it_and_a_dead_one_holds_nothing()
    {
        using (var first = await LedgerProcess.Start(_data))
        {
            await Refused(6, "is in use by process ");
            first.Kill();
        }

        using var next = await LedgerProcess.Start(_data);
        Assert.Equal(0, (int)(await next.Get("/api/machines"))["total"]!);
    }

    [Fact]
    public async Task A_file_that_is_no_book_is_left_as_it_is()
    {
        await File.WriteAllTextAsync(Book, "Shopping: two fuses, one belt, and a reel of red wire.");
        await Refused(4, "is no book of a ledger");
        Assert.StartsWith("Shopping", await File.ReadAllTextAsync(Book), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_damaged_and_a_cut_book_are_left_as_they_are()
    {
        using (var ledger = await TestLedger.Start(demo: true))
        {
            ledger.Dispose();
            // The last connection to close takes the log of the book away, perhaps while it is copied.
            for (var isCopied = false; !isCopied; )
            {
                try
                {
                    foreach (var file in Directory.GetFiles(ledger.Data, "ledger.db*"))
                    {
                        File.Copy(file, Path.Combine(_data, Path.GetFileName(file)), overwrite: true);
                    }

                    isCopied = true;
                }
                catch (FileNotFoundException)
                {
                    Directory.GetFiles(_data, "ledger.db*").ToList().ForEach(File.Delete);
                }
            }
        }

        var whole = await File.ReadAllBytesAsync(Book);
        var damaged = whole.ToArray();
        // From the middle on, page after page: the tables that begin before it lead into them.
        Random.Shared.NextBytes(damaged.AsSpan(damaged.Length / 3, damaged.Length / 3));
        await File.WriteAllBytesAsync(Book, damaged);
        await Refused(4, "is damaged");
        Assert.Equal(damaged, await File.ReadAllBytesAsync(Book));

        await File.WriteAllBytesAsync(Book, whole[..(whole.Length / 2)]);
        await Refused(4, "is damaged");

        await File.WriteAllBytesAsync(Book, whole);
        using var again = await LedgerProcess.Start(_data);
        Assert.True((int)(await again.Get("/api/machines"))["total"]! > 5);
    }

    [Fact]
    public async Task A_book_of_a_newer_version_is_not_touched()
    {
        using (await TestLedger.Start(_data)) { }

        await Run("INSERT INTO __EFMigrationsHistory VALUES ('20991231000000_FromTheFuture', '10.0.0')");
        await Refused(4, "written by a newer version of the ledger (20991231000000_FromTheFuture)");
    }

    [Fact]
    public async Task The_lock_that_a_dead_migration_left_holds_up_nobody()
    {
        using (await TestLedger.Start(_data)) { }

        // As Entity Framework Core leaves it when it is killed while it migrates.
        await Run("CREATE TABLE IF NOT EXISTS __EFMigrationsLock (Id INTEGER NOT NULL PRIMARY KEY, Timestamp TEXT NOT NULL)");
        await Run("INSERT INTO __EFMigrationsLock VALUES (1, '2026-01-01')");
        using var ledger = await LedgerProcess.Start(_data);
        Assert.Equal(0, (int)(await ledger.Get("/api/machines"))["total"]!);
    }

    [Fact]
    public async Task A_port_an_address_and_a_certificate_that_cannot_be_used_are_named()
    {
        using var other = new TcpListener(System.Net.IPAddress.Loopback, 0);
        other.Start();
        var port = ((System.Net.IPEndPoint)other.LocalEndpoint).Port;
        await Refused(5, $"Port {port} is in use", "--Ledger:Port", $"{port}");
        await Refused(5, "This machine has no address 192.0.2.7", "--Ledger:Bind", "192.0.2.7");
        var certificate = Path.Combine(_data, "wrong.pfx");
        await File.WriteAllTextAsync(certificate, "no certificate");
        await Refused(5, "cannot be read", "--Ledger:Certificate", certificate);
        await Refused(5, "There is no certificate", "--Ledger:Certificate", certificate + "x");
        await Refused(2, "Port", "--Ledger:Port", "many");
    }

    [Fact]
    public async Task A_folder_that_cannot_be_made_is_named()
    {
        var file = Path.Combine(_data, "a file");
        await File.WriteAllTextAsync(file, "in the way");
        var refusal = await Assert.ThrowsAsync<InvalidOperationException>(() => LedgerProcess.Start(Path.Combine(file, "below")));
        Assert.DoesNotContain("   at ", refusal.Message, StringComparison.Ordinal);
        Assert.Contains(file, refusal.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_a_kill_left_half_written_is_swept_at_the_next_start_and_nothing_else()
    {
        using (var ledger = await TestLedger.Start(_data))
        {
            await ledger.Post("/api/machines", Lines.Machine("m1", "LY-80"));
        }

        var folder = Directory.CreateDirectory(Path.Combine(_data, "photographs", "ab")).FullName;
        var hash = new string('a', 64);
        string[] left =
        [
            Path.Combine(folder, $"{hash}.jpg.{Guid.NewGuid():N}"),
            Path.Combine(_data, $"beside-{Guid.NewGuid():N}.db"),
            Path.Combine(Directory.CreateDirectory(Path.Combine(_data, "temporary")).FullName, "bundle.zip"),
        ];
        var whole = Path.Combine(folder, $"{hash}.jpg");
        foreach (var file in left.Append(whole))
        {
            await File.WriteAllTextAsync(file, "half");
        }

        using (await TestLedger.Start(_data)) { }

        Assert.All(left, f => Assert.False(File.Exists(f), f));
        Assert.True(File.Exists(whole));
    }

    /// <summary>Killed at some moment of the very first start, the sample data coming in: the next start has all of it.</summary>
    [Theory]
    [InlineData(400)]
    [InlineData(1500)]
    [InlineData(3000)]
    public async Task The_sample_data_is_in_whole_or_not_at_all(int after)
    {
        using (var killed = LedgerProcess.Begin(_data, "--Ledger:Demo", TestLedger.DemoFolder))
        {
            await Task.Delay(after);
            killed.Kill(entireProcessTree: true);
            await killed.WaitForExitAsync();
        }

        using var ledger = await LedgerProcess.Start(_data, "--Ledger:Demo", TestLedger.DemoFolder);
        Assert.Equal(Directory.GetDirectories(TestLedger.DemoFolder).Length, (int)(await ledger.Get("/api/machines"))["total"]!);
        Assert.False(File.Exists(Path.Combine(_data, "sample-data.begun")));
    }

    [Fact]
    public async Task Only_the_owner_can_read_the_book()
    {
        if (OperatingSystem.IsWindows())
        {
            return;
        }

        var data = Path.Combine(_data, "own");
        using (await TestLedger.Start(data)) { }

        Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute, File.GetUnixFileMode(data));
        Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite, File.GetUnixFileMode(Path.Combine(data, "ledger.db")));
    }

    private async Task Run(string sql)
    {
        await using var connection = new SqliteConnection($"Data Source={Book};Pooling=False");
        await connection.OpenAsync();
        await using var command = connection.CreateCommand();
        command.CommandText = sql;
        await command.ExecuteNonQueryAsync();
    }
}
