using RustyLedger.Core.Machines;
using RustyLedger.Server.Boards;
using RustyLedger.Server.Settings;

namespace RustyLedger.Server.Machines;

/// <summary>
/// Machines as they were last resolved, with their feed graphs: working one out reads a dozen tables, and between two changes of its wiring
/// it is always the same. A commit that touches a board type, a model or a machine lets go of all that were made from it.
/// </summary>
public sealed class ResolvedMachines
{
    private const int Most = 64;

    // What each fault would show at each pin hangs on a machine, and is tens of megabytes of a large circuit.
    private const int MostWithCircuit = 6;

    private readonly Lock _gate = new();
    private readonly Dictionary<MachineId, Kept> _kept = [];
    private long _changes;

    private sealed record Kept(ResolvedMachine Machine, DateOnly Day, HashSet<string> MadeFrom)
    {
        public DateTimeOffset Used { get; set; }
    }

    /// <summary>The machine as it was resolved on that day; null where it has to be done anew.</summary>
    public ResolvedMachine? Of(MachineId id, DateOnly day, DateTimeOffset now)
    {
        lock (_gate)
        {
            if (!_kept.TryGetValue(id, out var kept) || kept.Day != day)
            {
                return null;
            }

            kept.Used = now;
            return kept.Machine;
        }
    }

    /// <summary>How many changes there were; what is read from now on is at least as new.</summary>
    public long Changes
    {
        get
        {
            lock (_gate)
            {
                return _changes;
            }
        }
    }

    /// <param name="since"><see cref="Changes"/> from before it was read; where something changed since, it is not kept.</param>
    public void Keep(ResolvedMachine machine, DateOnly day, DateTimeOffset now, long since)
    {
        ArgumentNullException.ThrowIfNull(machine);
        HashSet<string> madeFrom =
        [
            machine.Machine.Id.Value,
            machine.Model.Id.Value,
            .. machine.BoardAt.Values.Select(t => t.Id.Value),
            .. machine.Model.Positions.Select(p => p.BoardTypeId.Value),
        ];
        lock (_gate)
        {
            if (since != _changes)
            {
                return;
            }

            _kept[machine.Machine.Id] = new Kept(machine, day, madeFrom) { Used = now };
            LetGo(Most, _ => true);
            LetGo(MostWithCircuit, m => m.Model.Circuit.Rows.Count > 0);
        }
    }

    /// <summary>Of more than so many such machines, the one that was not used for longest.</summary>
    private void LetGo(int most, Func<ResolvedMachine, bool> such)
    {
        var of = _kept.Where(k => such(k.Value.Machine)).ToList();
        if (of.Count > most)
        {
            _kept.Remove(of.MinBy(k => k.Value.Used).Key);
        }
    }

    /// <summary>These board types, models or machines were changed by a commit.</summary>
    public void Forget(IReadOnlyCollection<string> owners)
    {
        ArgumentNullException.ThrowIfNull(owners);
        if (owners.Count == 0)
        {
            return;
        }

        lock (_gate)
        {
            _changes++;
            foreach (var id in _kept.Where(k => k.Value.MadeFrom.Overlaps(owners)).Select(k => k.Key).ToList())
            {
                _kept.Remove(id);
            }
        }
    }

    /// <summary>The board type, model or machine a changed row belongs to; null where no machine is made from it.</summary>
    internal static string? OwnerOf(object row) =>
        row switch
        {
            BoardTypeRecord t => t.Id.Value,
            ModelRecord m => m.Id.Value,
            MachineRecord m => m.Id.Value,
            ElementRecord e => e.OwnerId.Value,
            PinRecord p => p.OwnerId.Value,
            LinkRecord l => l.OwnerId.Value,
            CheckRecord c => c.OwnerId.Value,
            PositionRecord p => p.OwnerId.Value,
            PartRecord p => p.OwnerId.Value,
            StateRecord s => s.OwnerId.Value,
            ModelSheetRecord s => s.OwnerId.Value,
            FittedBoardRecord b => b.OwnerId.Value,
            OverrideRecord o => o.OwnerId.Value,
            SettingRecord s => s.OwnerId.Value,
            _ => null,
        };
}
