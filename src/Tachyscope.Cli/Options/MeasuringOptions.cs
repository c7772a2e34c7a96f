using System.CommandLine;
using System.CommandLine.Completions;
using Tachyscope.Cli.Histories;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Targets;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Options;

/// <summary>The options of every command that measures.</summary>
internal sealed class MeasuringOptions
{
    private const int MostRepeats = 20;
    private const int MostCopies = 16;

    private readonly Option<string[]> _only = new("--only")
    {
        Description = "Measure the studies whose names match; * stands for anything. May be repeated.",
        HelpName = "PATTERN",
    };

    private const string Free = "free";
    private const string Held = "held";
    private const string Both = "both";
    private const string Code = "code";
    private const string SpeedsTried = "speeds";

    private static readonly Dictionary<string, DiagnosisKind[]> Explained = new(StringComparer.Ordinal)
    {
        ["warmup"] = [DiagnosisKind.FirstCall, DiagnosisKind.Code],
        ["allocation"] = [DiagnosisKind.Types],
        ["counters"] = [DiagnosisKind.Counters],
        [Code] = [],
        [SpeedsTried] = [],
    };

    private readonly Option<TimeSpan?> _within = new("--within")
    {
        Description = "All the time that measuring may take, from the first worker's start, such as 20s or 5m; building comes before it.",
        HelpName = "TIME",
        CustomParser = TimeValue.Parse,
    };

    private readonly Option<double?> _precision = new("--precision")
    {
        Description = "Go on until every contrast is known this tightly, such as 0.5%.",
        HelpName = "PERCENT",
        CustomParser = PercentValue.Parse,
    };

    private readonly Option<double?> _margin = new("--margin")
    {
        Description = "The smallest difference that matters to you; 1% by default.",
        HelpName = "PERCENT",
        CustomParser = PercentValue.Parse,
    };

    private readonly Option<int> _seed = new("--seed")
    {
        Description = "Seed of every shuffle, and of inputs made from it; 1 by default.",
        HelpName = "N",
        DefaultValueFactory = _ => 1,
        CustomParser = SeedValue.Parse,
    };

    private readonly Option<TimeSpan?> _patience = new("--patience")
    {
        Description = "How long one call may go without an answer; 30s by default, an eighth of --within where that is less.",
        HelpName = "TIME",
        CustomParser = TimeValue.Parse,
    };

    private readonly Option<string[]> _targets = new("--target")
    {
        Description = "Where to measure, such as net8.0 or runtime=net10.0,switch:TieredPGO=0, or a name in tachyscope.json; alternatives "
            + "are set apart by |. May be repeated; the first is what others are compared with.",
        HelpName = "RECIPE",
    };

    private readonly Option<bool> _rebuild = new("--rebuild")
    {
        Description = "Build everything anew, although nothing changed.",
    };

    private readonly Option<bool> _apart = new("--apart")
    {
        Description = "Measure every variant in a worker of its own too, and tell where that makes a difference.",
    };

    private readonly Option<int> _repeat = new("--repeat")
    {
        Description = "Make the whole comparison so many times, and tell how far the repeats agree; 1 by default.",
        HelpName = "N",
        DefaultValueFactory = _ => 1,
        CustomParser = CountValue.UpTo(MostRepeats, "write how often to compare, such as 3"),
    };

    private readonly Option<int> _copies = new("--copies")
    {
        Description = "Call so many copies of the study's code in each sitting, each placed anew in memory; 1 by default.",
        HelpName = "N",
        DefaultValueFactory = _ => 1,
        CustomParser = CountValue.UpTo(MostCopies, "write how many copies of the code each sitting is to call, such as 4"),
    };

    private readonly Option<bool> _speeds = new("--speeds")
    {
        Description = "Hold 14 sittings, hear what is compiled in each, and tell the speeds that the same code settles at, and what goes "
            + "along with them.",
    };

    private readonly Option<bool> _called = new("--called")
    {
        Description = "Read every variant in a second loop too, which calls it and never takes it in, as code elsewhere might.",
    };

    private readonly Option<bool> _cold = new("--cold")
    {
        Description = "Read every variant with the caches emptied before each call too: the first, the first two, all.",
    };

    private readonly Option<bool> _overlapped = new("--overlapped")
    {
        Description = "Read every variant in a second loop too, in which calls may run side by side.",
    };

    private readonly Option<string> _collections = new("--collections")
    {
        Description = "free: the collector comes when it comes; held: it is kept out of readings where its budget allows; both: one and "
            + "then the other, and what of each difference remains.",
        HelpName = "free|held|both",
        DefaultValueFactory = _ => Free,
    };

    private readonly Option<string[]> _explain = new("--explain")
    {
        Description = "Look at single cells in processes of their own. warmup: cold calls, the way to full speed and the tier of the code; "
            + "allocation: the types allocated; counters: what the processor's own counters say, where there are any; code: what in it may "
            + "make the difference; speeds: as --speeds, and what settles at several is measured again without the compiler's profile and "
            + "without its tiers. May be repeated.",
        HelpName = "warmup|allocation|counters|code|speeds",
    };

    private readonly Option<bool> _insist = new("--insist")
    {
        Description = "Measure although a Debug build or a debugger spoils the figures.",
    };

    private readonly OutOption _out = new();

    public MeasuringOptions()
    {
        _targets.CompletionSources.Add(context => TargetParser.Complete(context.WordToComplete, NamedTargets.Of(".").Recipes)
            .Select(word => new CompletionItem(word)));
        _only.CompletionSources.Add(context => KnownStudies.Of(BuildCache.DefaultFolder,
            context.ParseResult.GetValue<string>("PROJECT") ?? ".")
            .Select(name => new CompletionItem(name)));
        WordValue.Allow(_collections, [Free, Held, Both]);
        WordValue.Allow(_explain, Explained.Keys);
    }

