using System.Security.Cryptography;
using System.Text.Json;
using Tachyscope.Lab.Planning;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Shares;

/// <summary>A part of a planned run, which one machine measures by itself: docs/shares.md.</summary>
public sealed record Share
{
    /// <summary>Value of <see cref="Format"/>.</summary>
    public const string FormatName = "tachyscope-share";

    /// <summary>Version of the format written and read here.</summary>
    public const int CurrentVersion = 1;

    /// <summary>Always "tachyscope-share".</summary>
    public string Format { get; init; } = FormatName;

    /// <summary>Version of the format.</summary>
    public int Version { get; init; } = CurrentVersion;

    /// <summary>Which part of which plan it is.</summary>
    public required RunShare Part { get; init; }

    /// <summary>Version of the tool that planned.</summary>
    public required string Tool { get; init; }

    /// <summary>Path of the study project, seen from where the run is measured.</summary>
    public required string Project { get; init; }

    /// <summary>Commit the project stood at; null outside a repository and where it held changes.</summary>
    public string? Commit { get; init; }

    /// <summary>Names of the studies it holds, all their contrasts with them.</summary>
    public required IReadOnlyList<string> Studies { get; init; }

    /// <summary>Targets as they were asked for; empty for the project as it is.</summary>
    public IReadOnlyList<string> Targets { get; init; } = [];

    /// <summary>Kinds of machine of the plan, in its order, each of which measures everything; empty for one.</summary>
    public IReadOnlyList<string> Machines { get; init; } = [];

    /// <summary>How to measure; the time allowed is for each share.</summary>
    public required RunPlan Plan { get; init; }

    /// <summary>Cuts a run into shares that take about as long as each other and hold whole studies.</summary>
    /// <param name="whole">What all have in common; its part and studies are of no account.</param>
    /// <param name="studies">The studies, as their worker describes them.</param>
    /// <param name="count">Shares wanted on each kind of machine; fewer where there are fewer studies.</param>
    /// <remarks>
    /// The longest first, each to the share that has least so far: at most 4/3 of the shortest possible (R. L. Graham, "Bounds on
    /// multiprocessing timing anomalies", SIAM J. Appl. Math. 17, 1969).
    /// </remarks>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    /// <exception cref="ArgumentOutOfRangeException"><paramref name="count"/> is less than 1, or there is no study.</exception>
    public static IReadOnlyList<Share> Cut(Share whole, IReadOnlyList<StudyDescription> studies, int count)
    {
        ArgumentNullException.ThrowIfNull(whole);
        ArgumentNullException.ThrowIfNull(studies);
        ArgumentOutOfRangeException.ThrowIfLessThan(count, 1);
        ArgumentOutOfRangeException.ThrowIfLessThan(studies.Count, 1);
        var shares = Enumerable.Range(0, Math.Min(count, studies.Count)).Select(_ => new List<StudyDescription>()).ToList();
        foreach (var study in studies.OrderByDescending(Seconds))
        {
            shares.MinBy(share => share.Sum(Seconds))!.Add(study);
        }

        var cut = whole with { Studies = [.. studies.Select(study => study.Name)],
            Part = whole.Part with { Plan = "", Number = 1, Machine = null } };
        var plan = Name(cut, shares.Count);
        return [.. from machine in whole.Machines.Cast<string?>().DefaultIfEmpty(null)
                   from share in shares.Select((own, index) => (Own: own, Number: index + 1))
                   select whole with
                   {
                       Part = new RunShare { Plan = plan, Number = share.Number, Count = shares.Count, Machine = machine },
                       Studies = [.. studies.Where(share.Own.Contains).Select(study => study.Name)],
                   }];

        double Seconds(StudyDescription study) => Forecast.Usual(study, whole.Plan, 1, Math.Max(1, whole.Targets.Count));
    }

    // By all it holds: the same plan made twice is the same plan.
    private static string Name(Share whole, int count)
        => Convert.ToHexStringLower(SHA256.HashData(JsonSerializer.SerializeToUtf8Bytes(new { whole, count })).AsSpan(0, 6));
}
