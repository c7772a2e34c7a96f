using System.ComponentModel;
using System.Reflection;
using Tachyscope.Protocol;
using Tachyscope.Working;

namespace Tachyscope;

/// <summary>Where a study project's <c>Main</c> hands over its studies.</summary>
public static class Studies
{
    /// <summary>
    /// Serves the tool as a worker when the tool started this process; otherwise finds the tool and passes the
    /// arguments on to it.
    /// </summary>
    /// <param name="arguments">The arguments of <c>Main</c>: options of <c>tachyscope run</c>.</param>
    /// <param name="studies">
    /// The studies of the project, in the order they are to be measured. Without any, those that the compiler found: every static property,
    /// field or method without parameters of this program that gives a <see cref="Study"/> and is not private.
    /// </param>
    /// <returns>The exit code to return from <c>Main</c>.</returns>
    /// <remarks>What the project prints while it is a worker goes to standard error.</remarks>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    /// <example>
    /// <code>
    /// return await Studies.RunAsync(args);
    /// return await Studies.RunAsync(args, NearestBeacon.Study, LampSignals.Study);
    /// </code>
    /// </example>
    public static Task<int> RunAsync(string[] arguments, params Study[] studies)
    {
        ArgumentNullException.ThrowIfNull(arguments);
        ArgumentNullException.ThrowIfNull(studies);
        // A copy of the project goes no further than this: what follows in its Main was done by the first.
        if (CodeCopies.IsTaking)
        {
            CodeCopies.Take(Given());
            return new TaskCompletionSource<int>().Task;
        }

        return Environment.GetEnvironmentVariable(WorkerMethods.WorkerVariable) is null
            ? HandOver.ToToolAsync(arguments)
            : Task.FromResult(Serve(Given()));

        IReadOnlyList<Study> Given() => studies.Length > 0 ? studies : FoundStudies.Of(CodeCopies.Entry);
    }

    /// <summary>Tells which studies an assembly has; called when it is loaded, by code that the compiler adds to it.</summary>
    /// <param name="assembly">The assembly.</param>
    /// <param name="studies">Makes its studies; called when they are asked for.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    [EditorBrowsable(EditorBrowsableState.Never)]
    public static void Found(Assembly assembly, Func<IReadOnlyList<Study>> studies)
    {
        ArgumentNullException.ThrowIfNull(assembly);
        ArgumentNullException.ThrowIfNull(studies);
        FoundStudies.Add(assembly, studies);
    }

    private static int Serve(IReadOnlyList<Study> studies)
    {
        // Processes the user's code starts are not workers.
        Environment.SetEnvironmentVariable(WorkerMethods.WorkerVariable, null);
        Whereabouts.Leave();
        using var channel = ProtocolChannel.TakeFromConsole();
        using var tie = ToolTie.To(channel);
        // Not on the main thread: threads that the operation starts take over the main thread's processors, and the
        // measuring one is held to a single processor.
        var measuring = new Thread(() =>
        {
            new Worker(studies, channel.Requests, channel.Replies).Serve();
            tie.Loosen();
        })
        {
            Name = "Tachyscope",
        };
        measuring.Start();
        tie.Hold(measuring);
        return 0;
    }
}
