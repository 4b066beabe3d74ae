using System.Diagnostics;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Tests.Storage;

public sealed class DatabaseTests
{
    [Fact]
    public async Task A_copy_is_set_aside_before_a_migration_and_only_then()
    {
        var data = Directory.CreateTempSubdirectory("ledger-").FullName;
        await Run(Path.Combine(data, "ledger.db"), "CREATE TABLE Earlier (Note TEXT); INSERT INTO Earlier VALUES ('kept')");
        using (await TestLedger.Start(data)) { }

        var copy = Assert.Single(Directory.GetFiles(Path.Combine(data, "copies")));
        Assert.Equal("kept", await Run(copy, "SELECT Note FROM Earlier"));
        using (await TestLedger.Start(data)) { }

        Assert.Single(Directory.GetFiles(Path.Combine(data, "copies")));
    }

    [Fact]
    public async Task A_reading_once_written_cannot_be_changed_and_a_record_cannot_vanish()
    {
        var data = Directory.CreateTempSubdirectory("ledger-").FullName;
        using (await TestLedger.Start(data, demo: true)) { }

        await using var context = new LedgerContext(
            new DbContextOptionsBuilder<LedgerContext>().UseSqlite($"Data Source={Path.Combine(data, "ledger.db")};Pooling=False").Options,
            new Actor(),
            TimeProvider.System
        );
        context.Put(await context.Readings.FirstAsync() with { Typed = "99" });
        await Assert.ThrowsAsync<InvalidOperationException>(() => context.SaveChangesAsync());
        context.ChangeTracker.Clear();
        context.Pins.Remove(await context.Pins.FirstAsync());
        await Assert.ThrowsAsync<InvalidOperationException>(() => context.SaveChangesAsync());
    }

    [Theory]
    [InlineData("dotnet", "echo 8.0.404", "the .NET SDK is 8.0.404; 10.0 or newer is needed")]
    [InlineData("node", "echo v18.19.0", "Node.js is 18.19.0; 20 or newer is needed")]
    public async Task A_tool_that_is_too_old_is_named(string tool, string script, string says)
    {
        var folder = Directory.CreateTempSubdirectory("ledger-path-").FullName;
        var fake = Path.Combine(folder, tool);
        await File.WriteAllTextAsync(fake, $"#!/bin/sh\n{script}\n");
        Process.Start("chmod", ["+x", fake]).WaitForExit();
        var start = new ProcessStartInfo(Path.Combine(TestLedger.Root, "ledger"), "demo")
        {
            RedirectStandardError = true,
            RedirectStandardOutput = true,
        };
        start.Environment["PATH"] = $"{folder}:{Environment.GetEnvironmentVariable("PATH")}";
        using var process = Process.Start(start)!;
        Assert.Contains(says, await process.StandardError.ReadToEndAsync(), StringComparison.Ordinal);
        await process.WaitForExitAsync();
        Assert.Equal(1, process.ExitCode);
    }

    private static async Task<object?> Run(string file, string sql)
    {
        await using var connection = new SqliteConnection($"Data Source={file};Pooling=False");
        await connection.OpenAsync();
        await using var command = connection.CreateCommand();
        command.CommandText = sql;
        return await command.ExecuteScalarAsync();
    }
}
