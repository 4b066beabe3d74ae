using RustyLedger.Core.Diagnosis;

namespace RustyLedger.Core.Tests.Diagnosis;

/// <summary>The table of what a machine does, and what it works out by itself.</summary>
public sealed class FunctionSheetTests
{
    private static FunctionRow Row(string name, params string[] needs) => new(name, name, "", needs, []);

    [Fact]
    public void A_new_table_begins_with_what_feeds_and_the_boards_and_ticks_what_all_need()
    {
        Assert.Equal(["PS", "board Z1", "board Z2"], FunctionSheet.UsualParts(Sample.Model));
        Assert.Equal(["PS"], FunctionSheet.Empty.NeededByAll(Sample.Model));
        // By its name where the model has no such part, and whatever everything so far needs.
        var sheet = new FunctionSheet(
            ["Kiosk logic", "mains inlet", "board Z1", "motor"],
            [Row("opens", "Kiosk logic", "board Z1", "motor"), Row("closes", "Kiosk logic", "board z-1")]
        );
        Assert.Equal(["Kiosk logic", "mains inlet", "board Z1"], sheet.NeededByAll(Sample.Model));
        // One function proves nothing of the next.
        Assert.Equal(
            ["Kiosk logic", "mains inlet"],
            (sheet with { Rows = [Row("opens", "Kiosk logic", "board Z1", "motor")] }).NeededByAll(Sample.Model)
        );
    }

    [Fact]
    public void Parts_that_every_function_needs_alike_are_named()
    {
        var sheet = new FunctionSheet(
            ["PS", "logic", "motor", "lamp"],
            [Row("runs", "PS", "logic", "motor"), Row("shines", "PS", "logic", "lamp")]
        );
        Assert.Equal(["PS", "logic"], Assert.Single(sheet.NotToldApart()));
    }
}
