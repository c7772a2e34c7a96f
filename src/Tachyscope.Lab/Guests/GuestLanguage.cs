namespace Tachyscope.Lab.Guests;

/// <summary>How guests of one language are built and started.</summary>
/// <param name="Name">Name of the language.</param>
/// <param name="Folder">Folder of its kit below the kits'.</param>
/// <param name="Extensions">Endings of its source files, all of which in the guest's folder go into the build.</param>
/// <param name="Usual">How it is built or started when nothing is said.</param>
/// <param name="Version">Arguments at which its compiler or runtime tells what it is.</param>
/// <param name="Steps">Commands that build it, run in the build's folder, one after the other.</param>
/// <param name="Start">What starts it then.</param>
internal sealed record GuestLanguage(
    string Name,
    string Folder,
    IReadOnlyList<string> Extensions,
    string Usual,
    IReadOnlyList<string> Version,
    Func<GuestBuild, IReadOnlyList<GuestStep>> Steps,
    Func<GuestBuild, GuestStart> Start)
{
    private const string GsonOfDebian = "/usr/share/java/gson.jar";
    private const string CratesOfDebian = "/usr/share/cargo/registry";

    /// <summary>The languages there are kits for.</summary>
    public static IReadOnlyList<GuestLanguage> All { get; } =
    [
        Compiled("C", "c", [".c", ".h"], "cc -O2"),
        Compiled("C++", "c", [".cpp", ".cc", ".cxx", ".h", ".hpp"], "c++ -O2"),
        new("Rust", "rust", [".rs"], "rustc -O", ["--version"],
            build =>
            [
                // Where the registry's crates are installed by the system, they are taken from there, so that it needs no network.
                new("cargo", ["build", "--release", "--quiet", "--manifest-path", build.InFolder("Cargo.toml"), "--target-dir",
                    build.Shared,
                    .. Directory.Exists(CratesOfDebian)
                        ? (string[])["--offline", "--config", "source.crates-io.replace-with='system'",
                            "--config", $"source.system.directory='{CratesOfDebian}'"]
                        : []])
                {
                    Variables = [("RUSTFLAGS", RustFlags(build.Command)),
                        ("RUSTC", build.Command.Program)],
                },
            ],
            build => new(Path.Combine(build.Shared, "release", build.Name), []) { IsProgram = true })
        {
            IsCompiled = true,
            Files = build =>
            [
                ("Cargo.toml", $"""
                    [package]
                    name = "{build.Name}"
                    version = "0.0.0"
                    edition = "2021"

                    [[bin]]
                    name = "{build.Name}"
                    path = '{build.Source}'

                    [dependencies]
                    tachyscope = {"{"} path = '{build.Kit}' {"}"}

                    [workspace]
                    """),
            ],
        },
        new("Go", "go", [".go"], "go", ["version"],
            build => [new(build.Command.Program, ["build", .. build.Command.Arguments, "-o", build.InFolder("guest"), "."])
            {
                Variables = [("GOFLAGS", "-mod=mod"), ("GOWORK", "off"), ("GO111MODULE", "on"), ("GOPROXY", "off"),
                    ("GOTOOLCHAIN", "local")],
            }],
            build => new(build.InFolder("guest"), []) { IsProgram = true })
        {
            IsCompiled = true,
            Files = build =>
            [
                ("go.mod", $"""
                    module guest

                    go 1.19

                    require tachyscope v0.0.0

                    replace tachyscope => "{build.Kit}"
                    """),
                (Path.GetFileName(build.Source), File.ReadAllText(build.Source)),
            ],
        },
        new("Java", "java", [".java"], "java", ["--version"],
            build => [new(Beside(build.Command.Program, "javac"), ["-d", build.InFolder("classes"), "-cp", Gson,
                Path.Combine(build.Kit, "Tachyscope.java"), build.Source])],
            build => new(build.Command.Program,
                [.. build.Command.Arguments, "-cp", $"{build.InFolder("classes")}{Path.PathSeparator}{Gson}",
                    Path.GetFileNameWithoutExtension(build.Source)]))
        {
            Needs = () => File.Exists(Gson) ? null
                : "the Java kit needs Gson, and there is no gson.jar; install libgoogle-gson-java, or name the file with TACHYSCOPE_GSON",
        },
        new("JavaScript", "javascript", [".js", ".mjs", ".cjs"], "node", ["--version"],
            _ => [],
            build => new(build.Command.Program, [.. build.Command.Arguments, build.Source]) { Variables = [("NODE_PATH", build.Kit)] }),
        new("Python", "python", [".py"], "python3", ["--version"],
            _ => [],
            build => new(build.Command.Program, [.. build.Command.Arguments, build.Source])
            {
                Variables = [("PYTHONPATH", build.Kit), ("PYTHONDONTWRITEBYTECODE", "1")],
            }),
    ];

    /// <summary>Files written into the build's folder before it is built.</summary>
    public Func<GuestBuild, IReadOnlyList<(string Name, string Text)>> Files { get; init; } = _ => [];

    /// <summary>Whether its compiler makes a program, so that it is the compiler that tells what it is.</summary>
    public bool IsCompiled { get; init; }

    /// <summary>What the kit itself lacks on this machine, in a sentence; null when it has all.</summary>
    public Func<string?> Needs { get; init; } = () => null;

    private static string Gson => Environment.GetEnvironmentVariable("TACHYSCOPE_GSON") is { Length: > 0 } named ? named : GsonOfDebian;

    /// <summary>The language of a name; null when there is no kit for it.</summary>
    public static GuestLanguage? Of(string name) => All.FirstOrDefault(language => language.Name == name);

    /// <summary>The package of Debian's that brings a command.</summary>
    public static string Package(string command) => Path.GetFileName(command) switch
    {
        "cc" => "gcc",
        "c++" => "g++",
        "go" => "golang-go",
        "node" => "nodejs",
        "java" or "javac" => "default-jdk-headless",
        "cargo" or "rustc" => "cargo",
        var other when other.StartsWith("clang++-", StringComparison.Ordinal) => $"clang-{other["clang++-".Length..]}",
        var other => other,
    };

    private static GuestLanguage Compiled(string name, string folder, IReadOnlyList<string> extensions, string usual)
        => new(name, folder, extensions, usual, ["--version"],
            build => [new(build.Command.Program,
                [.. build.Command.Arguments, "-I", build.Kit, "-o", build.InFolder("guest"), build.Source, "-lcjson", "-lm"])],
            build => new(build.InFolder("guest"), []) { IsProgram = true })
        {
            IsCompiled = true,
        };

    // Its names tell which operation a loop of the kit is around; cargo takes no word of its compiler's for optimising.
    private static string RustFlags(GuestCommand command)
        => string.Join(' ', ["-C symbol-mangling-version=v0", .. command.Arguments.Select(flag => flag == "-O" ? "-C opt-level=3" : flag)]);

    // The compiler that belongs to a runtime lies beside it.
    private static string Beside(string command, string other)
        => Path.GetDirectoryName(command) is { Length: > 0 } folder ? Path.Combine(folder, other) : other;
}
