using Tachyscope.Analysis.Findings;

namespace Tachyscope.Reports.Studies;

/// <summary>One figure that a cell may have: its heading, when it is worth showing, how it is written.</summary>
internal sealed record Figure(string Heading, Func<CellFindings, bool> IsTelling, Func<CellFindings, string> Write);
