using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests;

/// <summary>Two boards of one type in a chain behind a supply.</summary>
internal static class Sample
{
    public static BoardType Board { get; } =
        new(
            "zb",
            "TW-210",
            "B",
            "zone board",
            100,
            120,
            DefaultTolerance.Usual,
            [
                new(
                    "j1",
                    ElementKind.Connector,
                    "J1",
                    "in",
                    10,
                    10,
                    1,
                    5,
                    Direction.Across,
                    Corner.TopLeft,
                    Numbering.RowByRow,
                    "",
                    [new("j1-1", 1, "1", WireColours.Read("YE"), "24 V in"), new("j1-2", 2, "2", WireColours.Read("BK"), "return")]
                ),
                new(
                    "f1",
                    ElementKind.Fuse,
                    "F1",
                    "",
                    10,
                    30,
                    1,
                    20,
                    Direction.Across,
                    Corner.TopLeft,
                    Numbering.RowByRow,
                    "2 A",
                    [new("f1-1", 1, "1", WireColours.None, ""), new("f1-2", 2, "2", WireColours.None, "")]
                ),
                new(
                    "j2",
                    ElementKind.Connector,
                    "J2",
                    "on",
                    50,
                    10,
                    1,
                    5,
                    Direction.Across,
                    Corner.TopLeft,
                    Numbering.RowByRow,
                    "",
                    [new("j2-1", 1, "1", WireColours.Read("BU-WH"), "24 V on"), new("j2-2", 2, "2", WireColours.Read("BK"), "return")]
                ),
            ],
            [
                On("l1", "j1-1", "f1-1", true),
                On("l2", "f1-1", "f1-2", true),
                On("l3", "f1-2", "j2-1", true),
                On("l4", "j1-2", "j2-2", false),
            ],
            [Volts("c1", "j1-1", "j1-2"), Volts("c2", "f1-2", "j1-2"), Volts("c3", "j2-1", "j2-2")]
        );

    public static Model Model { get; } =
        new(
            "m",
            "Thrumwick",
            "belt",
            [new("z1", "Z1", "zone 1", "zb"), new("z2", "Z2", "zone 2", "zb")],
            [
                new(
                    "ps",
                    PartKind.Supply,
                    "PS",
                    "supply",
                    [new("plus", 1, "+", WireColours.Read("RD"), "24 V", true), new("minus", 2, "-", WireColours.Read("BK"), "return")]
                ),
            ],
            OperatingState.Usual,
            [
                new("w1", Probe.At("ps", "plus"), Probe.At("z1", "j1-1"), true),
                new("w2", Probe.At("z1", "j2-1"), Probe.At("z2", "j1-1"), true),
            ],
            [
                new(
                    "p1",
                    CheckTarget.PinAndCommon,
                    Probe.At("ps", "plus"),
                    Probe.At("ps", "minus"),
                    "",
                    MeterMode.DcVolts,
                    "running",
                    true,
                    LimitNotation.ReadOne("24 V ±5 %").Limit,
                    ""
                ),
            ]
        );

    /// <summary>The same with its returns wired, so that a current can flow.</summary>
    public static Model WithReturns { get; } =
        Model with
        {
            Links =
            [
                .. Model.Links,
                new("r1", Probe.At("ps", "minus"), Probe.At("z1", "j1-2"), false),
                new("r2", Probe.At("z1", "j2-2"), Probe.At("z2", "j1-2"), false),
            ],
        };

    public static Machine Machine { get; } = new("ly", "LY-00", "belt", "m", "", "", "", "", "", [], []);

    public static ResolvedMachine Resolved(Machine? machine = null, BoardType? board = null, Model? model = null) =>
        ResolvedMachine.Of(machine ?? Machine, model ?? Model, new Dictionary<BoardTypeId, BoardType> { ["zb"] = board ?? Board });

    public static Entry Reading(long order, CheckKey key, string typed, Machine? machine = null)
    {
        var check = Resolved(machine).Checks.Single(c => c.Key == key);
        return new(
            $"e{order}",
            order,
            EntryKind.Taken,
            key,
            check.Check.Red,
            check.Check.Black,
            check.Check.Mode,
            check.State.Code,
            check.Limit,
            check.Tolerance,
            ReadingNotation.Read(typed, check.Check.Mode).Choices[0],
            null,
            ""
        );
    }

    private static Link On(string id, string from, string to, bool directed) => new(id, Probe.At("", from), Probe.At("", to), directed);

    private static Check Volts(string id, string red, string black) =>
        new(
            id,
            CheckTarget.PinAndCommon,
            Probe.At("", red),
            Probe.At("", black),
            "",
            MeterMode.DcVolts,
            "running",
            true,
            LimitNotation.ReadOne("24 V ±5 %").Limit,
            ""
        );
}
