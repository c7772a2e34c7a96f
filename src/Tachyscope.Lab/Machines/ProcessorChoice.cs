using System.Globalization;

namespace Tachyscope.Lab.Machines;

/// <summary>Chooses the processors that rounds go over so that one round is like another: cores of one kind, beside one memory.</summary>
/// <remarks>Read from the files in which Linux tells of them; where there are none, all processors count as alike.</remarks>
public sealed class ProcessorChoice
{
    // The fastest cores of one kind are sorted by how well they turned out, by less than this.
    private const double SameKindShare = 0.85;

    private readonly string _root;

    /// <summary>A choice by the files of a system.</summary>
    /// <param name="root">Root of its file system; this machine's by default.</param>
    /// <exception cref="ArgumentNullException"><paramref name="root"/> is null.</exception>
    public ProcessorChoice(string root = "/")
    {
        ArgumentNullException.ThrowIfNull(root);
        _root = root;
    }

    /// <summary>
    /// Those of the processors allowed that are of the strongest kind and belong to one memory node: the one with most of them.
    /// </summary>
    /// <param name="allowed">Processors that may be used; empty where the system does not tell.</param>
    public IReadOnlyList<int> Alike(IReadOnlyList<int> allowed)
    {
        ArgumentNullException.ThrowIfNull(allowed);
        var kind = OfStrongestKind(allowed);
        var node = Nodes().Select(processors => kind.Where(processors.Contains).ToList()).OrderByDescending(own => own.Count)
            .FirstOrDefault() ?? [];
        return node.Count > 0 ? node : kind;
    }

    /// <summary>Processors' worth of time that the system gives this process at most; null where it sets no bound.</summary>
    public double? Quota()
    {
        var quotas = ControlGroups().Select(QuotaOf).OfType<double>().ToList();
        return quotas.Count == 0 ? null : quotas.Min();
    }

    private IReadOnlyList<int> OfStrongestKind(IReadOnlyList<int> allowed)
    {
        // Hybrid x64 processors name the strong ones; arm64 gives each a capacity; elsewhere the highest frequency tells.
        if (Read("sys/devices/cpu_core/cpus") is { } list)
        {
            var strong = Parse(list).ToHashSet();
            List<int> own = [.. allowed.Where(strong.Contains)];
            return own.Count > 0 ? own : allowed;
        }

        foreach (var file in (string[])["cpu_capacity", "cpufreq/cpuinfo_max_freq"])
        {
            var strengths = allowed.Select(processor => (Processor: processor,
                Strength: Number($"sys/devices/system/cpu/cpu{processor}/{file}"))).ToList();
            if (strengths.Count > 0 && strengths.TrueForAll(known => known.Strength is not null))
            {
                var most = strengths.Max(known => known.Strength!.Value);
                return [.. strengths.Where(known => known.Strength >= SameKindShare * most).Select(known => known.Processor)];
            }
        }

        return allowed;
    }

    private IEnumerable<HashSet<int>> Nodes()
    {
        for (var node = 0; Read($"sys/devices/system/node/node{node}/cpulist") is { } list; node++)
        {
            yield return [.. Parse(list)];
        }
    }

    // The group's own and those above it, any of which may bound it: "0::/lamps/one", or "4:cpu,cpuacct:/lamps".
    private IEnumerable<string> ControlGroups()
    {
        foreach (var line in (Read("proc/self/cgroup") ?? "0::/").Split('\n'))
        {
            if (line.Split(':', 3) is not [_, var controllers, var path]
                || (controllers.Length > 0 && !controllers.Split(',').Contains("cpu")))
            {
                continue;
            }

            var mount = controllers.Length == 0 ? "sys/fs/cgroup" : "sys/fs/cgroup/cpu";
            for (var at = path.Trim('/'); ; at = Path.GetDirectoryName(at) ?? "")
            {
                yield return at.Length == 0 ? mount : $"{mount}/{at}";
                if (at.Length == 0)
                {
                    break;
                }
            }
        }
    }

    private double? QuotaOf(string group)
    {
        var parts = Read($"{group}/cpu.max")?.Split(' ')
            ?? [Read($"{group}/cpu.cfs_quota_us") ?? "", Read($"{group}/cpu.cfs_period_us") ?? ""];
        return parts is [var quota, var period]
            && long.TryParse(quota, CultureInfo.InvariantCulture, out var microseconds) && microseconds > 0
            && long.TryParse(period, CultureInfo.InvariantCulture, out var of) && of > 0
            ? (double)microseconds / of
            : null;
    }

    // "0-3,8,10-11"
    private static IEnumerable<int> Parse(string list)
    {
        foreach (var part in list.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            var ends = part.Split('-');
            if (int.TryParse(ends[0], CultureInfo.InvariantCulture, out var first)
                && int.TryParse(ends[^1], CultureInfo.InvariantCulture, out var last))
            {
                for (var processor = first; processor <= last; processor++)
                {
                    yield return processor;
                }
            }
        }
    }

    private long? Number(string file) => long.TryParse(Read(file), CultureInfo.InvariantCulture, out var number) ? number : null;

    private string? Read(string file) => SystemFile.TryRead(Path.Combine(_root, file));
}
