using Microsoft.Data.Sqlite;

namespace RustyLedger.Server.Tests.Storage;

public sealed class RegisterKeeperTests
{
    [Fact]
    public async Task Lines_that_were_only_marked_are_gone_through_at_the_next_start()
    {
        var data = Directory.CreateTempSubdirectory("ledger-marked-").FullName;
        using (await TestLedger.Start(data, demo: true)) { }
        await using (var connection = new SqliteConnection($"Data Source={Path.Combine(data, "ledger.db")};Pooling=False"))
        {
            await connection.OpenAsync();
            await using var command = connection.CreateCommand();
            command.CommandText = "UPDATE Register SET IsStale = 1, Text = '', OpenFaults = 99";
            await command.ExecuteNonQueryAsync();
        }

        using var ledger = await TestLedger.Start(data);
        var found = 0;
        for (var i = 0; i < 200 && found == 0; i++)
        {
            found = (await ledger.Get("/api/machines?find=ly-03"))["machines"]!
                .AsArray()
                .Count(m => (string)m!["tag"]! == "LY-03" && (int)m["openFaults"]! < 99);
            await Task.Delay(50);
        }

        Assert.Equal(1, found);
    }
}
