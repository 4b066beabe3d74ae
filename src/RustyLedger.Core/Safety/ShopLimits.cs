namespace RustyLedger.Core.Safety;

/// <summary>How wet the place is in which a machine is touched.</summary>
public enum Wetness
{
    Dry,
    Wet,

    /// <summary>People stand or sit in water that the machine serves.</summary>
    Immersed,
}

/// <summary>What a reading of volts says of what it was taken at.</summary>
public enum Finding
{
    Dead,

    /// <summary>More than dead and less than what may not be touched: a ghost, a back-feed or stored charge. Never green.</summary>
    NotExplained,
    Live,
}

/// <summary>
/// Up to which voltage the shop calls a conductor dead, and from which it may not be touched; set under its local code. What may
/// be touched is not what is dead: a connected 12 V battery is live.
/// </summary>
/// <param name="AcDry">Touch limit, volts AC r.m.s., in a dry place.</param>
/// <param name="DcDry">Touch limit, volts DC, in a dry place.</param>
/// <param name="AcWet">Touch limit, volts AC, in a wet place.</param>
/// <param name="DcWet">Touch limit, volts DC, in a wet place.</param>
/// <param name="AcImmersed">Touch limit, volts AC, where people are immersed.</param>
/// <param name="DcImmersed">Touch limit, volts DC, where people are immersed.</param>
/// <param name="DeadAc">The most that is dead, volts AC.</param>
/// <param name="DeadDc">The most that is dead, volts DC.</param>
public sealed record ShopLimits(
    decimal AcDry,
    decimal DcDry,
    decimal AcWet,
    decimal DcWet,
    decimal AcImmersed = ShopLimits.MostAcImmersed,
    decimal DcImmersed = ShopLimits.MostDcImmersed,
    decimal DeadAc = ShopLimits.MostDeadAc,
    decimal DeadDc = ShopLimits.MostDeadDc
)
{
    /// <summary>Common practice, no source: 50 V AC, 60 V DC dry. A shop may go below, never above.</summary>
    public const decimal MostAc = 50,
        MostDc = 60;

    /// <summary>Wet: half of it or less; common practice, no source.</summary>
    public const decimal MostAcWet = 25,
        MostDcWet = 30;

    /// <summary>Where people are immersed; common practice, no source.</summary>
    public const decimal MostAcImmersed = 12,
        MostDcImmersed = 30;

    /// <summary>Dead reads at most about this; common practice, no source.</summary>
    public const decimal MostDeadAc = 5,
        MostDeadDc = 1;

    public static ShopLimits Usual { get; } = new(MostAc, MostDc, MostAcWet, MostDcWet);

    /// <returns>What is wrong, by member; empty where nothing is.</returns>
    public IReadOnlyList<(string Member, string Problem)> Problems()
    {
        var problems = new List<(string, string)>();
        void Look(string member, decimal value, decimal most, string words)
        {
            if (value <= 0 || value > most)
            {
                problems.Add((member, $"{words} lies above 0 V and at most at {most:0.#} V."));
            }
        }

        Look("acDry", AcDry, MostAc, "The AC limit of a dry place");
        Look("dcDry", DcDry, MostDc, "The DC limit of a dry place");
        Look("acWet", AcWet, Math.Min(MostAcWet, AcDry), "The AC limit of a wet place");
        Look("dcWet", DcWet, Math.Min(MostDcWet, DcDry), "The DC limit of a wet place");
        Look("acImmersed", AcImmersed, MostAcImmersed, "The AC limit where people are immersed");
        Look("dcImmersed", DcImmersed, MostDcImmersed, "The DC limit where people are immersed");
        Look("deadAc", DeadAc, MostDeadAc, "What is dead on AC");
        Look("deadDc", DeadDc, MostDeadDc, "What is dead on DC");
        return problems;
    }

    /// <summary>From which voltage it may not be touched; never above what common practice allows, whoever set the limits.</summary>
    public decimal Touch(bool isAc, Wetness place) =>
        place switch
        {
            Wetness.Dry => isAc ? Math.Min(AcDry, MostAc) : Math.Min(DcDry, MostDc),
            Wetness.Wet => isAc ? Math.Min(AcWet, MostAcWet) : Math.Min(DcWet, MostDcWet),
            // Never above that of a wet place, however low the shop sets it.
            _ => Math.Min(Touch(isAc, Wetness.Wet), isAc ? Math.Min(AcImmersed, MostAcImmersed) : Math.Min(DcImmersed, MostDcImmersed)),
        };

    /// <summary>The most that is dead; never above what common practice allows.</summary>
    public decimal Dead(bool isAc) => isAc ? Math.Min(DeadAc, MostDeadAc) : Math.Min(DeadDc, MostDeadDc);

    public Finding Of(decimal volts, bool isAc, Wetness place) =>
        Math.Abs(volts) >= Touch(isAc, place) ? Finding.Live
        : Math.Abs(volts) > Dead(isAc) ? Finding.NotExplained
        : Finding.Dead;
}
