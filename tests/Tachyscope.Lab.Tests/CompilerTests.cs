using Tachyscope.Lab.Building;
using Tachyscope.Lab.Targets;

namespace Tachyscope.Lab.Tests;

/// <summary>A compiler of a stated version, made of its package.</summary>
public sealed class CompilerTests : IDisposable
{
    private readonly LampsProject _lamps = new();

    public void Dispose() => _lamps.Dispose();

    [Fact]
    public async Task Two_compilers_make_different_code_of_one_source_and_run_its_generators()
    {
        File.WriteAllText(Path.Combine(_lamps.Folder, "Signs.cs"), """
            using System.Text.RegularExpressions;
            public static partial class Signs
            {
                [GeneratedRegex("[.-]+")]
                public static partial Regex Lamp();
                public static string Join(string word, char sign) => word + sign;
            }
            """);
        async Task<byte[]> CodeAsync(string? compiler)
        {
            var target = new Target { Name = compiler ?? "", Framework = "net8.0", Compiler = compiler, Language = "12" };
            var built = await new ProjectBuilder(_lamps.Cache).BuildAsync(_lamps.Folder, target, CancellationToken.None);
            Assert.True(built.Assembly is not null, string.Join('\n', built.Errors));
            Assert.StartsWith(compiler ?? "5.", built.Compiler, StringComparison.Ordinal);
            return new System.Runtime.Loader.AssemblyLoadContext(compiler)
                .LoadFromStream(new MemoryStream(await File.ReadAllBytesAsync(built.Assembly!)))
                .GetType("Signs")!.GetMethod("Join")!.GetMethodBody()!.GetILAsByteArray()!;
        }

        // The other is the SDK's own.
        Assert.NotEqual(await CodeAsync("4.8.0"), await CodeAsync(null));
        var missing = await new ProjectBuilder(_lamps.Cache)
            .BuildAsync(_lamps.Folder, new Target { Name = "none", Compiler = "4.99.0" }, CancellationToken.None);
        Assert.Matches("^there is no compiler 4.99.0; Microsoft.CodeAnalysis.CSharp is served in .*4.8.0, .*5.0.0.*\\.$",
            Assert.Single(missing.Errors));
        Assert.True(missing.IsWrongUse);
    }
}
