using System.Globalization;
using Tachyscope.Analysis.Machines;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Measuring;
using Tachyscope.Reports.Formats;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Machines;

/// <summary>Puts a survey into words and figures. Pure.</summary>
public static class SurveyReporter
{
    private const int TraceColumns = 60;
    private const double HardlyQuiet = 0.05;
    private const double OftenQuiet = 0.5;

    // A reading of an operation that is not longer by itself; what is quiet for less is not quiet as long as one lasts.
    private const double UsualReadingMilliseconds = 0.05;
    private const string NotTold = "not told by this system";

    /// <summary>What is to be shown of a survey.</summary>
    /// <param name="survey">What the survey found.</param>
    public static SurveyReport Report(MachineSurvey survey)
    {
        ArgumentNullException.ThrowIfNull(survey);
        var noise = NoiseFindings.Of(survey.Beats);
        return new SurveyReport
        {
            Machine = [.. Machine(survey, noise)],
            Now = [.. Now(survey, noise)],
            Trace = [.. Trace(survey.Beats)],
            Heard = TimeSpan.FromMicroseconds(survey.Beats.Sum(beat => beat.ElapsedNanoseconds) / 1e3),
            Noise = noise,
            Advice = Advice(noise.Steadiness, Cores(survey)),
        };
    }

    private static IEnumerable<SurveyLine> Machine(MachineSurvey survey, NoiseFindings noise)
    {
        yield return new("processor",
            string.Create(CultureInfo.InvariantCulture, $"{survey.Machine.Processor}, {survey.Machine.ProcessorCount} processors"));
        yield return new("speed", string.Create(
            CultureInfo.InvariantCulture,
            $"{Metronome.CyclesPerLink / noise.MedianNanosecondsPerLink:0.00} GHz, by the metronome "
                + $"({noise.MedianNanosecondsPerLink:0.000} ns a link of {Metronome.CyclesPerLink} cycles)"));
        yield return new("frequency policy", survey.Governor ?? NotTold);
        yield return new("caches", survey.Caches.Count == 0
            ? NotTold
            : string.Join(", ", survey.Caches.Select(cache => $"L{cache.Level} {cache.Holds.ToLowerInvariant()} "
                + $"{Quantity.Size(cache.SizeBytes)}")));
        yield return new("vectors", string.Create(CultureInfo.InvariantCulture, $"{survey.VectorBits} bits"));
        yield return new("clock", string.Create(
            CultureInfo.InvariantCulture,
            $"smallest step {survey.ClockStepNanoseconds} ns, {survey.ClockCostNanoseconds:0} ns to read"));
        if (survey.Limits is { } limits)
        {
            yield return new("reads at most",
                string.Join(", ", limits.Memory.Select(level => $"{level.Level} {Quantity.Rate(level.BytesPerSecond)}B/s")));
            yield return new("computes at most",
                $"{Quantity.Rate(limits.OperationsPerSecond).TrimEnd()} additions and multiplications of doubles a second, on one "
                    + "processor");
        }
        else
        {
            yield return new("limits", "not measured yet; survey --limits does");
        }

        yield return new("system", survey.Machine.OperatingSystem);
        yield return new("runtime of the tool", survey.Runtime);
    }

