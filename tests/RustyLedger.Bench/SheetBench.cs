using System.Globalization;
using System.Text;
using BenchmarkDotNet.Attributes;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Bench;

/// <summary>A large sheet as it is looked at: ten thousand rows over forty boards, and 400 wires among 1,500 pins.</summary>
public class SheetBench
{
    private static readonly Model Bare = new("m", "", "", [], [], OperatingState.Usual, [], []);
    private static readonly Dictionary<BoardTypeId, BoardType> NoBoards = [];
    private readonly byte[] _rows = Sheet(boards: 40, pins: 250, wires: 0);
    private readonly byte[] _wired = Sheet(boards: 60, pins: 25, wires: 400);

    [Benchmark]
    public int SheetOfTenThousandRows() => Lay(_rows).Rows.Count;

    [Benchmark]
    public int WiresProposedAmong1500Pins() => Lay(_wired).Wires.Count;

    private static MachineSheetResult Lay(byte[] sheet)
    {
        var id = 0;
        return MachineSheet.Lay(Bare, NoBoards, "B-1", TerminalTable.Read(sheet), SheetAnswers.None, () => $"n{++id}");
    }

    /// <summary>A wire is written at its one end, by number at both, or told by colour and signal, in turn.</summary>
    private static byte[] Sheet(int boards, int pins, int wires)
    {
        var text = new StringBuilder("Pin,Colour,Signal,Should be,Goes to,Sleeve\n");
        for (var b = 0; b < boards; b++)
        {
            text.Append(CultureInfo.InvariantCulture, $"ZONE {(char)('A' + (b / 26))}{(char)('A' + (b % 26))} BOARD\nPlug J1\n");
            for (var p = 0; p < pins; p++)
            {
                var wire = (b * pins) + p;
                var joined = wire < wires * 2;
                text.Append(
                    CultureInfo.InvariantCulture,
                    $"{p + 1},{(joined ? "BU-WH" : "BK")},signal {wire / 2},24 V ±5 %,,{(joined ? $"{wire % wires}" : "")}\n"
                );
            }
        }

        return Encoding.UTF8.GetBytes(text.ToString());
    }
}
