using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>Which of several loops around one operation: the one it is shown with, or one that was asked for beside it.</summary>
/// <param name="Order">Whether a call waits for the one before.</param>
/// <param name="IsCalled">Whether it stays a call.</param>
/// <param name="EmptiedBytes">Size of the largest cache that is emptied before each call; null for none.</param>
internal readonly record struct LoopWay(CallOrder Order, bool IsCalled = false, long? EmptiedBytes = null)
{
    public static LoopWay Of(LoopShape loop) => new(loop.Order, loop.IsCalled, loop.EmptiedBytes);
}
