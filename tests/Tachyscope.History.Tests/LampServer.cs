using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Sockets;
using Npgsql;

namespace Tachyscope.History.Tests;

/// <summary>A PostgreSQL server of the tests' own, on a port that nobody uses, which ends with them.</summary>
public sealed class LampServer : IDisposable
{
    public const string Password = "a secret of the pier";

    private const string User = "keeper";
    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(1);

    private readonly string? _programs = Programs();
    private readonly string _folder = Directory.CreateTempSubdirectory("tachyscope server").FullName;
    private int _databases;

    public LampServer()
    {
        if (_programs is null)
        {
            return;
        }

        var secret = Path.Combine(_folder, "secret");
        File.WriteAllText(secret, Password);
        // It refuses to be run by root.
        if (Environment.IsPrivilegedProcess)
        {
            Do("chown", "-R", "postgres", _folder);
        }

        Serve("initdb", "-D", Data, "-U", User, "--auth=scram-sha-256", $"--pwfile={secret}", "--encoding=UTF8", "--no-sync");
        Start();
        Environment.SetEnvironmentVariable("PGPASSWORD", Password);
    }

    /// <summary>Why there is none; null when there is one.</summary>
    public string? Missing => _programs is null ? "there is no PostgreSQL here: apt-get install postgresql" : null;

    public int Port { get; } = FreePort();

    private string Data => Path.Combine(_folder, "data");

    /// <summary>Makes an empty database.</summary>
    /// <returns>Where it is.</returns>
    public string NewDatabase()
    {
        var name = FormattableString.Invariant($"lamps{Interlocked.Increment(ref _databases)}");
        using var connection = new NpgsqlConnection($"Host=127.0.0.1;Port={Port};Username={User};Database=postgres;Pooling=False");
        connection.Open();
        using var command = connection.CreateCommand();
#pragma warning disable CA2100 // A name of the test's own.
        command.CommandText = $"CREATE DATABASE {name}";
#pragma warning restore CA2100
        command.ExecuteNonQuery();
        return PlaceOf(name);
    }

    public string PlaceOf(string database, string user = User)
        => FormattableString.Invariant($"postgresql://{user}@127.0.0.1:{Port}/{database}");

    public void Start() => Serve("pg_ctl", "-D", Data, "-w", "-l", Path.Combine(_folder, "log"), "-o",
        FormattableString.Invariant($"-p {Port} -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c fsync=off"), "start");

    public void Stop() => Serve("pg_ctl", "-D", Data, "-m", "immediate", "stop");

    public void Dispose()
    {
        if (_programs is not null)
        {
            Stop();
        }

        Directory.Delete(_folder, recursive: true);
    }

    private void Serve(string program, params string[] arguments)
    {
        var path = Path.Combine(_programs!, program);
        Do(Environment.IsPrivilegedProcess ? ["runuser", "-u", "postgres", "--", path, .. arguments] : [path, .. arguments]);
    }

    // Its output goes nowhere: the server would hold a pipe open.
    private static void Do(params string[] words)
    {
        var start = new ProcessStartInfo("/bin/sh",
            ["-c", "\"$@\" > /dev/null 2>&1 < /dev/null", "sh", .. words]) { WorkingDirectory = "/" };
        using var process = Process.Start(start)!;
        Assert.True(process.WaitForExit(Longest) && process.ExitCode == 0, string.Join(' ', words));
    }

    private static string? Programs()
        => Directory.Exists("/usr/lib/postgresql")
            ? Directory.GetDirectories("/usr/lib/postgresql").Where(version => File.Exists(Path.Combine(version, "bin", "initdb")))
                .OrderByDescending(version => double.TryParse(Path.GetFileName(version), CultureInfo.InvariantCulture, out var number)
                    ? number : 0)
                .Select(version => Path.Combine(version, "bin")).FirstOrDefault()
            : null;

    private static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }
}
