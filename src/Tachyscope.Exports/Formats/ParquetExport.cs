using Parquet.Serialization;

namespace Tachyscope.Exports.Formats;

/// <summary>Writes every reading as a Parquet table, with the columns of the table of comma-separated values.</summary>
internal static class ParquetExport
{
    public static async Task WriteAsync(Export export, Stream stream)
    {
        // The format seeks while it is written.
        using var whole = new MemoryStream();
        await ParquetSerializer.SerializeAsync(ReadingRow.Of(export.Run), whole);
        whole.Position = 0;
        await whole.CopyToAsync(stream);
    }
}
