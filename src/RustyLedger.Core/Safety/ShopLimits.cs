namespace RustyLedger.Core.Safety;

/// <summary>Below which voltage the shop calls a conductor dead; set under its local code.</summary>
/// <param name="AcDry">Volts AC, r.m.s., in a dry place.</param>
/// <param name="DcDry">Volts DC in a dry place.</param>
/// <param name="AcWet">Volts AC in a wet place.</param>
/// <param name="DcWet">Volts DC in a wet place.</param>
public sealed record ShopLimits(decimal AcDry, decimal DcDry, decimal AcWet, decimal DcWet)
{
    /// <summary>Common practice, no source: 50 V AC, 60 V DC dry. A shop may go below, never above.</summary>
    public const decimal MostAc = 50, MostDc = 60;

    /// <summary>Wet: half of it or less; common practice, no source.</summary>
    public const decimal MostAcWet = 25, MostDcWet = 30;

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
        return problems;
    }

    public decimal Of(bool isAc, bool isWet) => (isAc, isWet) switch
    {
        (true, false) => AcDry,
        (true, true) => AcWet,
        (false, false) => DcDry,
        _ => DcWet,
    };
}
