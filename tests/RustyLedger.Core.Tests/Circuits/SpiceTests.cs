using RustyLedger.Core.Circuits;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Tests.Circuits;

public sealed class SpiceTests
{
    [Fact]
    public void What_is_written_is_read_back_with_its_names_and_reads_the_same()
    {
        for (var seed = 0; seed < 200; seed++)
        {
            var circuit = RandomCircuits.Of(seed);
            var point = OperatingPoint.Of(circuit);
            var back = SpiceReader.Read(SpiceWriter.Write(circuit, point.States, "line one\nline two", ".op"));
            Assert.Equal(circuit.Elements.Select(Plain), back.Elements.Select(Plain));
            var again = OperatingPoint.Of(back);
            Assert.Equal(point.Problem?.Kind, again.Problem?.Kind);
            Assert.All(circuit.Nodes, n => Assert.Equal(point.Volts(n) ?? -1, again.Volts(n) ?? -1, 6));
        }

        var ac = RandomCircuits.Alternating(3);
        Assert.Equal(ac.Elements.Select(Plain), SpiceReader.Read(SpiceWriter.Write(ac, ac.AtRest(), "ac")).Elements.Select(Plain));
    }

    [Fact]
    public void A_supply_comes_back_with_what_it_needs()
    {
        var circuit = new Circuit([
            new VoltageSource("mains", "L", "0", 0, 0.3, 230),
            new Converter("PS", "L", "0", "+", "-", 24, 0, 0, 85, 0.01, 5),
            new Converter("bridge", "L", "0", "p", "0", null, 1.4, 1.2, 0, 0.1, 1e6),
            new Resistance("load", "+", "-", 12),
        ]);
        var point = OperatingPoint.Of(circuit);
        var back = SpiceReader.Read(SpiceWriter.Write(point.Circuit, point.States, "mains"));
        Assert.Equal(circuit.Elements.Select(Plain), back.Elements.Select(Plain));
        Assert.Equal(point.Between("+", "-")!.Value, OperatingPoint.Of(back).Between("+", "-")!.Value, 6);
    }

    /// <summary>No wire has less than a millionth of an ohm, and no list equals another by what it holds.</summary>
    private static string Plain(CircuitElement element) =>
        element.ToString()!.Replace(element.Nodes.ToString()!, string.Join(' ', element.Nodes), StringComparison.Ordinal);

    [Fact]
    public void A_plain_file_is_read_with_names_as_given()
    {
        var point = OperatingPoint.Of(
            SpiceReader.Read(
                """
                a title
                V1 In 0 DC 10
                R1 In mid 1k
                R2 mid gnd
                + 1kOhm
                D1 mid led RED
                R3 led 0 100
                .model RED D(VFWD=1.8 RON=5)
                .control
                op
                .endc
                .end
                """
            )
        );
        // 10 V over 1k and 1k, with a diode of 1.8 V and 105 ohm behind: (5 - 1.8) / (500 + 105) A.
        Assert.Equal(1.8 + ((5 - 1.8) / 605 * 105), point.Volts("mid")!.Value, 6);
        Assert.Equal(["In", "mid", "led"], point.Circuit.Nodes);
        Assert.StartsWith("node,volts\r\nIn,10\r\nmid,", PointTable.Csv(point), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("t\nR1 a 0", "line 2")]
    [InlineData("t\nR1 a 0 many", "\"many\" is no number")]
    [InlineData("t\nQ1 a b c NPN", "line 2")]
    [InlineData("t\nD1 a 0 NONE", "no .model NONE")]
    [InlineData("t\nE1 a 0 b 0 2", "only from files of this ledger")]
    [InlineData("t\nR1 a 0 1\nR1 a 0 2", "another R1")]
    [InlineData("t\nR1 a 0 -5", "0 ohms or more")]
    [InlineData("t\n.model Q NPN(BF=100)", "only models of diodes")]
    public void What_is_not_understood_is_named_with_its_line(string text, string says)
    {
        var refused = Assert.Throws<NotationException>(() => SpiceReader.Read(text));
        Assert.Contains(says, refused.Message, StringComparison.Ordinal);
    }
}
