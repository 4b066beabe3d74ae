namespace RustyLedger.Core.Sums;

public enum LegState
{
    AsExpected,

    /// <summary>More is lost than the wire itself explains: a contact, a crimp, a broken strand.</summary>
    HighContact,

    /// <summary>All that was fed stands across it, or it carries nothing.</summary>
    Open,

    /// <summary>Without current the ends of any wire read alike.</summary>
    NotJudged,

    /// <summary>Nobody has read it.</summary>
    NotRead,
}

/// <summary>One leg of a feed: the supply wire or its return.</summary>
/// <param name="ExpectedVolts">What the copper loses at that current; null where length or gauge is not known.</param>
/// <param name="MostVolts">As much as is taken for good.</param>
/// <param name="ContactOhms">What is lost beyond the copper, as ohms; null where that cannot be told.</param>
public sealed record Leg(
    string Name,
    LegState State,
    double? Drop,
    double? ExpectedVolts,
    double MostVolts,
    double? ContactOhms,
    string Says
);

/// <summary>
/// Both legs of a feed under load. A bad return looks just like a bad supply, so what is lost on both is asked, and a reading without
/// current clears nothing.
/// </summary>
/// <param name="Supply">The wire that feeds.</param>
/// <param name="Return">The wire back.</param>
/// <param name="IsTooThin">The copper alone loses more than 3 % of what is fed.</param>
public sealed record WireDrop(Leg Supply, Leg Return, bool IsTooThin)
{
    // Common practice, no source: more than this across a contact, along a wire, or along a return is too much.
    private const double MostContact = 0.2;
    private const double MostShare = 0.03;
    private const double MostReturn = 0.3;

    // So much of the supply across one leg is no contact any more.
    private const double OpenShare = 0.9;
    private const double LeastAmps = 0.02;

    /// <param name="volts">What is fed in, at the supply's own end.</param>
    /// <param name="amps">Through the wire while it was read; null where nobody measured or stated it, 0 for no load.</param>
    /// <param name="supply">Volts lost from end to end of the supply leg; null where not read. Either sign.</param>
    /// <param name="back">The same of the return.</param>
    /// <param name="wire">Null where the gauge is not known.</param>
    /// <param name="metres">One way; null where not known.</param>
    public static WireDrop Of(
        double volts,
        double? amps,
        double? supply,
        double? back,
        Conductor? wire,
        double? metres,
        double celsius = 20
    )
    {
        var ohms = wire is not null && metres is { } length ? wire.Ohms(length, celsius) : (double?)null;
        return new WireDrop(
            Judge("supply", volts, amps, supply, ohms, Math.Abs(volts) * MostShare),
            Judge("return", volts, amps, back, ohms, MostReturn),
            ohms is { } r && amps is { } i && i * r > MostShare * Math.Abs(volts)
        );
    }

    private static Leg Judge(string name, double volts, double? amps, double? read, double? ohms, double most)
    {
        var expected = ohms is { } r && amps is { } i ? i * r : (double?)null;
        // A wire that is known is held against itself and one contact at each leg; one that is not, against the usual share.
        var allowed = expected is { } e ? e + MostContact : most;
        Leg Said(LegState state, string says, double? contact = null) => new(name, state, read, expected, allowed, contact, says);
        if (read is not { } lost)
        {
            return Said(LegState.NotRead, $"The {name} leg has not been read: a bad {name} looks just like a bad one on the other leg.");
        }

        lost = Math.Abs(lost);
        if (lost >= OpenShare * Math.Abs(volts) && lost > most)
        {
            return Said(
                LegState.Open,
                $"{Quantity.Write(lost, "V")} across it, nearly all of the {Quantity.Write(Math.Abs(volts), "V")} fed: the {name} "
                    + "leg is open."
            );
        }

        if (amps is null or < LeastAmps)
        {
            return Said(
                LegState.NotJudged,
                amps is null
                    ? "No current was measured or stated: the ends of a wire that carries nothing read alike, good or bad."
                    : "It carries no current: the ends of a wire without load read alike, good or bad. Load it and read again."
            );
        }

        var contact = expected is { } copper ? Math.Max(0, lost - copper) / amps.Value : (double?)null;
        return lost <= allowed
            ? Said(
                LegState.AsExpected,
                expected is { } of
                    ? $"{Quantity.Write(lost, "V")} lost; the copper alone loses {Quantity.Write(of, "V")}, and "
                        + $"{Quantity.Write(allowed, "V")} is the most."
                    : $"{Quantity.Write(lost, "V")} lost, at most {Quantity.Write(allowed, "V")}.",
                contact
            )
            : Said(
                LegState.HighContact,
                expected is { } than
                    ? $"{Quantity.Write(lost, "V")} lost where the copper explains {Quantity.Write(than, "V")}: "
                        + $"{Quantity.Write(contact!.Value, "Ω")} too much in a contact, a crimp or broken strands."
                    : $"{Quantity.Write(lost, "V")} lost, more than {Quantity.Write(allowed, "V")}: a contact, a crimp, or a wire "
                        + "too thin.",
                contact
            );
    }
}
