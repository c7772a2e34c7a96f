using Tachyscope.Measuring;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope;

/// <summary>What a study does once its types are out of sight.</summary>
internal abstract class StudyBody
{
    /// <summary>Makes every input once; a factory that throws is a mistake.</summary>
    public abstract IReadOnlyList<string> Inspect(int seed);

    /// <summary>Calls a variant on a fresh input and compares its answer with the reference's.</summary>
    public abstract CheckReply Check(CheckRequest request);

    /// <summary>Sets up cells in the order given; cells of one input share it, a twin has its own.</summary>
    public abstract IReadOnlyList<MeasuredCell> Open(IReadOnlyList<CellDescription> cells, int seed);

    /// <summary>Assemblies whose code is measured.</summary>
    public abstract IEnumerable<System.Reflection.Assembly> Assemblies { get; }
}
