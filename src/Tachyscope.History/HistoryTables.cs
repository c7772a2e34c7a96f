using System.Data.Common;
using System.Globalization;

namespace Tachyscope.History;

/// <summary>The tables of a history, and how those of an older version become those of now.</summary>
internal static class HistoryTables
{
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
        _ => """
            ALTER TABLE cells ADD COLUMN input_hash TEXT;
            ALTER TABLE cells ADD COLUMN answer TEXT;
            ALTER TABLE cells ADD COLUMN answer_words TEXT;
            """,
    ];

    public static int CurrentVersion => Steps.Length;

    public static void Migrate(Store store, DbConnection connection, int wanted)
    {
        if (store.HasTables(connection, null) && VersionOf(store, connection, null) == wanted)
        {
            return;
        }

        Sql.InTransaction(connection, transaction =>
        {
            store.Lock(connection, transaction);
            // Another may have been quicker.
            if (!store.HasTables(connection, transaction))
            {
                Do("CREATE TABLE history_version (version INTEGER NOT NULL); INSERT INTO history_version (version) VALUES (0);");
            }

            for (var version = VersionOf(store, connection, transaction); version < wanted; version++)
            {
                Do(Steps[version](store));
                Do($"UPDATE history_version SET version = {version + 1}");
            }

            return true;

            void Do(string sql)
            {
                using var command = Sql.Command(connection, sql, transaction);
                command.ExecuteNonQuery();
            }
        });
    }

    public static int VersionOf(Store store, DbConnection connection, DbTransaction? transaction)
    {
        using var command = Sql.Command(connection, "SELECT version FROM history_version", transaction);
        var version = Convert.ToInt32(command.ExecuteScalar(), CultureInfo.InvariantCulture);
        return version <= CurrentVersion ? version : throw new HistoryException(string.Create(CultureInfo.InvariantCulture,
            $"{store.Name} is a history of version {version}, and this tool knows {CurrentVersion} at most; take a newer tool."));
    }
}
