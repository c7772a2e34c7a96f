using System.Data.Common;

namespace Tachyscope.History;

/// <summary>Statements with parameters by place: @p0, @p1, and so on.</summary>
internal static class Sql
{
    public static string Places(int count) => string.Join(", ", Enumerable.Range(0, count).Select(index => $"@p{index}"));

    public static DbCommand Command(DbConnection connection, string sql, DbTransaction? transaction, params object?[] values)
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

    public static void AddTo(DbCommand command, string name, object? value)
    {
        var parameter = command.CreateParameter();
        parameter.ParameterName = name;
        parameter.Value = value ?? DBNull.Value;
        command.Parameters.Add(parameter);
    }

    public static void Set(DbCommand command, params object?[] values)
    {
        for (var index = 0; index < values.Length; index++)
        {
            command.Parameters[index].Value = values[index] ?? DBNull.Value;
        }
    }

    public static T InTransaction<T>(DbConnection connection, Func<DbTransaction, T> work)
    {
        using var transaction = connection.BeginTransaction();
        var done = work(transaction);
        transaction.Commit();
        return done;
    }
}
