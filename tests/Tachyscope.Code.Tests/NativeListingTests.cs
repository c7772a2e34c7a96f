using Tachyscope.Code.Facts;
using Tachyscope.Code.Listings;

namespace Tachyscope.Code.Tests;

public sealed class NativeListingTests
{
    private static readonly string[] s_told =
    [
        "", "GaugeReadings:     file format elf64-x86-64", "", "Disassembly of section __managedcode:", "",
        "0000000000093460 <__managedcode+0x3d70>:",
        "   93460:\t55                   \tpush   rbp",
        "   93461:\t48 8b 3d a2 41 57 00 \tmov    rdi,QWORD PTR [rip+0x5741a2]        # 608000 <__cxa_finalize@plt+0x5fb350>",
        "   93468:\t8b 47 14             \tmov    eax,DWORD PTR [rdi+0x14]",
        "   9346b:\te8 e0 61 ff ff       \tcall   89650 <__cxa_finalize@plt+0x7c9a0>",
        "   93470:\t74 07                \tje     93479 <__cxa_finalize@plt+0x867fe>",
        "   93472:\tc5 fd 58 40 10       \tvaddpd ymm0,ymm0,YMMWORD PTR [rax+0x10]",
        "   93477:\t75 f9                \tjne    93472 <__cxa_finalize@plt+0x867ec>",
        "   93479:\tff 50 30             \tcall   QWORD PTR [rax+0x30]",
        "   9347c:\t73 05                \tjae    93483 <__cxa_finalize@plt+0x867ec>",
        "   9347e:\te9 bd 00 00 00       \tjmp    93540 <__cxa_finalize@plt+0x867ec>",
        "   93483:\te8 68 3c 0c 00       \tcall   1570f0 <__cxa_finalize@plt+0x867ec>",
        "   93488:\tcc                   \tint3",
        "   93489:\t90                   \tnop",
        "   9348a:\t66 90                \txchg   ax,ax",
    ];

    private static readonly Dictionary<ulong, string> s_names = new()
    {
        [0x89650] = "RhpNewFast", [0x93540] = "Gauge__Next",
        [0x1570f0] = "S_P_CoreLib_Internal_Runtime_CompilerHelpers_ThrowHelpers__ThrowIndexOutOfRangeException",
    };

    [Fact]
    public void What_a_disassembler_tells_is_read_like_what_a_runtime_lists()
    {
        var listing = Read(s_told);

        Assert.Null(listing.Problem);
        Assert.True(listing.IsFinal && listing.IsUnderstood);
        Assert.Equal(41, listing.CodeBytes);
        Assert.Equal([0, 18, 25, 35], listing.Blocks.Select(block => block.Offset));
        Assert.Equal(["RhpNewFast", "", "Gauge__Next"], listing.All.Select(instruction => instruction.Callee).OfType<string>().Take(3));
        Assert.Contains(listing.All, instruction => instruction.ToString() == "mov      rdi, qword ptr [0x608000]");
    }

    [Fact]
    public void It_is_counted_by_the_names_that_such_programs_have_for_their_helpers()
    {
        var facts = FactFinder.Of(new CodeTree(Read(s_told), []));

        Assert.Equal((1, 1, 1, 1, 256), (facts.Allocations, facts.BoundsChecks, facts.IndirectCalls, facts.Loops, facts.VectorBits));
        Assert.Equal(1, facts.Calls);
    }

    [Fact]
    public void A_line_in_no_form_known_is_told()
        => Assert.Equal("\"93460: ?\" is in no form known", Read(["   93460: ?"]).Problem);

    [Theory]
    [InlineData("AcrossTargets_GaugeReadings___c___get_Study_b__1_5", true)]
    [InlineData("GaugeReadings___c___get_Study_b__1_5", true)]
    [InlineData("AcrossTargets_GaugeReadings___c___get_Study_b__1_50", false)]
    [InlineData("AcrossTargets_GaugeReadings__get_Study", false)]
    public void A_method_is_known_by_its_symbol(string symbol, bool isIt)
        => Assert.Equal(isIt, new MethodName("GaugeReadings+<>c", "<get_Study>b__1_5", 1).Is(symbol));

    private static MachineListing Read(string[] lines)
        => NativeListing.Read("Gauge__Over", lines, address => s_names.GetValueOrDefault(address));
}
