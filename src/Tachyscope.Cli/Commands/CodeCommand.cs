using System.CommandLine;
using Tachyscope.Cli.Codes;
using Tachyscope.Cli.Options;
using Tachyscope.Code.Variants;
using Tachyscope.Exports;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Diagnoses;
using Tachyscope.Lab.Targets;
using Tachyscope.Lab.Workers;
using Tachyscope.Reports.Codes;
using Tachyscope.Reports.Studies;
using Tachyscope.Reports.Terminal;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope code STUDY [VARIANT…].</summary>
internal sealed class CodeCommand
{
    private const int DeepestCalls = 12;
    private const double UsualSeconds = 20;

    private readonly Surroundings _around;
    private readonly MeasuringOptions _options = new();

    private readonly Argument<string> _study = new("STUDY") { Description = "Name of the study; * stands for anything." };

    private readonly Argument<string[]> _variants = new("VARIANT")
    {
        Description = "The variants to look at, all by default; * stands for anything. Two are put side by side.",
        Arity = ArgumentArity.ZeroOrMore,
    };

    private readonly Option<string> _project = new("--project")
    {
        Description = "The study project, its folder, a single .cs file or a built .dll; the current folder by default.",
            HelpName = "PROJECT",
        DefaultValueFactory = _ => ".",
    };

    private readonly Option<string[]> _show = new("--show")
    {
        Description = $"The code to show: any of {string.Join(", ", CodeBlocks.Words)}, or {All}; "
            + "machine by default where variants are named.",
        HelpName = "LIST",
        AllowMultipleArgumentsPerToken = false,
        CustomParser = result => ShowingOptions.Split(result, [.. CodeBlocks.Words, All], "nothing that can be shown"),
    };

    private readonly Option<int> _depth = new("--depth")
    {
        Description = "How many calls deep to follow what was not inlined; 2 by default, 0 for the operation alone.",
        HelpName = "N",
        DefaultValueFactory = _ => CodeLook.UsualDepth,
        CustomParser = CountValue.UpTo(DeepestCalls, "write how many calls deep to follow, such as 1", least: 0),
    };

    private readonly Option<bool> _probe = new("--probe")
    {
        Description = "Measure what the code suggests: the study as it is, and with what may make the difference switched off.",
    };

    private readonly FilesOption _out = new("all of it", CodeFile.Endings, CodeFile.ProblemOf);

    private const string All = "all";

    private CodeCommand(Surroundings around)
    {
        _around = around;
        _variants.Validators.Add(given =>
        {
            foreach (var name in given.Tokens.Select(token => token.Value).Where(name => name.StartsWith("--", StringComparison.Ordinal)))
            {
                given.AddError($"\"{name}\" is no option of code, and no variant's name begins so.");
            }
        });
        _show.CompletionSources.Add([.. CodeBlocks.Words, All]);
    }

    public static Command Create(Surroundings around)
    {
        var own = new CodeCommand(around);
        var command = new Command("code",
            "Show what the compilers made of a study's variants, side by side, and what can be counted in it.")
        {
            own._study, own._variants, own._project, own._show, own._depth, own._probe, own._out.Option,
        };
        own._options.AddWhereTo(command);
        command.SetAction(own.RunAsync);
        return command;
    }

    private async Task<int> RunAsync(ParseResult result, CancellationToken cancellation)
    {
        var project = result.GetValue(_project)!;
        if (BuildCache.ProblemOf(_around.Cache) is { } homeless)
        {
            return await _around.ComplainAsync([homeless], ExitCode.CouldNotRun);
        }

        var asked = _options.Targets(result, project);
        if (asked.Mistakes.Count > 0)
        {
            return await _around.ComplainAsync(asked.Mistakes, ExitCode.WrongUse);
        }

        List<PreparedTarget> prepared = [];
        try
        {
            var display = new RunDisplay(_around, _options.Showing.IsPlain(result));
            var preparation = new Preparation(_around, display, _options.IsRebuilt(result));
            if (await preparation.FillAsync(prepared, project, asked.Targets, cancellation) is { } exitCode)
            {
                return exitCode;
            }

            return await LookAsync(result, project, prepared, preparation, display, cancellation);
        }
        catch (WorkerException exception)
        {
            return await _around.ComplainAsync(
                [$"the worker of {project} {exception.Message}", .. exception.LastLines.Select(line => $"    {line}")],
                    ExitCode.CouldNotRun);
        }
        finally
        {
            prepared.ForEach(target => target.Dispose());
        }
    }

    private async Task<int> LookAsync(
        ParseResult result, string project, List<PreparedTarget> targets, Preparation preparation, RunDisplay display,
            CancellationToken cancellation)
    {
        var names = result.GetValue(_variants) ?? [];
        string[] blocks = result.GetValue(_show) is not { Length: > 0 } shown ? (names.Length > 0 ? [CodeBlocks.Machine] : [])
            : shown.Contains(All) ? [.. CodeBlocks.Words] : shown;
        var files = _out.Of(result);
        using var guests = preparation.Guests(project);
        var look = new CodeLook(new CodeWatch(_options.FewPlan(result) with { WithinSeconds = null }), result.GetValue(_study)!, names)
        {
            Depth = result.GetValue(_depth), IsLoweredRead = blocks.Contains(CodeBlocks.Lowered) || files.Count > 0,
                IsBaselineRead = result.GetValue(_probe),
                    Guests = new GuestPrograms(guests, _options.FewPlan(result) with { WithinSeconds = null }),
        };
        List<VariantCode> codes = [];
        foreach (var target in targets)
        {
            var found = await look.AtAsync(target, cancellation);
            if (found.Problem is { } problem)
            {
                return await _around.ComplainAsync([$"{(target.Target.Name.Length == 0 ? project : target.Target.Name)}: {problem}"],
                    ExitCode.WrongUse);
            }

            codes.AddRange(found.Codes);
        }

        IReadOnlyList<(Tone, string)> why = [];
        if (result.GetValue(_probe))
        {
            var plan = _options.FewPlan(result);
            var probed = await new ProbeSession(project, look, preparation, display).RunAsync(targets[0],
                [.. codes.Where(code => code.Target == targets[0].Target.Name)],
                plan with { Only = [look.Study], WithinSeconds = plan.WithinSeconds ?? UsualSeconds, IsInsisted = true }, cancellation);
            if (probed.Plain is not { } plain)
            {
                return await _around.ComplainAsync(probed.Problems, ExitCode.CouldNotRun);
            }

            why = WhyReporter.Of([.. codes.Where(code => code.Target == targets[0].Target.Name)], plain, probed.Probed);
        }

        var console = TerminalConsole.For(_around.Output, _options.Showing.IsPlain(result) ? null : _around.Terminal);
        CodeView.Write(CodeReporter.Of(look.Study, codes, blocks, why), console);
        if (blocks.Length == 0)
        {
            await _around.Output.WriteLineAsync(
                $"the code itself: name one variant, or two to put them side by side; or add --show {string.Join(',', CodeBlocks.Words)}");
        }

        foreach (var file in files)
        {
            await CodeFile.WriteAsync(CodeReporter.Of(look.Study, codes, CodeBlocks.Words, why), file, WholeFile.WriteAsync);
            await _around.Output.WriteLineAsync($"written to {VisibleText.Of(file)}");
        }

        return codes.TrueForAll(code => code.Problem is not null) ? ExitCode.Failed : ExitCode.Fine;
    }
}
