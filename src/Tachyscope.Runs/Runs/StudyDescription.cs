namespace Tachyscope.Runs;

/// <summary>A study as its worker describes it, before anything is measured.</summary>
sealed partial record StudyDescription
{
    /// <summary>Its name, unique in the project.</summary>
    public required string Name { get; init; }

    /// <summary>Name of the family of studies it belongs to, one for each element type; null for a study of its own.</summary>
    public string? Family { get; init; }

    /// <summary>Its element type within the family, such as "float"; null for a study of its own.</summary>
    public string? Element { get; init; }

    /// <summary>The rule by which answers must agree, in words.</summary>
    public required string Agreement { get; init; }

    /// <summary>Tolerance by which answers may differ; 0 when they must agree exactly, null for a rule of the study's own.</summary>
    public double? Tolerance { get; init; }

    /// <summary>Whether variants change their input, so that every call gets one of its own.</summary>
    public bool IsInputChanged { get; init; }

    /// <summary>Its inputs, in the order they were defined.</summary>
    public required IReadOnlyList<InputDescription> Inputs { get; init; }

    /// <summary>The rows of its tables, in the order they were defined.</summary>
    public required IReadOnlyList<VariantDescription> Variants { get; init; }

    /// <summary>Allowances its variants must keep.</summary>
    public IReadOnlyList<LimitDescription> Limits { get; init => field = value ?? []; } = [];

    /// <summary>How often the operation is called where it is used; null when not declared.</summary>
    public CallRate? Rate { get; init; }

    /// <summary>What is wrong with the definition, each with its way out; empty when sound.</summary>
    public IReadOnlyList<string> Mistakes { get; init => field = value ?? []; } = [];

    /// <summary>The row a row is compared with: the baseline on as many threads; null for what nothing is comparable with.</summary>
    /// <param name="row">Index of the row.</param>
    public int? Reference(int row)
    {
        var asked = Variants[row];
        for (var index = 0; index < Variants.Count; index++)
        {
            var candidate = Variants[index];
            if (candidate.IsBaseline && candidate.Loop.Threads == asked.Loop.Threads
                && (candidate.Part == VariantPart.Prepare) == (asked.Part == VariantPart.Prepare))
            {
                return index;
            }
        }

        return null;
    }
}
