using Tachyscope.Analysis.Findings;
using Tachyscope.Runs;

namespace Tachyscope.Exports;

/// <summary>One cell of a run: a variant on an input and a target, with the names that lead to it.</summary>
/// <param name="Study">What was found of its study on that target.</param>
/// <param name="Record">The study as it was read.</param>
/// <param name="Target">Name of the target; empty where there is but one.</param>
/// <param name="Input">What was found on its input.</param>
/// <param name="Cell">What was found of it.</param>
internal sealed record ResultRow(StudyFindings Study, StudyRecord Record, string Target, InputFindings Input, CellFindings Cell)
{
    /// <summary>Every cell of a run, in the order of its tables.</summary>
    public static IEnumerable<ResultRow> Of(Export export)
        => from study in export.Found.Zip(export.Run.Studies, (found, record) => (Found: found, Record: record))
           from target in Enumerable.Range(0, study.Found.Targets.Count)
           from input in study.Found.Targets[target].Inputs
           from cell in input.Cells
           select new ResultRow(study.Found.Targets[target], study.Record, export.Run.Targets.Count > 1 ? export.Run.Targets[target].Name
               : "", input, cell);

    /// <summary>The verdict in a word; empty where nothing is compared.</summary>
    public string Verdict => Cell switch
    {
        { Failure: { } failure } => failure.Kind.ToString().ToLowerInvariant(),
        { Contrast.Verdict: var verdict } => verdict.ToString().ToLowerInvariant(),
        _ => "",
    };
}
