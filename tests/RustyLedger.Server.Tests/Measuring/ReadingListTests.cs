namespace RustyLedger.Server.Tests.Measuring;

public sealed class ReadingListTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    [Fact]
    public async Task Readings_go_out_as_a_spreadsheet_and_into_another_round_once()
    {
        var csv = (await demo.Ledger.Http.GetStringAsync("/api/rounds/ly01-r3/readings.csv")).TrimStart('\uFEFF');
        Assert.StartsWith(
            "time,pin,common,mode,state,reads,value,limit,verdict,meter,person\r\n2026-11-12T09:45:25Z,BT·+,BT·-,DC "
                + "volts,standby,13.0,13 V,12.4..14.4 V,",
            csv,
            StringComparison.Ordinal
        );
        var round = await Lines.Round(demo.Ledger, "ly-01");
        var (status, taken) = await demo.Ledger.Post($"/api/rounds/{round}/readings", csv, "bram");
        Assert.Equal((200, 10, 10), (status, (int)taken["rows"]!, (int)taken["taken"]!));
        var view = await demo.Ledger.Get($"/api/rounds/{round}");
        Assert.Equal((9, 1), ((int)view["taken"]!, view["extras"]!.AsArray().Count));
        Assert.Equal("SB-J2·1", (string)view["paths"]![0]!["stretches"]![0]!["bad"]!);
        (_, taken) = await demo.Ledger.Post($"/api/rounds/{round}/readings", csv, "bram");
        Assert.Equal(0, (int)taken["taken"]!);
    }

    [Fact]
    public async Task Every_wrong_row_is_named_and_none_is_written()
    {
        var round = await Lines.Round(demo.Ledger, "ly-01");
        const string List =
            "pin;reads;mode;state;time\nBT.+;13,1;;;\nXX-J1;12;;;\n;12;;;\nBT.+;twelve;;;\nBT.+;12;sniff;;\n"
            + "BT.+;12;;asleep;\nBT.+;12;;;noon\nBT.+;26.9 / 24.1;;;\n";
        var (_, taken) = await demo.Ledger.Post($"/api/rounds/{round}/readings", List, "edda");
        Assert.Equal([3, 4, 5, 6, 7, 8, 9], taken["refused"]!.AsArray().Select(r => (int)r!["line"]!));
        Assert.Equal("there is no pin XX-J1 on LY-01", (string)taken["refused"]![0]!["problem"]!);
        Assert.Equal(0, (int)(await demo.Ledger.Get($"/api/rounds/{round}"))["taken"]!);
        var (status, problem) = await demo.Ledger.Post($"/api/rounds/{round}/readings", "a,b\n1,2\n", "edda");
        Assert.Equal((400, "file"), (status, (string)problem["field"]!));
        (status, problem) = await demo.Ledger.Post($"/api/rounds/{round}/readings", List);
        Assert.Equal((400, "personId"), (status, (string)problem["field"]!));
    }
}
