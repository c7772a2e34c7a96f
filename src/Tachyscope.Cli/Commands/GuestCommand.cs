using System.CommandLine;
using System.Text.Json;
using System.Text.Json.Nodes;
using Tachyscope.Cli.Options;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Guests;
using Tachyscope.Reports.Studies;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope guest check GUEST….</summary>
internal sealed class GuestCommand
{
    private static readonly TimeSpan UsualPatience = TimeSpan.FromSeconds(10);

    private readonly Surroundings _around;

    private readonly Argument<string[]> _guest = new("GUEST")
    {
        Description = "A source file of a language there is a kit for, or a command that starts a worker, behind -- where it has options.",
        Arity = ArgumentArity.OneOrMore,
    };

    private readonly Option<string?> _build = new("--build")
    {
        Description = "How a source file is built or started, such as \"clang -O3\"; the usual way of its language by default.",
            HelpName = "COMMAND",
    };

    private readonly Option<string?> _input = new("--value")
    {
        Description = "An input that its operations take, as JSON; the number 3 by default.", HelpName = "JSON",
    };

    private readonly Option<TimeSpan?> _patience = new("--patience")
    {
        Description = "How long it may take for a reply; 10s by default.", HelpName = "TIME",
        CustomParser = TimeValue.Parse,
    };

    private GuestCommand(Surroundings around) => _around = around;

    public static Command Create(Surroundings around)
    {
        var own = new GuestCommand(around);
        var check = new Command("check", "Look whether a worker in another language keeps to the protocol.") { own._guest };
        check.SetAction(own.CheckAsync);
        var command = new Command("guest", "Implementations in other languages: look whether one keeps to the worker protocol.") { check };
        foreach (var option in (Option[])[own._build, own._input, own._patience])
        {
            option.Recursive = true;
            command.Add(option);
        }

        return command;
    }

    private async Task<int> CheckAsync(ParseResult result, CancellationToken cancellation)
    {
        JsonNode? input = null;
        try
        {
            input = result.GetValue(_input) is { } text ? JsonNode.Parse(text) : null;
        }
        catch (JsonException exception)
        {
            return await _around.ComplainAsync(
                [$"--value {result.GetValue(_input)} is no JSON ({exception.Message}); write a value such as '{{\"levels\": [1, 2]}}'."],
                ExitCode.WrongUse);
        }

        if (BuildCache.ProblemOf(_around.Cache) is { } homeless)
        {
            return await _around.ComplainAsync([homeless], ExitCode.CouldNotRun);
        }

        var words = result.GetValue(_guest)!;
        var language = words.Length == 1 && File.Exists(words[0]) ? GuestWorkshop.LanguageOf(words[0]) : null;
        var guest = language is null
            ? new GuestDescription { Language = "another language", Build = string.Join(' ', words.Select(Quoted)) }
            : new GuestDescription { Language = language, Source = words[0], Build = result.GetValue(_build) ?? "" };
        var prepared = await new GuestWorkshop(_around.Cache, ".").MakeAsync(guest, cancellation);
        if (prepared.Problem is { } problem)
        {
            return await _around.ComplainAsync([$"{problem}.", .. (prepared.LastLines ?? []).Select(line => $"  {line}")],
                ExitCode.CouldNotRun);
        }

        var findings = await GuestExamination.LookAsync(prepared, input, result.GetValue(_patience) ?? UsualPatience);
        var demands = findings.Where(finding => finding.IsLookedAt).ToList();
        foreach (var finding in findings)
        {
            var sign = !finding.IsLookedAt ? Tone.Aside.Sign() : finding.Problem is null ? Tone.Good.Sign() : Tone.Failed.Sign();
            var more = finding.Problem ?? finding.Evidence;
            await _around.Output.WriteLineAsync($"{sign} {finding.Demand}{(more is null ? "" : $": {more}")}");
        }

        var failed = demands.Count(finding => finding.Problem is not null);
        var version = prepared.Guest.Version is { } told ? $" ({told})" : "";
        await _around.Output.WriteLineAsync(failed == 0
            ? $"It keeps to version {Protocol.WorkerMethods.ProtocolVersion} of the protocol in all {demands.Count} points{version}."
            : $"It fails {failed} of {demands.Count} points{version}; docs/protocol.md says what each asks for.");
        return failed == 0 ? ExitCode.Fine : ExitCode.Failed;
    }

    private static string Quoted(string word)
        => word.Contains('"', StringComparison.Ordinal) ? $"'{word}'"
            : word.Length == 0 || word.Any(letter => letter == '\'' || char.IsWhiteSpace(letter)) ? $"\"{word}\""
            : word;
}
