using DiffPlex.Chunkers;

namespace Tachyscope.Code.Differences;

/// <summary>Puts two texts side by side.</summary>
public static class SideBySide
{
    /// <summary>Lines of two texts, those that are the same beside each other.</summary>
    /// <param name="left">The lines on the left.</param>
    /// <param name="right">The lines on the right.</param>
    public static IReadOnlyList<LineDifference> Of(IReadOnlyList<string> left, IReadOnlyList<string> right)
    {
        ArgumentNullException.ThrowIfNull(left);
        ArgumentNullException.ThrowIfNull(right);
        var found = DiffPlex.Differ.Instance.CreateDiffs(
            string.Join('\n', left), string.Join('\n', right), ignoreWhiteSpace: false, ignoreCase: false, LineChunker.Instance);
        List<LineDifference> rows = [];
        var (at, atRight) = (0, 0);
        foreach (var block in found.DiffBlocks)
        {
            Same(block.DeleteStartA);
            for (var i = 0; i < Math.Max(block.DeleteCountA, block.InsertCountB); i++)
            {
                rows.Add(new(i < block.DeleteCountA ? at + i : null, i < block.InsertCountB ? atRight + i : null, IsSame: false));
            }

            (at, atRight) = (at + block.DeleteCountA, atRight + block.InsertCountB);
        }

        Same(left.Count);
        return rows;

        void Same(int until)
        {
            while (at < until)
            {
                rows.Add(new(at++, atRight++, IsSame: true));
            }
        }
    }
}
