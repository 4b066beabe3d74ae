using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Safety;

/// <summary>What is written of a temporary link, when it is placed and later.</summary>
public sealed record TemporaryLinkWords(TemporaryLinkPlan Plan, string Why, bool Attended, DateTimeOffset? Until);

/// <summary>A jumper, bypass, lamp or plug placed for a test; open until removed.</summary>
public sealed record TemporaryLink : EditableThing
{
    public required string Id { get; init; }

    [OfTheBook]
    public MachineId MachineId { get; init; }

    [OfTheBook]
    public VisitId VisitId { get; init; }
    public required TemporaryLinkKind Kind { get; init; }

    /// <summary>One end; null where it is not a pin of the machine.</summary>
    public PinAddress? From { get; init; }
    public PinAddress? To { get; init; }
    public required string Where { get; init; }
    public required string Why { get; init; }
    public required bool Attended { get; init; }
    public DateTimeOffset? Until { get; init; }
    public required DateTimeOffset PlacedAt { get; init; }
    public required PersonId PersonId { get; init; }

    /// <summary>Null while it is in.</summary>
    public DateTimeOffset? RemovedAt { get; init; }
    public PersonId? RemovedById { get; init; }

    /// <summary>The protective device it lies across, as the technician said.</summary>
    public string? Across { get; init; }
    public BypassStanding Standing { get; init; }

    public bool IsOpen => RemovedAt is null && RetiredAt is null;

    /// <summary>It lies across a protective device, and not on a bench.</summary>
    public bool Bypasses => Standing is BypassStanding.FoundBypassed or BypassStanding.PlacedAllTheSame;

    public TemporaryLinkPlan Plan => new(Kind, From, To, Where, Across, Standing);

    /// <summary>Places it, unless it would bypass a protective device.</summary>
    public static Outcome<TemporaryLink> Put(
        string id,
        VisitId visit,
        PersonId person,
        TemporaryLinkWords words,
        ResolvedMachine machine,
        DateTimeOffset now
    )
    {
        ArgumentNullException.ThrowIfNull(words);
        ArgumentNullException.ThrowIfNull(machine);
        return new TemporaryLink
        {
            Id = id,
            MachineId = machine.Machine.Id,
            VisitId = visit,
            Kind = words.Plan.Kind,
            Where = "",
            Why = "",
            Attended = words.Attended,
            PlacedAt = now,
            PersonId = person,
        }.Write(words, machine);
    }

    /// <summary>Writes what it is and where, while it is in.</summary>
    public Outcome<TemporaryLink> Write(TemporaryLinkWords words, ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(words);
        ArgumentNullException.ThrowIfNull(machine);
        var plan = words.Plan;
        return (
            this with
            {
                Kind = plan.Kind,
                From = plan.From,
                To = plan.To,
                Where = Rule.Kept(plan.Where),
                Across = plan.Across,
                Standing = plan.Standing,
                Why = Rule.Kept(words.Why),
                Attended = words.Attended,
                Until = words.Until,
            }
        ).On(machine);
    }

    /// <summary>Takes it out, or puts it back in.</summary>
    /// <param name="by">Null where nobody said who.</param>
    public TemporaryLink Remove(bool isRemoved, PersonId? by, DateTimeOffset now) =>
        this with
        {
            RemovedAt = isRemoved ? RemovedAt ?? now : null,
            RemovedById = isRemoved ? RemovedById ?? by : null,
        };

    /// <summary>Whether it may lie on that machine: its ends are there, and while it is in it bypasses nothing unsaid.</summary>
    public Outcome<TemporaryLink> On(ResolvedMachine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        foreach (var (field, pin) in (ReadOnlySpan<(string, PinAddress?)>)[("from", From), ("to", To)])
        {
            if (pin is not null && !machine.Pins.ContainsKey(pin))
            {
                return new Refusal(field, $"{machine.Machine.Tag} has no pin {pin.Text}.");
            }
        }

        return IsOpen && BypassRefusal.Of(Plan, machine) is { } bypass
            ? Core.Refusal.Misfit("where", bypass.Words) with
            {
                Device = bypass.Device.Id,
            }
            : Outcome.Of(this);
    }

    public override Refusal? Refusal() => Rule.First(Rule.Needed("where", Where, 200), Rule.Needed("why", Why, 200));
}

public static class TemporaryLinkWordsOf
{
    public static string Words(this TemporaryLinkKind kind) =>
        kind switch
        {
            TemporaryLinkKind.SeriesLamp => "Series lamp",
            TemporaryLinkKind.PulledFuse => "Pulled fuse",
            TemporaryLinkKind.DummyPlug => "Dummy plug",
            _ => kind.ToString(),
        };
}
