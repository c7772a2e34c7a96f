using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using System.Text.RegularExpressions;
using Tachyscope.Cli.Codes;
using Tachyscope.Code.Reasons;
using Tachyscope.Code.Variants;
using Tachyscope.Lab.Diagnoses;
using Tachyscope.Lab.Targets;
using Tachyscope.Lab.Workers;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Tests;

/// <summary>What the compilers made of real studies, in which it is known what makes the difference.</summary>
public sealed class CodeTests
{
    private const string OnlyX64 = "Code is counted for X64 only.";

    private static bool IsX64 => RuntimeInformation.ProcessArchitecture == Architecture.X64;

    public static TheoryData<string, ReasonKind?> Catalogue => new()
    {
        { "vectors", ReasonKind.NoVectors }, { "wider vectors", ReasonKind.NarrowerVectors }, { "calls", ReasonKind.Calls },
        { "divisions", ReasonKind.Divisions }, { "bounds checks", ReasonKind.BoundsChecks }, { "branches", ReasonKind.Branches },
        { "folded away", ReasonKind.NotFolded }, { "atomic instructions", ReasonKind.Atomics }, { "deeper loops", ReasonKind.DeeperLoops },
            { "more to do", ReasonKind.MoreInstructions },
        { "allocations", ReasonKind.Allocations }, { "indirect calls", ReasonKind.IndirectCalls }, { "type checks", ReasonKind.TypeChecks },
        { "write barriers", ReasonKind.WriteBarriers }, { "copies", ReasonKind.Copies }, { "the same code", null },
    };

    // Each study is where its own reason is the truth, and where none of the others is and may be named.
    [Theory]
    [MemberData(nameof(Catalogue))]
    public async Task The_reason_named_is_the_one_that_is_true_and_no_other(string study, ReasonKind? reason)
    {
        Assert.SkipUnless(IsX64, OnlyX64);
        Assert.SkipUnless(Vector256.IsHardwareAccelerated || reason != ReasonKind.NarrowerVectors,
            "This processor has one width of vectors.");

        var codes = await AgainAsync(() => LookAsync(study), codes => IsTold(codes, reason));

        Assert.All(codes, code => Assert.Null(code.Problem));
        Assert.Equal(Expected(reason), Reasons(codes));
        Assert.DoesNotContain(ReasonFinder.Between(codes[1].Tree!, codes[0].Tree!), found => found.Kind == reason);
        Assert.True(CodeFindings.Between(codes[0], codes[1]) == (reason is null ? CodeRelation.Same : CodeRelation.Different),
            string.Join('\n', codes.SelectMany(code => code.Tree!.All).SelectMany(listing => listing.All)));
    }

