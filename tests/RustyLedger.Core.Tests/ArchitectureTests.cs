using ArchUnitNET.Domain;
using ArchUnitNET.Loader;
using ArchUnitNET.xUnit;
using static ArchUnitNET.Fluent.ArchRuleDefinition;

namespace RustyLedger.Core.Tests;

/// <summary>Arrows go one way: web, HTTP, Server, Core.</summary>
public sealed class ArchitectureTests
{
    private static readonly System.Reflection.Assembly CoreAssembly = typeof(RustyLedger.Core.Measuring.Limit).Assembly;
    private static readonly System.Reflection.Assembly ServerAssembly = typeof(Program).Assembly;
    private static readonly Architecture Built = new ArchLoader().LoadAssemblies(CoreAssembly, ServerAssembly).Build();

    [Fact]
    public void Core_knows_nothing_of_the_server() =>
        Types().That().ResideInAssembly(CoreAssembly).Should().NotDependOnAny(Types().That().ResideInAssembly(ServerAssembly)).Check(Built);

    [Fact]
    public void Core_references_no_database_no_web_framework()
    {
        var references = CoreAssembly.GetReferencedAssemblies().Select(a => a.Name!).ToList();
        Assert.DoesNotContain(references, r => r.StartsWith("Microsoft.EntityFrameworkCore", StringComparison.Ordinal) || r.StartsWith("Microsoft.AspNetCore", StringComparison.Ordinal) || r.StartsWith("RustyLedger", StringComparison.Ordinal));
        Assert.DoesNotContain("System.IO.FileSystem", references);
    }

    [Theory]
    [InlineData("DateTime", "get_Now")]
    [InlineData("DateTime", "get_UtcNow")]
    [InlineData("DateTimeOffset", "get_UtcNow")]
    [InlineData("File", "ReadAllText")]
    [InlineData("File", "Open")]
    [InlineData("Guid", "NewGuid")]
    [InlineData("Guid", "CreateVersion7")]
    [InlineData("Random", "get_Shared")]
    public void Core_has_no_clock_no_file_and_no_chance_of_its_own(string type, string member)
    {
        var uses = Built.Classes.Where(c => c.Assembly.Name.StartsWith(CoreAssembly.GetName().Name!, StringComparison.Ordinal))
            .SelectMany(c => c.Members).SelectMany(m => m.MemberDependencies)
            .Where(d => d.Target.Name == type && d is ArchUnitNET.Domain.Dependencies.MethodCallDependency call && call.TargetMember.Name.StartsWith(member, StringComparison.Ordinal));
        Assert.Empty(uses);
    }
}
