using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;
using RustyLedger.Server.Storage;

namespace RustyLedger.Server.Measuring;

/// <summary>Reads the lines of rounds in the form that Core works with.</summary>
public static class RoundBook
{
    public static Entry EntryOf(ReadingRecord r)
    {
        ArgumentNullException.ThrowIfNull(r);
        return new Entry(
            r.Id,
            r.Order,
            r.Kind,
            r.CheckKey,
            r is { RedHolder: not null, RedPin: not null } ? new PinAddress(r.RedHolder, r.RedPin) : null,
            r is { BlackHolder: not null, BlackPin: not null } ? new PinAddress(r.BlackHolder, r.BlackPin) : null,
            r.Mode,
            r.State,
            r.Limit is null ? null : LimitNotation.ReadOne(r.Limit, r.Mode).Limit,
            new DefaultTolerance(r.TolerancePercent, r.ToleranceVolts, r.ToleranceOhms),
            r.Kind == EntryKind.Taken ? ReadingNotation.Read(r.Typed, r.Mode).Choices[r.Choice] : null,
            r.Target,
            r.Reason
        )
        {
            Condition = r.Condition,
        };
    }
}
