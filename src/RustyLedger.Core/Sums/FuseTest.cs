namespace RustyLedger.Core.Sums;

public enum FuseState
{
    Good,
    Blown,

    /// <summary>Open, and nothing behind it leads to common, so that even volts across it read nothing.</summary>
    OpenNoLoad,
    NotJudged,
}

/// <summary>What a reading at one end of a fuse comes to, against what should be there.</summary>
public enum FuseVolts
{
    NotRead,
    Nothing,

    /// <summary>Neither nothing nor all.</summary>
    Some,
    Full,
}

/// <summary>
/// Whether a fuse is good. Dead and pulled it beeps or not. Live and in place, no volts across it mean nothing by themselves: a fuse on a
/// circuit that is not fed, or feeds nothing, reads the same as a good one.
/// </summary>
/// <param name="Next">What to do now; empty where nothing is left to do.</param>
public sealed record FuseTest(FuseState State, string Rule, string Says, string Next)
{
    // Common practice, no source: a meter's ghost, and what counts as all of it.
    private const double NothingVolts = 0.5;
    private const double NothingShare = 0.05;
    private const double FullShare = 0.8;

    private const string FindWhy = "Find what blew it before another is fitted: what does it feed? Clear its loads of shorts first.";

    /// <summary>Dead, by continuity.</summary>
    /// <param name="isPulled">Out of its holder, at least at one end.</param>
    public static FuseTest Dead(bool isPulled, bool beeps) =>
        (isPulled, beeps) switch
        {
            (true, true) => new(FuseState.Good, "pulled, beeps", "Pulled, it beeps through: good.", ""),
            (_, false) => new(
                FuseState.Blown,
                isPulled ? "pulled, silent" : "in place, silent",
                isPulled ? "Pulled, it does not beep: blown." : "Not even what lies beside it beeps through: blown.",
                FindWhy
            ),
            (false, true) => new(
                FuseState.NotJudged,
                "in place, beeps",
                "In its holder something beside it can beep as well: a winding, a lamp, the other phases.",
                "Pull it, at least at one end, and try again."
            ),
        };

    /// <param name="full">What is fed, in volts.</param>
    public static FuseVolts Size(double? volts, double full) =>
        volts is not { } v ? FuseVolts.NotRead
        : Math.Abs(v) <= Math.Max(NothingVolts, NothingShare * Math.Abs(full)) ? FuseVolts.Nothing
        : Math.Abs(v) >= FullShare * Math.Abs(full) ? FuseVolts.Full
        : FuseVolts.Some;

    /// <summary>Live, in its holder.</summary>
    /// <param name="near">The fed end against common.</param>
    /// <param name="far">The other end against common.</param>
    /// <param name="across">From end to end.</param>
    /// <param name="isLowImpedance">Read with a meter that loads what it reads, so that no ghost shows.</param>
    /// <param name="mayFeedBack">Windings of a three-phase load, another supply or a battery may feed its far end.</param>
    public static FuseTest Live(FuseVolts near, FuseVolts far, FuseVolts across, bool isLowImpedance, bool mayFeedBack) =>
        (near, far, across) switch
        {
            // Volts across it: nothing that conducts has them, whatever else feeds its ends.
            (_, _, FuseVolts.Full) => far == FuseVolts.Full
                ? new(
                    FuseState.Blown,
                    "full across, fed back",
                    "All the volts stand across it: blown. Its far end is fed back from elsewhere.",
                    FindWhy
                )
                : new(FuseState.Blown, "full across", "All the volts stand across it: blown.", FindWhy),
            (FuseVolts.NotRead, _, _) => new(
                FuseState.NotJudged,
                "near end not read",
                "Nobody has read whether it is fed.",
                "Read its fed end against common."
            ),
            (FuseVolts.Nothing, FuseVolts.Full or FuseVolts.Some, _) => new(
                FuseState.NotJudged,
                "fed from behind",
                "There are volts at its far end and none at its fed end: the ends are turned round, or something feeds back.",
                "Find out where the volts come from, then read again."
            ),
            (FuseVolts.Nothing, _, _) => new(
                FuseState.NotJudged,
                "not fed",
                "It is not fed: no volts across it say nothing.",
                "Go back along the path, or pull it and try it dead."
            ),
            (FuseVolts.Some, _, _) => new(
                FuseState.NotJudged,
                "fed too little",
                "Its fed end has only some of the volts: find out why first.",
                "Go back along the path."
            ),
            (FuseVolts.Full, FuseVolts.Full, FuseVolts.Some) => new(
                FuseState.NotJudged,
                "some across",
                "A fuse that conducts well has no volts across it: a bad contact in its holder, or it is blown and its far end is "
                    + "fed back.",
                "Pull it and try it dead, and look at its holder."
            ),
            (FuseVolts.Full, FuseVolts.Full, _) when mayFeedBack => new(
                FuseState.NotJudged,
                "may be fed back",
                "Both ends are full, but windings or another supply may feed the far end back.",
                across == FuseVolts.NotRead
                    ? "Read across it, with the load switched off or unplugged; or pull it and try it dead."
                    : "Unplug what feeds back and read again, or pull it and try it dead."
            ),
            (FuseVolts.Full, FuseVolts.Full, _) when !isLowImpedance => new(
                FuseState.NotJudged,
                "may be a ghost",
                "Both ends are full, but a plain meter shows that behind an open fuse as well.",
                "Read the far end at low impedance, or with its load on."
            ),
            (FuseVolts.Full, FuseVolts.Full, _) => new(
                FuseState.Good,
                "full at both ends",
                "Full at its fed end and at its far end, at low impedance, with nothing feeding back: good.",
                ""
            ),
            (FuseVolts.Full, FuseVolts.Nothing, FuseVolts.Nothing) => new(
                FuseState.OpenNoLoad,
                "open, no load",
                "Full at its fed end, nothing at its far end, and nothing across: open, with no load behind it.",
                FindWhy
            ),
            (FuseVolts.Full, FuseVolts.Nothing, _) => new(
                FuseState.Blown,
                "nothing at the far end",
                "Full at its fed end, nothing at its far end: blown, or it makes no contact in its holder.",
                FindWhy
            ),
            (FuseVolts.Full, FuseVolts.Some, _) => new(
                FuseState.NotJudged,
                "some at the far end",
                "Its far end has only some of the volts: a bad contact in the holder, or a blown fuse and something that feeds back.",
                "Read across it at low impedance, or pull it and try it dead."
            ),
            _ => new(
                FuseState.NotJudged,
                "far end not read",
                "Full at its fed end; nobody has read its far end. No volts across it say nothing where it feeds nothing.",
                "Read its far end against common."
            ),
        };
}
