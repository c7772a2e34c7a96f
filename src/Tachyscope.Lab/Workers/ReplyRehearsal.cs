using Tachyscope.Protocol;

namespace Tachyscope.Lab.Workers;

/// <summary>
/// Reads one reply of each kind while the first worker starts and nothing else is to be done: what the runtime has to compile for it is
/// compiled then, on another processor, and not while a reply is waited for.
/// </summary>
internal static class ReplyRehearsal
{
    private static int s_isBegun;

    /// <summary>Begins once; does nothing where there is no other processor.</summary>
    public static void Begin()
    {
        if (Environment.ProcessorCount > 1 && Interlocked.Exchange(ref s_isBegun, 1) == 0)
        {
            _ = Task.Run(Hold);
        }
    }

    /// <summary>Reads them.</summary>
    public static void Hold()
    {
        Read<HelloReply>("""
            {"protocol":4,"kit":"dotnet","processId":1,"isAllocationTold":true,"environment":{"runtime":"","architecture":"",
            "isOptimized":true,"unoptimizedAssemblies":[""],"clockStepNanoseconds":1,"vectorBits":256,"processors":[0],"switches":[""]}}
            """);
        Read<StudiesReply>("""
            {"studies":[{"name":"","agreement":"","inputs":[{"label":"","sizes":[{"axis":"","value":1}]}],
            "variants":[{"name":"","variant":"","isBaseline":true,"part":"whole","settings":[{"dial":"","value":1}],
            "loop":{"path":"direct","order":"chained","supply":"same","result":"wholeNumber"}}]}],"mistakes":[""]}
            """);
        Read<InspectReply>("""{"mistakes":[""],"work":[]}""");
        Read<CheckReply>("""{"failure":"threw","reason":"","observed":[{"kind":"ignoresInput","evidence":""}]}""");
        Read<OpenReply>("""{"cells":1,"copies":1}""");
        Read<WarmReply>("""
            {"elapsedMilliseconds":1,"copies":1,"lowGauge":1,"failures":[{"cell":0,"reason":""}],"cells":[{"cell":0,"isSettled":true,
            "settledMilliseconds":1.5,"nanosecondsPerCall":1.5,"callsPerReading":1,"curve":[[1,1.5,1.5,1.5,1]]}]}
            """);
        Read<ReadReply>("""
            {"readings":[[0,0,0,1,1,null,0,0,0,0,0,0,1]],"gauges":[[0,0,0,1,1]],"soughtMilliseconds":1.5,"isPinned":true}
            """);
        Read<CompileReply>("""
            {"codes":[null,{"isInlined":true,"loopBytes":1,"bytes":1,"tier":"optimised","callees":[{"name":"","bytes":1,"offset":1}]}]}
            """);
    }

    private static void Read<T>(string result)
        where T : class
        => ProtocolText.FromElement<T>(ProtocolText.FromLine<RpcReply>($"{{\"jsonrpc\":\"2.0\",\"id\":1,\"result\":{result}}}").Result);
}
