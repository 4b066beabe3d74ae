using System.Globalization;
using System.Text;
using System.Xml.Linq;
using CsvHelper;
using UglyToad.PdfPig;

namespace RustyLedger.Server.Tests.Labels;

/// <summary>
/// What is printed, read back by readers of their own: PdfPig for PDF, an XML reader for SVG, CsvHelper for CSV. Codes are decoded in
/// the browser's tests.
/// </summary>
public sealed class LabelTests(DemoLedger demo) : IClassFixture<DemoLedger>
{
    private readonly TestLedger _ledger = demo.Ledger;

    private async Task<PdfDocument> Pdf(string path) => PdfDocument.Open(await _ledger.Http.GetByteArrayAsync(path));

    [Theory]
    [InlineData("a4", 210, 297)]
    [InlineData("letter", 215.9, 279.4)]
    public async Task A_sheet_of_labels_has_the_tags_in_plain_text(string paper, double width, double height)
    {
        using var pdf = await Pdf($"/api/labels.pdf?machines=all&paper={paper}&columns=2&rows=4&start=3");
        Assert.Equal(2, pdf.NumberOfPages);
        var page = pdf.GetPage(1);
        Assert.Equal((width, height), (Math.Round(page.Width * 25.4 / 72, 1), Math.Round(page.Height * 25.4 / 72, 1)));
        var words = page.GetWords().Select(w => w.Text).ToList();
        Assert.Contains("LY-01", words);
        Assert.DoesNotContain("LY-07", words);
        Assert.Contains("LY-10", pdf.GetPage(2).GetWords().Select(w => w.Text));
        Assert.Contains("Rusty Ledger: find LY-03", string.Join(' ', words), StringComparison.Ordinal);
        // Places 1 and 2 were used up: the first label stands in the second row.
        Assert.True(page.GetWords().First(w => w.Text == "LY-01").BoundingBox.Top < page.Height * 0.75);
        Assert.All(page.Letters, l => Assert.Contains("Atkinson", l.FontName, StringComparison.Ordinal));
    }

