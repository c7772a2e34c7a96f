using System.Data.Common;
using System.Globalization;
using Tachyscope.Analysis.Histories;
using Tachyscope.Runs;

namespace Tachyscope.History;

/// <summary>Saved runs: what was found of each as rows, its readings beside them.</summary>
/// <remarks>The tables are described in docs/history.md. Each thing asked is one connection and one transaction.</remarks>
public sealed class RunHistory
{
    /// <summary>Version of the tables that is written here.</summary>
    public static int CurrentVersion => HistoryTables.CurrentVersion;

    private readonly Store _store;

    private RunHistory(Store store) => _store = store;

    /// <summary>What it is called: a path, or a database and its server.</summary>
    public string Name => _store.Name;

    /// <summary>Opens a history, and makes one where there is none.</summary>
    /// <param name="place">Path of a file, or a PostgreSQL server as <c>postgresql://USER@HOST/DATABASE</c>.</param>
    /// <exception cref="HistoryException">It cannot be used, or was written by a newer tool.</exception>
    public static RunHistory Open(string place)
    {
        var history = new RunHistory(StoreOf(place, isReadOnly: false));
        history.Using(connection => HistoryTables.Migrate(history._store, connection, CurrentVersion));
        return history;
    }

    /// <summary>Opens a history to read it; whatever is wrong with it, nothing is written.</summary>
    /// <param name="place">Path of a file that is there, or a PostgreSQL server.</param>
    /// <exception cref="HistoryException">It cannot be read, or was written by a newer tool.</exception>
    public static RunHistory OpenToRead(string place)
    {
        var history = new RunHistory(StoreOf(place, isReadOnly: true));
        history.Using(connection =>
        {
            if (!history._store.HasTables(connection, null))
            {
                throw new HistoryException($"{history.Name} is no history: it has no runs; name another with --history, or save one "
                    + "first with --save.");
            }

            var version = HistoryTables.VersionOf(history._store, connection, null);
            if (version < CurrentVersion)
            {
                // Tables of an older tool are read once they are as they are now.
                Open(place);
            }
        });
        return history;
    }

    /// <summary>A history whose tables are of an older version, as an older tool left it.</summary>
    internal static void MakeOf(string place, int version)
    {
        var history = new RunHistory(StoreOf(place, isReadOnly: false));
        history.Using(connection => HistoryTables.Migrate(history._store, connection, version));
    }