    /// <summary>What is to be shown, and how.</summary>
    public ShowingOptions Showing { get; } = new();

    /// <summary>Whether and where the run is kept.</summary>
    public SavingOptions Saving { get; } = new();

    /// <param name="command">The command.</param>
    /// <param name="hasTargets">Whether it leaves open where to measure.</param>
    /// <param name="hasStudies">Whether there are studies to choose from.</param>
    /// <param name="hasOpponent">Whether it leaves open what rows are compared with.</param>
    public void AddTo(Command command, bool hasTargets = true, bool hasStudies = true, bool hasOpponent = true)
    {
        Option[] options =
        [
            // Those of every day first.
            .. hasStudies ? (Option[])[_only] : [], _within, _precision, _margin, .. hasTargets ? (Option[])[_targets] : [], _out.Option,
            _repeat, _explain, _apart, _overlapped, _called, _cold, _speeds, _collections, _copies, _seed, _patience, _rebuild, _insist,
        ];
        foreach (var option in options)
        {
            command.Add(option);
        }

        Saving.AddTo(command);
        Showing.AddTo(command, hasOpponent);
    }

    /// <summary>For a command that makes runs of its own: what to measure, for how long and how closely, and no more.</summary>
    /// <param name="command">The command.</param>
    public void AddFewTo(Command command)
    {
        foreach (var option in (Option[])[_only, _within, _margin, _seed, _patience, _rebuild, _insist])
        {
            command.Add(option);
        }

        Showing.AddPlainTo(command);
    }

    /// <summary>For a command that plans what others measure.</summary>
    /// <param name="command">The command.</param>
    public void AddPlanTo(Command command)
    {
        foreach (var option in (Option[])[.. Shaping, _rebuild, _insist])
        {
            command.Add(option);
        }

        Showing.AddPlainTo(command);
    }

    /// <summary>For a command that looks, and measures only when asked to: where, and how long.</summary>
    /// <param name="command">The command.</param>
    public void AddWhereTo(Command command)
    {
        foreach (var option in (Option[])[_targets, _within, _seed, _patience, _rebuild])
        {
            command.Add(option);
        }

        Showing.AddPlainTo(command);
    }

    private Option[] Shaping
        => [_only, _within, _precision, _margin, _targets, _repeat, _explain, _apart, _overlapped, _called, _cold, _speeds,
            _collections, _copies,
        _seed, _patience];

    /// <summary>What the few say; the rest is as by default.</summary>
    public RunPlan FewPlan(ParseResult result)
    {
        var defaults = new RunPlan();
        return defaults with
        {
            Seed = result.GetValue(_seed),
            WithinSeconds = result.GetValue(_within)?.TotalSeconds,
            MarginShare = result.GetValue(_margin) ?? defaults.MarginShare,
            Only = result.GetValue(_only) ?? [],
            PatienceSeconds = result.GetValue(_patience)?.TotalSeconds,
            IsInsisted = result.GetValue(_insist),
        };
    }

    public RunPlan Plan(ParseResult result) => FewPlan(result) with
    {
        PrecisionShare = result.GetValue(_precision),
        IsApart = result.GetValue(_apart),
        Repeats = result.GetValue(_repeat),
        Copies = result.GetValue(_copies),
        IsOverlappedRead = result.GetValue(_overlapped),
        IsCalledRead = result.GetValue(_called),
        IsColdRead = result.GetValue(_cold),
        AreSpeedsSought = result.GetValue(_speeds) || AreSpeedsExplained(result),
        IsCollectionHeld = result.GetValue(_collections) == Held,
        IsCollectionCompared = result.GetValue(_collections) == Both,
        Diagnoses = [.. (result.GetValue(_explain) ?? []).Distinct().SelectMany(word => Explained[word])],
    };

    /// <summary>Whether it is asked what in the code may make the difference.</summary>
    public bool IsCodeExplained(ParseResult result) => result.GetValue(_explain)?.Contains(Code) == true;

    /// <summary>Whether it is asked what makes code settle at several speeds.</summary>
    public bool AreSpeedsExplained(ParseResult result) => result.GetValue(_explain)?.Contains(SpeedsTried) == true;

    /// <summary>Targets as they were written.</summary>
    public IReadOnlyList<string> Recipes(ParseResult result) => result.GetValue(_targets) ?? [];

    /// <summary>Options given that say what is measured and how.</summary>
    public IEnumerable<string> Given(ParseResult result)
        => Shaping.Where(option => result.GetResult(option) is { Implicit: false }).Select(option => option.Name);

    /// <summary>The targets asked for, none for the project as it is, and all that is wrong with them.</summary>
    public TargetSet Targets(ParseResult result, string project)
    {
        var (named, mistake) = NamedTargets.Of(project);
        return mistake is null ? TargetParser.Parse(result.GetValue(_targets) ?? [], named) : new TargetSet([], [mistake]);
    }

    /// <summary>The smallest difference that matters, as a share; null where that is not said.</summary>
    public double? Margin(ParseResult result) => result.GetValue(_margin);

    /// <summary>Whether what spoils figures is to be put up with.</summary>
    public bool IsInsisted(ParseResult result) => result.GetValue(_insist);

    /// <summary>Whether it is asked where to measure.</summary>
    public bool HasTargets(ParseResult result) => result.GetValue(_targets) is { Length: > 0 };

    public bool IsRebuilt(ParseResult result) => result.GetValue(_rebuild);

    /// <summary>The files to write.</summary>
    public OutOption Out => _out;
}
