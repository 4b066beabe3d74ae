using System.Collections.Frozen;
using RustyLedger.Core.Boards;
using RustyLedger.Core.Circuits;
using RustyLedger.Core.Measuring;
using RustyLedger.Core.Wiring;

namespace RustyLedger.Core.Machines;

/// <summary>A pin as it is on one machine.</summary>
/// <param name="Printed">The full name, such as <c>Z1-J2·6</c>.</param>
/// <param name="Element">Null for a pin of an off-board part.</param>
public sealed record ResolvedPin(
    PinAddress Address,
    string Printed,
    string HolderWords,
    Element? Element,
    OffBoardPart? Part,
    Pin Pin,
    Sourced<string> Label,
    Sourced<WireColours> Colours,
    Sourced<string> Signal
)
{
    /// <summary>Who says so: first of the pin as such, then of each field that somebody else says.</summary>
    public IReadOnlyList<FieldOrigin> Origins
    {
        get
        {
            var fields = new (string Field, Origin From)[] { ("label", Label.From), ("colours", Colours.From), ("signal", Signal.From) };
            return [new("", Holder.Words), .. fields.Where(f => f.From != Holder).Select(f => new FieldOrigin(f.Field, f.From.Words))];
        }
    }

    /// <summary>The board type or model that has the pin.</summary>
    public required Origin Holder { get; init; }

    /// <summary>What the pin is called on other builds, where this build's overlay renames it; null where it does not.</summary>
    public string? ElsewherePrinted { get; init; }

    /// <summary>The connector or part without the pin, such as <c>Z1-J2</c>.</summary>
    public string PrintedElement => Printed[..Printed.LastIndexOf('·')];
}

/// <param name="IsInner">A path on a board rather than a wire.</param>
public sealed record ResolvedLink(string Id, PinAddress From, PinAddress To, bool Directed, bool IsInner, Origin Origin);

/// <summary>A check as it applies to one machine.</summary>
/// <param name="Key">Identity on the machine: a board type's check applies once per position it fills.</param>
public sealed record ResolvedCheck(
    CheckKey Key,
    Check Check,
    OperatingState State,
    Sourced<Limit> SourcedLimit,
    Sourced<DefaultTolerance> SourcedTolerance,
    Origin Origin
)
{
    public Limit Limit => SourcedLimit.Value;

    public DefaultTolerance Tolerance => SourcedTolerance.Value;

    /// <summary>The reading that was accepted as right on this machine, and made its limit; null where none was.</summary>
    public ReadingId? AcceptedReading { get; init; }

    /// <summary>Why it was accepted; empty where none was.</summary>
    public string AcceptedBecause { get; init; } = "";

    /// <summary>The same under a limit that was worked out for the moment.</summary>
    public ResolvedCheck Under(Limit limit, string from) => this with { SourcedLimit = new(limit, new Origin(Level.Computed, from)) };

    /// <summary>What a bare number takes as its tolerance, and why; empty where the limit says all itself.</summary>
    public string ToleranceWords =>
        Limit switch
        {
            NominalLimit { Percent: null, Absolute: null } n => Tolerance.Words(n.Nominal, n.Unit, n.Current),
            SupplyLimit { Now: { } now } s =>
                $"at least {Numbers.Write(s.Low!.Value)} V: the supply reads {Numbers.Write(now)} V, less 0.5 V",
            SupplyLimit => "what the supply reads, less 0.5 V: read the supply first",
            _ => "",
        };
}

