using Tachyscope;

// Levels of a tide gauge, added up here and by guests that the environment names.
static long Sum(int[] levels)
{
    var sum = 0L;
    foreach (var level in levels)
    {
        sum += level;
    }

    return sum;
}

static Func<string, Guest> Python(params string[] ways) => source
    => Guest.Python(source, [.. ways.Select(way => $"env FAULT={way} python3")]);

var named = (Environment.GetEnvironmentVariable("GUESTS") ?? "sound").Split(',');
Study study = Study
    .Of("add up levels")
    .Inputs("levels", [8], (count, seed) => Enumerable.Range(seed, count).ToArray())
    .Baseline("here", Sum)
    .Guest("guest", Python(named)("sources/faulty.py"));
Study large = Study
    .Of("add up a million levels")
    .Inputs("levels", [100_000], (count, seed) => Enumerable.Range(seed, count).ToArray())
    .Baseline("here", Sum)
    .Guest("in Python", Guest.Python("sources/faulty.py"))
    .Guest("on another operation", Guest.Python("sources/faulty.py").Calling("twice"), levels => levels, answer => answer.GetInt64() / 2)
    .Guest("on one there is none of", Guest.Python("sources/faulty.py").Calling("thrice"))
    .Guest("by a compiler there is none of", Guest.C("sources/chain.c", "gcc-99 -O2"))
    .Guest("in a file there is none of", Guest.C("sources/missing.c"))
    .Guest("in a program there is none of", Guest.Program("Harbour", "./missing"))
    .Guest("with a source that does not build", Guest.Go("sources/broken.go"));
Study wrong = Study
    .Of("mistakes")
    .Input("levels", seed => new int[seed])
    .Baseline("here", levels => Array.Sort(levels))
    .Guest("there", Guest.Python("sources/faulty.py"))
    .ChangesInput()
    .Threads(1, 2);
Study native = Study
    .Of("sums in C")
    .Inputs("levels", [8], (count, seed) => Enumerable.Range(seed, count).ToArray())
    .Baseline("here", Sum)
    .Guest("C", Guest.C("sources/chain.c", "cc -O1", "cc -O2"))
    .Guest("in Python", Guest.Python("sources/faulty.py"));
return await Studies.RunAsync(args, named is ["mistakes"] ? [wrong] : named is ["large"] ? [large] : named is ["native"] ? [native]
    : [study]);
