using Tachyscope;

// Finds the studies of this program: to add one, add a file like what follows.
return await Studies.RunAsync(args);

static class LampSignals
{
    // What is measured: several ways to do the same, on inputs of several sizes.
    public static Study Study => Tachyscope.Study
        .Of("count the flashes")
        .Inputs("flashes", [10, 100, 1_000], count => Message(count))
        .Baseline("LINQ", message => message.Count(sign => sign == '.'))
        .Variant("loop", message =>
        {
            var flashes = 0;
            foreach (var sign in message)
            {
                flashes += sign == '.' ? 1 : 0;
            }

            return flashes;
        })
        .Variant("span", message => message.AsSpan().Count('.'));

    // Made outside the timing, the same each time.
    private static string Message(int count)
    {
        var random = new Random(1);
        return string.Create(count, random, (signs, dice) =>
        {
            foreach (ref var sign in signs)
            {
                sign = dice.Next(2) == 0 ? '.' : '-';
            }
        });
    }
}
