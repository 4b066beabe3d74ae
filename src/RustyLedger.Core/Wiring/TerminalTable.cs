namespace RustyLedger.Core.Wiring;

/// <summary>The columns a terminal list may have.</summary>
public enum TerminalColumn
{
    /// <summary>The board, or the thing beside the boards, that has the connector.</summary>
    Board,
    Connector,
    Pin,
    Colour,
    WireNumber,
    Signal,
    Feeds,
    FedBy,
    JoinedTo,
    Mode,
    Common,
    OtherEnd,
    Expected,
    State,
    Plugged,
    Remark,
}

/// <summary>What a line of a sheet is.</summary>
public enum LineKind
{
    /// <summary>One pin, or several of one connector.</summary>
    Pin,
    Heading,

    /// <summary>Names the board or the connector of the lines below it.</summary>
    Section,
    Title,

    /// <summary>Says where the black probe stays for what follows.</summary>
    Common,

    /// <summary>A note, a total.</summary>
    Note,
}

/// <summary>One line of a sheet, taken apart.</summary>
/// <param name="Row">From 1, counted over all leaves and tables.</param>
/// <param name="Line">In the file.</param>
/// <param name="Cells">As written.</param>
/// <param name="Values">What each column says here, ditto marks and what holds from above filled in; empty unless it is a pin's.</param>
/// <param name="Board">Words of the board or thing that the line is of; empty where the sheet does not say.</param>
/// <param name="Mate">The connector into which this one is put, where the sheet says; empty otherwise.</param>
public sealed record SheetLine(
    int Row,
    string Leaf,
    int Line,
    LineKind Kind,
    IReadOnlyList<string> Cells,
    IReadOnlyDictionary<TerminalColumn, string> Values,
    string Board,
    string Mate
)
{
    public string this[TerminalColumn column] => Values.GetValueOrDefault(column, "");

    /// <summary>Whether the table of the line has the column; a blank in it says something then.</summary>
    internal bool Has(TerminalColumn column) => Values.ContainsKey(column);
}

/// <summary>A column that holds something and has a heading nobody understands.</summary>
/// <param name="Place">From 0.</param>
/// <param name="Samples">The first texts in it.</param>
public sealed record UnknownColumn(int Place, string Heading, IReadOnlyList<string> Samples);

/// <summary>A sheet taken apart into lines, and which column means what.</summary>
/// <param name="FileKind">In words, such as <c>UTF-8, commas</c>.</param>
/// <param name="Columns">What the places in a row hold; settled by headings, by what stands in them, or by hand.</param>
/// <param name="IsGuessed">There was no heading: the columns are told by what stands in them.</param>
/// <param name="Common">Where the black probe stays for the whole sheet, as written; empty where it does not say.</param>
public sealed record TerminalTable(
    string FileKind,
    char? Delimiter,
    IReadOnlyList<string> Headings,
    IReadOnlyDictionary<int, TerminalColumn> Columns,
    IReadOnlyList<UnknownColumn> Unknown,
    bool IsGuessed,
    string Common,
    IReadOnlyList<SheetLine> Lines
)
{
    /// <summary>Reads a file as <see cref="SheetFile.Read"/> does, and takes its tables apart.</summary>
    /// <param name="said">What columns hold, by hand: the place from 0, and null for nothing of use.</param>
    /// <exception cref="FormatException">Too large, empty, or a column set by hand is not there.</exception>
    public static TerminalTable Read(byte[] file, IReadOnlyDictionary<int, TerminalColumn?>? said = null, int? codePage = null) =>
        new SheetReading(SheetFile.Read(file, codePage), said ?? new Dictionary<int, TerminalColumn?>()).Run();
}
