using Tachyscope;
using Tachyscope.Reasons;

return await Studies.RunAsync(args,
    Levels.Vectors, Levels.WiderVectors, Levels.Calls, Levels.Divisions, Levels.BoundsChecks, Levels.Branches, Levels.Folded,
        Levels.Atomics, Levels.Work,
    Levels.DeeperLoops, Levels.SameCode, Signals.Allocations, Signals.IndirectCalls, Signals.TypeChecks, Signals.WriteBarriers,
        Signals.Copies);
