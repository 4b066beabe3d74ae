using RustyLedger.Core.Boards;
using RustyLedger.Core.Machines;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Tests.Wiring;

public sealed class PowerInTests
{
    private static readonly Dictionary<BoardTypeId, BoardType> Types = new() { [Sample.Board.Id] = Sample.Board };

    [Fact]
    public void Power_enters_at_a_board_by_its_type_and_off_the_boards_by_the_model()
    {
        var resolved = Sample.Resolved();
        foreach (var (address, pin) in resolved.Pins)
        {
            var (model, type) = PowerIn.Set(Sample.Model, Types, address, !pin.Pin.IsSource).Thing!;
            Assert.Equal(pin.Element is null, type is null);
            var now = ResolvedMachine.Of(Sample.Resolved().Machine, model, Types.Values.ToDictionary(t => t.Id, t => type ?? t));
            Assert.Equal(!pin.Pin.IsSource, now.Pins[address].Pin.IsSource);
            // Nothing else is said by it, but of the same pin of the same board elsewhere.
            Assert.All(
                now.Pins.Where(p => p.Value.Pin.Id != pin.Pin.Id),
                p => Assert.Equal(resolved.Pins[p.Key].Pin.IsSource, p.Value.Pin.IsSource)
            );
        }
    }

    [Fact]
    public void A_pin_that_is_not_there_is_refused()
    {
        foreach (
            var none in (PinAddress[])[new PinAddress.OffBoard("none", "1"), new PinAddress.AtPlace("p1"), new PinAddress.OnType("j1")]
        )
        {
            Assert.Equal("address", PowerIn.Set(Sample.Model, Types, none, true).Refusal?.Field);
        }
    }
}
