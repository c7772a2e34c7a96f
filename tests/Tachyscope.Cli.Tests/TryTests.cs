namespace Tachyscope.Cli.Tests;

/// <summary>Snippets from the command line, and studies begun by the tool.</summary>
public sealed class TryTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("tachyscope try ü").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public async Task Snippets_are_compared_on_every_input()
    {
        var (exitCode, output, error) = await ToolHere.RunAsync(
            "try", "lamps.Max()", "by hand: var most = 0; foreach (var lamp in lamps) { most = Math.Max(most, lamp); } return most;",
            "--given", "var lamps = Enumerable.Range(0, n).ToArray();", "--input", "n = 10, 200", "--within", "2s");

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.All((string[])["· n = 10: ", "· n = 200: ", "snippets · lamps.Max()", "by hand", "· baseline"],
            part => Assert.Contains(part, output, StringComparison.Ordinal));
    }

    [Fact]
    public async Task One_alone_is_timed_and_what_it_throws_is_told()
    {
        var alone = await ToolHere.RunAsync("try", "n * 3", "--input", "n = 5", "--within", "1s");
        var thrown = await ToolHere.RunAsync("try", "lamps.First()", "--given", "var lamps = new List<int>();", "--within", "1s");

        Assert.Contains("n * 3", alone.Output, StringComparison.Ordinal);
        Assert.DoesNotContain("twin", alone.Error, StringComparison.Ordinal);
        Assert.Equal((ExitCode.Fine, ExitCode.Failed), (alone.ExitCode, thrown.ExitCode));
        Assert.Contains("Sequence contains no elements", thrown.Output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Answers_that_differ_are_not_compared_unless_any_will_do()
    {
        var (exitCode, output, _) = await ToolHere.RunAsync("try", "n * 3", "n + n", "--input", "n = 5", "--within", "1s");

        var any = await ToolHere.RunAsync("try", "Guid.NewGuid()", "Guid.CreateVersion7()", "--agree", "any", "--within", "1s");

        Assert.Equal(ExitCode.Failed, exitCode);
        Assert.Contains("disagrees", output, StringComparison.Ordinal);
        Assert.True(any.ExitCode == ExitCode.Fine, any.Error + any.Output);
    }

    [Fact]
    public async Task Code_comes_from_files_and_from_standard_input_and_other_targets_are_built()
    {
        var file = Path.Combine(_folder, "sorted lamps.cs");
        await File.WriteAllTextAsync(file, "var own = lamps.ToList();\nown.Sort();\nreturn own[0]; // the lowest\n");

        var (exitCode, output, error) = await InvokeAsync(
            "lamps.Min()", "try", file, "-", "--given", "var lamps = new[] { 3, 1, 2 };", "--target", "switch:TieredPGO=0", "--within",
                "2s", "--plain");

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.Contains("sorted lamps", output, StringComparison.Ordinal);
        Assert.Contains("lamps.Min()", output, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("there is no code to try; write it in quotes")]
    [InlineData("snippet 1: 'string' does not contain a definition for 'Splt'", "text.Splt(',')", "text.Length", "--given",
        "var text = \"lamp\"")]
    [InlineData("          ^^^^", "text.Splt(',')", "text.Length", "--given", "var text = \"lamp\"")]
    [InlineData("the snippet: The 'await' operator", "new Func<int>(() => await Task.FromResult(1))()")]
    [InlineData("--input \"n 10\": name a variable and its values", "n + 1", "--input", "n 10")]
    [InlineData("--reference fog.dll: there is no such file; name a .dll.", "1 + n", "--input", "n = 1", "--reference", "fog.dll")]
    [InlineData("\"much\" is neither a number of 0 or more nor any; write one such as 1e-9, or any.", "1 + n", "--input", "n = 1",
        "--agree", "much")]
    [InlineData("--watch has nothing to watch: put the code into a .cs file", "n + 1", "--input", "n = 1", "--watch")]
    [InlineData("\"--givn\" is no option of try; --given is the nearest.", "n + 1", "--givn", "var n = 1;")]
    [InlineData("--project could not be built", "n + 1", "--input", "n = 1", "--project", "no such folder")]
    public async Task What_cannot_be_tried_is_told_before_anything_starts(string message, params string[] arguments)
    {
        var (exitCode, _, error) = await InvokeAsync("", ["try", .. arguments]);

        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.Contains(message, error.Replace("--project no such folder", "--project", StringComparison.Ordinal),
            StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_may_mean_something_else_is_told_and_measured()
    {
        var (exitCode, output, error) = await InvokeAsync("", "try", "Array.Sort(lamps); return lamps[0];", "--given",
            "var lamps = new[] { 3, 1, 2 };", "--within", "1s", "--plain");

        Assert.Equal(ExitCode.Fine, exitCode);
        Assert.Contains("changes lamps, so that only the first call finds it as it was given", error, StringComparison.Ordinal);
        Assert.Contains("as given: ", output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_project_lends_its_types()
    {
        await File.WriteAllTextAsync(Path.Combine(_folder, "Lamps.csproj"), """
            <Project Sdk="Microsoft.NET.Sdk">
              <PropertyGroup><TargetFramework>net10.0</TargetFramework></PropertyGroup>
            </Project>
            """);
        await File.WriteAllTextAsync(Path.Combine(_folder, "Lamp.cs"),
            "namespace Harbour.Lamps; internal record Lamp(int Count) { internal static int Flashes(Lamp lamp) => lamp.Count * 2; }");

        var (exitCode, output, error) = await ToolHere.RunAsync("try", "Lamp.Flashes(lamp)", "lamp.Count + lamp.Count", "--given",
            "var lamp = new Lamp(7)", "--project", _folder, "--within", "1s");

        Assert.True(exitCode == ExitCode.Fine, error);
        Assert.Contains("Lamp.Flashes(lamp)", output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_study_is_begun_and_nothing_is_written_over()
    {
        var (folder, file) = (Path.Combine(_folder, "lamp-signals"), Path.Combine(_folder, "fog.cs"));

        var made = await InvokeAsync("", "new", folder);
        var again = await InvokeAsync("", "new", folder);
        var single = await InvokeAsync("", "new", file);
        var wrong = await InvokeAsync("", "new", Path.Combine(_folder, "1 lamp"));

        Assert.Equal([ExitCode.Fine, ExitCode.WrongUse, ExitCode.Fine, ExitCode.WrongUse],
            [made.ExitCode, again.ExitCode, single.ExitCode, wrong.ExitCode]);
        Assert.Contains($"Include=\"Tachyscope\" Version=\"{Tool.Version}\"",
            await File.ReadAllTextAsync(Path.Combine(folder, "lamp-signals.csproj")), StringComparison.Ordinal);
        Assert.Contains("is there already and not empty, and nothing was changed", again.Error, StringComparison.Ordinal);
        Assert.StartsWith($"#:package Tachyscope@{Tool.Version}", await File.ReadAllTextAsync(file), StringComparison.Ordinal);
        Assert.Contains("\"1 lamp\" cannot be the name of a project", wrong.Error, StringComparison.Ordinal);
    }

    private static async Task<(int ExitCode, string Output, string Error)> InvokeAsync(string input, params string[] arguments)
    {
        using var output = new StringWriter();
        using var error = new StringWriter();
        using var reader = new StringReader(input);
        var around = new Surroundings { Output = output, Error = error, Input = reader,
            Cache = Path.Combine(Path.GetTempPath(), "tachyscope test cache") };
        var exitCode = await Tool.InvokeAsync(arguments, around, TestContext.Current.CancellationToken);
        return (exitCode, output.ToString(), error.ToString());
    }
}