    [Fact]
    public async Task Both_halves_of_every_plug_are_marked()
    {
        using var pdf = await Pdf("/api/labels.pdf?machines=LY-08&kind=plug&columns=5&rows=13");
        var words = pdf.GetPage(1).GetWords().Select(w => w.Text).ToList();
        Assert.All(["CB-J1-A", "CB-J1-B", "CB-J4-A", "CB-J4-B", "DP-J1-A", "DP-J1-B"], half => Assert.Contains(half, words));
        Assert.DoesNotContain(words, w => w.StartsWith("CB-F1", StringComparison.Ordinal));
        Assert.Contains("on the cable to DP-J1", pdf.GetPage(1).Text, StringComparison.Ordinal);
        using var boards = await Pdf("/api/labels.pdf?machines=LY-08,LY-05&kind=board");
        Assert.Contains("no. 204-1187", boards.GetPage(1).Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task With_a_public_address_a_label_bears_a_code()
    {
        using var ledger = await TestLedger.Start(demo: true, more: ["--Ledger:PublicAddress", "https://ledger.example/"]);
        var plan = await ledger.Get("/api/labels?machines=LY-03,LY-08");
        Assert.Equal(("https://ledger.example/machines/…", 1), ((string)plan["leads"]!, (int)plan["sheets"]!));
        var svg = XDocument.Parse(await ledger.Http.GetStringAsync("/api/labels.svg?machines=LY-03"));
        XNamespace ns = "http://www.w3.org/2000/svg";
        Assert.Equal(ns + "svg", svg.Root!.Name);
        var boxes = svg.Descendants(ns + "rect").ToList();
        // A code of this length has 29 modules a side or more; runs of them are one box each.
        Assert.InRange(boxes.Count, 150, 500);
        Assert.Equal("LY-03", svg.Descendants(ns + "text").First().Value);
        using var pdf = PdfDocument.Open(await ledger.Http.GetByteArrayAsync("/api/labels.pdf?machines=LY-03"));
        Assert.Equal(boxes.Count, pdf.GetPage(1).Paths.Count);
        Assert.DoesNotContain("find LY-03", pdf.GetPage(1).Text, StringComparison.Ordinal);
    }

    /// <summary>Set in the application: labels have their code, and the ledger answers to the name, without a new start.</summary>
    [Fact]
    public async Task The_shop_says_where_a_phone_finds_the_ledger()
    {
        using var ledger = await TestLedger.Start(demo: true);
        async Task<int> As(string host)
        {
            using var request = new HttpRequestMessage(HttpMethod.Get, "/api/people");
            request.Headers.Host = host;
            return (int)(await ledger.Http.SendAsync(request)).StatusCode;
        }

        var shop = await ledger.Get("/api/shop");
        Assert.Equal("", (string)shop["publicAddress"]!);
        Assert.Equal(400, await As("shop.example"));
        object Edit(string address) =>
            new
            {
                version = (int)shop["version"]!,
                limits = shop["limits"],
                publicAddress = address,
            };
        foreach (var wrong in (string[])["shop.example", "ftp://shop.example", "https://shop.example/?a=1", "https://me:pw@shop.example"])
        {
            var (refused, problem) = await ledger.Send(HttpMethod.Put, "/api/shop", Edit(wrong));
            Assert.Equal((400, "publicAddress"), (refused, (string)problem["field"]!));
        }

        var (status, kept) = await ledger.Send(HttpMethod.Put, "/api/shop", Edit("https://shop.example/ledger/"));
        Assert.Equal((200, "https://shop.example/ledger"), (status, (string)kept["publicAddress"]!));
        Assert.Equal(200, await As("shop.example"));
        Assert.Equal(400, await As("other.example"));
        Assert.Equal("https://shop.example/ledger/machines/…", (string)(await ledger.Get("/api/labels?machines=LY-03"))["leads"]!);
    }

    /// <summary>What a code on the door opens: nothing that was found broken stands as normal.</summary>
    [Fact]
    public async Task At_the_door_stand_what_is_normal_the_lamps_and_the_codes()
    {
        var card = (await _ledger.Get("/api/machines/LY-08/door"))["card"]!;
        Assert.Contains(card["normal"]!.AsArray(), n => ((string)n!["why"]!).Contains("aerial", StringComparison.Ordinal));
        Assert.Contains(card["lamps"]!.AsArray(), l => (string)l!["designator"]! == "DS2" && ((string)l["proves"]!).Length > 0);
        Assert.Contains(card["alarms"]!.AsArray(), a => ((string)a!["words"]!).Contains("blinks", StringComparison.Ordinal));
        // Nobody wrote anything of LY-06.
        var bare = (await _ledger.Get("/api/machines/LY-06/door"))["card"]!;
        Assert.Empty(bare["alarms"]!.AsArray());
    }

    [Fact]
    public async Task What_cannot_be_printed_is_refused()
    {
        async Task<(int, string)> Refused(string query)
        {
            using var answer = await _ledger.Http.GetAsync($"/api/labels.pdf?{query}");
            return (
                (int)answer.StatusCode,
                (string)System.Text.Json.Nodes.JsonNode.Parse(await answer.Content.ReadAsStringAsync())!["detail"]!
            );
        }

        Assert.Equal((400, "There is no machine LY-77 in the ledger."), await Refused("machines=LY-01,LY-77"));
        Assert.Equal((400, "The sheet has places 1 to 24, not 25."), await Refused("machines=all&start=25"));
        Assert.StartsWith("Labels of ", (await Refused("machines=all&columns=12&gap=5")).Item2, StringComparison.Ordinal);
        Assert.Equal(
            (400, "There is nothing to print: these machines have no boards or plugs yet."),
            await Refused("machines=LY-06&kind=plug")
        );
        Assert.StartsWith(
            "Labels of ",
            (string)(await _ledger.Get("/api/labels?machines=all&columns=12&gap=5"))["problem"]!,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task The_card_of_a_board_is_read_back_as_pdf_svg_and_csv()
    {
        using var pdf = await Pdf("/api/machines/LY-10/boards/seq/card.pdf?turns=2");
        var text = string.Join(' ', pdf.GetPage(1).GetWords().Select(w => w.Text));
        Assert.Contains("LY-10 sequencer", text, StringComparison.Ordinal);
        Assert.Contains("from the component side, upside down", text, StringComparison.Ordinal);

        var map = await _ledger.Get("/api/machines/LY-10/boards/seq/map?turns=2");
        var pins = map["pins"]!.AsArray();
        // A build that renames its terminals bears its own names.
        Assert.Contains(pins, p => p!["elsewherePrinted"] is not null);
        using var reader = new StreamReader(
            await _ledger.Http.GetStreamAsync("/api/machines/LY-10/boards/seq/card.csv?turns=2"),
            Encoding.UTF8
        );
        using var csv = new CsvReader(reader, CultureInfo.InvariantCulture);
        await csv.ReadAsync();
        csv.ReadHeader();
        Assert.Equal(["pin", "place, as faced", "colour", "wire", "what it does", "should read"], csv.HeaderRecord!);
        var rows = new List<(string, string, string)>();
        while (await csv.ReadAsync())
        {
            rows.Add((csv.GetField(0)!, csv.GetField(1)!, csv.GetField(4)!));
        }

        Assert.Equal(pins.Select(p => ((string)p!["printed"]!, (string)p["words"]!, (string)p["signal"]!)), rows);
        var svg = XDocument.Parse(await _ledger.Http.GetStringAsync("/api/machines/LY-10/boards/seq/card.svg?turns=2"));
        var texts = svg.Descendants(XName.Get("text", "http://www.w3.org/2000/svg")).Select(t => t.Value).ToHashSet();
        Assert.All(pins, p => Assert.Contains((string)p!["printed"]!, texts));
    }
}
