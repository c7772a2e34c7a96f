using System.Data.Common;
using System.Globalization;
using System.IO.Compression;
using Tachyscope.Analysis.Histories;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.History;

/// <summary>Saved runs: what was found of each as rows, its readings beside them.</summary>
/// <remarks>The tables are described in docs/history.md. Each thing asked is one connection and one transaction.</remarks>
public sealed class RunHistory
{
    /// <summary>Version of the tables that is written here.</summary>
    public static int CurrentVersion => Steps.Length;

    private const string RunColumns =
        "id, label, started, state, tool, command, commit_id, branch, is_dirty, stamp, machine, runtime";

    private const string CellColumns =
        "study, variant, input, target, nanoseconds, is_bound, beats, log_error, sittings, bytes, is_quiet";

    // Each step leads from the version of its index to the next.
    private static readonly Func<Store, string>[] Steps =
    [
        store => $"""
            CREATE TABLE runs (id {store.Identity}, label TEXT, started TEXT NOT NULL, state TEXT NOT NULL, tool TEXT NOT NULL,
                command TEXT, commit_id TEXT, branch TEXT, is_dirty INTEGER NOT NULL, stamp TEXT,
                machine TEXT NOT NULL, runtime TEXT NOT NULL);
            CREATE TABLE cells (run_id BIGINT NOT NULL REFERENCES runs (id) ON DELETE CASCADE, place INTEGER NOT NULL, study TEXT NOT NULL,
                variant TEXT NOT NULL, input TEXT NOT NULL, target TEXT NOT NULL, nanoseconds DOUBLE PRECISION NOT NULL,
                is_bound INTEGER NOT NULL, beats DOUBLE PRECISION, log_error DOUBLE PRECISION, sittings INTEGER NOT NULL,
                bytes DOUBLE PRECISION, is_quiet INTEGER NOT NULL, PRIMARY KEY (run_id, place));
            CREATE TABLE bodies (run_id BIGINT PRIMARY KEY REFERENCES runs (id) ON DELETE CASCADE, body {store.Bytes} NOT NULL);
            """,
        _ => """
            CREATE INDEX cells_by_study ON cells (study, run_id);
            CREATE INDEX runs_by_label ON runs (label);
            CREATE INDEX runs_by_commit ON runs (commit_id);
            CREATE INDEX runs_by_branch ON runs (branch);
            """,
    ];

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
        history.Using(connection => history.Migrate(connection, CurrentVersion));
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

