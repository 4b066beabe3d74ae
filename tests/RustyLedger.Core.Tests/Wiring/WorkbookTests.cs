using System.IO.Compression;
using System.Security;
using System.Text;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Wiring;

/// <summary>
/// Workbooks as ECMA-376 (Office Open XML, part 1, SpreadsheetML) has them, written here by hand: cells with inline strings, merged
/// ranges by <c>mergeCell</c>, a day as a number under number format 16 (<c>d-mmm</c>).
/// </summary>
public sealed class WorkbookTests
{
    private const string Main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
    private const string Office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
    private const string Package = "http://schemas.openxmlformats.org/package/2006/relationships";
    private const string Types = "http://schemas.openxmlformats.org/package/2006/content-types";

    [Fact]
    public void Leaves_of_a_workbook_are_boards_and_merged_cells_hold_downward()
    {
        var file = Workbook(
            (
                "drive board",
                "A2:A3",
                [
                    [Words("Plug"), Words("Pin"), Words("Volts")],
                    [Words("J1"), Number("1"), Number("24.5")],
                    ["<c/>", Number("2"), Number("0")],
                ]
            ),
            (
                "display",
                "",
                [
                    [Words("Pin"), Words("Volts")],
                    [Words("J1-1"), Number("5")],
                ]
            )
        );
        var read = SheetFile.Read(file);
        Assert.Equal(("xlsx workbook", 2), (read.Kind, read.Grids.Count));
        Assert.Equal(
            ["drive board J1 1 24.5", "drive board J1 2 0", "display J1 1 5"],
            Pins(TerminalTable.Read(file), TerminalColumn.Expected)
        );
    }

    [Fact]
    public void A_pin_that_became_a_date_is_seen_through()
    {
        // 45661 is 4 January 2025 in the 1900 date system.
        var file = Workbook(
            (
                "Sheet1",
                "",
                [
                    [Words("Plug"), Words("Pin")],
                    [Words("TB4"), "<c s='1'><v>45661</v></c>"],
                ]
            )
        );
        Assert.Equal("4-Jan", TerminalTable.Read(file).Lines[1][TerminalColumn.Pin]);
    }

    /// <summary>BIFF8 in a compound file, as spreadsheets wrote it before 2007; made once with a library for it, and kept.</summary>
    [Fact]
    public void An_old_workbook_is_read()
    {
        var table = TerminalTable.Read(File.ReadAllBytes(SlipGateSheetTests.SheetFileOf("old-workbook.xls")));
        Assert.Equal("xls workbook", table.FileKind);
        Assert.Equal(["J1 1 red 24.5", "J1 2 black 0"], Pins(table, TerminalColumn.Colour, TerminalColumn.Expected));
    }

    private static IEnumerable<string> Pins(TerminalTable table, params TerminalColumn[] more) =>
        table
            .Lines.Where(l => l.Kind == LineKind.Pin)
            .Select(l => string.Join(' ', [l.Board, l[TerminalColumn.Connector], l[TerminalColumn.Pin], .. more.Select(c => l[c])]).Trim());

    private static string Words(string text) => $"<c t='inlineStr'><is><t>{SecurityElement.Escape(text)}</t></is></c>";

    private static string Number(string value) => $"<c><v>{value}</v></c>";

    private static byte[] Workbook(params (string Name, string Merged, string[][] Rows)[] leaves)
    {
        using var bytes = new MemoryStream();
        using (var zip = new ZipArchive(bytes, ZipArchiveMode.Create, leaveOpen: true))
        {
            void Put(string path, string xml)
            {
                using var part = new StreamWriter(zip.CreateEntry(path).Open(), new UTF8Encoding(false));
                part.Write($"<?xml version='1.0' encoding='UTF-8'?>{xml}");
            }

            string Relation(string id, string type, string target) => $"<Relationship Id='{id}' Type='{Office}/{type}' Target='{target}'/>";
            var sheets = leaves.Select((l, i) => $"<sheet name='{l.Name}' sheetId='{i + 1}' r:id='s{i + 1}'/>");
            var parts = leaves.Select((_, i) => Relation($"s{i + 1}", "worksheet", $"worksheets/sheet{i + 1}.xml"));
            Put("[Content_Types].xml", $"<Types xmlns='{Types}'><Default Extension='xml' ContentType='application/xml'/></Types>");
            Put("_rels/.rels", $"<Relationships xmlns='{Package}'>{Relation("r1", "officeDocument", "xl/workbook.xml")}</Relationships>");
            Put("xl/workbook.xml", $"<workbook xmlns='{Main}' xmlns:r='{Office}'><sheets>{string.Concat(sheets)}</sheets></workbook>");
            Put(
                "xl/_rels/workbook.xml.rels",
                $"<Relationships xmlns='{Package}'>{Relation("st", "styles", "styles.xml")}{string.Concat(parts)}</Relationships>"
            );
            Put(
                "xl/styles.xml",
                $"<styleSheet xmlns='{Main}'><cellXfs count='2'><xf numFmtId='0'/>"
                    + "<xf numFmtId='16' applyNumberFormat='1'/></cellXfs></styleSheet>"
            );
            foreach (var (i, leaf) in leaves.Index())
            {
                var rows = leaf.Rows.Select((cells, row) => $"<row r='{row + 1}'>{string.Concat(cells)}</row>");
                var merged = leaf.Merged.Length > 0 ? $"<mergeCells><mergeCell ref='{leaf.Merged}'/></mergeCells>" : "";
                Put(
                    $"xl/worksheets/sheet{i + 1}.xml",
                    $"<worksheet xmlns='{Main}'><sheetData>{string.Concat(rows)}</sheetData>{merged}</worksheet>"
                );
            }
        }

        return bytes.ToArray();
    }
}
