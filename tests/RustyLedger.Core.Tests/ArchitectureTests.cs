namespace RustyLedger.Core.Tests;

/// <summary>
/// Arrows go one way: web, HTTP, Server, Core. That Core has no clock, no file and no chance of its own is held by its
/// build (<c>BannedSymbols.txt</c>), which fails where one is used.
/// </summary>
public sealed class ArchitectureTests
{
    [Fact]
    public void Core_stands_on_the_framework_and_three_packages_alone()
    {
        var references = typeof(Core.Measuring.Limit).Assembly.GetReferencedAssemblies().Select(a => a.Name!);
        Assert.Empty(
            references
                .Where(r => !r.StartsWith("System.", StringComparison.Ordinal))
                .Except(["CsvHelper", "ExcelDataReader", "MathNet.Numerics"])
        );
    }

    /// <summary>What the reasoning is held against knows nothing of the product, its circuits and its suspects least of all.</summary>
    [Fact]
    public void True_machines_stand_on_the_framework_alone() =>
        Assert.DoesNotContain(
            typeof(Worlds.TrueMachine).Assembly.GetReferencedAssemblies(),
            a => a.Name!.StartsWith("RustyLedger", StringComparison.Ordinal)
        );

    /// <summary>The formatter wraps code, but no text within quotes and no comment.</summary>
    [Fact]
    public void No_line_is_longer_than_140_signs()
    {
        const int Most = 140;
        var root = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(root!.FullName, "RustyLedger.slnx")))
        {
            root = root.Parent;
        }

        string[] made =
        [
            $"{Path.DirectorySeparatorChar}obj{Path.DirectorySeparatorChar}",
            $"{Path.DirectorySeparatorChar}Migrations{Path.DirectorySeparatorChar}",
        ];
        var files = ((string[])["src", "tests"])
            .SelectMany(f => Directory.EnumerateFiles(Path.Combine(root.FullName, f), "*.cs", SearchOption.AllDirectories))
            .Where(f => !f.Contains("node_modules", StringComparison.Ordinal) && !made.Any(m => f.Contains(m, StringComparison.Ordinal)))
            .ToList();
        Assert.True(files.Count > 100);
        Assert.Empty(
            files.SelectMany(f =>
                File.ReadLines(f).Index().Where(l => l.Item.Length > Most).Select(l => $"{Path.GetFileName(f)} {l.Index + 1}")
            )
        );
    }
}
