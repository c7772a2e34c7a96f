using System.Runtime.CompilerServices;
using Tachyscope.Lab.Building;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Tests;

public sealed class SourceFinderTests
{
    private static readonly Func<int, int> Brighter = lamp => lamp + 1; private static readonly int WrittenAt = Here();

    [Fact]
    public void A_variant_tells_the_line_it_is_written_in()
    {
        var found = Find(Brighter.Method.Module.FullyQualifiedName, Brighter.Method.MetadataToken);

        Assert.EndsWith("SourceFinderTests.cs", found!.File, StringComparison.Ordinal);
        Assert.False(Path.IsPathRooted(found.File));
        Assert.DoesNotContain('\\', found.File);
        Assert.Equal(WrittenAt, found.Line);
    }

    [Fact]
    public void Where_nothing_tells_the_line_there_is_none()
    {
        var folder = Directory.CreateTempSubdirectory("tachyscope lines").FullName;
        try
        {
            var alone = Path.Combine(folder, "Lamp.dll");
            File.Copy(Brighter.Method.Module.FullyQualifiedName, alone);
            var text = Path.Combine(folder, "Text.dll");
            File.WriteAllText(text, "no assembly");

            Assert.Null(Find(alone, Brighter.Method.MetadataToken));
            Assert.Null(Find(text, 1));
            Assert.Null(Find(Path.Combine(folder, "Missing.dll"), 1));
            Assert.Null(Find(Brighter.Method.Module.FullyQualifiedName, 0x02000001));
            Assert.Null(Find(Brighter.Method.Module.FullyQualifiedName, 0x06FFFFFF));
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private static int Here([CallerLineNumber] int line = 0) => line;

    private static SourcePlace? Find(string assembly, int token)
    {
        var study = SourceFinder.WithLines(new StudyDescription
        {
            Name = "lamps",
            Agreement = "",
            Inputs = [],
            Variants = [new() { Name = "up", Variant = "up", Method = new() { Assembly = assembly, Token = token } }],
        });
        Assert.Null(study.Variants[0].Method);
        return study.Variants[0].Source;
    }
}
