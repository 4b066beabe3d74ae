using RustyLedger.Core.Circuits;

namespace RustyLedger.Core.Tests.Circuits;

public sealed class CircuitSheetTests
{
    private static readonly string[] Builds = ["early", "late, with brake"];
    private static readonly string[] Tags = ["LY-70", "LY-71"];

    private static CircuitRow Row(string onlyOn) => new("r1", "PS1", "J1·1, J1·2", "supply 24 V", "", onlyOn);

    [Theory]
    [InlineData("")]
    [InlineData("early")]
    [InlineData("Late, with brake")]
    [InlineData("ly-71")]
    [InlineData("early, LY-70")]
    [InlineData("late, with brake; LY-70")]
    [InlineData("early,")]
    public void A_row_for_builds_and_machines_that_are_there_is_no_problem(string onlyOn) =>
        Assert.Empty(new CircuitSheet([Row(onlyOn)], []).OnNobody(Builds, Tags));

    [Theory]
    [InlineData("erly", "Only on erly")]
    [InlineData("early, LY-7O", "Only on LY-7O")]
    [InlineData("late", "Only on late")]
    public void A_row_for_nobody_is_named_where_it_stands(string onlyOn, string says)
    {
        var problem = Assert.Single(new CircuitSheet([Row("early"), Row(onlyOn) with { Id = "r2" }], []).OnNobody(Builds, Tags));
        Assert.Equal(("r2", "onlyOn"), (problem.RowId, problem.Column));
        Assert.StartsWith($"{says}: no build and no machine", problem.Words, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("", "early", true)]
    [InlineData("early", "early", true)]
    [InlineData("late, with brake", "late, with brake", true)]
    [InlineData("early; LY-70", null, true)]
    [InlineData("LY-71", "early", false)]
    [InlineData("late, with brake", "early", false)]
    public void A_row_is_for_the_builds_and_machines_it_names(string onlyOn, string? build, bool isFor) =>
        Assert.Equal(isFor, Row(onlyOn).IsFor(build, "LY-70"));
}
