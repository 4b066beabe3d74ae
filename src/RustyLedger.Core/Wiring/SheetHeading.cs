using System.Text.RegularExpressions;

namespace RustyLedger.Core.Wiring;

/// <summary>What the headings of terminal lists mean, as people write them. Common practice, no source.</summary>
internal static partial class SheetHeading
{
    private static readonly Dictionary<string, TerminalColumn> Known = new(StringComparer.OrdinalIgnoreCase)
    {
        ["board"] = TerminalColumn.Board,
        ["unit"] = TerminalColumn.Board,
        ["module"] = TerminalColumn.Board,
        ["device"] = TerminalColumn.Board,
        ["assembly"] = TerminalColumn.Board,
        ["connector"] = TerminalColumn.Connector,
        ["conn"] = TerminalColumn.Connector,
        ["plug"] = TerminalColumn.Connector,
        ["header"] = TerminalColumn.Connector,
        ["block"] = TerminalColumn.Connector,
        ["terminal block"] = TerminalColumn.Connector,
        ["pin"] = TerminalColumn.Pin,
        ["pins"] = TerminalColumn.Pin,
        ["terminal"] = TerminalColumn.Pin,
        ["term"] = TerminalColumn.Pin,
        ["pin no"] = TerminalColumn.Pin,
        ["no"] = TerminalColumn.Pin,
        ["pos"] = TerminalColumn.Pin,
        ["position"] = TerminalColumn.Pin,
        ["way"] = TerminalColumn.Pin,
        ["#"] = TerminalColumn.Pin,
        ["colour"] = TerminalColumn.Colour,
        ["color"] = TerminalColumn.Colour,
        ["wire"] = TerminalColumn.Colour,
        ["wire no"] = TerminalColumn.WireNumber,
        ["wire number"] = TerminalColumn.WireNumber,
        ["wire #"] = TerminalColumn.WireNumber,
        ["sleeve"] = TerminalColumn.WireNumber,
        ["ferrule"] = TerminalColumn.WireNumber,
        ["signal"] = TerminalColumn.Signal,
        ["function"] = TerminalColumn.Signal,
        ["what it does"] = TerminalColumn.Signal,
        ["description"] = TerminalColumn.Signal,
        ["use"] = TerminalColumn.Signal,
        ["purpose"] = TerminalColumn.Signal,
        ["what"] = TerminalColumn.Signal,
        ["feeds"] = TerminalColumn.Feeds,
        ["goes to"] = TerminalColumn.Feeds,
        ["fed by"] = TerminalColumn.FedBy,
        ["comes from"] = TerminalColumn.FedBy,
        ["from"] = TerminalColumn.FedBy,
        ["joined to"] = TerminalColumn.JoinedTo,
        ["connects to"] = TerminalColumn.JoinedTo,
        ["to"] = TerminalColumn.JoinedTo,
        ["destination"] = TerminalColumn.JoinedTo,
        ["mode"] = TerminalColumn.Mode,
        ["meter"] = TerminalColumn.Mode,
        ["meter mode"] = TerminalColumn.Mode,
        ["how"] = TerminalColumn.Mode,
        ["common"] = TerminalColumn.Common,
        ["black"] = TerminalColumn.Common,
        ["common pin"] = TerminalColumn.Common,
        ["reference"] = TerminalColumn.Common,
        ["against"] = TerminalColumn.Common,
        ["other end"] = TerminalColumn.OtherEnd,
        ["across"] = TerminalColumn.OtherEnd,
        ["pair"] = TerminalColumn.OtherEnd,
        ["expected"] = TerminalColumn.Expected,
        ["should read"] = TerminalColumn.Expected,
        ["should be"] = TerminalColumn.Expected,
        ["limit"] = TerminalColumn.Expected,
        ["value"] = TerminalColumn.Expected,
        ["volts"] = TerminalColumn.Expected,
        ["voltage"] = TerminalColumn.Expected,
        ["reads"] = TerminalColumn.Expected,
        ["reading"] = TerminalColumn.Expected,
        ["v"] = TerminalColumn.Expected,
        ["state"] = TerminalColumn.State,
        ["condition"] = TerminalColumn.State,
        ["when"] = TerminalColumn.State,
        ["plugged"] = TerminalColumn.Plugged,
        ["plugged in"] = TerminalColumn.Plugged,
        ["in or out"] = TerminalColumn.Plugged,
        ["remark"] = TerminalColumn.Remark,
        ["remarks"] = TerminalColumn.Remark,
        ["note"] = TerminalColumn.Remark,
        ["notes"] = TerminalColumn.Remark,
        ["comment"] = TerminalColumn.Remark,
        ["comments"] = TerminalColumn.Remark,
    };