    /// <summary>Saves a run.</summary>
    /// <param name="run">The run.</param>
    /// <param name="summary">What was found of it.</param>
    /// <param name="label">A name to find it by, which no other need have; null for none.</param>
    /// <returns>Its number.</returns>
    /// <exception cref="HistoryException">It could not be saved; nothing of it was.</exception>
    public long Save(Run run, RunSummary summary, string? label)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(summary);
        return SaveAll([(run, summary, label)])[0];
    }

    /// <summary>Saves several runs at once: all of them or none.</summary>
    /// <param name="runs">The runs, what was found of each, and its label or null.</param>
    /// <returns>Their numbers.</returns>
    /// <exception cref="HistoryException">They could not be saved; nothing of them was.</exception>
    public IReadOnlyList<long> SaveAll(IEnumerable<(Run Run, RunSummary Summary, string? Label)> runs)
    {
        ArgumentNullException.ThrowIfNull(runs);
        return Using(connection => Sql.InTransaction(connection, transaction =>
        {
            using var insert = Sql.Command(connection,
                $"INSERT INTO runs ({SummaryRows.RunColumns[4..]}) VALUES ({Sql.Places(11)}) RETURNING id", transaction, new object?[11]);
            using var cells = Sql.Command(connection,
                $"INSERT INTO cells (run_id, place, {SummaryRows.CellColumns}) VALUES ({Sql.Places(16)})", transaction, new object?[16]);
            using var bodies = Sql.Command(connection,
                $"INSERT INTO bodies (run_id, body) VALUES ({Sql.Places(2)})", transaction, new object?[2]);
            var ids = new List<long>();
            foreach (var (run, summary, label) in runs)
            {
                Sql.Set(insert, SummaryRows.ValuesOf(summary, label));
                var id = Convert.ToInt64(insert.ExecuteScalar(), CultureInfo.InvariantCulture);
                for (var place = 0; place < summary.Cells.Count; place++)
                {
                    Sql.Set(cells, [id, place, .. SummaryRows.ValuesOf(summary.Cells[place])]);
                    cells.ExecuteNonQuery();
                }

                Sql.Set(bodies, id, PackedRun.Of(run));
                bodies.ExecuteNonQuery();
                ids.Add(id);
            }

            return ids;
        }));
    }

    /// <summary>Runs without their cells, the newest first.</summary>
    /// <param name="query">Which ones.</param>
    /// <exception cref="HistoryException">The history cannot be read.</exception>
    public IReadOnlyList<RunSummary> List(RunQuery query)
    {
        ArgumentNullException.ThrowIfNull(query);
        return Using(connection =>
        {
            using var command = Sql.Command(connection, $"SELECT {SummaryRows.RunColumns} FROM runs", null);
            command.CommandText += SummaryRows.Where(command, query) + $" ORDER BY id DESC LIMIT {Math.Max(0, query.Most)}";
            using var reader = command.ExecuteReader();
            var found = new List<RunSummary>();
            while (reader.Read())
            {
                found.Add(SummaryRows.RunOf(reader));
            }

            return found;
        });
    }

    /// <summary>How many runs there are.</summary>
    /// <param name="query">Which ones; how many at most is of no account.</param>
    /// <exception cref="HistoryException">The history cannot be read.</exception>
    public long Count(RunQuery query)
    {
        ArgumentNullException.ThrowIfNull(query);
        return Using(connection =>
        {
            using var command = Sql.Command(connection, "SELECT COUNT(*) FROM runs", null);
            command.CommandText += SummaryRows.Where(command, query);
            return Convert.ToInt64(command.ExecuteScalar(), CultureInfo.InvariantCulture);
        });
    }

    /// <summary>The names of all studies that it holds.</summary>
    /// <exception cref="HistoryException">The history cannot be read.</exception>
    public IReadOnlyList<string> Studies() => Using(connection =>
    {
        // From one name to the next by the index: no faster way goes through every cell.
        using var command = Sql.Command(connection, """
            WITH RECURSIVE names (study) AS (SELECT MIN(study) FROM cells UNION ALL
                SELECT (SELECT MIN(study) FROM cells WHERE cells.study > names.study) FROM names WHERE names.study IS NOT NULL)
            SELECT study FROM names WHERE study IS NOT NULL
            """, null);
        using var reader = command.ExecuteReader();
        var found = new List<string>();
        while (reader.Read())
        {
            found.Add(reader.GetString(0));
        }

        return found;
    });

    /// <summary>Runs with their cells, the newest first; those of one study where the query names it.</summary>
    /// <param name="query">Which ones.</param>
    /// <exception cref="HistoryException">The history cannot be read.</exception>
    public IReadOnlyList<RunSummary> Series(RunQuery query)
    {
        ArgumentNullException.ThrowIfNull(query);
        var runs = List(query);
        if (runs.Count == 0)
        {
            return [];
        }

        var cells = Using(connection =>
        {
            using var command = Sql.Command(connection,
                $"SELECT run_id, {SummaryRows.CellColumns} FROM cells WHERE run_id >= @p0"
                    + $"{(query.Study is null ? "" : " AND study = @p1")} ORDER BY run_id, place",
                null, [runs[^1].Id, .. query.Study is { } study ? [study] : (object?[])[]]);
            using var reader = command.ExecuteReader();
            var found = new Dictionary<long, List<CellSummary>>();
            while (reader.Read())
            {
                var cell = SummaryRows.CellOf(reader, 1);
                (found.TryGetValue(reader.GetInt64(0), out var list) ? list : found[reader.GetInt64(0)] = []).Add(cell);
            }

            return found;
        });
        return [.. runs.Select(run => run with { Cells = cells.GetValueOrDefault(run.Id) ?? [] })];
    }

    /// <summary>A run with its cells; null when it is not there.</summary>
    /// <param name="id">Its number.</param>
    /// <exception cref="HistoryException">The history cannot be read.</exception>
    public RunSummary? Find(long id) => Using(connection =>
    {
        using var command = Sql.Command(connection, $"SELECT {SummaryRows.RunColumns} FROM runs WHERE id = @p0", null, id);
        RunSummary? run;
        using (var reader = command.ExecuteReader())
        {
            run = reader.Read() ? SummaryRows.RunOf(reader) : null;
        }

        if (run is null)
        {
            return null;
        }

        using var cells = Sql.Command(connection,
            $"SELECT {SummaryRows.CellColumns} FROM cells WHERE run_id = @p0 ORDER BY place", null, id);
        using var rows = cells.ExecuteReader();
        var found = new List<CellSummary>();
        while (rows.Read())
        {
            found.Add(SummaryRows.CellOf(rows, 0));
        }

        return run with { Cells = found };
    });

    /// <summary>A run with its readings; null when it is not there.</summary>
    /// <param name="id">Its number.</param>
    /// <exception cref="HistoryException">The history cannot be read, or this run in it.</exception>
    public Run? Read(long id)
    {
        var body = Using(connection =>
        {
            using var command = Sql.Command(connection, "SELECT body FROM bodies WHERE run_id = @p0", null, id);
            return command.ExecuteScalar() as byte[];
        });
        return body is null ? null : PackedRun.Read(body, $"run {id} of {Name}");
    }

    /// <summary>Gives a run another label, or takes it away.</summary>
    /// <param name="id">Its number.</param>
    /// <param name="label">The label; null for none.</param>
    /// <returns>Whether the run is there.</returns>
    /// <exception cref="HistoryException">The history cannot be written.</exception>
    public bool Label(long id, string? label) => Using(connection =>
    {
        using var command = Sql.Command(connection, "UPDATE runs SET label = @p0 WHERE id = @p1", null, label, id);
        return command.ExecuteNonQuery() > 0;
    });

    /// <summary>Removes runs.</summary>
    /// <param name="ids">Their numbers.</param>
    /// <exception cref="HistoryException">The history cannot be written; none of them is removed.</exception>
    public void Remove(IReadOnlyList<long> ids)
    {
        ArgumentNullException.ThrowIfNull(ids);
        Using(connection => Sql.InTransaction(connection, transaction =>
        {
            using var command = Sql.Command(connection, "DELETE FROM runs WHERE id = @p0", transaction, [null]);
            foreach (var id in ids)
            {
                Sql.Set(command, id);
                command.ExecuteNonQuery();
            }

            return true;
        }));
    }

    private static Store StoreOf(string place, bool isReadOnly)
    {
        ArgumentNullException.ThrowIfNull(place);
        return ServerStore.IsServer(place) ? new ServerStore(place) : new FileStore(Path.GetFullPath(place), isReadOnly);
    }

    private void Using(Action<DbConnection> work) => Using(connection =>
    {
        work(connection);
        return true;
    });

    private T Using<T>(Func<DbConnection, T> work)
    {
        try
        {
            using var connection = _store.Open();
            return work(connection);
        }
        catch (DbException exception)
        {
            throw new HistoryException(_store.Explain(exception), exception) { IsPassing = _store.IsPassing(exception) };
        }
    }
}
