using System.Text.Json;
using System.Text.RegularExpressions;

namespace RustyLedger.Server.Hosting;

/// <summary>What could not be read of a request, in words and by the field; the framework names types of the code.</summary>
internal static partial class BadRequests
{
    /// <returns>The field as the request names it, empty for the whole; and what is wrong with it.</returns>
    public static (string Field, string Words) Of(Exception failure)
    {
        ArgumentNullException.ThrowIfNull(failure);
        return (failure.InnerException ?? failure) switch
        {
            JsonException json => OfJson(json),
            var other when Bound().Match(other.Message) is { Success: true } said => (
                said.Groups["name"].Value,
                $"{Worded(said.Groups["name"].Value)} is \"{said.Groups["text"].Value}\", which it does not take."
            ),
            var other when Missing().Match(other.Message) is { Success: true } said => (
                said.Groups["name"].Value,
                $"{Worded(said.Groups["name"].Value)} is missing."
            ),
            var other when TypeName().IsMatch(other.Message) => ("", "The request is not understood."),
            var other => ("", other.Message),
        };
    }

    /// <summary>Of a text that is no JSON, or holds something else than was expected.</summary>
    public static (string Field, string Words) OfJson(JsonException json)
    {
        ArgumentNullException.ThrowIfNull(json);
        var path =
            json.Path is null or "$" ? ""
            : json.Path.StartsWith("$.", StringComparison.Ordinal) ? json.Path[2..]
            : json.Path;
        var at = path.Length == 0 ? "It" : Worded(path);
        if (Lacking().Match(json.Message) is { Success: true } lacking)
        {
            var names = Quoted().Matches(lacking.Groups["names"].Value).Select(m => m.Groups[1].Value).ToList();
            return (
                path.Length == 0 ? names[0] : $"{path}.{names[0]}",
                $"{at} says nothing of {string.Join(", ", names.Select(Worded))}, which it has to."
            );
        }

        if (json.Message.Contains("doesn't allow null", StringComparison.Ordinal))
        {
            return (path, $"{at} is null, and has to hold something.");
        }

        return json.Message.Contains("could not be converted", StringComparison.Ordinal)
                ? (path, $"{at} holds something of another kind than it takes.")
            : Unknown().Match(json.Message) is { Success: true } unknown ? (path, $"Nothing here is called {unknown.Groups["name"].Value}.")
            : TypeName().IsMatch(json.Message) ? (path, $"{at} is not understood.")
            : (path, json.Message);
    }

    /// <summary>A name of the request in words: <c>personId</c> is the person.</summary>
    private static string Worded(string name)
    {
        var last = name[(name.LastIndexOf('.') + 1)..];
        last = last.Length > 2 && last.EndsWith("Id", StringComparison.Ordinal) ? last[..^2] : last;
        var words = Capital().Replace(last, m => $" {m.Value.ToLowerInvariant()}");
        return name.Contains('.', StringComparison.Ordinal) || words != name ? $"{words} ({name})" : words;
    }

    [GeneratedRegex(@"missing required properties including: (?<names>.*)\.")]
    private static partial Regex Lacking();

    [GeneratedRegex("'([^']*)'")]
    private static partial Regex Quoted();

    [GeneratedRegex(@"The JSON property '(?<name>[^']*)' could not be mapped")]
    private static partial Regex Unknown();

    [GeneratedRegex("Failed to bind parameter \"\\S+ (?<name>\\w+)\" from \"(?<text>.*)\"")]
    private static partial Regex Bound();

    [GeneratedRegex("Required parameter \"\\S+ (?<name>\\w+)\" was not provided")]
    private static partial Regex Missing();

    [GeneratedRegex(@"RustyLedger\.|System\.|Microsoft\.")]
    private static partial Regex TypeName();

    [GeneratedRegex("(?<=[a-z])[A-Z]")]
    private static partial Regex Capital();
}
