using System.Text.RegularExpressions;

namespace RustyLedger.Core.Wiring;

/// <summary>
/// What a line of its own says about the lines below it: <c>DRIVE BOARD</c>, <c>Plug P12</c>, <c>J3 on the drive board</c>.
/// </summary>
/// <param name="Board">Words of the board or thing; empty where it names a connector alone.</param>
/// <param name="Connector">Empty where it names a board alone.</param>
/// <param name="Mate">The connector into which it is put; empty where it does not say.</param>
internal sealed partial record SheetSection(string Board, string Connector, string Mate)
{
    /// <summary>Null where the line names neither.</summary>
    public static SheetSection? Of(string text)
    {
        // What stands after the black probe's place belongs to it.
        var said = CommonWords().Replace(text, "").Trim(' ', ',', ':', ';', '-', '\u2013', '=', '*', '#', '.');
        if (said.Length is 0 or > 60)
        {
            return null;
        }

        var mate = Mating().Match(said) is { Success: true } mating ? mating.Groups["mate"].Value.ToUpperInvariant() : "";
        var rest = Mating().Replace(said, " ");
        var connector = Designator().Match(rest);
        var board = Clean(connector.Success ? rest.Remove(connector.Index, connector.Length) : rest);
        if (connector.Success)
        {
            return board.Length <= 40 && (board.Length == 0 || IsBoard(board) || board.Split(' ').Length <= 3)
                ? new(board, connector.Groups["name"].Value.ToUpperInvariant(), mate)
                : null;
        }

        return board.Length > 0 && IsBoard(board) ? new(board, "", mate) : null;
    }

    /// <summary>Where the black probe stays, if the line says so: <c>common: P12-3, grey</c> is P12-3.</summary>
    public static string CommonIn(string text)
    {
        if (CommonAt().Match(text) is not { Success: true } found)
        {
            return "";
        }

        var board = found.Groups["board"].Value.Trim();
        var pin = $"{found.Groups["connector"].Value}-{found.Groups["pin"].Value}";
        return board.Length == 0 || SmallWords.Contains(board, StringComparer.OrdinalIgnoreCase) ? pin : $"{board} {pin}";
    }

    private static readonly string[] SmallWords = ["is", "on", "at", "to", "in", "pin", "stays", "the", "connector", "plug"];

    private static bool IsBoard(string words) =>
        words.Split(' ').Length <= 6
        && words.Any(char.IsLetter)
        && (BoardWords().IsMatch(words) || (!words.Any(char.IsLower) && words.Count(char.IsLetter) >= 3))
        && !Sentence().IsMatch(words);

    private static string Clean(string words) =>
        Small()
            .Replace(string.Join(' ', words.Split([' ', ',', ':', ';', '(', ')', '\u2013'], StringSplitOptions.RemoveEmptyEntries)), "")
            .Trim(' ', '-', '.');

    private const RegexOptions Options = RegexOptions.IgnoreCase | RegexOptions.CultureInvariant;

    [GeneratedRegex(@"\b(common|black(\s+(probe|lead|clip))?|ref(erence)?)\b.*$", Options)]
    private static partial Regex CommonWords();

    [GeneratedRegex(
        @"\b(common|black(\s+(probe|lead|clip))?|ref(erence)?|against|measured to|readings? to)\b[\s:=]*"
            + @"((is|on|at|to|in|stays on)\s+)?(pin\s+)?"
            + @"(?<board>[A-Za-z]{2,16}\s+)?(?<connector>[A-Za-z]{1,4}\d{1,4}[A-Za-z]?)(\s*[-.:/·]\s*|\s+pin\s+)(?<pin>[A-Za-z0-9+]{1,6})",
        Options
    )]
    private static partial Regex CommonAt();

    [GeneratedRegex(
        @"\b(mates with|mated with|mates|mating|plugs? in(to)?|plugged in(to)?|goes in(to)?|also at|in|into)\s+"
            + @"(connector\s+|socket\s+|header\s+)?(?<mate>[A-Za-z]{1,3}\d{1,4}[A-Za-z]?)\b",
        Options
    )]
    private static partial Regex Mating();

    [GeneratedRegex(
        @"\b((plug|connector|conn|header|socket|terminal (block|strip)|block|strip)\.?\s+)?(?<name>[A-Za-z]{1,4}\d{1,4}[A-Za-z]?)\b",
        Options
    )]
    private static partial Regex Designator();

    [GeneratedRegex(
        @"\b(board|card|pcb|panel|module|controller|supply|psu|unit|box|switch|motor|battery|harness|"
            + @"plug|cabinet|display|keypad|valve|sensor|lamp|relay|contactor|transformer|heater|fuses?|drive|logic)\b",
        Options
    )]
    private static partial Regex BoardWords();

    /// <summary>A sentence is a note, however short.</summary>
    [GeneratedRegex(@"\b(is|are|was|were|not|with|when|see|must|should|check|before|after|all|measured|done)\b", Options)]
    private static partial Regex Sentence();

    [GeneratedRegex(@"^((the|on|of|at)\s+)+|(\s+(on|of|at|the))+$", Options)]
    private static partial Regex Small();
}
