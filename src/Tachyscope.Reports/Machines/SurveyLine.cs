namespace Tachyscope.Reports.Machines;

/// <summary>One fact of a survey.</summary>
/// <param name="What">What it is about.</param>
/// <param name="Value">The fact.</param>
public sealed record SurveyLine(string What, string Value);
