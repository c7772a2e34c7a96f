namespace Tachyscope.Cli.Tests;

/// <summary>A repository with a study, a library it measures, and two revisions of both.</summary>
public sealed class SmallRepository : Repository
{
    public SmallRepository()
    {
        Begin();
        Write("tides/Tides.cs",
            "public static class Tides { public static int Sum(int[] levels) => levels.Where(level => level > 0).Select(level => level * 2).Sum(); }");
        Write("study/Study.csproj", $"""
            <Project Sdk="Microsoft.NET.Sdk">
              <PropertyGroup>
                <OutputType>Exe</OutputType><TargetFrameworks>net8.0;net10.0</TargetFrameworks><ImplicitUsings>enable</ImplicitUsings>
              </PropertyGroup>
              <ItemGroup><Compile Include="../tides/Tides.cs" /><Reference Include="{ToolProcess.Library}" /></ItemGroup>
            </Project>
            """);
        Write("study/Program.cs", Program("""Study.Of("only old").Input("x", () => 3).Baseline("id", x => x + 1)""", "oldest"));
        Commit("old");
        Git("tag", "old");
        Write("tides/Tides.cs", """
            public static class Tides
            {
                public static int Sum(int[] levels)
                {
                    var sum = 0;
                    foreach (var level in levels)
                    {
                        sum += level > 0 ? level * 2 : 0;
                    }

                    return sum;
                }
            }
            """);
        Write("study/Program.cs", Program("""Study.Of("only new").Input("x", () => 3).Baseline("id", x => x + 1)""", "newest"));
        Commit("new");
        Git("tag", "new");
    }

    private static string Program(string other, string row) => $$"""
        using Tachyscope;
        #if BROKEN
        #error Fog on this target.
        #endif
        return await Studies.RunAsync(args,
            Study.Of("sum of tides").Inputs("levels", [64], count => Enumerable.Range(1, count).ToArray())
                .Baseline("sum", levels => Tides.Sum(levels)).Variant("{{row}}", levels => levels[0] - levels[0] + Tides.Sum(levels)),
            {{other}});
        """;
}