/// <summary>All that applies to one machine, each with where it came from.</summary>
/// <param name="Problems">What does not fit together, in words; never empty silently: a dropped link is named here.</param>
public sealed record ResolvedMachine(
    Machine Machine,
    Model Model,
    IReadOnlyDictionary<PositionId, BoardType> BoardAt,
    IReadOnlyDictionary<PinAddress, ResolvedPin> Pins,
    IReadOnlyList<ResolvedLink> Links,
    IReadOnlyList<ResolvedCheck> Checks,
    IReadOnlyList<string> Problems
)
{
    /// <summary>The build this machine is; null where it is not decided or the model has no variants.</summary>
    public Variant? Variant { get; init; }

    /// <summary>
    /// Puts board types into positions, lays the model's wiring over them and the machine's overrides over that.
    /// A board fitted on this machine goes before the board type the model names for the position.
    /// </summary>
    /// <param name="boardTypes">All that the model's positions and the fitted boards name.</param>
    /// <param name="variant">The build, whose overlay renames terminals; null where none is decided.</param>
    public static ResolvedMachine Of(
        Machine machine,
        Model model,
        IReadOnlyDictionary<BoardTypeId, BoardType> boardTypes,
        Variant? variant = null
    )
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(model);
        ArgumentNullException.ThrowIfNull(boardTypes);
        return new Resolver(machine, model, boardTypes, variant).Resolve();
    }

    private sealed class Resolver(Machine machine, Model model, IReadOnlyDictionary<BoardTypeId, BoardType> boardTypes, Variant? variant)
    {
        private readonly Dictionary<PinAddress, OverlayLabel> _overlay = (variant?.Overlay ?? []).ToDictionary(o => o.Pin);
        private readonly List<string> _problems = [];
        private readonly Dictionary<PositionId, BoardType> _boardAt = [];
        private readonly Dictionary<PinAddress, ResolvedPin> _pins = [];
        private readonly List<ResolvedLink> _links = [];
        private readonly List<ResolvedCheck> _checks = [];
        private readonly FrozenDictionary<string, OperatingState> _states = model.States.ToFrozenDictionary(s => s.Code);
        private readonly ILookup<PinAddress, Override> _pinOverrides = machine
            .Overrides.Where(o => o.Address is not null)
            .ToLookup(o => o.Address!);

        private readonly ILookup<CheckKey, Override> _checkOverrides = machine
            .Overrides.Where(o => o.CheckKey is not null)
            .ToLookup(o => o.CheckKey!.Value);

        public ResolvedMachine Resolve()
        {
            foreach (var position in model.Positions)
            {
                Place(position);
            }

            foreach (var part in model.Parts)
            {
                foreach (var pin in part.Pins)
                {
                    Add(new PinAddress.OffBoard(part.Id, pin.Id), $"{part.Designator}·{pin.Label}", part.Name, null, part, pin, FromModel);
                }
            }

            foreach (var link in model.Links)
            {
                Add(link, link.From, link.To, link.Id.Value, isInner: false, FromModel);
            }

            foreach (var check in model.Checks)
            {
                Add(check, check.Id.Value, DefaultToleranceOf(check.Red), FromModel);
            }

            foreach (var check in machine.Checks)
            {
                Add(check, check.Id.Value, DefaultToleranceOf(check.Red), new Origin(Level.Machine, $"{machine.Tag} only"));
            }

            foreach (var stray in machine.Overrides.Where(o => o.Address is { } a && !_pins.ContainsKey(a)))
            {
                _problems.Add($"an override of {machine.Tag} speaks of a pin that is not there ({stray.Reason})");
            }

            foreach (var stray in _overlay.Keys.Where(a => !_pins.ContainsKey(a)))
            {
                _problems.Add($"the overlay of {variant!.Name} renames a pin that is not there ({stray.Text})");
            }

            var resolved = new ResolvedMachine(machine, model, _boardAt, _pins, _links, _checks, _problems) { Variant = variant };
            // A machine with a circuit and no sheet has a sheet.
            return _checks.Count == 0 && model.Circuit.Rows.Count > 0 ? resolved with { Checks = CircuitSurvey.Sheet(resolved) } : resolved;
        }

        private Origin FromModel => new(Level.Model, $"model {model.Name}");

        private void Place(Position position)
        {
            var fitted = machine.FittedIn(position.Id);
            var id = fitted?.BoardTypeId ?? position.BoardTypeId;
            if (!boardTypes.TryGetValue(id, out var type))
            {
                _problems.Add($"position {position.Name} names a board type that is not known ({id})");
                return;
            }

            _boardAt[position.Id] = type;
            var origin = new Origin(Level.BoardType, $"board type {type.Printed}");
            foreach (var element in type.Elements)
            {
                foreach (var pin in element.Pins)
                {
                    Add(
                        new PinAddress.OnBoard(position.Id, pin.Id),
                        $"{position.Prefix}-{element.Designator}·{pin.Label}",
                        position.Name,
                        element,
                        null,
                        pin,
                        origin
                    );
                }
            }

            foreach (var link in type.Links)
            {
                Add(link, At(position, link.From), At(position, link.To), $"{position.Id}/{link.Id}", isInner: true, origin);
            }

            foreach (var check in type.Checks)
            {
                var here = check with
                {
                    Red = check.Red is null ? null : At(position, check.Red),
                    Black = check.Black is null ? null : At(position, check.Black),
                };
                Add(here, $"{position.Id}/{check.Id}", type.Tolerance, origin);
            }
        }

        private static PinAddress At(Position position, PinAddress address) =>
            address is PinAddress.OnType own ? new PinAddress.OnBoard(position.Id, own.Pin) : address;

        private void Add(PinAddress address, string printed, string holder, Element? element, OffBoardPart? part, Pin pin, Origin origin)
        {
            var (label, colours, signal) = (Sourced.By(pin.Label, origin), Sourced.By(pin.Colours, origin), Sourced.By(pin.Signal, origin));
            var renamed = _overlay.GetValueOrDefault(address);
            var build = new Origin(Level.Build, $"build {variant?.Name}");
            if (renamed is { Meaning.Length: > 0 })
            {
                signal = new(renamed.Meaning, build);
            }

            foreach (var said in _pinOverrides[address])
            {
                var only = new Origin(Level.Machine, $"{machine.Tag} only: {said.Reason}");
                (colours, signal) = (colours.Unless(said.Colours, only), signal.Unless(said.Signal, only));
            }

            string? elsewhere = null;
            if (renamed is not null && renamed.Label != pin.Label)
            {
                label = new(renamed.Label, build);
                (elsewhere, printed) = (printed, $"{printed[..printed.LastIndexOf('·')]}·{renamed.Label}");
            }

            pin = pin with { Label = label.Value, Colours = colours.Value, Signal = signal.Value };
            _pins[address] = new ResolvedPin(address, printed, holder, element, part, pin, label, colours, signal)
            {
                ElsewherePrinted = elsewhere,
                Holder = origin,
            };
        }

        private void Add(Link link, PinAddress from, PinAddress to, string id, bool isInner, Origin origin)
        {
            if (!_pins.ContainsKey(from) || !_pins.ContainsKey(to))
            {
                _problems.Add(
                    (_pins.GetValueOrDefault(from), _pins.GetValueOrDefault(to)) switch
                    {
                        ({ } start, _) => $"{start.Printed} feeds a pin that is not there (link {id}, {origin.Words})",
                        (_, { } end) => $"{end.Printed} is fed from a pin that is not there (link {id}, {origin.Words})",
                        _ => $"link {id} ({origin.Words}) joins two pins that are not there",
                    }
                );
                return;
            }

            _links.Add(new ResolvedLink(id, from, to, link.Directed, isInner, origin));
        }

        private void Add(Check check, string key, DefaultTolerance tolerance, Origin origin)
        {
            if ((check.Red is { } red && !_pins.ContainsKey(red)) || (check.Black is { } black && !_pins.ContainsKey(black)))
            {
                _problems.Add($"check {key} ({origin.Words}) is at a pin that is not there");
                return;
            }

            if (_checks.Exists(c => c.Key == key))
            {
                _problems.Add($"check {key} ({origin.Words}) has the id of another");
                return;
            }

            if (!_states.TryGetValue(check.State, out var state))
            {
                _problems.Add($"check {key} ({origin.Words}) is in a state that model {model.Name} does not list ({check.State})");
                return;
            }

            var limit = Sourced.By(check.Limit, origin);
            var accepted = _checkOverrides[key].LastOrDefault(o => o is { Limit: not null, ReadingId: not null });
            foreach (var own in _checkOverrides[key])
            {
                limit = limit.Unless(own.Limit, new Origin(Level.Machine, $"{machine.Tag} only: {own.Reason}"));
            }

            // A rail that is said to be regulated is narrow, whatever its volts; only where nobody stated a tolerance.
            var said = check.Red is { } at ? $"{_pins[at].Pin.Signal} {check.Remark}" : check.Remark;
            var isRegulated =
                tolerance == DefaultTolerance.Usual
                && limit.Value is NominalLimit { Unit: Unit.Volts }
                && said.Contains("regulated", StringComparison.OrdinalIgnoreCase)
                && !said.Contains("unregulated", StringComparison.OrdinalIgnoreCase)
                && !said.Contains("not regulated", StringComparison.OrdinalIgnoreCase);
            _checks.Add(
                new ResolvedCheck(
                    key,
                    check,
                    state,
                    limit,
                    isRegulated
                        ? new(DefaultTolerance.Regulated, new Origin(Level.Computed, "what it says of itself: a regulated rail"))
                        : new(tolerance, origin),
                    origin
                )
                {
                    AcceptedReading = accepted?.ReadingId,
                    AcceptedBecause = accepted?.Reason ?? "",
                }
            );
        }

        private DefaultTolerance DefaultToleranceOf(PinAddress? red) =>
            red is PinAddress.OnBoard at && _boardAt.TryGetValue(at.Position, out var type) ? type.Tolerance : DefaultTolerance.Usual;
    }
}
