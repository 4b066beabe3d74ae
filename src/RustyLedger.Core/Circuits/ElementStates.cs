using System.Collections;
using System.Diagnostics.CodeAnalysis;

namespace RustyLedger.Core.Circuits;

/// <summary>
/// How each element of a circuit stands that has a state, by its name. Thousands of circuits differ in one element each: their states lie
/// in the same places, so that they are copied and compared as a whole.
/// </summary>
[SuppressMessage("Naming", "CA1710", Justification = "Called what it holds, not how.")]
public sealed class ElementStates : IReadOnlyDictionary<string, ElementState>
{
    private readonly Dictionary<string, int> _places;
    private readonly ElementState[] _states;

    internal ElementStates(Dictionary<string, int> places, ElementState[] states) => (_places, _states) = (places, states);

    /// <summary>By place: coils, then fuses, then what settles.</summary>
    internal Span<ElementState> All => _states;

    internal ElementStates Copy() => new(_places, (ElementState[])_states.Clone());

    /// <summary>Takes over how those of another stand that are here as well.</summary>
    internal void Take(IReadOnlyDictionary<string, ElementState> others)
    {
        if (others is ElementStates like && ReferenceEquals(like._places, _places))
        {
            like._states.CopyTo(_states, 0);
            return;
        }

        foreach (var (name, state) in others)
        {
            if (_places.TryGetValue(name, out var place))
            {
                _states[place] = state;
            }
        }
    }

    internal void Set(string name, ElementState state) => _states[_places[name]] = state;

    public ElementState this[string key] => _states[_places[key]];

    public IEnumerable<string> Keys => _places.Keys;

    public IEnumerable<ElementState> Values => _states;

    public int Count => _states.Length;

    public bool ContainsKey(string key) => _places.ContainsKey(key);

    public bool TryGetValue(string key, [MaybeNullWhen(false)] out ElementState value)
    {
        var isHere = _places.TryGetValue(key, out var place);
        value = isHere ? _states[place] : default;
        return isHere;
    }

    public IEnumerator<KeyValuePair<string, ElementState>> GetEnumerator() =>
        _places.Select(p => KeyValuePair.Create(p.Key, _states[p.Value])).GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();
}
