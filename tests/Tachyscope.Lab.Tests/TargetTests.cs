using Tachyscope.Lab.Targets;

namespace Tachyscope.Lab.Tests;

public sealed class TargetTests
{
    private static readonly Dictionary<string, string> Named = new() { ["slow"] = "runtime=net8.0,switch:TieredPGO=0",
        ["both"] = "net8.0|net9.0" };

    [Fact]
    public void Every_part_of_a_recipe_is_read()
    {
        var target = One(
            "runtime=8.0.31,framework=net8.0,ready-to-run,trimmed,switch:DOTNET_TieredPGO=0,switch:gcServer=1,lang=13,compiler=4.14.0,optimize=off,define=FOG,define=STORM,"
            + "property:Note=\"one, two|three\",package:Sable.Charts=2.1.0-rc.1,rev=HEAD~3,name=old");

        Assert.Equal(("old", "8.0.31", "net8.0", true, true, false),
            (target.Name, target.Runtime, target.Framework, target.IsReadyToRun, target.IsTrimmed, target.IsOptimized));
        Assert.Equal(("13", "4.14.0", "HEAD~3"), (target.Language, target.Compiler, target.Revision));
        Assert.Equal([new("TieredPGO", "0"), new("gcServer", "1")], target.Switches);
        Assert.Equal(["FOG", "STORM"], target.Defines);
        Assert.Equal("one, two|three", target.Properties["Note"]);
        Assert.Equal("2.1.0-rc.1", target.Packages["Sable.Charts"]);
        Assert.Equal("x86-64-v3", One("aot,instructions=x86-64-v3").Instructions);
    }

    [Fact]
    public void A_runtime_by_itself_a_name_and_alternatives_are_short_forms()
    {
        Assert.Equal(("net9.0", "net9.0"), (One("net9.0").Runtime, One("net9.0").Name));
        Assert.Equal("9.0.20", One("9.0.20").Runtime);
        Assert.Equal(("slow", "net8.0", "0"), (One("slow").Name, One("slow").Runtime, One("slow").Switches["TieredPGO"]));
        Assert.Equal(["net8.0", "net9.0"], TargetParser.Parse(["both"], Named).Targets.Select(target => target.Name));
        Assert.Equal(
            ["net8.0,switch:TieredPGO=0", "net8.0,switch:TieredPGO=1", "net10.0,switch:TieredPGO=0", "net10.0,switch:TieredPGO=1"],
            TargetParser.Parse(["net8.0|net10.0,switch:TieredPGO=0|1"], Named).Targets.Select(target => target.Name));
        Assert.Equal(["net8.0", "slow", "net10.0"],
            TargetParser.Parse(["net8.0", "slow", "net10.0"], Named).Targets.Select(target => target.Name));
    }

    [Fact]
    public void All_that_is_wrong_comes_out_together_each_with_the_way_out()
    {
        var set = TargetParser.Parse(
            ["runtme=net8.0,lang=old", "runtime", "aot=1", "fog", "switch:=0", "runtime=net8.0,runtime=net9.0", "optimize=maybe",
                "rev=a,dir=b", "study=now", "aot,ready-to-run,switch:TieredPGO=0", "instructions=x86-64-v3", "net9.0", "net9.0"],
            Named);

        Assert.All(
            (string[])
            [
                "--target runtme=net8.0,lang=old: \"runtme=net8.0\" is no part of a target",
                    "parts are runtime=net8.0, framework=net8.0, aot,", "; tachyscope.json names slow, both.",
                "\"old\" is no lang; it is written as in lang=13.", "\"runtime\" is written runtime=net8.0.", "\"aot=1\" is written aot.",
                    "\"fog\" is no part of a target", "\"switch:=0\" is written switch:TieredPGO=0.",
                "runtime is given twice; give it once, or as alternatives", "\"maybe\" is no optimize; there are on, off",
                "rev= takes another revision", "study= lays the study of another revision over", "aot compiles everything ahead",
                    "switch:TieredPGO is for the just-in-time compiler", "instructions= is for what is compiled ahead of time; add aot",
                "two targets are called \"net9.0\"; give one of them another name, as in net9.0,name=again.",
            ],
            mistake => Assert.Contains(set.Mistakes, told => told.Contains(mistake, StringComparison.Ordinal)));
        Assert.Contains("65 targets are more than 64",
            Assert.Single(TargetParser.Parse([.. Enumerable.Range(0, 65).Select(number => FormattableString.Invariant($"name=t{number}"))],
                Named).Mistakes), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("", "runtime=", "aot", "switch:", "net8.0", "slow")]
    [InlineData("ru", "runtime=")]
    [InlineData("net8.0,op", "net8.0,optimize=")]
    [InlineData("aot,instructions=", "aot,instructions=x86-64-v2", "aot,instructions=x86-64-v3", "aot,instructions=x86-64-v4")]
    [InlineData("s", "switch:", "slow")]
    public void What_may_follow_is_offered(string begun, params string[] offered)
        => Assert.All(offered, word => Assert.Contains(word, TargetParser.Complete(begun, Named)));

    [Fact]
    public void Named_targets_come_from_a_file_beside_the_project()
    {
        var folder = Directory.CreateTempSubdirectory("tachyscope ü").FullName;
        try
        {
            var path = Path.Combine(folder, TargetFile.Name);
            Assert.Empty(TargetFile.Read(folder));
            File.WriteAllText(path, "{ \"targets\": { \"old\": \"net8.0\", /* the newest */ \"new\": \"net10.0\", } }");
            Assert.Equal(["old", "new"], TargetFile.Read(folder).Keys);
            File.WriteAllText(path, "{ \"targets\":\n [1] }");
            Assert.Contains(
                "tachyscope.json, line 2, $.targets: a name or recipe cannot be read; "
                    + "write { \"targets\": { \"old\": \"runtime=net8.0\" } }.",
                Assert.Throws<InvalidDataException>(() => TargetFile.Read(folder)).Message, StringComparison.Ordinal);
            File.WriteAllText(path, "{}");
            Assert.Contains("it names no targets", Assert.Throws<InvalidDataException>(() => TargetFile.Read(folder)).Message,
                StringComparison.Ordinal);
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private static Target One(string recipe)
    {
        var set = TargetParser.Parse([recipe], Named);
        Assert.Empty(set.Mistakes);
        return Assert.Single(set.Targets);
    }
}
