using CsCheck;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Tests.Wiring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Measuring;

/// <summary>How people call readings out is common practice, no source.</summary>
public sealed class CalledReadingsTests
{
    private static readonly ResolvedMachine Gate = Machine();

    private static ResolvedMachine Machine()
    {
        var laid = MessySheetTests.Lay(
            "Pin,Volts\nDRIVE BOARD J3\n1,24\n2,\n4,5 ±5 %\nDRIVE BOARD J4\n1-6,\nLOGIC BOARD J3\n4,\nPOWER SUPPLY TB1\n+,24\n-,\n"
        );
        return WiringSheet.Resolved(laid.Model, laid.BoardTypes.ToDictionary(t => t.Id));
    }

    private static List<string> Read(string text) =>
        [
            .. CalledReadings
                .Read(text, Gate, null, MeterMode.DcVolts, OperatingState.Usual[1], [])
                .Select(r =>
                    r.Problem.Length > 0
                        ? $"{r.RedName}: {r.Problem}"
                        : $"{r.RedName} {r.Reads}"
                            + (r.BlackName.Length > 0 ? $" to {r.BlackName}" : "")
                            + (r.State.Code == "standby" ? "" : $" {r.State.Code}")
                            + (r.Check is null ? "" : " !")
                ),
        ];

    [Theory]
    [InlineData("DRI-J3-4 to DRI-J3-2 5.1", "DRI-J3·4 5.1 to DRI-J3·2 !")]
    [InlineData("J4.3 24.1 running", "DRI-J4·3 24.1 running")]
    [InlineData("j4 pin 3 0.2", "DRI-J4·3 0.2")]
    [InlineData("J4/3 OL", "DRI-J4·3 OL")]
    [InlineData("TB1-+ 24.6", "TB1·+ 24.6 !")]
    [InlineData("J4-3 24\n4 5.02\n5 to 1 0.3", "DRI-J4·3 24 / DRI-J4·4 5.02 / DRI-J4·5 0.3 to DRI-J4·1")]
    [InlineData("J4: 24.1 0 5.02 OL - 12", "DRI-J4·1 24.1 / DRI-J4·2 0 / DRI-J4·3 5.02 / DRI-J4·4 OL / DRI-J4·6 12")]
    [InlineData("J4-1 to J4-6 24; J4-2 0", "DRI-J4·1 24 to DRI-J4·6 / DRI-J4·2 0 to DRI-J4·6")]
    public void What_was_called_is_understood(string said, string expected) => Assert.Equal(expected, string.Join(" / ", Read(said)));

    [Theory]
    [InlineData("J3-4 5.1", "J3-4: J3-4 may be DRI-J3·4 or LOG-J3·4; say which board")]
    [InlineData("J9-4 5.1", "J9-4: nobody entered J9-4 yet")]
    [InlineData("J9: 24 0", "J9-1: nobody entered J9-1 yet / J9-2: nobody entered J9-2 yet")]
    [InlineData("J4: 1 2 3 4 5 6 7", "J4: 7: J4 has 6 pins, and this would be number 7")]
    [InlineData("the lamp is dim", "the lamp is dim: write for example J3-4 to J3-2 5.1, or J4: 24.1 0 5.02")]
    public void What_was_not_understood_says_why_and_keeps_its_words(string said, string expected) =>
        Assert.EndsWith(expected, string.Join(" / ", Read(said)), StringComparison.Ordinal);

    [Fact]
    public void Several_on_one_line_are_of_that_line() =>
        Assert.Equal(
            [1, 1, 3],
            CalledReadings.Read("J4-1 24; J4-2 0\n\nJ4-3 5", Gate, null, MeterMode.DcVolts, OperatingState.Usual[1], []).Select(r => r.Line)
        );

    [Fact]
    public void A_name_that_was_called_before_stands_for_itself_until_somebody_says_which_pin_it_is()
    {
        static NamedPlace Named(string id, string name) =>
            new()
            {
                Id = id,
                Name = name,
                At = DateTimeOffset.UnixEpoch,
                PersonId = "edda",
            };

        List<CalledReading> Called(params NamedPlace[] names) =>
            [.. CalledReadings.Read("J9-4 to J9-1 5.1", Gate, null, MeterMode.DcVolts, OperatingState.Usual[1], names)];

        var unknown = Assert.Single(Called());
        Assert.Equal(["J9-4", "J9-1"], unknown.Unknown);
        Assert.Null(unknown.Red);

        NamedPlace[] kept = [Named("n1", "j9-4"), Named("n2", "J9-1")];
        var known = Assert.Single(Called(kept));
        Assert.Equal(("", new PinAddress.AtPlace("n1"), "j9-4"), (known.Problem, known.Red, known.RedName));
        Assert.Equal((new PinAddress.AtPlace("n2"), "J9-1"), (known.Black, known.BlackName));

        var pin = Gate.Pins.Values.Single(p => p.Printed == "LOG-J3·4");
        var placed = kept[0].Write("J9-4", pin.Address).Thing!;
        Assert.Equal((pin.Address, pin.Printed), (Assert.Single(Called(placed, kept[1])).Red, "LOG-J3·4"));
        // A pin that bears the name by now is offered; a place on a photograph or a pin of a type is no answer.
        Assert.Equal(["DRI-J3·4", "LOG-J3·4"], Named("n3", "J3.4").CalledSo(Gate).Select(p => p.Printed).Order());
        Assert.Equal("is", kept[0].Write("J9-4", new PinAddress.AtPlace("p")).Refusal?.Field);
        Assert.Equal("name", kept[0].Write(" ", null).Refusal?.Field);
    }

    [Fact]
    public void Whatever_is_said_is_answered() =>
        Gen.OneOf(Gen.String, Gen.String["J4-3: to 24.1 OL\n;+ 0"])
            .Sample(text =>
            {
                var found = CalledReadings.Read(text, Gate, null, MeterMode.DcVolts, OperatingState.Usual[1], []);
                Assert.All(found, r => Assert.True(r.Problem.Length > 0 || r.Red is not null));
            });
}
