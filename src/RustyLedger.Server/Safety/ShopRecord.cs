using RustyLedger.Core.Safety;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Safety;

/// <summary>What the shop sets under its local code; there is one.</summary>
public sealed class ShopRecord : Row
{
    public const string Only = "shop";

    public required string Id { get; set; }
    public decimal AcDry { get; set; }
    public decimal DcDry { get; set; }
    public decimal AcWet { get; set; }
    public decimal DcWet { get; set; }
    public decimal AcImmersed { get; set; } = ShopLimits.MostAcImmersed;
    public decimal DcImmersed { get; set; } = ShopLimits.MostDcImmersed;
    public decimal DeadAc { get; set; } = ShopLimits.MostDeadAc;
    public decimal DeadDc { get; set; } = ShopLimits.MostDeadDc;

    /// <summary>Under which phones find the ledger; empty for what the operator set, if anything.</summary>
    public string PublicAddress { get; set; } = "";

    /// <summary>The shop's own meters, see <see cref="Core.Measuring.Meters"/>; empty for none.</summary>
    public string Meters { get; set; } = "";

    public ShopLimits Limits => new(AcDry, DcDry, AcWet, DcWet, AcImmersed, DcImmersed, DeadAc, DeadDc);
}
