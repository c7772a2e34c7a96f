namespace Tachyscope.Lab.Storing;

/// <summary>Writes files so that they are whole at every moment: beside their place first, then moved there.</summary>
internal static class WholeFile
{
    public static void Write(string path, Action<Stream> write)
    {
        var full = Path.GetFullPath(path);
        var beside = $"{full}.{Environment.ProcessId}.part";
        try
        {
            using (var stream = File.Create(beside))
            {
                write(stream);
                stream.WriteByte((byte)'\n');
            }

            File.Move(beside, full, overwrite: true);
        }
        finally
        {
            File.Delete(beside);
        }
    }
}
