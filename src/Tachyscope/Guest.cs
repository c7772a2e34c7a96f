namespace Tachyscope;

/// <summary>An implementation in another language, that a study measures beside its own.</summary>
/// <remarks>
/// Its source is built into a worker of its own by a kit that comes with the tool; docs/guests.md says how one is written. A program
/// that keeps to the worker protocol by itself is a guest as well: <see cref="Program"/>.
/// </remarks>
public sealed record Guest
{
    private Guest(string language, string? source, IReadOnlyList<string> builds)
    {
        (Language, Source, Builds) = (language, source, builds);
    }

    /// <summary>Name of the language, such as "C".</summary>
    public string Language { get; }

    /// <summary>Its source file, from the folder of the study's project; null for a program that is there already.</summary>
    public string? Source { get; }

    /// <summary>How it is built or started, each a row of the study, such as "gcc-12 -O3"; empty for the usual way of its
    /// language.</summary>
    public IReadOnlyList<string> Builds { get; }

    /// <summary>Name of its operation, where the guest has several; null for the first.</summary>
    public string? Operation { get; private init; }

    /// <summary>A guest in C.</summary>
    /// <param name="source">Its source file, from the folder of the study's project.</param>
    /// <param name="builds">Compilers with their flags, such as "gcc-12 -O2" and "clang-16 -O3 -march=native"; "cc -O2" by default.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static Guest C(string source, params string[] builds) => Of("C", source, builds);

    /// <summary>A guest in C++.</summary>
    /// <param name="source">Its source file, from the folder of the study's project.</param>
    /// <param name="builds">Compilers with their flags, such as "clang++-16 -O3 -stdlib=libc++"; "c++ -O2" by default.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static Guest Cpp(string source, params string[] builds) => Of("C++", source, builds);

    /// <summary>A guest in Rust.</summary>
    /// <param name="source">Its source file, from the folder of the study's project.</param>
    /// <param name="builds">The compiler with its flags, such as "rustc -O -C target-cpu=native"; "rustc -O" by default.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static Guest Rust(string source, params string[] builds) => Of("Rust", source, builds);

    /// <summary>A guest in Go.</summary>
    /// <param name="source">Its source file, from the folder of the study's project.</param>
    /// <param name="builds">The go command with flags of its build, such as "go -gcflags=-B"; "go" by default.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static Guest Go(string source, params string[] builds) => Of("Go", source, builds);

    /// <summary>A guest in Java.</summary>
    /// <param name="source">Its source file, whose class has the file's name, from the folder of the study's project.</param>
    /// <param name="builds">The java command with its flags, such as "java -XX:+UseSerialGC"; "java" by default.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static Guest Java(string source, params string[] builds) => Of("Java", source, builds);

    /// <summary>A guest in JavaScript.</summary>
    /// <param name="source">Its source file, from the folder of the study's project.</param>
    /// <param name="builds">Runtimes with their flags, such as "node --max-lazy"; "node" by default.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static Guest JavaScript(string source, params string[] builds) => Of("JavaScript", source, builds);

    /// <summary>A guest in Python.</summary>
    /// <param name="source">Its source file, from the folder of the study's project.</param>
    /// <param name="builds">Interpreters with their flags, such as "python3.11" and "python3.12 -O"; "python3" by default.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static Guest Python(string source, params string[] builds) => Of("Python", source, builds);

    /// <summary>A variant of the study's own as this project, built for another target, has it: a row beside the others, and not a table of
    /// its own.</summary>
    /// <param name="variant">Name of the variant's row.</param>
    /// <param name="targets">Recipes of targets, such as "net8.0" or "aot"; each is a row of the study.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static Guest OnTarget(string variant, params string[] targets)
    {
        ArgumentNullException.ThrowIfNull(variant);
        ArgumentNullException.ThrowIfNull(targets);
        return new Guest("C#", null, [.. targets]) { Operation = variant, IsOnTarget = true };
    }

    /// <summary>A program that keeps to the worker protocol by itself, built by whoever wrote it.</summary>
    /// <param name="language">Name of its language, to be shown.</param>
    /// <param name="commands">How it is started, from the folder of the study's project; each command is a row of the study.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static Guest Program(string language, params string[] commands)
    {
        ArgumentNullException.ThrowIfNull(language);
        ArgumentNullException.ThrowIfNull(commands);
        return new Guest(language, null, [.. commands]);
    }

    /// <summary>Programs or scripts that are started anew for each call, start-up included.</summary>
    /// <param name="commands">Commands, from the folder of the study's project, each a row of the study, such as "sort -n" or "sh -c 'sort
    /// | uniq'".</param>
    /// <exception cref="ArgumentNullException"><paramref name="commands"/> is null.</exception>
    /// <remarks>
    /// The input comes on standard input: a text as it is, anything else as JSON. The answer is what is written to standard output, as a
    /// text without the line's end. An exit code other than 0 is a failure.
    /// </remarks>
    public static Guest Whole(params string[] commands)
    {
        ArgumentNullException.ThrowIfNull(commands);
        return new Guest("command", null, [.. commands]) { IsWhole = true };
    }

    /// <summary>The same programs, with commands that are run before and after each call, outside the timing.</summary>
    /// <param name="before">Prepares a call, such as "cp levels.txt work.txt"; null for nothing.</param>
    /// <param name="after">Cleans up, such as "rm work.txt"; null for nothing.</param>
    public Guest Around(string? before, string? after) => this with { Before = before, After = after };

    /// <summary>
    /// The same programs, each with a row more in which the program and files are pushed out of the system's file cache before each call.
    /// </summary>
    /// <param name="files">Files that the program reads, from the folder of the study's project.</param>
    /// <exception cref="ArgumentNullException"><paramref name="files"/> is null.</exception>
    public Guest ColdToo(params string[] files)
    {
        ArgumentNullException.ThrowIfNull(files);
        return this with { ColdFiles = [.. files] };
    }

    internal bool IsWhole { get; private init; }

    internal bool IsOnTarget { get; private init; }

    internal string? Before { get; private init; }

    internal string? After { get; private init; }

    internal IReadOnlyList<string>? ColdFiles { get; private init; }

    /// <summary>The same guest, of which another operation than its first is measured.</summary>
    /// <param name="operation">Name of the operation, as the guest gives it.</param>
    /// <exception cref="ArgumentNullException"><paramref name="operation"/> is null.</exception>
    public Guest Calling(string operation)
    {
        ArgumentNullException.ThrowIfNull(operation);
        return this with { Operation = operation };
    }

    private static Guest Of(string language, string source, string[] builds)
    {
        ArgumentNullException.ThrowIfNull(source);
        ArgumentNullException.ThrowIfNull(builds);
        return new Guest(language, source, [.. builds]);
    }
}
