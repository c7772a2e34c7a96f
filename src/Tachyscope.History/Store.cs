using System.Data.Common;

namespace Tachyscope.History;

/// <summary>What differs between the databases that keep histories; they speak the same SQL otherwise.</summary>
internal abstract class Store
{
    /// <summary>What it is called where something is wrong; never with a password.</summary>
    public abstract string Name { get; }

    /// <summary>The type of a number that counts up by itself and names a row.</summary>
    public abstract string Identity { get; }

    /// <summary>The type of bytes.</summary>
    public abstract string Bytes { get; }

    /// <summary>Opens a connection.</summary>
    public abstract DbConnection Open();

    /// <summary>Has others wait who would make or alter tables at the same time.</summary>
    public abstract void Lock(DbConnection connection, DbTransaction transaction);

    /// <summary>Whether the tables are there.</summary>
    public abstract bool HasTables(DbConnection connection, DbTransaction? transaction);

    /// <summary>What went wrong, in a sentence with the way out.</summary>
    public abstract string Explain(DbException exception);

    /// <summary>Whether that may pass by itself.</summary>
    public abstract bool IsPassing(DbException exception);

    /// <summary>Answers what a statement answers first.</summary>
    protected static object? Ask(DbConnection connection, string sql, DbTransaction? transaction = null)
    {
        using var command = connection.CreateCommand();
        command.Transaction = transaction;
#pragma warning disable CA2100 // Nothing of the user's is in it.
        command.CommandText = sql;
#pragma warning restore CA2100
        return command.ExecuteScalar();
    }
}
