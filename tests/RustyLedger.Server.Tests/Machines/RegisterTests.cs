using System.Text.Json.Nodes;

namespace RustyLedger.Server.Tests.Machines;

public sealed class RegisterTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    private readonly TestLedger _ledger = demo.Ledger;

    [Theory]
    [InlineData("LY-03", "LY-03")] // tag
    [InlineData("lyo3", "LY-03")]
    [InlineData("hawser", "LY-03")] // model
    [InlineData("thrumwick", "LY-03")] // maker
    [InlineData("tw16 oo294", "LY-03")] // serial
    [InlineData("north 5lip", "LY-03")] // site
    [InlineData("camp field wardens", "LY-01")] // customer
    [InlineData("QP2214", "LY-01")] // part number of a fitted board
    [InlineData("32-O412", "LY-03")] // serial of a fitted board
    [InlineData("blown twice", "LY-03")] // complaint
    [InlineData("room beeps", "LY-01")] // words of a complaint apart
    [InlineData("n8", "LY-03")] // settings code
    [InlineData("PM-4717-02", "LY-09")] // a sign that was worn on the plate
    [InlineData("pm4?17", "LY-09")]
    [InlineData("qp-s?-10773", "LY-01")] // a sign that is not known now
    public async Task One_box_finds_a_machine_by_all_that_is_on_it_or_said_of_it(string typed, string tag) =>
        Assert.Equal(tag, (string)(await Find($"find={Uri.EscapeDataString(typed)}"))["machines"]![0]!["tag"]!);

    [Fact]
    public async Task What_is_in_nobodys_record_is_not_found() => Assert.Equal(0, (int)(await Find("find=submarine"))["total"]!);

    [Fact]
    public async Task The_register_is_narrowed_sorted_and_paged_without_gap_or_double()
    {
        var choices = await _ledger.Get("/api/register/choices");
        Assert.Contains("Harbour gym, Skerry Haven", choices["sites"]!.AsArray().Select(s => (string)s!));
        Assert.Equal(["LY-08"], Tags(await Find("site=Harbour%20gym,%20Skerry%20Haven")));
        Assert.Equal(["LY-03"], Tags(await Find("model=thrumwick-hawser")));
        Assert.Equal(["LY-01", "LY-02", "LY-10"], Tags(await Find("openFault=true")));
        Assert.Equal(["LY-01", "LY-03", "LY-05"], Tags(await Find("waitsForPart=true")));
        Assert.Equal(["LY-11", "LY-10"], Tags(await Find("order=touched"))[..2]);
        Assert.Equal("LY-03", Tags(await Find("order=name"))[0]);
        var paged = new List<string>();
        for (var from = 0; from < 11; from += 3)
        {
            paged.AddRange(Tags(await Find($"order=tag&take=3&from={from}")));
        }

        Assert.Equal(Enumerable.Range(1, 11).Select(i => $"LY-{i:00}"), paged);
        Assert.Equal(400, (int)(await _ledger.Http.GetAsync("/api/machines?take=5000")).StatusCode);
        Assert.Equal(400, (int)(await _ledger.Http.GetAsync("/api/machines?order=luck")).StatusCode);
    }

    [Fact]
    public async Task Tags_are_sorted_by_their_numbers()
    {
        using var ledger = await TestLedger.Start();
        foreach (var tag in (string[])["B-10", "B-9", "A-100", "A-20"])
        {
            await ledger.Post("/api/machines", Lines.Machine(Lines.NewId(), tag));
        }

        Assert.Equal(["A-20", "A-100", "B-9", "B-10"], Tags(await ledger.Get("/api/machines")));
        Assert.Equal(["B-9", "B-10"], Tags(await ledger.Get("/api/machines?find=b")).Where(t => t[0] == 'B'));
    }

    private static List<string> Tags(JsonNode list) => [.. list["machines"]!.AsArray().Select(m => (string)m!["tag"]!)];

    private Task<JsonNode> Find(string query) => _ledger.Get($"/api/machines?{query}");
}
