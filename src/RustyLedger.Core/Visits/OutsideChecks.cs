namespace RustyLedger.Core.Visits;

/// <summary>Something to look at before any cover comes off.</summary>
/// <param name="Asks">A question that "yes" answers when all is as it should be.</param>
/// <param name="Chance">How often it turns out to be the whole fault, before anything is learnt, 0 to 1.</param>
/// <param name="Minutes">How long it takes, before anything is learnt; above 0.</param>
/// <param name="After">Checks that must come before it.</param>
/// <param name="AsksHowLong">A reset: how long it held is evidence too, and there is nothing to put right where it did not.</param>
/// <param name="Clears">What a yes speaks for, in words; empty where it clears nothing by itself.</param>
public sealed record OutsideCheck(
    string Id,
    string Asks,
    double Chance,
    double Minutes,
    IReadOnlyList<string> After,
    bool AsksHowLong = false,
    string Clears = ""
);

/// <summary>What a model adds to the usual outside checks, and what it leaves out.</summary>
/// <param name="LeftOut">Usual checks that this model has nothing for.</param>
public sealed record OutsideSheet(IReadOnlyList<OutsideCheck> Own, IReadOnlyList<string> LeftOut)
{
    public static OutsideSheet Empty { get; } = new([], []);

    /// <summary>Common practice, no source: the order of magnitude of chances and minutes from which a shop starts to learn.</summary>
    public static IReadOnlyList<OutsideCheck> Usual { get; } =
    [
        new("supply", "Is it plugged in, and is there supply at the outlet?", 0.08, 1, [], Clears: "the outlet and the plug, at no load"),
        new("breaker", "Is the breaker on?", 0.08, 1, [], Clears: "a tripped breaker, not its contacts"),
        new("switches", "Are all its switches on?", 0.07, 0.5, [], Clears: "a switch left off, not its contacts"),
        new("dial", "Is the speed dial off zero?", 0.02, 0.3, [], Clears: "a speed of zero"),
        new("direction", "Is the direction switch out of neutral?", 0.02, 0.3, [], Clears: "no direction chosen"),
        new("stop", "Is every emergency stop released?", 0.06, 0.5, [], Clears: "a stop left pressed, not its contacts"),
        new("panels", "Are all panels and guards snapped home?", 0.05, 1, [], Clears: "an open guard, not its switch"),
        new("obstruction", "Is nothing jammed in its way?", 0.05, 1, [], Clears: "something in the way"),
        new("sensor", "Are the sensors and eyes clean?", 0.08, 2, [], Clears: "dirt on a sensor, not the sensor"),
        new("dummy", "Is every unused socket closed as it should be?", 0.02, 1, [], Clears: "a dummy plug that is missing"),
        new("fuel", "Is fuel or gas on, and enough of it?", 0.04, 1, [], Clears: "an empty or closed tank"),
        new("battery", "Is the battery strong enough?", 0.05, 2, [], Clears: "a weak battery, under the load it was tried with"),
        new("reset", "One reset, off at the breaker, wait, on: does it hold?", 0.06, 4, ["supply", "breaker", "stop", "obstruction"], true),
    ];

    /// <summary>The checks of this model, with orders that name what is not there left out.</summary>
    public IReadOnlyList<OutsideCheck> All
    {
        get
        {
            var all = Usual.Where(c => !LeftOut.Contains(c.Id) && Own.All(o => o.Id != c.Id)).Concat(Own).ToList();
            var ids = all.Select(c => c.Id).ToHashSet();
            return [.. all.Select(c => c with { After = [.. c.After.Where(ids.Contains)] })];
        }
    }

    /// <returns>What is wrong; empty where nothing is.</returns>
    public IReadOnlyList<string> Problems()
    {
        var problems = Own.Where(c => c.Chance is not (>= 0 and <= 1) || c.Minutes is not (> 0 and <= 600))
            .Select(c => $"\"{c.Asks}\" needs a chance from 0 to 1 and minutes above 0.")
            .ToList();
        problems.AddRange(Own.GroupBy(c => c.Id).Where(g => g.Count() > 1).Select(g => $"\"{g.Key}\" stands twice."));
        if (problems.Count == 0 && OutsideOrder.HasLoop(All))
        {
            problems.Add("Two checks each want to come after the other.");
        }

        return problems;
    }
}

public enum OutsideAnswer
{
    Yes,
    No,
    CouldNot,

    /// <summary>This machine has nothing of the kind; it is not asked again there.</summary>
    HasNone,
}

/// <summary>An answer given in a visit.</summary>
/// <param name="Minutes">From when it was asked; null where that is not known.</param>
/// <param name="WasIt">Putting it right ended the fault.</param>
public sealed record OutsideResult(string CheckId, OutsideAnswer Answer, double? Minutes, bool WasIt);

/// <summary>A check with what the shop has learnt of it.</summary>
/// <param name="Chance">Mean of the beta posterior.</param>
/// <param name="Asked">Answers it rests on.</param>
/// <param name="Found">Of these, how often it was the fault.</param>
public sealed record LearntCheck(OutsideCheck Check, double Chance, double Minutes, int Asked, int Found)
{
    /// <summary>How many visits the starting values are worth; common practice, no source.</summary>
    private const double StartWorth = 10;
    private const double MinutesWorth = 3;
    private const double LeastMinutes = 0.05,
        MostMinutes = 30;

    public string Why =>
        Asked == 0
            ? $"the fault in about {100 * Chance:0} of 100 visits, {Minutes:0.#} min to look; nothing learnt here yet"
            : $"was the fault in {Found} of {Asked} visits here, so about {100 * Chance:0} in 100; takes {Minutes:0.#} min";

    /// <summary>Beta-binomial for the chance, a weighted mean for the minutes; "could not" and "has none" teach neither.</summary>
    public static LearntCheck Of(OutsideCheck check, IEnumerable<OutsideResult> results)
    {
        ArgumentNullException.ThrowIfNull(check);
        ArgumentNullException.ThrowIfNull(results);
        var own = results.Where(r => r.CheckId == check.Id && r.Answer is (OutsideAnswer.Yes or OutsideAnswer.No)).ToList();
        var found = own.Count(r => r.WasIt);
        // An answer left lying over lunch says nothing of how long it takes.
        var minutes = own.Select(r => r.Minutes).OfType<double>().Where(m => m is >= LeastMinutes and <= MostMinutes).ToList();
        return new LearntCheck(
            check,
            ((check.Chance * StartWorth) + found) / (StartWorth + own.Count),
            ((check.Minutes * MinutesWorth) + minutes.Sum()) / (MinutesWorth + minutes.Count),
            own.Count,
            found
        );
    }
}
