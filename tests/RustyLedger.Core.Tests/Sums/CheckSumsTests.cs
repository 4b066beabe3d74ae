using RustyLedger.Core.Machines;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Sums;

namespace RustyLedger.Core.Tests.Sums;

public sealed class CheckSumsTests
{
    private static IReadOnlyList<SumOffer> Offers(MeterMode mode, string limit, string remark, string typed, params (string, string)[] set)
    {
        var check = Sample.Resolved().Checks[0];
        check = check with
        {
            Check = check.Check with { Mode = mode, Remark = remark, Red = null, Part = "here" },
            SourcedLimit = new(LimitNotation.ReadOne(limit, mode).Limit, new Origin(Level.Model, "")),
        };
        var entry = new Entry(
            "e",
            1,
            EntryKind.Taken,
            check.Key,
            null,
            null,
            mode,
            "run",
            check.Limit,
            DefaultTolerance.Usual,
            typed.Length > 0 ? ReadingNotation.Read(typed, mode).Choices[0] : null,
            null,
            ""
        );
        return CheckSums.Of(check, Sample.Resolved(), entry, set.Length > 0 ? set : null);
    }

    [Theory]
    [InlineData(MeterMode.Ohms, "25 Ω", "valve coil", "28", "coil", "ohms", "28 Ω")]
    [InlineData(MeterMode.Frequency, "50 Hz", "", "50.6", "speed", "hertz", "50.6 Hz")]
    [InlineData(MeterMode.AcVolts, "62..88 V", "field flashed", "74", "flash", "output", "74 V")]
    [InlineData(MeterMode.Capacitance, "4700 µF", "", "4.1 mF", "discharge", "farads", "4100 µF")]
    [InlineData(MeterMode.Fuse, "good fuse, 24 V", "", "24.1 0 24", "fuse", "across", "24 V")]
    [InlineData(MeterMode.AcVolts, "26 V", "secondary", "26.5", "transformer", "reads", "26.5 V")]
    public void A_check_offers_the_sum_it_needs_with_what_is_known(
        MeterMode mode,
        string limit,
        string remark,
        string typed,
        string sum,
        string field,
        string fill
    )
    {
        var offer = Assert.Single(Offers(mode, limit, remark, typed));
        Assert.Equal(sum, offer.SumId);
        Assert.Equal(fill, offer.Fill[field]);
        // What is filled in is understood there as it stands.
        var kind = BenchSums.All.Single(s => s.Id == sum);
        Assert.All(offer.Fill.Keys, k => Assert.Contains(kind.Fields, f => f.Name == k));
        Assert.All(
            offer.Fill,
            f =>
            {
                var unit = kind.Fields.Single(k => k.Name == f.Key).Unit;
                _ = Core.Sums.Quantity.Read(f.Key, f.Key, f.Value, unit);
            }
        );
    }

    [Fact]
    public void A_set_goes_into_its_sum_as_it_stands()
    {
        var offer = Assert.Single(Offers(MeterMode.AcVolts, "400 V", "set: phases", "398", ("L1", "401"), ("L2", "398"), ("L3", "")));
        Assert.Equal(("set", "L1 401, L2 398"), (offer.SumId, offer.Fill["readings"]));
        Assert.Empty(Offers(MeterMode.DcVolts, "24 V", "", "24"));
    }
}