    // Headings in many words, by what they hold; the first that fits counts.
    private static readonly (Regex Words, TerminalColumn Column)[] Loose =
    [
        (NumberOfWire(), TerminalColumn.WireNumber),
        (Colour(), TerminalColumn.Colour),
        (Plugged(), TerminalColumn.Plugged),
        (OtherEnd(), TerminalColumn.OtherEnd),
        (Common(), TerminalColumn.Common),
        (FedBy(), TerminalColumn.FedBy),
        (Feeds(), TerminalColumn.Feeds),
        (JoinedTo(), TerminalColumn.JoinedTo),
        (Connector(), TerminalColumn.Connector),
        (Pin(), TerminalColumn.Pin),
        (Board(), TerminalColumn.Board),
        (Mode(), TerminalColumn.Mode),
        (Expected(), TerminalColumn.Expected),
        (State(), TerminalColumn.State),
        (Remark(), TerminalColumn.Remark),
        (Signal(), TerminalColumn.Signal),
    ];

    /// <summary>What a heading says the column holds; null where nobody knows.</summary>
    /// <param name="isLoose">Also by a word within it.</param>
    public static TerminalColumn? Of(string heading, bool isLoose)
    {
        var plain = Plain(heading);
        return plain.Length == 0 ? null
            : Known.TryGetValue(plain, out var column) ? column
            : isLoose && plain.Length <= 40 && Loose.FirstOrDefault(l => l.Words.IsMatch(plain)) is { Words: not null } found ? found.Column
            : null;
    }

    /// <summary>Without brackets, stops and line breaks: <c>Pin no.</c> and <c>Volts (DC)</c> are <c>Pin no</c> and <c>Volts</c>.</summary>
    public static string Plain(string heading) =>
        string.Join(
            ' ',
            Bracketed()
                .Replace(heading, " ")
                .Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)
                .Select(w => w.Trim('.', ':', '?', '*'))
                .Where(w => w.Length > 0)
        );

    private const RegexOptions Options = RegexOptions.IgnoreCase | RegexOptions.CultureInvariant;

    [GeneratedRegex(@"\([^)]*\)", Options)]
    private static partial Regex Bracketed();

    [GeneratedRegex(@"\b(wire|cable|core|lead)\b.*(\b(no|nr|number|num|id|label|tag)\b|#)|\b(sleeve|ferrule)\b", Options)]
    private static partial Regex NumberOfWire();

    [GeneratedRegex(@"\b(colou?rs?|insulation)\b", Options)]
    private static partial Regex Colour();

    [GeneratedRegex(@"\b(un)?plugged\b", Options)]
    private static partial Regex Plugged();

    [GeneratedRegex(@"\b(other end|across|pair)\b", Options)]
    private static partial Regex OtherEnd();

    [GeneratedRegex(@"\b(black (probe|lead|clip)|common|reference|ref|against)\b", Options)]
    private static partial Regex Common();

    [GeneratedRegex(@"\b(fed (by|from)|comes from|source)\b", Options)]
    private static partial Regex FedBy();

    [GeneratedRegex(@"\b(feeds|goes to|supplies)\b", Options)]
    private static partial Regex Feeds();

    [GeneratedRegex(@"\b(connect(s|ed) to|joined|destination|other side|runs to|wired to)\b", Options)]
    private static partial Regex JoinedTo();

    [GeneratedRegex(@"\b(connector|conn|plug|header|socket|terminal (block|strip))\b", Options)]
    private static partial Regex Connector();

    [GeneratedRegex(@"\b(pins?|terminal|term|cavity)\b", Options)]
    private static partial Regex Pin();

    [GeneratedRegex(@"\b(board|unit|module|device|assembly|card)\b", Options)]
    private static partial Regex Board();

    [GeneratedRegex(@"\b(meter|mode)\b", Options)]
    private static partial Regex Mode();

    [GeneratedRegex(@"\b(should|expect(ed)?|nominal|limits?|normal|good|volts?|voltage|vdc|vac|ohms?|readings?|value|spec)\b", Options)]
    private static partial Regex Expected();

    [GeneratedRegex(@"\b(state|condition|when)\b", Options)]
    private static partial Regex State();

    [GeneratedRegex(@"\b(notes?|remarks?|comments?|info)\b", Options)]
    private static partial Regex Remark();

    [GeneratedRegex(@"\b(function|signal|description|purpose|used? for|what|circuit|name)\b", Options)]
    private static partial Regex Signal();
}
