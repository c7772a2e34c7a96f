using System.Diagnostics;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Targets;
using Tachyscope.Working;

namespace Tachyscope.Lab.Tests;

/// <summary>Recipes on a real project, built and run; it prints what it was built as.</summary>
public sealed class RecipeTests : IDisposable
{
    private readonly string _all = Directory.CreateTempSubdirectory("tachyscope ü").FullName;
    private readonly string _folder;
    private readonly string _cache;

    public RecipeTests()
    {
        (_folder, _cache) = (Path.Combine(_all, "lamps of the harbour"), Path.Combine(_all, "cache"));
        Directory.CreateDirectory(_folder);
        File.WriteAllText(Path.Combine(_folder, "Lamps.csproj"), """
            <Project Sdk="Microsoft.NET.Sdk">
              <PropertyGroup><OutputType>Exe</OutputType><TargetFrameworks>net8.0;net10.0</TargetFrameworks><DefineConstants>OWN</DefineConstants><Note>calm</Note></PropertyGroup>
              <ItemGroup><AssemblyMetadata Include="Note" Value="$(Note)" /></ItemGroup>
            </Project>
            """);
        File.WriteAllText(Path.Combine(_folder, "Program.cs"), """
            using System;
            using System.Linq;
            using System.Reflection;
            using System.Runtime.Versioning;
            #if OWN && FOG && STORM
            var seen = "fog and storm";
            #else
            var seen = "clear";
            #endif
            var assembly = Assembly.GetExecutingAssembly();
            var unoptimised = assembly.GetCustomAttribute<System.Diagnostics.DebuggableAttribute>()?.IsJITOptimizerDisabled;
            Console.Write($"{assembly.GetCustomAttribute<TargetFrameworkAttribute>()!.FrameworkName} {Environment.Version.Major} {seen} {assembly.GetCustomAttributes<AssemblyMetadataAttribute>().First(note => note.Key == "Note").Value} {unoptimised == true}");
            """);
    }

    public void Dispose() => Directory.Delete(_all, recursive: true);

    [Theory]
    [InlineData("name=as it is", ".NETCoreApp,Version=v10.0 10 clear calm False")]
    [InlineData("net8.0,define=FOG,define=STORM,property:Note=\"a, b; c\"", ".NETCoreApp,Version=v8.0 8 fog and storm a, b; c False")]
    [InlineData("net9.0,framework=net9.0", ".NETCoreApp,Version=v9.0 9 clear calm False")]
    [InlineData("net10.0,framework=net8.0,optimize=off,ready-to-run", ".NETCoreApp,Version=v8.0 10 clear calm True")]
    public async Task A_recipe_goes_over_the_project_and_leaves_it_alone(string recipe, string printed)
    {
        var target = Assert.Single(TargetParser.Parse([recipe], new Dictionary<string, string>()).Targets);
        var before = Directory.GetFileSystemEntries(_folder).Length;

        var built = await new ProjectBuilder(_cache).BuildAsync(_folder, target, CancellationToken.None);

        Assert.True(built.Assembly is not null, string.Join('\n', built.Errors));
        Assert.Equal(printed, await RunAsync(built, target));
        Assert.Equal(before, Directory.GetFileSystemEntries(_folder).Length);
    }

    [Fact]
    public async Task Two_compilers_make_different_code_of_one_source_and_run_its_generators()
    {
        File.WriteAllText(Path.Combine(_folder, "Signs.cs"), """
            using System.Text.RegularExpressions;
            public static partial class Signs
            {
                [GeneratedRegex("[.-]+")]
                public static partial Regex Lamp();
                public static string Join(string word, char sign) => word + sign;
            }
            """);
        async Task<byte[]> CodeAsync(string compiler)
        {
            var built = await new ProjectBuilder(_cache).BuildAsync(_folder, new Target { Name = compiler, Framework = "net8.0", Compiler = compiler, Language = "12" }, CancellationToken.None);
            Assert.True(built.Assembly is not null, string.Join('\n', built.Errors));
            Assert.StartsWith(compiler, built.Compiler, StringComparison.Ordinal);
            return new System.Runtime.Loader.AssemblyLoadContext(compiler).LoadFromStream(new MemoryStream(await File.ReadAllBytesAsync(built.Assembly!)))
                .GetType("Signs")!.GetMethod("Join")!.GetMethodBody()!.GetILAsByteArray()!;
        }

        Assert.NotEqual(await CodeAsync("4.8.0"), await CodeAsync("5.0.0"));
        var missing = await new ProjectBuilder(_cache).BuildAsync(_folder, new Target { Name = "none", Compiler = "4.99.0" }, CancellationToken.None);
        Assert.Matches("^there is no compiler 4.99.0; Microsoft.CodeAnalysis.CSharp is served in .*4.8.0, .*5.0.0.*\\.$", Assert.Single(missing.Errors));
        Assert.True(missing.IsWrongUse);
    }

    [Fact]
    public async Task A_package_is_taken_in_another_version_or_what_there_is_is_told()
    {
        var project = Path.Combine(_folder, "Lamps.csproj");
        File.WriteAllText(project, File.ReadAllText(project).Replace("<ItemGroup>", "<ItemGroup><PackageReference Include=\"System.IO.Hashing\" Version=\"8.0.0\" />", StringComparison.Ordinal));
        async Task<BuildOutcome> BuildAsync(string package, string version)
            => await new ProjectBuilder(_cache).BuildAsync(_folder, new Target { Name = version, Framework = "net10.0", Packages = new Dictionary<string, string> { [package] = version } }, CancellationToken.None);

        var old = await BuildAsync("system.io.hashing", "6.0.0");
        Assert.True(old.Assembly is not null, string.Join('\n', old.Errors));
        Assert.Equal(6, System.Reflection.AssemblyName.GetAssemblyName(Path.Combine(Path.GetDirectoryName(old.Assembly)!, "System.IO.Hashing.dll")).Version!.Major);
        var missing = await BuildAsync("System.IO.Hashing", "7.77.0");
        Assert.Matches("^there is no System.IO.Hashing 7.77.0; it is served in 6.0.0, 8.0.0.*\\.$", Assert.Single(missing.Errors));
        var foreign = await BuildAsync("Spectre.Console", "0.57.2");
        Assert.Equal("the project references no package Spectre.Console; it references System.IO.Hashing.", Assert.Single(foreign.Errors));
        Assert.True(missing.IsWrongUse && foreign.IsWrongUse);
    }

    [Fact]
    public async Task What_does_not_compile_on_a_target_is_told_in_the_compilers_words()
    {
        var target = new Target { Name = "old", Language = "7.3" };

        var built = await new ProjectBuilder(_cache).BuildAsync(_folder, target, CancellationToken.None);

        Assert.Null(built.Assembly);
        Assert.Contains(built.Errors, error => error.Contains("error CS8370", StringComparison.Ordinal) || error.Contains("CS8107", StringComparison.Ordinal) || error.Contains("error CS", StringComparison.Ordinal));
    }

    private async Task<string> RunAsync(BuildOutcome built, Target target)
    {
        var runtime = target.Runtime is null ? null : (await new RuntimeRoots(_cache).FindAsync(target.Runtime, CancellationToken.None)).Runtime!;
        string[] version = runtime is null ? [] : ["--fx-version", runtime.Version];
        using var process = Process.Start(new ProcessStartInfo(runtime?.Host ?? DotnetHost.Path, ["exec", .. version, built.Assembly!]) { RedirectStandardOutput = true })!;
        return await process.StandardOutput.ReadToEndAsync();
    }
}
