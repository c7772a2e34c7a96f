using System.Data.Common;
using Microsoft.Data.Sqlite;

namespace Tachyscope.History;

/// <summary>A history in a file of SQLite's.</summary>
internal sealed class FileStore(string path, bool isReadOnly) : Store
{
    private const int Full = 13;
    private const int ReadOnly = 8;
    private const int CannotOpen = 14;
    private const int NoDatabase = 26;
    private const int Corrupt = 11;
    private const int PatienceSeconds = 10;

    // As it would be typed here.
    public override string Name { get; } = Path.GetRelativePath(".", path) is var near
        && near.StartsWith("..", StringComparison.Ordinal) ? path : near;

    public override string Identity => "INTEGER PRIMARY KEY AUTOINCREMENT";

    public override string Bytes => "BLOB";

    public override DbConnection Open()
    {
        // What somebody who was killed left half is undone by whoever comes next, who has to be able to.
        var mode = !isReadOnly ? SqliteOpenMode.ReadWriteCreate
            : File.Exists($"{path}-journal") ? SqliteOpenMode.ReadWrite : SqliteOpenMode.ReadOnly;
        var connection = new SqliteConnection(new SqliteConnectionStringBuilder
        {
            DataSource = path,
            Mode = mode,
            DefaultTimeout = PatienceSeconds,
            Pooling = false,
        }.ToString());
        try
        {
            connection.Open();
            // What is saved is on the disk when that is told. One file without others beside it can be copied, and lies on any file system.
            Ask(connection, "PRAGMA foreign_keys = ON");
            if (!isReadOnly)
            {
                Ask(connection, "PRAGMA synchronous = FULL");
            }

            return connection;
        }
        catch (DbException)
        {
            connection.Dispose();
            throw;
        }
    }

    // Its transactions that write wait for each other from their beginning.
    public override void Lock(DbConnection connection, DbTransaction transaction)
    {
    }

    public override bool HasTables(DbConnection connection, DbTransaction? transaction)
        => Ask(connection, "SELECT 1 FROM sqlite_master WHERE type = 'table' AND name = 'history_version'", transaction) is not null;

    public override string Explain(DbException exception) => (exception as SqliteException)?.SqliteErrorCode switch
    {
        SQLitePCL.raw.SQLITE_BUSY or SQLitePCL.raw.SQLITE_LOCKED =>
            $"{Name} has been in use by others for {PatienceSeconds} s; try again when they are done.",
        Full => $"{Name} could not be written: the disk is full.",
        ReadOnly => $"{Name} may not be written; ask for the right to, or name another with --history.",
        CannotOpen => $"{Name} could not be opened; name a file in a folder that is there and may be used.",
        NoDatabase => $"{Name} is no history: it holds something else; name another with --history.",
        Corrupt => $"{Name} is damaged; tachyscope history export FOLDER takes out what can still be read, and history import puts it "
            + "into a new one.",
        _ => $"{Name} could not be used: {exception.Message}",
    };

    // What is no database will not become one, nor does a folder appear.
    public override bool IsPassing(DbException exception)
        => exception is not SqliteException { SqliteErrorCode: NoDatabase } && Directory.Exists(Path.GetDirectoryName(path));
}