    private static IEnumerable<SurveyLine> Now(MachineSurvey survey, NoiseFindings noise)
    {
        yield return new("load", survey.LoadAverage is { } load
            ? string.Create(CultureInfo.InvariantCulture,
                $"{load:0.00} wanting to run over the last minute, for {survey.Machine.ProcessorCount} processors")
            : NotTold);
        yield return new("processors busy", survey.BusyShare is { } busy
            ? $"{Quantity.Percent(busy)}, this survey's one processor included"
            : NotTold);
        yield return new("taken by the host", survey.StealShare is { } steal ? Quantity.Percent(steal) : NotTold);
        foreach (var core in Cores(survey))
        {
            var which = core.Processor < 0 ? "core" : string.Create(CultureInfo.InvariantCulture, $"core of processor {core.Processor}");
            var (share, stretch) = (Quantity.Percent(core.QuietShare), Quantity.Time(core.StretchMilliseconds * 1e6));
            yield return new(which, core.QuietShare > 0
                ? $"ours alone for {share} of the time, {stretch} at a stretch"
                : "shared all the time");
        }

        if (Calls(survey) is { } calls)
        {
            yield return new("virtual calls", calls);
        }

        yield return new("spread", $"{Quantity.Percent(noise.SpreadShare)} of the median, between the 5th and the 95th percentile");
        yield return new("slowed", $"{Quantity.Percent(noise.SlowShare)} of {Quantity.Count(noise.Readings)} readings by more than 5 %");
        yield return new("interrupted", $"{Quantity.Percent(noise.InterruptedShare)} of them by other work");
    }

    private static IEnumerable<double> Trace(IReadOnlyList<Reading> beats)
        => beats.Count < TraceColumns
            ? beats.Select(beat => beat.NanosecondsPerCall)
            : Enumerable.Range(0, TraceColumns).Select(column =>
            {
                var (from, to) = (column * beats.Count / TraceColumns, (column + 1) * beats.Count / TraceColumns);
                return SampleStatistics.Median([.. beats.Skip(from).Take(to - from).Select(beat => beat.NanosecondsPerCall)]);
            });

    private static string? Calls(MachineSurvey survey)
    {
        var found = CallFindings.Of(survey.Cores, survey.LowGauge);
        string Cycles(double cycles) => string.Create(CultureInfo.InvariantCulture, $"{cycles:0} cycles each");
        return (double.IsNaN(found.QuietCycles), double.IsNaN(found.SharedCycles)) switch
        {
            (true, true) => null,
            (true, false) when survey.QuietCallCycles is { } before
                => $"{Cycles(found.SharedCycles)} on a shared core; an earlier run saw {Cycles(before)} on one of its own",
            (true, false) => $"{Cycles(found.SharedCycles)} on a shared core",
            (false, true) => $"{Cycles(found.QuietCycles)} on a core of their own{Unforeseen(found)}",
            _ => $"{Cycles(found.QuietCycles)} on a core of their own{Unforeseen(found)}, {Cycles(found.SharedCycles)} on a shared one",
        };

        static string Unforeseen(CallFindings found) => found.AreUnforeseenWhenQuiet ? ", where none is foreseen" : "";
    }

    private static IReadOnlyList<CoreNoise> Cores(MachineSurvey survey)
        => survey.LowGauge == 0 ? [] : [.. survey.Cores.Select(core => CoreNoise.Of(core, survey.LowGauge))];

    // Whose the core is matters more than what the clock does: a run reads in quiet moments, if there are any.
    private static string Advice(Steadiness steadiness, IReadOnlyList<CoreNoise> cores)
    {
        double Best(IEnumerable<CoreNoise> of, double atLeast)
            => of.Select(core => core.QuietShare).Where(double.IsFinite).DefaultIfEmpty(atLeast).Max();
        var all = Best(cores, double.NaN);
        var best = double.IsNaN(all) ? all : Best(cores.Where(core => core.StretchMilliseconds >= UsualReadingMilliseconds), 0);
        return best < HardlyQuiet && all >= HardlyQuiet
                ? "others come and go on every core faster than a reading lasts: a run will take its readings for those of a shared core, "
                    + "and say so"
            : best < HardlyQuiet
                ? "somebody else uses every core nearly all the time: a run will find too few quiet moments, and say so"
            : best < OftenQuiet
                ? "the cores are shared most of the time: a run reads in the moments that are quiet, and takes longer to find them"
            : steadiness switch
            {
                Steadiness.Quiet => "a run started now needs no more than its usual time",
                Steadiness.Uneasy => "medians absorb what disturbs it; allow a run some more time for differences of a per cent",
                _ => "contrasts will hold but take longer; quote no absolute time measured now",
            };
    }
}
