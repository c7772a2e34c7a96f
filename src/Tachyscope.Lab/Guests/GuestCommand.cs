namespace Tachyscope.Lab.Guests;

/// <summary>A command with its arguments, as it is written in one line.</summary>
/// <param name="Program">What is started.</param>
/// <param name="Arguments">What is handed to it.</param>
internal sealed record GuestCommand(string Program, IReadOnlyList<string> Arguments)
{
    /// <summary>Takes a line apart at its blanks; what stands between quotation marks stays together.</summary>
    /// <returns>The command; null for an empty line, or one whose quotation is not closed.</returns>
    public static GuestCommand? Parse(string line)
    {
        var words = new List<string>();
        var word = new System.Text.StringBuilder();
        char? quote = null;
        var isWord = false;
        foreach (var letter in line)
        {
            if (quote is null && char.IsWhiteSpace(letter))
            {
                if (isWord)
                {
                    words.Add(word.ToString());
                }

                word.Clear();
                isWord = false;
                continue;
            }

            isWord = true;
            if (quote == letter)
            {
                quote = null;
            }
            else if (quote is null && letter is '"' or '\'')
            {
                quote = letter;
            }
            else
            {
                word.Append(letter);
            }
        }

        if (isWord)
        {
            words.Add(word.ToString());
        }

        return quote is not null || words.Count == 0 ? null : new GuestCommand(words[0], words[1..]);
    }
}
