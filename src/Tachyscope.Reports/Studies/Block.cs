namespace Tachyscope.Reports.Studies;

/// <summary>A part of a report that is shown when it is asked for, beyond what is seen at a glance.</summary>
public enum Block
{
    /// <summary>A table for each input, with every variant's interval drawn to scale.</summary>
    Inputs,

    /// <summary>How the variants stand to each other, in sentences.</summary>
    Words,

    /// <summary>How times grow with the size, drawn and by law, and where they cross.</summary>
    Growth,

    /// <summary>What each setting of a dial loses to the best.</summary>
    Dials,

    /// <summary>After how many uses preparing has paid.</summary>
    Uses,

    /// <summary>Where inside the operation the time goes, and the difference lies.</summary>
    Stages,

    /// <summary>How much of each declared limit is used.</summary>
    Limits,

    /// <summary>What the differences are worth at a rate of calls.</summary>
    Payoff,

    /// <summary>Further figures that tell something out of the ordinary.</summary>
    Figures,

    /// <summary>All other figures, and the run's checks on itself.</summary>
    Checks,

    /// <summary>The ground under the figures: runtime, machine, sittings, what the loop may leave.</summary>
    Ground,

    /// <summary>Every reason to distrust the figures, with its evidence and the way out.</summary>
    Caveats,
}