    [Fact]
    public async Task Two_variants_are_put_side_by_side_at_every_level_with_what_is_told_of_them_first()
    {
        Assert.SkipUnless(IsX64, OnlyX64);

        const string same = "  = slow and fast are the same machine code: where their times differ,";
        var (exitCode, output, error) = await AgainAsync(() => RunAsync("the same*", "slow", "fast", "--show", "all"),
            told => told.Output.Contains(same, StringComparison.Ordinal));

        Assert.True(exitCode == ExitCode.Fine, error + output);
        var lines = output.Split('\n');
        Assert.Equal("the same code · its code", lines[0]);
        Assert.StartsWith(same, lines[1], StringComparison.Ordinal);
        Assert.Contains("the same code · slow: instructions ", output, StringComparison.Ordinal);
        Assert.Contains("Tachyscope.Reasons.Levels:SumOf – Tachyscope.Reasons.Levels:SumAgain · lowered C#", output,
            StringComparison.Ordinal);
        Assert.Contains("Tachyscope.Reasons.Levels:SumOf – Tachyscope.Reasons.Levels:SumAgain · IL", output, StringComparison.Ordinal);
        Assert.Contains("Levels:SumOf(int[]):int – Tachyscope.Reasons.Levels:SumAgain(int[]):int", output, StringComparison.Ordinal);
        Assert.Contains("slow · the measured loop · ", output, StringComparison.Ordinal);
        Assert.Contains("fast · what was inlined, and what not, and why", output, StringComparison.Ordinal);
        Assert.Contains("      call     [Tachyscope.Reasons.Levels:SumOf(int[]):int]", output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Without_a_variant_it_is_counted_in_all_and_said_how_to_go_on()
    {
        Assert.SkipUnless(IsX64, OnlyX64);

        const string counted = @"calls · slow: instructions \d+.*, calls [1-9]";
        var (exitCode, output, error) = await AgainAsync(() => RunAsync("calls"), told => Regex.IsMatch(told.Output, counted));

        Assert.True(exitCode == ExitCode.Fine, error + output);
        Assert.Matches(counted, output);
        Assert.Contains("the code itself: name one variant, or two to put them side by side; or add --show ", output,
            StringComparison.Ordinal);
        Assert.DoesNotContain("ret\n", output, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_probe_measures_what_the_code_suggests()
    {
        Assert.SkipUnless(IsX64, OnlyX64);

        var (exitCode, output, error) = await RunAsync("calls", "fast", "--probe", "--within", "4s");

        Assert.True(exitCode == ExitCode.Fine, error + output);
        Assert.Matches(@"fast, .* of slow", output);
    }

    [Fact]
    public async Task A_run_says_what_in_the_code_may_make_the_difference_when_it_is_asked_to()
    {
        Assert.SkipUnless(IsX64, OnlyX64);

        var page = Path.Combine(Directory.CreateTempSubdirectory("tachyscope code ü").FullName, "why.html");
        var (exitCode, output, error) = await ToolHere.RunAsync(
            "run", ToolProcess.Reasons, "--only", "calls", "--within", "3s", "--explain", "code", "--out", page);

        Assert.True(exitCode == ExitCode.Fine, error + output);
        Assert.Matches(@"calls · why . fast, .* of slow", output);
        var written = await File.ReadAllTextAsync(page, TestContext.Current.CancellationToken);
        Assert.All((string[])["What the compilers made of it", "bytes of code", "Tachyscope.Reasons.Levels", "lowered C#"],
            text => Assert.Contains(text, written, StringComparison.Ordinal));
        Directory.Delete(Path.GetDirectoryName(page)!, recursive: true);
    }

    // An operation that another one calls is put into the loop of both.
    [Fact]
    public async Task What_was_worked_out_beforehand_is_told_and_not_taken_for_what_it_calls()
    {
        Assert.SkipUnless(IsX64, OnlyX64);

        const string folded = "this one alone was computed when it was compiled";
        var (exitCode, output, error) = await AgainAsync(() => ToolHere.RunAsync("code", "ring*", "--project", ToolProcess.AcrossTargets),
            told => told.Output.Contains(folded, StringComparison.Ordinal));

        Assert.True(exitCode == ExitCode.Fine, error + output);
        Assert.Contains(folded, output, StringComparison.Ordinal);
        Assert.DoesNotContain("the same machine code", output, StringComparison.Ordinal);
        Assert.Matches(@"ring the watch bell · any half hour: instructions ([4-9]|\d\d)", output);
    }

    [Fact]
    public async Task A_call_of_an_interface_is_counted_where_five_classes_are_met_and_not_where_the_class_is_known()
    {
        Assert.SkipUnless(IsX64, OnlyX64);

        const string inlined = "inlined   LampReaches+Lantern:get_Reach, in LampReaches+Quay:SumOfLanterns";
        const string indirect = @"add up reaches · by interface, five classes: .*, indirect calls \d";
        var (exitCode, output, error) = await AgainAsync(
            () => ToolHere.RunAsync("code", "add up reaches", "--show", "inlining", "--project", ToolProcess.AcrossTargets),
            told => told.Output.Contains(inlined, StringComparison.Ordinal) && Regex.IsMatch(told.Output, indirect));

        Assert.True(exitCode == ExitCode.Fine, error + output);
        Assert.Matches(indirect, output);
        Assert.DoesNotMatch(@"add up reaches · by class: .*indirect calls", output);
        Assert.Contains(inlined, output, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("there is no study \"tides\", but \"vectors\", \"wider vectors\", ", "tides")]
    [InlineData("\"*vectors\" stands for \"vectors\", \"wider vectors\"; name one of them.", "*vectors")]
    [InlineData("study \"calls\" has no variant \"faster\", but \"slow\", \"fast\"; name these.", "calls", "faster")]
    [InlineData("\"--only\" is no option of code, and no variant's name begins so.", "calls", "--only", "lamps")]
    [InlineData("\"deep\" is no whole number from 0 to 12; write how many calls deep to follow, such as 1.", "calls", "--depth", "deep")]
    [InlineData("--show: \"assembler\" is nothing that can be shown; there are lowered, il, machine, loop, inlining, all.", "calls",
        "--show", "assembler")]
    public async Task What_is_asked_wrongly_is_answered_with_what_there_is(string told, params string[] arguments)
    {
        var (exitCode, _, error) = await RunAsync(arguments);

        Assert.Equal(ExitCode.WrongUse, exitCode);
        Assert.Contains(told, error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_worker_that_names_no_methods_is_told_from_one_that_does()
    {
        using var project = new ScriptedProject(new Script
        {
            Studies = [ScriptedStudies.Of("lamps", "steady", "quick")],
                Rows = [new() { Nanoseconds = [100] }, new() { Nanoseconds = [50] }],
        });

        var (exitCode, output, _) = await project.AskAsync(["code", "*", "--project", project.Assembly]);

        Assert.Equal(ExitCode.Failed, exitCode);
        Assert.Contains("its operation is made when it runs, and belongs to no assembly; write it as a lambda or a method", output,
            StringComparison.Ordinal);
    }

    // Beside much else the runtime may not have come to its last tier; what is not so does not become so by looking again.
    private static async Task<TFound> AgainAsync<TFound>(Func<Task<TFound>> look, Func<TFound, bool> isTold)
    {
        var found = await look();
        for (var again = 0; again < 2 && !isTold(found); again++)
        {
            found = await look();
        }

        return found;
    }

    private static bool IsTold(IReadOnlyList<VariantCode> codes, ReasonKind? reason)
        => codes.All(code => code.Problem is null)
            && CodeFindings.Between(codes[0], codes[1]) == (reason is null ? CodeRelation.Same : CodeRelation.Different)
            && Reasons(codes).SequenceEqual(Expected(reason));

    private static IEnumerable<ReasonKind> Expected(ReasonKind? reason) => reason is { } kind ? [kind] : [];

    private static IEnumerable<ReasonKind> Reasons(IReadOnlyList<VariantCode> codes)
        => ReasonFinder.Between(codes[0].Tree!, codes[1].Tree!).Select(found => found.Kind);

    private static async Task<IReadOnlyList<VariantCode>> LookAsync(string study)
    {
        using var target = new PreparedTarget(new Target { Name = "" }, new WorkerStarter(ToolProcess.Reasons), []);
        var look = new CodeLook(new CodeWatch(new RunPlan()), study, []) ;
        var (codes, problem) = await look.AtAsync(target, TestContext.Current.CancellationToken);
        Assert.Null(problem);
        return codes;
    }

    private static Task<(int ExitCode, string Output, string Error)> RunAsync(params string[] arguments)
        => ToolHere.RunAsync(["code", .. arguments, "--project", ToolProcess.Reasons]);
}