            var version = history.VersionOf(connection, null);
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
        history.Using(connection => history.Migrate(connection, version));
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
        return Using(connection => InTransaction(connection, transaction =>
        {
            using var insert = Command(connection, $"INSERT INTO runs ({RunColumns[4..]}) VALUES ({Places(11)}) RETURNING id", transaction,
                new object?[11]);
            using var cells = Command(connection, $"INSERT INTO cells (run_id, place, {CellColumns}) VALUES ({Places(13)})", transaction,
                new object?[13]);
            using var bodies = Command(connection, $"INSERT INTO bodies (run_id, body) VALUES ({Places(2)})", transaction, new object?[2]);
            var ids = new List<long>();
            foreach (var (run, summary, label) in runs)
            {
                Set(insert, label, summary.Started.UtcDateTime.ToString("O", CultureInfo.InvariantCulture), summary.State.ToString(),
                    summary.Tool, summary.Command, summary.Code.Commit, summary.Code.Branch, summary.Code.IsDirty ? 1
                        : 0, summary.Code.Stamp,
                    summary.Machine, summary.Runtime);
                var id = Convert.ToInt64(insert.ExecuteScalar(), CultureInfo.InvariantCulture);
                for (var place = 0; place < summary.Cells.Count; place++)
                {
                    var cell = summary.Cells[place];
                    Set(cells, id, place, cell.Study, cell.Variant, cell.Input, cell.Target, cell.Nanoseconds, cell.IsBound ? 1 : 0,
                        Known(cell.Beats), Known(cell.LogError), cell.Sittings, Known(cell.Bytes), cell.IsQuiet ? 1 : 0);
                    cells.ExecuteNonQuery();
                }

                Set(bodies, id, Packed(run));
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
            using var command = Command(connection, $"SELECT {RunColumns} FROM runs", null);
            command.CommandText += Where(command, query) + $" ORDER BY id DESC LIMIT {Math.Max(0, query.Most)}";
            using var reader = command.ExecuteReader();
            var found = new List<RunSummary>();
            while (reader.Read())
            {
                found.Add(RunOf(reader));
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
            using var command = Command(connection, "SELECT COUNT(*) FROM runs", null);
            command.CommandText += Where(command, query);
            return Convert.ToInt64(command.ExecuteScalar(), CultureInfo.InvariantCulture);
        });
    }

    /// <summary>The names of all studies that it holds.</summary>
    /// <exception cref="HistoryException">The history cannot be read.</exception>
    public IReadOnlyList<string> Studies() => Using(connection =>
    {
        // From one name to the next by the index: no faster way goes through every cell.
        using var command = Command(connection, """
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
            using var command = Command(connection,
                $"SELECT run_id, {CellColumns} FROM cells WHERE run_id >= @p0{(query.Study is null ? "" : " AND study = @p1")} ORDER "
                    + "BY run_id, place",
                null, [runs[^1].Id, .. query.Study is { } study ? [study] : (object?[])[]]);
            using var reader = command.ExecuteReader();
            var found = new Dictionary<long, List<CellSummary>>();
            while (reader.Read())
            {
                (found.TryGetValue(reader.GetInt64(0), out var list) ? list : found[reader.GetInt64(0)] = []).Add(CellOf(reader, 1));
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
        using var command = Command(connection, $"SELECT {RunColumns} FROM runs WHERE id = @p0", null, id);
        RunSummary? run;
        using (var reader = command.ExecuteReader())
        {
            run = reader.Read() ? RunOf(reader) : null;
        }

        if (run is null)
        {
            return null;
        }

        using var cells = Command(connection, $"SELECT {CellColumns} FROM cells WHERE run_id = @p0 ORDER BY place", null, id);
        using var rows = cells.ExecuteReader();
        var found = new List<CellSummary>();
        while (rows.Read())
        {
            found.Add(CellOf(rows, 0));
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
            using var command = Command(connection, "SELECT body FROM bodies WHERE run_id = @p0", null, id);
            return command.ExecuteScalar() as byte[];
        });
        return body is null ? null : Unpacked(body, $"run {id} of {Name}");
    }

    /// <summary>Gives a run another label, or takes it away.</summary>
    /// <param name="id">Its number.</param>
    /// <param name="label">The label; null for none.</param>
    /// <returns>Whether the run is there.</returns>
    /// <exception cref="HistoryException">The history cannot be written.</exception>
    public bool Label(long id, string? label) => Using(connection =>
    {
        using var command = Command(connection, "UPDATE runs SET label = @p0 WHERE id = @p1", null, label, id);
        return command.ExecuteNonQuery() > 0;
    });

    /// <summary>Removes runs.</summary>
    /// <param name="ids">Their numbers.</param>
    /// <exception cref="HistoryException">The history cannot be written; none of them is removed.</exception>
    public void Remove(IReadOnlyList<long> ids)
    {
        ArgumentNullException.ThrowIfNull(ids);
        Using(connection => InTransaction(connection, transaction =>
        {
            using var command = Command(connection, "DELETE FROM runs WHERE id = @p0", transaction, [null]);
            foreach (var id in ids)
            {
                Set(command, id);
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

    private void Migrate(DbConnection connection, int wanted)
    {
        if (_store.HasTables(connection, null) && VersionOf(connection, null) == wanted)
        {
            return;
        }

        InTransaction(connection, transaction =>
        {
            _store.Lock(connection, transaction);
            // Another may have been quicker.
            if (!_store.HasTables(connection, transaction))
            {
                Do("CREATE TABLE history_version (version INTEGER NOT NULL); INSERT INTO history_version (version) VALUES (0);");
            }

            for (var version = VersionOf(connection, transaction); version < wanted; version++)
            {
                Do(Steps[version](_store));
                Do($"UPDATE history_version SET version = {version + 1}");
            }

            return true;

            void Do(string sql)
            {
                using var command = Command(connection, sql, transaction);
                command.ExecuteNonQuery();
            }
        });
    }

    private int VersionOf(DbConnection connection, DbTransaction? transaction)
    {
        using var command = Command(connection, "SELECT version FROM history_version", transaction);
        var version = Convert.ToInt32(command.ExecuteScalar(), CultureInfo.InvariantCulture);
        return version <= CurrentVersion ? version : throw new HistoryException(string.Create(CultureInfo.InvariantCulture,
            $"{Name} is a history of version {version}, and this tool knows {CurrentVersion} at most; take a newer tool."));
    }

    private static string Where(DbCommand command, RunQuery query)
    {
        List<string> conditions = [];
        Add("id < {0}", query.BeforeId);
        Add("machine = {0}", query.Machine);
        Add("label = {0}", query.Label);
        Add("branch = {0}", query.Branch);
        Add("commit_id LIKE {0}", query.Commit is { } commit ? $"{commit}%" : null);
        Add("EXISTS (SELECT 1 FROM cells WHERE cells.run_id = runs.id AND study = {0})", query.Study);
        return conditions.Count == 0 ? "" : $" WHERE {string.Join(" AND ", conditions)}";

        void Add(string condition, object? value)
        {
            if (value is not null)
            {
                var name = $"@p{command.Parameters.Count}";
                conditions.Add(string.Format(CultureInfo.InvariantCulture, condition, name));
                AddTo(command, name, value);
            }
        }
    }

    private static RunSummary RunOf(DbDataReader row) => new()
    {
        Id = row.GetInt64(0),
        Label = Text(row, 1),
        Started = DateTimeOffset.Parse(row.GetString(2), CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal),
        State = Enum.TryParse<RunState>(row.GetString(3), out var state) ? state : RunState.Complete,
        Tool = row.GetString(4),
        Command = Text(row, 5),
        Code = new CodeState { Commit = Text(row, 6), Branch = Text(row, 7), IsDirty = row.GetInt32(8) != 0, Stamp = Text(row, 9) },
        Machine = row.GetString(10),
        Runtime = row.GetString(11),
    };

    private static CellSummary CellOf(DbDataReader row, int from) => new()
    {
        Study = row.GetString(from),
        Variant = row.GetString(from + 1),
        Input = row.GetString(from + 2),
        Target = row.GetString(from + 3),
        Nanoseconds = row.GetDouble(from + 4),
        IsBound = row.GetInt32(from + 5) != 0,
        Beats = Number(row, from + 6),
        LogError = Number(row, from + 7),
        Sittings = row.GetInt32(from + 8),
        Bytes = Number(row, from + 9),
        IsQuiet = row.GetInt32(from + 10) != 0,
    };

    private static string? Text(DbDataReader row, int column) => row.IsDBNull(column) ? null : row.GetString(column);

    private static double Number(DbDataReader row, int column) => row.IsDBNull(column) ? double.NaN : row.GetDouble(column);

    private static double? Known(double value) => double.IsFinite(value) ? value : null;

    private static string Places(int count) => string.Join(", ", Enumerable.Range(0, count).Select(index => $"@p{index}"));

    private static DbCommand Command(DbConnection connection, string sql, DbTransaction? transaction, params object?[] values)
    {
        var command = connection.CreateCommand();
#pragma warning disable CA2100 // Values of the user's are parameters.
        command.CommandText = sql;
#pragma warning restore CA2100
        command.Transaction = transaction;
        for (var index = 0; index < values.Length; index++)
        {
            AddTo(command, $"@p{index}", values[index]);
        }

        return command;
    }

    private static void AddTo(DbCommand command, string name, object? value)
    {
        var parameter = command.CreateParameter();
        parameter.ParameterName = name;
        parameter.Value = value ?? DBNull.Value;
        command.Parameters.Add(parameter);
    }

    private static void Set(DbCommand command, params object?[] values)
    {
        for (var index = 0; index < values.Length; index++)
        {
            command.Parameters[index].Value = values[index] ?? DBNull.Value;
        }
    }

    private static byte[] Packed(Run run)
    {
        using var packed = new MemoryStream();
        using (var packer = new BrotliStream(packed, CompressionLevel.Fastest, leaveOpen: true))
        {
            RunFile.Write(run, packer);
        }

        return packed.ToArray();
    }

    private static Run Unpacked(byte[] body, string name)
    {
        try
        {
            using var unpacked = new MemoryStream();
            using (var unpacker = new BrotliStream(new MemoryStream(body), CompressionMode.Decompress))
            {
                unpacker.CopyTo(unpacked);
            }

            return RunFile.Read(unpacked.ToArray(), name);
        }
        catch (InvalidDataException exception)
        {
            throw new HistoryException($"{name} is damaged: {exception.Message}", exception);
        }
        catch (InvalidOperationException exception)
        {
            throw new HistoryException($"{name} is damaged: its readings cannot be unpacked; remove it with history remove.", exception);
        }
    }

    private static T InTransaction<T>(DbConnection connection, Func<DbTransaction, T> work)
    {
        using var transaction = connection.BeginTransaction();
        var done = work(transaction);
        transaction.Commit();
        return done;
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
