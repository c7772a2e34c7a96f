using System.Reflection;
using Tachyscope.Measuring;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope;

/// <summary>What a study does once its types are out of sight.</summary>
internal abstract class StudyBody
{
    /// <summary>Makes every input twice; a factory that throws, or makes another the second time, is a mistake.</summary>
    public abstract InspectReply Inspect(int seed);

    /// <summary>Calls a variant on a fresh input and compares its answer with the reference's.</summary>
    public abstract CheckReply Check(CheckRequest request);

    /// <summary>Sets up cells in the order given; cells of one input share it, a twin has its own.</summary>
    /// <param name="cells">The cells.</param>
    /// <param name="seed">Seed of what factories make.</param>
    /// <param name="shuffle">Seed of what is shuffled anew for every sitting.</param>
    /// <param name="indices">Their indices among the cells of the sitting; their places in the list where it is left out.</param>
    public abstract IReadOnlyList<MeasuredCell> Open(
        IReadOnlyList<CellDescription> cells, int seed, int shuffle, IReadOnlyList<int>? indices = null);

    /// <summary>Prepares what a row prepares, every time anew of the same input; null results when it prepares nothing.</summary>
    public abstract Func<object?> Preparing(CellDescription cell, int seed);

    /// <summary>The method that a row hands over to be measured; null for a guest's.</summary>
    public abstract MethodInfo? Method(int variant);

    /// <summary>Writes an input down for a guest's row.</summary>
    public abstract InputReply Send(InputRequest request);

    /// <summary>Compares what a guest's row answered elsewhere with the reference's answer.</summary>
    public abstract CheckReply Judge(JudgeRequest request);

    /// <summary>Assemblies whose code is measured.</summary>
    public abstract IEnumerable<Assembly> Assemblies { get; }
}
