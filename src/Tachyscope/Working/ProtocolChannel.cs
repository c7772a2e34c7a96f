using System.Runtime.InteropServices;
using Microsoft.Win32.SafeHandles;

namespace Tachyscope.Working;

/// <summary>
/// The worker's two ends of the protocol, taken away from the console: what the user's code prints goes to standard
/// error, what it reads is empty.
/// </summary>
internal sealed class ProtocolChannel : IDisposable
{
    private const int StandardInput = 0;
    private const int StandardOutput = 1;
    private const int StandardError = 2;

    // F_DUPFD_CLOEXEC of Linux.
    private const int CopyClosedOnStart = 1030;

    private ProtocolChannel(Stream requests, Stream replies)
    {
        Requests = requests;
        Replies = replies;
    }

    public Stream Requests { get; }

    public Stream Replies { get; }

    public static ProtocolChannel TakeFromConsole()
    {
        var channel = OperatingSystem.IsWindows() ? OfConsole() : OfDescriptors();
        Console.SetOut(Console.Error);
        Console.SetIn(TextReader.Null);
        // A line the user's Main may have begun before us must not run into the first reply.
        channel.Replies.WriteByte((byte)'\n');
        channel.Replies.Flush();
        return channel;
    }

    public void Dispose()
    {
        Requests.Dispose();
        Replies.Dispose();
    }

    private static ProtocolChannel OfConsole() => new(Console.OpenStandardInput(), Console.OpenStandardOutput());

    // Below the console's own classes, so that native code and raw streams cannot reach the protocol either.
    private static ProtocolChannel OfDescriptors()
    {
        Console.Out.Flush();
        var requests = new FileStream(Copy(StandardInput), FileAccess.Read, bufferSize: 1);
        var replies = new FileStream(Copy(StandardOutput), FileAccess.Write, bufferSize: 1);
        Redirect(StandardError, StandardOutput);
        using var nothing = new FileStream("/dev/null", FileMode.Open, FileAccess.Read);
        Redirect((int)nothing.SafeFileHandle.DangerousGetHandle(), StandardInput);
        return new(requests, replies);
    }

    // Closed in whatever the user's code starts: a child that lives on must not hold the protocol open.
    private static SafeFileHandle Copy(int descriptor)
    {
        // Elsewhere fcntl takes its last argument in another way than a declaration here can say.
        var copy = OperatingSystem.IsLinux() ? fcntl(descriptor, CopyClosedOnStart, 0) : dup(descriptor);
        return copy >= 0
            ? new SafeFileHandle(copy, ownsHandle: true)
            : throw new IOException($"Descriptor {descriptor} could not be taken; start workers with standard input and output open.");
    }

    private static void Redirect(int from, int to)
    {
        if (dup2(from, to) < 0)
        {
            throw new IOException($"Descriptor {to} could not be redirected.");
        }
    }

    [DllImport("libc", ExactSpelling = true)]
    private static extern int dup(int descriptor);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int fcntl(int descriptor, int command, int argument);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int dup2(int from, int to);
}
