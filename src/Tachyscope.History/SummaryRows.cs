using System.Data.Common;
using System.Globalization;
using Tachyscope.Analysis.Histories;
using Tachyscope.Runs;

namespace Tachyscope.History;

/// <summary>What was found of runs and cells, as rows of a history.</summary>
internal static class SummaryRows
{
    public const string RunColumns =
        "id, label, started, state, tool, command, commit_id, branch, is_dirty, stamp, machine, runtime";

    public const string CellColumns =
        "study, variant, input, target, nanoseconds, is_bound, beats, log_error, sittings, bytes, is_quiet, input_hash, answer, "
            + "answer_words";

    /// <summary>Values of the columns of a run but for its number.</summary>
    public static object?[] ValuesOf(RunSummary run, string? label) =>
    [
        label, run.Started.UtcDateTime.ToString("O", CultureInfo.InvariantCulture), run.State.ToString(), run.Tool, run.Command,
        run.Code.Commit, run.Code.Branch, run.Code.IsDirty ? 1 : 0, run.Code.Stamp, run.Machine, run.Runtime,
    ];

    /// <summary>Values of the columns of a cell.</summary>
    public static object?[] ValuesOf(CellSummary cell) =>
    [
        cell.Study, cell.Variant, cell.Input, cell.Target, cell.Nanoseconds, cell.IsBound ? 1 : 0, Known(cell.Beats), Known(cell.LogError),
        cell.Sittings, Known(cell.Bytes), cell.IsQuiet ? 1 : 0, cell.Work?.Input, cell.Work?.Answer, cell.Work?.Told,
    ];

    public static RunSummary RunOf(DbDataReader row) => new()
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

    public static CellSummary CellOf(DbDataReader row, int from) => new()
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
        Work = Work(Text(row, from + 11), Text(row, from + 12), Text(row, from + 13)),
    };

    public static string Where(DbCommand command, RunQuery query)
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
                Sql.AddTo(command, name, value);
            }
        }
    }

    private static CellWork? Work(string? input, string? answer, string? told)
        => input is null && answer is null ? null : new CellWork { Input = input, Answer = answer, Told = told };

    private static string? Text(DbDataReader row, int column) => row.IsDBNull(column) ? null : row.GetString(column);

    private static double Number(DbDataReader row, int column) => row.IsDBNull(column) ? double.NaN : row.GetDouble(column);

    private static double? Known(double value) => double.IsFinite(value) ? value : null;
}
