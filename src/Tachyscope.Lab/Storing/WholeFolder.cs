namespace Tachyscope.Lab.Storing;

/// <summary>Puts folders in place as a whole, though several runs may be at the same one.</summary>
internal static class WholeFolder
{
    /// <summary>Moves a folder to its place; where another run was first, that one stays, and this one goes.</summary>
    public static void Move(string beside, string place)
    {
        try
        {
            Directory.Move(beside, place);
        }
        catch (IOException) when (Directory.Exists(place))
        {
            Directory.Delete(beside, recursive: true);
        }
    }
}
