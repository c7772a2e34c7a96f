using Tachyscope.Analysis.Histories;
using Tachyscope.Analysis.Tests;
using Tachyscope.Runs;

namespace Tachyscope.History.Tests;

/// <summary>What holds of every history, wherever it is kept.</summary>
public abstract class RunHistoryTests
{
    internal static readonly Run Simulated = new RunSimulator { Sittings = 3, Rounds = 4, Times = [100, 50], Bytes = [24, 0] }.Make(1);

    /// <summary>Where the history of this test is.</summary>
    protected abstract string Place { get; }

    [Fact]
    public void A_run_is_found_again_as_it_was()
    {
        var history = RunHistory.Open(Place);
        var run = Simulated with
        {
            Command = "tachyscope run 'lamps'", Code = new CodeState { Commit = "abc123", Branch = "main", IsDirty = true, Stamp = "s" },
        };
        var summary = RunSummary.Of(run);
        summary = summary with
        {
            Cells = [summary.Cells[0] with { Work = new CellWork { Input = "F00D", Answer = "2 7 3.5 1E-09", Told = "[3, 4]" } },
                .. summary.Cells.Skip(1)],
        };

        var id = history.Save(run, summary, "first ‘light’; DROP TABLE runs");
        var found = RunHistory.OpenToRead(Place).Find(id)!;

        Assert.Equal(summary with { Id = id, Label = "first ‘light’; DROP TABLE runs", Cells = [] }, found with { Cells = [] });
        Assert.Equal(summary.Cells, found.Cells);
        Assert.Equal(run.Studies[0].Sittings[0].Readings, history.Read(id)!.Studies[0].Sittings[0].Readings);
        Assert.Null(history.Find(id + 1));
        Assert.Null(history.Read(id + 1));
    }

    [Fact]
    public void Runs_are_listed_newest_first_by_what_is_asked()
    {
        var history = RunHistory.Open(Place);
        var fog = Simulated with { Studies = [Simulated.Studies[0] with { Study = Simulated.Studies[0].Study with { Name = "fog" } }] };
        Save("one", "aaa1", "main", Simulated);
        Save("two", "aaa2", "main", fog);
        Save(null, "bbb", "pier", Simulated);

        Assert.Equal([3L, 2, 1], Ids(new RunQuery()));
        Assert.Equal([3L], Ids(new RunQuery { Most = 1 }));
        Assert.Equal([2L, 1], Ids(new RunQuery { BeforeId = 3 }));
        Assert.Equal([2L], Ids(new RunQuery { Label = "two" }));
        Assert.Equal([2L, 1], Ids(new RunQuery { Commit = "aaa" }));
        Assert.Equal([3L], Ids(new RunQuery { Branch = "pier" }));
        Assert.Equal([3L, 1], Ids(new RunQuery { Study = "simulated" }));
        Assert.Empty(Ids(new RunQuery { Machine = "another" }));
        Assert.Equal([(3L, 2), (1L, 2)],
            history.Series(new RunQuery { Study = "simulated" }).Select(run => (run.Id, run.Cells.Count)));
        Assert.Empty(history.Series(new RunQuery { Study = "none" }));

        IEnumerable<long> Ids(RunQuery query) => history.List(query).Select(run => run.Id);

        void Save(string? label, string commit, string branch, Run run)
            => history.Save(run, RunSummary.Of(run) with { Code = new CodeState { Commit = commit, Branch = branch } }, label);
    }

    [Fact]
    public void Labels_change_and_runs_go()
    {
        var history = RunHistory.Open(Place);
        var summary = RunSummary.Of(Simulated);
        long[] ids = [history.Save(Simulated, summary, null), history.Save(Simulated, summary, null),
            history.Save(Simulated, summary, "kept")];

        Assert.True(history.Label(ids[0], "lit"));
        Assert.True(history.Label(ids[2], null));
        Assert.False(history.Label(99, "nobody"));
        history.Remove([ids[1], 99]);

        Assert.Equal([(3L, null), (1L, "lit")], history.List(new RunQuery()).Select(run => (run.Id, run.Label)));
        Assert.Null(history.Read(ids[1]));
        // A number is never given twice.
        Assert.Equal(4, history.Save(Simulated, summary, null));
    }

    [Fact]
    public async Task Several_that_save_at_once_all_do()
    {
        var summary = RunSummary.Of(Simulated);

        var ids = await Task.WhenAll(Enumerable.Range(0, 12)
            .Select(_ => Task.Run(() => RunHistory.Open(Place).Save(Simulated, summary, null))));

        Assert.Equal(Enumerable.Range(1, 12).Select(id => (long)id), ids.Order());
        Assert.All(ids, id => Assert.NotNull(RunHistory.OpenToRead(Place).Read(id)));
    }
}
