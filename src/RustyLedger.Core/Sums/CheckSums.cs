using System.Globalization;
using System.Text.RegularExpressions;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Sums;

/// <summary>A sum that a check may need, with what is known already.</summary>
/// <param name="SumId">Of <see cref="BenchSum"/>.</param>
/// <param name="Fill">Its fields, as they would be typed.</param>
public sealed record SumOffer(string SumId, string Name, IReadOnlyDictionary<string, string> Fill);

/// <summary>Which of the sums of the bench belong to a check.</summary>
public static partial class CheckSums
{
    /// <param name="reading">What stands under the check; null before it is read.</param>
    /// <param name="set">The set it belongs to, with what its members read; null where it is in none.</param>
    public static IReadOnlyList<SumOffer> Of(
        ResolvedCheck check,
        ResolvedMachine machine,
        Entry? reading,
        IReadOnlyList<(string Name, string Reads)>? set
    )
    {
        ArgumentNullException.ThrowIfNull(check);
        ArgumentNullException.ThrowIfNull(machine);
        var about = Waveform.About(check, machine);
        var reads = reading?.Value is NumberReading number ? number.Written : "";
        var nominal = check.Limit switch
        {
            NominalLimit n => n.Nominal,
            FuseLimit { Full: { } full } => full,
            _ => (decimal?)null,
        };
        var volts = nominal is { } v ? $"{v.ToString(CultureInfo.InvariantCulture)} V" : "";
        List<SumOffer> offers = [];
        void Offer(string id, params (string Field, string Typed)[] fill) =>
            offers.Add(
                new SumOffer(
                    id,
                    BenchSums.All.Single(s => s.Id == id).Name,
                    fill.Where(f => f.Typed.Length > 0).ToDictionary(f => f.Field, f => f.Typed)
                )
            );
        switch (check.Check.Mode)
        {
            case MeterMode.Ohms when Winding().IsMatch(about):
                Offer("coil", ("ohms", reads));
                break;
            case MeterMode.Ohms when check.Check.Plugged == true:
                Offer("incircuit", ("ohms", reads), ("own", LimitNotation.Write(check.Limit)));
                break;
            case MeterMode.Frequency:
                Offer("speed", ("hertz", reads));
                break;
            case MeterMode.AcVolts or MeterMode.DcVolts when Flashed().IsMatch($"{about} {check.State.Name}"):
                Offer("flash", ("output", reads));
                break;
            case MeterMode.Capacitance:
                Offer("discharge", ("farads", reads));
                break;
            case MeterMode.Fuse:
                var fuse = reading?.Value as FuseReading;
                string Volts(decimal? at) => at is { } known ? $"{known.ToString(CultureInfo.InvariantCulture)} V" : "";
                Offer("fuse", ("full", volts), ("near", Volts(fuse?.Near)), ("far", Volts(fuse?.Far)), ("across", Volts(fuse?.Across)));
                break;
            case MeterMode.Contact:
                Offer("contact");
                break;
            case MeterMode.AcVolts when Secondary().IsMatch(about):
                Offer("transformer", ("secondary", volts), ("reads", reads));
                break;
            case MeterMode.BatteryUnderLoad:
                Offer("batteries", ("readings", reads));
                break;
        }

        if (set is { Count: > 1 } members && members.Any(m => m.Reads.Length > 0))
        {
            Offer(
                "set",
                ("readings", string.Join(", ", members.Where(m => m.Reads.Length > 0).Select(m => $"{m.Name} {m.Reads}"))),
                ("unit", check.Check.Mode.UnitOf()?.Symbol() ?? "")
            );
        }

        return offers;
    }

    [GeneratedRegex(@"\b(?:coil|winding|valve|relay|contactor|solenoid)s?\b", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex Winding();

    [GeneratedRegex(@"\bflash(?:ed)?\b|field on the battery", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex Flashed();

    [GeneratedRegex(@"\b(?:secondary|transformer)\b", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex Secondary();
}
