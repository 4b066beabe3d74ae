using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;
using RustyLedger.Core.Visits;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Visits;

public sealed class BeforeSigningTests
{
    private static readonly DateTimeOffset _start = new(2026, 11, 24, 9, 0, 0, TimeSpan.Zero);
    private static readonly SafetySheet _sheet = SafetySheet.Empty with
    {
        Interlocks =
        [
            new("stop", InterlockKind.Stop, "stop button", null, null, ""),
            new("guard", InterlockKind.Guard, "guard switch", null, null, ""),
        ],
    };

    [Fact]
    public void A_bad_reading_stays_on_the_list_until_it_is_taken_again()
    {
        IReadOnlyList<CheckKey> Bad(params RoundSheet[] rounds) =>
            [.. BeforeSigning.Of(rounds, _sheet, [], null).StillBad.Select(e => e.CheckKey!.Value)];
        var first = Round(Sample.Reading(1, "z1/c1", "17"), Sample.Reading(2, "z1/c3", "24"));
        Assert.Equal(["z1/c1"], Bad(first));
        Assert.Empty(Bad(first, Round(Sample.Reading(3, "z1/c1", "24"))));
        // Good before and bad after the repair is bad.
        Assert.Equal(["z1/c3"], Bad(first, Round(Sample.Reading(3, "z1/c1", "24"), Sample.Reading(4, "z1/c3", "3"))));
    }

    [Fact]
    public void A_device_is_to_be_operated_after_the_repair()
    {
        IReadOnlyList<string> Left(DateTimeOffset? repaired, params SafetyEvent[] acts) =>
            [.. BeforeSigning.Of([], _sheet, acts, repaired).NotOperated.Select(i => i.Id)];
        var early = Operated("stop", 1);
        Assert.Equal(["stop", "guard"], Left(null));
        Assert.Equal(["guard"], Left(null, early));
        Assert.Equal(["stop", "guard"], Left(_start.AddMinutes(5), early));
        Assert.Equal(["guard"], Left(_start.AddMinutes(5), early, Operated("stop", 6)));
        Assert.Equal(
            ["stop", "guard"],
            Left(null, early, new("t", 9, SafetyEventKind.TakenBack, "", null, "", early.Id, _start.AddMinutes(9), "Edda"))
        );
        Assert.Contains(
            "no protective device",
            SafeState.Refusal(_sheet, ShopLimits.Usual, [], Operated("none", 1)),
            StringComparison.Ordinal
        );
        Assert.Null(SafeState.Refusal(_sheet, ShopLimits.Usual, [], early));
    }

    [Fact]
    public void What_was_done_is_said_in_a_few_sentences()
    {
        Assert.Empty(new VisitDeeds([], [], [], 0, 0, []).Words);
        Assert.Equal(
            "loose contact, cleaned, J2. Fitted TW-210 rev B as zone 1. Took out lead across the fuse. Operated stop button. "
                + "1 reading taken. Settings saved.",
            new VisitDeeds(
                ["loose contact, cleaned, J2"],
                ["TW-210 rev B as zone 1"],
                ["lead across the fuse"],
                1,
                2,
                ["stop button"]
            ).Words
        );
    }

    private static SafetyEvent Operated(string device, int minute) =>
        new($"o{device}{minute}", minute, SafetyEventKind.DeviceOperated, device, null, "", null, _start.AddMinutes(minute), "Edda");

    private static RoundSheet Round(params Entry[] entries) => RoundSheet.Of(Sample.Resolved(), FeedGraph.Of(Sample.Resolved()), entries);
}
