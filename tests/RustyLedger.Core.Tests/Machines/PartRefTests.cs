using System.Text.Json;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Machines;

public sealed class PartRefTests
{
    public static TheoryData<string, PartRef> Lines =>
        new()
        {
            { "Z2-F1", new PartRef.Element("z2", "f1") },
            { "fuse z2-f1", new PartRef.Element("z2", "f1") },
            { "Z1-J1·1", new PartRef.Contact(Probe.At("z1", "j1-1")) },
            { "contact at Z1-J1.1", new PartRef.Contact(Probe.At("z1", "j1-1")) },
            { "PS", new PartRef.OffBoard("ps") },
            { "board zone 2", new PartRef.Board("z2") },
            { "wire RD from PS·+ to Z1-J1·1", new PartRef.Wire(Probe.At("ps", "plus"), Probe.At("z1", "j1-1")) },
            { "a new pair of gloves", new PartRef.Named("a new pair of gloves") },
            { "F1", new PartRef.Named("F1") },
        };

    /// <summary>A line that names exactly one thing is that thing; one that names none, or two, stays words.</summary>
    [Theory]
    [MemberData(nameof(Lines))]
    public void A_line_of_a_technician_is_the_part_it_names(string line, PartRef part) =>
        Assert.Equal(part, PartNames.Read(line, Sample.Resolved()));

    [Fact]
    public void What_a_part_is_called_is_read_back_as_that_part()
    {
        var machine = Sample.Resolved();
        var parts = machine
            .Links.Select(l => PartNames.Conductor(l, machine))
            .Concat(machine.Model.Positions.Select(p => new PartRef.Board(p.Id)))
            .Concat(machine.Pins.Keys.Select(p => new PartRef.Contact(p)))
            .ToList();
        Assert.All(parts, p => Assert.Equal(p, PartNames.Read(PartNames.Of(p, machine), machine)));
    }

    [Fact]
    public void Parts_nest_in_what_they_are_replaced_with()
    {
        Assert.Equal(new PartRef.Board("z2"), new PartRef.Element("z2", "f1").Inside);
        Assert.Equal(new PartRef.Board("z1"), new PartRef.Contact(Probe.At("z1", "j1-1")).Inside);
        Assert.Equal(new PartRef.OffBoard("ps"), new PartRef.Contact(Probe.At("ps", "plus")).Inside);
        Assert.Null(new PartRef.Wire(Probe.At("ps", "plus"), Probe.At("z1", "j1-1")).Inside);
    }

    [Fact]
    public void A_group_is_written_and_read_as_one_accused()
    {
        PartRef group = new PartRef.OneOf([new PartRef.Element("z2", "f1"), new PartRef.Contact(Probe.At("z2", "f1-1"))]);
        Assert.Equal(group, JsonSerializer.Deserialize<PartRef>(JsonSerializer.Serialize(group)));
        Assert.Equal("fuse Z2-F1 or the contact at Z2-F1·1", PartNames.Of(group, Sample.Resolved()));
    }

    [Theory]
    [InlineData("""{"position":"z2","pin":"j1-1"}""")]
    [InlineData("""{"part":"ps","pin":"plus"}""")]
    [InlineData("""{"place":"p7"}""")]
    [InlineData("""{"pin":"j1-1"}""")]
    public void An_address_has_one_text(string text) => Assert.Equal(text, PinAddress.Read(text).Text);

    [Theory]
    [InlineData("""{"position":"z2"}""")]
    [InlineData("""{"position":"z2","part":"ps","pin":"1"}""")]
    [InlineData("""{"holder":"z2","pin":"1"}""")]
    [InlineData("\"z2\"")]
    [InlineData("null")]
    public void Anything_else_is_no_address(string text) => Assert.Throws<FormatException>(() => PinAddress.Read(text));
}
