using RustyLedger.Core.Measuring;
using RustyLedger.Core.Safety;

namespace RustyLedger.Core.Tests.Safety;

/// <summary>A number typed where words are asked for is taken for a slip, whichever way it comes in.</summary>
public sealed class SaidTests
{
    public static TheoryData<string> Numbers =>
        ["230", "24.1 V", "0.2 / 0", "~18.2", "-0,5 V DC", "118 v ac", "4.7 kΩ", "60 °C", "10 MΩ", "12."];

    public static TheoryData<string> Sayings => ["socket X9, 231 V", "X9", "9 V block battery", "no supply here", "", "OL"];

    [Theory]
    [MemberData(nameof(Numbers))]
    public void A_number_is_neither_a_source_nor_a_reason_nor_a_remark(string number)
    {
        foreach (
            var kind in new[]
            {
                SafetyEventKind.MeterProvedBefore,
                SafetyEventKind.MeterProvedAfter,
                SafetyEventKind.LiveAgain,
                SafetyEventKind.SwitchedOff,
                SafetyEventKind.PlaceIsDry,
            }
        )
        {
            var refusal = Act(kind, number).Refusal();
            Assert.Equal("words", refusal?.Field);
            Assert.Contains(number, refusal!.Problem, StringComparison.Ordinal);
        }

        Assert.Equal("reason", Read(number).Refusal()?.Field);
    }

    [Theory]
    [MemberData(nameof(Sayings))]
    public void Words_are_taken(string words)
    {
        Assert.Null(Act(SafetyEventKind.MeterProvedBefore, words).Refusal());
        Assert.Null(Read(words).Refusal());
    }

    [Fact]
    public void A_lock_may_have_nothing_but_a_number() => Assert.Null(Act(SafetyEventKind.Locked, "12").Refusal());

    private static SafetyAct Act(SafetyEventKind kind, string words) =>
        new()
        {
            Id = "a",
            Order = 1,
            Kind = kind,
            Subject = "",
            Typed = "",
            Words = words,
            DeviceTime = default,
            ServerTime = default,
            PersonId = "edda",
        };

    private static Reading Read(string reason) =>
        new()
        {
            Id = "r",
            Order = 1,
            Kind = EntryKind.Taken,
            CheckKey = "z1/c1",
            RedPrinted = "Z1-J1·1",
            BlackPrinted = "Z1-J1·2",
            Mode = MeterMode.Ohms,
            State = "off",
            Tolerance = new DefaultTolerance(5, 10),
            Typed = "0.4",
            Reason = reason,
            DeviceTime = default,
            ServerTime = default,
            PersonId = "edda",
            Meter = "",
        };
}
