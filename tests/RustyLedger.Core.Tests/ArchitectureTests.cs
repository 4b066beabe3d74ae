namespace RustyLedger.Core.Tests;

/// <summary>
/// Arrows go one way: web, HTTP, Server, Core. That Core has no clock, no file and no chance of its own is held by its
/// build (<c>BannedSymbols.txt</c>), which fails where one is used.
/// </summary>
public sealed class ArchitectureTests
{
    [Fact]
    public void Core_stands_on_the_framework_and_two_packages_alone()
    {
        var references = typeof(Core.Measuring.Limit).Assembly.GetReferencedAssemblies().Select(a => a.Name!);
        Assert.Empty(references.Where(r => !r.StartsWith("System.", StringComparison.Ordinal)).Except(["CsvHelper", "MathNet.Numerics"]));
    }
}
