using System.Reflection;
using System.Runtime.InteropServices;
using System.Xml.Linq;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Tests;

public sealed class ConventionTests
{
    private static readonly Dictionary<string, string[]> Allowed = new()
    {
        ["Tachyscope"] = [],
        ["Tachyscope.Runs"] = [],
        ["Tachyscope.Analysis"] = ["Tachyscope.Runs"],
        ["Tachyscope.Lab"] = ["Tachyscope.Runs"],
        ["Tachyscope.History"] = ["Tachyscope.Analysis"],
        ["Tachyscope.Reports"] = ["Tachyscope.Analysis", "Tachyscope.Code"],
        ["Tachyscope.Snippets"] = [],
        ["Tachyscope.Code"] = ["Tachyscope.Runs"],
        ["Tachyscope.Analyzers"] = [],
        ["Tachyscope.CodeFixes"] = [],
        ["Tachyscope.Testing"] = [],
        ["Tachyscope.Exports"] = ["Tachyscope.Reports"],
        ["Tachyscope.Cli"] = ["Tachyscope.Code", "Tachyscope.Exports", "Tachyscope.History", "Tachyscope.Lab", "Tachyscope.Reports",
            "Tachyscope.Snippets"],
    };

    [Fact]
    public void Projects_refer_to_each_other_in_one_direction_only()
    {
        foreach (var (project, allowed) in Allowed)
        {
            var references = Elements(project, "ProjectReference")
                .Select(path => Path.GetFileNameWithoutExtension(path.Replace('\\', '/')));

            Assert.Equal(allowed, references.Order());
        }
    }

    [Fact]
    public void A_study_sees_nothing_but_what_it_is_written_with()
        => Assert.All(typeof(Study).Assembly.GetExportedTypes(), type => Assert.Equal("Tachyscope", type.Namespace));

    [Fact]
    public void The_measured_process_holds_no_dependency_of_ours()
    {
        Assert.Empty(Elements("Tachyscope", "PackageReference"));
        Assert.All(typeof(Study).Assembly.GetReferencedAssemblies(),
            name => Assert.True(File.Exists(Path.Combine(RuntimeEnvironment.GetRuntimeDirectory(), $"{name.Name}.dll"))));
    }

    [Fact]
    public void Everything_public_is_closed_to_inheritance()
        => Assert.DoesNotContain(typeof(Study).Assembly.GetExportedTypes(), type => !type.IsSealed && !type.IsInterface
            && !type.IsValueType);

    [Fact]
    public void Defaults_are_the_ones_the_docs_state()
    {
        Assert.Equal((1, 0.01, null), (new RunPlan().Seed, new RunPlan().MarginShare, new RunPlan().PatienceSeconds));
        var warm = new WarmRequest { Cells = [] };
        Assert.Equal((60, 2_000, 60, 50_000), (warm.QuietMilliseconds, warm.CapMilliseconds, warm.LeastCalls, warm.ReadingNanoseconds));
    }

    private static IEnumerable<string> Elements(string project, string name)
        => XDocument.Load(Path.Combine(Root(), "src", project, $"{project}.csproj")).Descendants(name)
            // What is only built before, to travel with it, is not referred to.
            .Where(element => element.Attribute("ReferenceOutputAssembly")?.Value != "false")
            .Select(element => element.Attribute("Include")!.Value);

    private static string Root()
    {
        var folder = new DirectoryInfo(Path.GetDirectoryName(Assembly.GetExecutingAssembly().Location)!);
        while (!File.Exists(Path.Combine(folder.FullName, "Tachyscope.slnx")))
        {
            folder = folder.Parent!;
        }

        return folder.FullName;
    }
}
