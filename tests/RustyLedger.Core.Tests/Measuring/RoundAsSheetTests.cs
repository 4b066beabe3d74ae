using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Tests.Wiring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Measuring;

public sealed class RoundAsSheetTests
{
    private static readonly ResolvedMachine Bare = Machine();
    private int _order;

    private static ResolvedMachine Machine()
    {
        var laid = MessySheetTests.Lay("Pin,Volts\nDRIVE BOARD J1\n1,24\n2,\n3,\nLOGIC BOARD J1\n1,\n");
        return WiringSheet.Resolved(laid.Model, laid.BoardTypes.ToDictionary(t => t.Id));
    }

    private static PinAddress At(string printed) => Bare.Pins.Values.Single(p => p.Printed == printed).Address;

    private Entry Read(string red, string black, string typed, MeterMode mode = MeterMode.DcVolts) =>
        new(
            $"r{++_order}",
            _order,
            EntryKind.Taken,
            null,
            At(red),
            black.Length > 0 ? At(black) : null,
            mode,
            "standby",
            null,
            DefaultTolerance.Usual,
            ReadingNotation.Read(typed, mode).Choices[0],
            null,
            ""
        );

    private static RoundAsSheet Of(params Entry[] extras)
    {
        var next = 0;
        return RoundAsSheet.Of(Bare, extras, "as read on LY-50, 2026-11-26", () => $"c{++next}");
    }

    [Fact]
    public void What_lies_on_one_board_is_the_boards_and_what_reaches_further_the_models()
    {
        var made = Of(Read("DRI-J1·3", "DRI-J1·2", "5.1"), Read("LOG-J1·1", "DRI-J1·2", "24.2"));
        Assert.Equal(["DRI-J1·3 5.1 V DC", "LOG-J1·1 24.2 V DC"], made.Added);
        var own = Assert.Single(made.BoardTypes).Checks[^1];
        Assert.Equal((new PinAddress.OnType(At("DRI-J1·3").OwnPin!.Value), "as read on LY-50, 2026-11-26"), (own.Red, own.Remark));
        Assert.Equal(At("LOG-J1·1"), Assert.Single(made.Model.Checks).Red);
        Assert.Empty(made.Left);
    }

    [Fact]
    public void Every_kind_of_reading_becomes_its_kind_of_limit()
    {
        var made = Of(
            Read("DRI-J1·3", "", "OL", MeterMode.Ohms),
            Read("DRI-J1·2", "", "beep", MeterMode.Continuity),
            Read("LOG-J1·1", "", "50.1", MeterMode.Frequency)
        );
        Assert.Equal(["DRI-J1·3 OL", "DRI-J1·2 closed", "LOG-J1·1 50.1 Hz ±10 %"], made.Added);
    }

    [Fact]
    public void The_last_reading_between_two_points_counts_and_what_would_not_stand_still_is_left_out()
    {
        var made = Of(Read("DRI-J1·3", "", "4.9"), Read("DRI-J1·3", "", "5.2"), Read("DRI-J1·2", "", "~24"), Read("DRI-J1·1", "", "24.5"));
        Assert.Equal(["DRI-J1·3 5.2 V DC"], made.Added);
        Assert.Equal(
            ["DRI-J1·1 has a check in that state already", "DRI-J1·2 read ~24 V: that would not stand still, or says nothing to judge by"],
            made.Left.Order()
        );
    }

    [Fact]
    public void The_readings_that_made_the_sheet_pass_it()
    {
        var entries = new[]
        {
            Read("DRI-J1·3", "DRI-J1·2", "5.1"),
            Read("DRI-J1·2", "", "0.02"),
            Read("LOG-J1·1", "", "230", MeterMode.AcVolts),
        };
        var made = Of(entries);
        var limits = made.BoardTypes.SelectMany(t => t.Checks).Concat(made.Model.Checks).Where(c => c.Remark.Length > 0).ToList();
        Assert.Equal(3, limits.Count);
        Assert.All(
            entries,
            e =>
            {
                var check = limits.Single(c => c.Red!.OwnPin == e.Red!.OwnPin);
                Assert.Equal(VerdictKind.Within, Judge.Verdict(e.Value!, check.Limit, DefaultTolerance.Usual).Kind);
            }
        );
    }
}
