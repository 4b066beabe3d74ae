using UglyToad.PdfPig;

namespace RustyLedger.Server.Tests.Measuring;

/// <summary>A round on paper, read back by a reader of its own (PdfPig).</summary>
public sealed class PaperTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    private async Task<string> Words(string query)
    {
        using var pdf = PdfDocument.Open(await demo.Ledger.Http.GetByteArrayAsync($"/api/rounds/r3/paper.pdf?{query}"));
        return string.Join(' ', pdf.GetPages().SelectMany(p => p.GetWords()).Select(w => w.Text));
    }

    [Theory]
    [InlineData("a4", 595)]
    [InlineData("letter", 612)]
    public async Task The_paper_for_the_field_has_every_check_its_number_and_the_boards(string paper, int points)
    {
        var rows = (await demo.Ledger.Get("/api/rounds/r3"))["rows"]!.AsArray();
        var words = await Words($"kind=field&paper={paper}");
        Assert.All(rows, r => Assert.Contains((string?)r!["red"]?["printed"] ?? (string)r["part"]!, words, StringComparison.Ordinal));
        Assert.Contains($"{rows.Count}", words, StringComparison.Ordinal);
        Assert.Contains("dead: prove it first", words, StringComparison.Ordinal);
        Assert.Contains("zone 4, from the component side", words, StringComparison.Ordinal);
        using var pdf = PdfDocument.Open(await demo.Ledger.Http.GetByteArrayAsync($"/api/rounds/r3/paper.pdf?kind=field&paper={paper}"));
        Assert.All(pdf.GetPages(), p => Assert.Equal(points, p.Width, 0));
        // Nothing runs off the paper.
        Assert.All(pdf.GetPages().SelectMany(p => p.GetWords().Select(w => (w, p))), x => Assert.True(x.w.BoundingBox.Right <= x.p.Width));
    }

    [Fact]
    public async Task The_finished_one_says_what_was_read_and_what_it_means()
    {
        var words = await Words("kind=finished");
        Assert.Contains("24.9 V within", words, StringComparison.Ordinal);
        Assert.Contains("not read", words, StringComparison.Ordinal);
        Assert.Contains("Off the sheet", words, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("kind=poster", "kind")]
    [InlineData("paper=a0", "paper")]
    public async Task What_is_no_paper_is_refused(string query, string field)
    {
        using var answer = await demo.Ledger.Http.GetAsync(new Uri($"/api/rounds/r3/paper.pdf?{query}", UriKind.Relative));
        Assert.Equal(400, (int)answer.StatusCode);
        Assert.Contains($"\"field\":\"{field}\"", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }
}
