using System.Globalization;
using System.Text.RegularExpressions;
using RustyLedger.Core.Measuring;

namespace RustyLedger.Core.Timing;

/// <summary>Something that is seen or heard at a time.</summary>
/// <param name="At">Seconds from the start.</param>
public sealed record TimedEvent(string Name, double At);

/// <summary>An event of a signature.</summary>
/// <param name="At">Seconds from the start.</param>
/// <param name="Within">So many seconds earlier or later is as usual.</param>
public sealed record SignatureEvent(string Name, double At, double Within);

/// <summary>What happens when, and what that means.</summary>
public sealed record Signature(IReadOnlyList<SignatureEvent> Events, string Meaning);

/// <summary>The signatures of a model, a line each, as <see cref="SignatureNotation"/> reads them.</summary>
public sealed record SignatureSheet(IReadOnlyList<string> Lines)
{
    private const int MostLines = 60;

    public static SignatureSheet Empty { get; } = new([]);

    public IReadOnlyList<Signature> Signatures() => [.. Lines.Select(SignatureNotation.Read)];

    /// <summary>The lines as they are kept: trimmed, without those that say nothing.</summary>
    public SignatureSheet Kept() => new(Rule.Kept(Lines));

    /// <returns>The first line that is not understood; null where all are.</returns>
    public Refusal? Refusal()
    {
        if (Lines.Count > MostLines)
        {
            return new Refusal("lines", $"There are {Lines.Count} lines; at most {MostLines} fit.");
        }

        foreach (var (index, line) in Lines.Index())
        {
            try
            {
                _ = SignatureNotation.Read(line ?? "");
            }
            catch (NotationException refusal)
            {
                return new Refusal("lines", $"Line {index + 1}: {refusal.Message}");
            }
        }

        return null;
    }
}

/// <summary>A signature as a line: what happens when, then what it means.</summary>
public static partial class SignatureNotation
{
    private const string Example = "fan 0, spark 15 ±3 x3 every 25, trip 80 ±8: no flame seen";
    private const int MostEvents = 40;
    private const int MostSigns = 300;

    // What is said without a tolerance may stray by a tenth, and by two seconds at least. Common practice, no source.
    private const double UsualShare = 0.1;
    private const double LeastWithin = 2;

    /// <summary>
    /// Understands <c>fan 0, spark 15 ±3, flame 18..25 s, stop 80: what it means</c> and <c>spark 15 ±3 x3 every 25</c>. Seconds are from
    /// the start.
    /// </summary>
    /// <exception cref="NotationException">Not understood; says where.</exception>
    public static Signature Read(string line)
    {
        ArgumentNullException.ThrowIfNull(line);
        if (line.Length > MostSigns)
        {
            throw new NotationException(line, MostSigns, $"a line has at most {MostSigns} signs", Example);
        }

        var colon = line.IndexOf(':', StringComparison.Ordinal);
        if (colon < 0 || line[(colon + 1)..].Trim().Length == 0)
        {
            throw new NotationException(line, line.Length, "after a colon, say what it means", Example);
        }

        List<SignatureEvent> events = [];
        var at = 0;
        // A comma between two digits stands for a point.
        foreach (var part in Commas().Split(line[..colon]))
        {
            var said = Event().Match(part.Trim());
            if (!said.Success)
            {
                throw new NotationException(line, at, $"\"{part.Trim()}\" is no event with its seconds", Example);
            }

            var from = Number(said.Groups["at"]);
            var (middle, within) =
                said.Groups["to"].Success ? ((from + Number(said.Groups["to"])) / 2, (Number(said.Groups["to"]) - from) / 2)
                : said.Groups["within"].Success ? (from, Number(said.Groups["within"]))
                : (from, Math.Max(LeastWithin, UsualShare * from));
            if (within < 0)
            {
                throw new NotationException(line, at, $"\"{part.Trim()}\" ends before it begins", Example);
            }

            var times = said.Groups["times"].Success ? (int)Number(said.Groups["times"]) : 1;
            var every = said.Groups["every"].Success ? Number(said.Groups["every"]) : 0;
            for (var i = 0; i < times; i++)
            {
                events.Add(new SignatureEvent(said.Groups["name"].Value.Trim(), middle + (i * every), within));
            }

            at += part.Length + 1;
        }

        return events.Count <= MostEvents
            ? new Signature([.. events.OrderBy(e => e.At)], line[(colon + 1)..].Trim())
            : throw new NotationException(line, 0, $"{events.Count} events; at most {MostEvents} fit", Example);
    }

    private static double Number(Group group) => double.Parse(group.Value.Replace(',', '.'), CultureInfo.InvariantCulture);

    [GeneratedRegex(@",(?!\d)|(?<!\d),", RegexOptions.CultureInvariant)]
    private static partial Regex Commas();

    [GeneratedRegex(
        @"^(?<name>\p{L}[\p{L}\d ]{0,30}?)\s+(?:at\s+)?(?<at>\d{1,6}(?:[.,]\d{1,3})?)(?:\s*(?:±|\+/-)\s*(?<within>\d{1,5}(?:[.,]\d{1,3})?)"
            + @"|\s*(?:\.\.|to)\s*(?<to>\d{1,6}(?:[.,]\d{1,3})?))?\s*s?"
            + @"(?:\s*x\s*(?<times>[1-9]\d?)\s+every\s+(?<every>\d{1,5}(?:[.,]\d{1,3})?)\s*s?)?$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Event();
}
