using System.CommandLine;
using Tachyscope.Lab.Shares;
using Tachyscope.Reports.Formats;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope merge [PATH…].</summary>
internal sealed class MergeCommand
{
    private readonly Surroundings _around;
    private readonly RunReporting _reporting;

    private readonly Argument<string[]> _paths = new("PATH")
    {
        Description = "Folders of shares and what came back of them, or single files of runs; the folder shares by default.",
        Arity = ArgumentArity.ZeroOrMore, DefaultValueFactory = _ => ["shares"],
    };

    private readonly Option<bool> _insist = new("--insist")
    {
        Description = "Merge although machines of one kind, or their runtimes, are not alike.",
    };

    private MergeCommand(Surroundings around)
    {
        _around = around;
        _reporting = new RunReporting(around);
    }

    public static Command Create(Surroundings around)
    {
        var own = new MergeCommand(around);
        var command = new Command("merge", "Join the runs of a plan's shares into one, show it or write it, and list what is missing.")
        {
            own._paths, own._insist,
        };
        own._reporting.AddTo(command);
        command.SetAction(own.RunAsync);
        return command;
    }

    private async Task<int> RunAsync(ParseResult result, CancellationToken cancellation)
    {
        var (runs, shares, unread) = (new List<ShareRun>(), new Dictionary<string, Share>(StringComparer.Ordinal), new List<string>());
        foreach (var path in result.GetValue(_paths)!)
        {
            if (!Path.Exists(path))
            {
                return await _around.ComplainAsync(
                    [$"there is no {path}; name the folder that tachyscope plan wrote shares to, or files that tachyscope run --share "
                        + "wrote."],
                    ExitCode.WrongUse);
            }

            string[] files = Directory.Exists(path) ? [.. Directory.EnumerateFiles(path, "*.json").Order(StringComparer.Ordinal)] : [path];
            foreach (var file in files)
            {
                cancellation.ThrowIfCancellationRequested();
                try
                {
                    if (ShareFile.IsOne(file))
                    {
                        shares[file] = ShareFile.Read(file);
                    }
                    else if (RunFile.Read(file) is var run && (run.Share is not null || path == file))
                    {
                        runs.Add(new ShareRun(file, run));
                    }
                }
                catch (Exception exception) when (exception is InvalidDataException or IOException or UnauthorizedAccessException)
                {
                    unread.Add($"{file} is left out: {exception.Message}");
                }
            }
        }

        await _around.ComplainAsync(unread, ExitCode.Failed);
        if (shares.Values.FirstOrDefault(share => runs.Exists(run => run.Run.Share?.Plan is { } plan
            && plan != share.Part.Plan)) is { } other)
        {
            var stranger = runs.First(run => run.Run.Share is not null && run.Run.Share.Plan != other.Part.Plan);
            return await _around.ComplainAsync(
                [$"{stranger.File} belongs to plan {stranger.Run.Share!.Plan}, and the shares here are of {other.Part.Plan}; remove it, or "
                    + "merge it with its own."], ExitCode.WrongUse);
        }

        var machines = shares.Count == 0 || shares.Values.First().Machines is [] ? null : shares.Values.First().Machines;
        var merged = ShareMerge.Of(runs, machines, result.GetValue(_insist));
        if (merged.Run is not { } whole)
        {
            return await _around.ComplainAsync(merged.Problems, ExitCode.WrongUse);
        }

        var exitCode = await _reporting.ShowAsync(whole, result);
        string[] missing =
        [
            .. merged.Missing.Select(share => Told(share, "is missing", "measure it", shares)),
            .. merged.Cut.Select(share => Told(share, "ended early", "run it again", shares)),
        ];
        return missing.Length + unread.Count == 0 ? exitCode
            : await _around.ComplainAsync(missing, exitCode == ExitCode.Fine ? ExitCode.Failed : exitCode);
    }

    // With what it holds and how to run it, as far as its file is there.
    private static string Told(RunShare part, string what, string wayOut, Dictionary<string, Share> shares)
    {
        var machine = part.Machine is null ? "" : $" on {part.Machine}";
        var name = $"share {Quantity.Count(part.Number)} of {Quantity.Count(part.Count)}{machine} {what}";
        return shares.FirstOrDefault(share => share.Value.Part == part) is { Value: { } share, Key: var file }
            ? $"{name} ({string.Join(", ", share.Studies)}); {wayOut}: tachyscope run --share {file} --out "
                + Path.Combine(Path.GetDirectoryName(file)!, ShareFile.RunNameOf(share))
            : $"{name}; {wayOut} with tachyscope run --share.";
    }
}
