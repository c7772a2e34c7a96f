using System.Reflection;
using System.Runtime.CompilerServices;
using System.Runtime.Loader;
using Tachyscope.Answers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Working;

/// <summary>
/// Loads the study project's code once more into this process: new addresses, statics and profiles, as a new process would give them.
/// </summary>
/// <remarks>
/// In contexts that cannot be unloaded, since code in others is never optimised in full. The project's <c>Main</c> runs again, on a
/// thread of
/// its own, as far as the place where it hands over its studies, and no further.
/// </remarks>
internal static class CodeCopies
{
    private static readonly TimeSpan LongestMain = TimeSpan.FromSeconds(2);

    // Set while a copy's Main is awaited; never more than one.
    private static Action<IReadOnlyList<Study>>? s_taker;

    // The copy's own main assembly, while that is so.
    private static Assembly? s_copy;

    /// <summary>Whether the <c>Main</c> of a copy is awaited; it is to go no further than where it hands over its studies.</summary>
    public static bool IsTaking => Volatile.Read(ref s_taker) is not null;

    /// <summary>The assembly whose <c>Main</c> is running.</summary>
    public static Assembly? Entry => Volatile.Read(ref s_copy) ?? Assembly.GetEntryAssembly();

    /// <summary>Takes studies that a copy's <c>Main</c> hands over.</summary>
    public static void Take(IReadOnlyList<Study> studies) => Volatile.Read(ref s_taker)?.Invoke(studies);

    /// <summary>Loads one more copy of a study.</summary>
    /// <param name="description">The study, which the copy has to describe alike.</param>
    /// <param name="number">Number of the copy, for its name.</param>
    /// <returns>The copy's study, or why there is none, in a few words.</returns>
    public static (Study? Study, string? Problem) Load(StudyDescription description, int number)
    {
        if (!RuntimeFeature.IsDynamicCodeSupported)
        {
            return (null, "code compiled ahead of time cannot be loaded twice");
        }

        var entry = Assembly.GetEntryAssembly();
#pragma warning disable IL3000 // Empty in a single file, which is then told.
        if (entry?.EntryPoint is null || entry.Location.Length == 0)
#pragma warning restore IL3000
        {
            return (null, "its assembly is no file of its own that could be loaded twice");
        }

        try
        {
            var (studies, problem) = HandedOver(entry, number);
            var study = studies?.FirstOrDefault(found => found.Name == description.Name);
            return problem is not null ? (null, problem)
                : study is null || !Described(study.Description).AsSpan().SequenceEqual(Described(description))
                    ? (null, "the second time its Main handed over other studies")
                    : (study, null);
        }
        catch (Exception exception) when (exception is BadImageFormatException or IOException or UnauthorizedAccessException)
        {
            return (null, $"its code could not be loaded twice: {ExceptionText.Of(exception)}");
        }
    }

    private static byte[] Described(StudyDescription study) => ProtocolText.ToJson(new StudiesReply { Studies = [study], Mistakes = [] });

#pragma warning disable IL2026 // What is trimmed has no code to load twice, and is told so.
    private static (IReadOnlyList<Study>? Studies, string? Problem) HandedOver(Assembly entry, int number)
    {
        IReadOnlyList<Study>? studies = null;
        string? problem = null;
        using var isOver = new ManualResetEventSlim();
#pragma warning disable IL3000
        var main = new Context(number, Path.GetDirectoryName(entry.Location)!).LoadFromAssemblyPath(entry.Location).EntryPoint!;
#pragma warning restore IL3000
        Volatile.Write(ref s_copy, main.DeclaringType!.Assembly);
        Volatile.Write(ref s_taker, handed =>
        {
            studies = handed;
            isOver.Set();
        });
        var thread = new Thread(() =>
        {
            try
            {
                main.Invoke(null, main.GetParameters().Length == 0 ? [] : [Environment.GetCommandLineArgs()[1..]]);
                problem ??= "the second time its Main ended before it handed over its studies";
            }
#pragma warning disable CA1031 // Whatever it throws, there is no copy; it is told.
            catch (Exception exception)
#pragma warning restore CA1031
            {
                problem ??= $"the second time its Main threw {ExceptionText.Of(exception.InnerException ?? exception)}";
            }
            finally
            {
                TrySet(isOver);
            }
        })
        {
            IsBackground = true,
            Name = "Tachyscope copy",
        };
        Whereabouts.Enter(WorkerPlace.Copy, number);
        thread.Start();
        if (!isOver.Wait(LongestMain))
        {
            problem ??= $"the second time its Main did not hand over its studies within {LongestMain.TotalSeconds:0} s";
        }

        Whereabouts.Leave();
        Volatile.Write(ref s_taker, null);
        Volatile.Write(ref s_copy, null);
        return studies is null ? (null, problem) : (studies, null);
    }
#pragma warning restore IL2026

    // Nobody may be waiting any more.
    private static void TrySet(ManualResetEventSlim isOver)
    {
        try
        {
            isOver.Set();
        }
        catch (ObjectDisposedException)
        {
        }
    }

    // What lies beside the project is loaded anew; this library, through which both sides meet, and the framework are shared.
    private sealed class Context(int number, string folder) : AssemblyLoadContext($"copy {number}", isCollectible: false)
    {
        private static readonly string? s_own = typeof(Study).Assembly.GetName().Name;

#pragma warning disable IL2026
        protected override Assembly? Load(AssemblyName assemblyName)
        {
            var path = Path.Combine(folder, $"{assemblyName.Name}.dll");
            var isShared = assemblyName.Name == s_own || assemblyName.CultureName is { Length: > 0 } || IsOfFramework(assemblyName);
            return isShared || !File.Exists(path) ? null : LoadFromAssemblyPath(path);
        }
#pragma warning restore IL2026

        // A project that brings its own framework has it in its folder too.
        private static bool IsOfFramework(AssemblyName name)
            => File.Exists(Path.Combine(System.Runtime.InteropServices.RuntimeEnvironment.GetRuntimeDirectory(), $"{name.Name}.dll"));
    }
}
