using Tachyscope.Code.Facts;
using Tachyscope.Code.Listings;

namespace Tachyscope.Code.Tests;

public sealed class FactFinderTests
{
    [Fact]
    public void Instructions_are_counted_by_what_they_do()
    {
        var facts = Of(
            "push     rbp", "mov      qword ptr [rbp-0x08], rdi", "mov      rax, qword ptr [rdi+0x08]", "-",
            "cmp      ecx, dword ptr [rax+0x08]", "jae      G_M000_IG04", "vaddpd   ymm0, ymm0, ymmword ptr [rax+8*rcx+0x10]",
                "idiv     edx:eax, esi",
            "mov      dword ptr [rax+0x20], ecx", "dec      ecx", "jg       SHORT G_M000_IG02", "-",
            "call     CORINFO_HELP_NEWSFAST", "call     [Lamp:Burn():int]", "call     [r11]ILamp:Light():this",
                "call     CORINFO_HELP_ASSIGN_REF",
            "call     CORINFO_HELP_CHKCASTCLASS", "ret      ", "-", "call     CORINFO_HELP_RNGCHKFAIL", "int3     ");

        Assert.Equal(new CodeFacts
        {
            Methods = 1, Instructions = 17, Bytes = 0, Loops = 1, LoopDepth = 1, Branches = 2, Calls = 1, IndirectCalls = 1, Loads = 3,
                Stores = 1, Spills = 1,
            BoundsChecks = 1, Divisions = 1, Atomics = 0, Vectors = 1, VectorBits = 256, Allocations = 1, TypeChecks = 1, WriteBarriers = 1,
                OtherHelpers = 0,
            IsFoldedAway = false,
        }, facts);
    }

    [Theory]
    [InlineData("vaddsd   xmm0, xmm0, xmm1", 0)]
    [InlineData("vxorps   xmm0, xmm0, xmm0", 0)]
    [InlineData("vmovups  ymm0, ymmword ptr [rdi]", 0)]
    [InlineData("vandpd   xmm0, xmm0, xmm1", 0)]
    [InlineData("vpaddd   zmm0, zmm0, zmm1", 512)]
    [InlineData("vfmadd231ps ymm0, ymm1, ymm2", 256)]
    [InlineData("popcnt   eax, ecx", 0)]
    public void Only_what_computes_several_numbers_at_once_is_a_vector(string line, int bits)
        => Assert.Equal(bits, Of(line, "ret      ").VectorBits);

    [Fact]
    public void A_cold_block_that_jumps_back_is_no_loop()
    {
        var facts = Of("test     edi, edi", "je       G_M000_IG03", "-", "mov      eax, edi", "ret      ", "-", "mov      edi, 1",
            "jmp      G_M000_IG02");

        Assert.Equal(0, facts.Loops);
    }

    [Fact]
    public void A_loop_that_is_entered_in_its_middle_past_padding_is_one()
    {
        var facts = Of("jmp      SHORT G_M000_IG04", "align    [9 bytes for IG02]", "-", "mov      edi, 2", "-", "dec      edx",
            "je       SHORT G_M000_IG06",
            "-", "test     rdi, rdi", "jne      SHORT G_M000_IG02", "-", "mov      edi, 1", "jmp      SHORT G_M000_IG03", "-", "ret      ");

        Assert.Equal((1, 1), (facts.Loops, facts.LoopDepth));
    }

    [Fact]
    public void Loops_within_loops_are_each_counted_once()
    {
        var facts = Of("xor      eax, eax", "-", "xor      ecx, ecx", "-", "inc      ecx", "cmp      ecx, 3", "jl       G_M000_IG03", "-",
            "cmp      ecx, 4", "je       G_M000_IG03", "inc      eax", "cmp      eax, 5", "jl       G_M000_IG02", "-", "ret      ");

        Assert.Equal((2, 2), (facts.Loops, facts.LoopDepth));
    }

    [Fact]
    public void A_loop_in_what_is_called_from_a_loop_lies_within_it()
    {
        var caller = Listings.Of("Lamp:Light():int", "xor      ebx, ebx", "-", "call     [Lamp:Burn():int]", "dec      ebx",
            "jg       G_M000_IG02", "-", "ret      ");
        var called = Listings.Of("Lamp:Burn():int", "xor      eax, eax", "-", "inc      eax", "jl       G_M000_IG02", "-", "ret      ");

        Assert.Equal(2, FactFinder.Of(new CodeTree(caller, [new(called, [])])).LoopDepth);
        Assert.Equal(1, FactFinder.Of(new CodeTree(caller, [])).LoopDepth);
    }

    [Theory]
    [InlineData("mov      eax, 42", true)]
    [InlineData("vmovsd   xmm0, qword ptr [reloc @RWD00]", true)]
    [InlineData("mov      eax, dword ptr [rdi+0x08]", false)]
    [InlineData("imul     eax, edi", false)]
    [InlineData("mov      dword ptr [rdi], 1", false)]
    public void An_operation_that_only_gives_back_a_constant_was_folded_away(string line, bool isFolded)
        => Assert.Equal(isFolded, Of(line, "ret      ").IsFoldedAway);

    [Theory]
    [InlineData("net8.0")]
    [InlineData("net9.0")]
    [InlineData("net10.0")]
    public void Of_a_recorded_loop_only_the_call_and_what_it_takes_is_the_users(string runtime)
    {
        var loop = new ListingSet(Listings.Recorded(runtime)).Loops[0];
        var users = LoopFrame.Of(loop)!.Users(loop, "array");

        Assert.InRange(users.All.Count(), 1, loop.All.Count() / 4);
        Assert.Equal("GaugeReadings:OverArray(int[]):int", Assert.Single(users.All, instruction => instruction.IsCall).Callee);
    }

    [Theory]
    [InlineData("net8.0")]
    [InlineData("net9.0")]
    [InlineData("net10.0")]
    public void A_recorded_sum_over_an_array_has_a_loop_and_neither_checks_nor_allocations(string runtime)
    {
        var listing = Listings.Recorded(runtime).Single(listing => listing.Method == "GaugeReadings:OverArray(int[]):int");
        var facts = FactFinder.Of(new CodeTree(listing, []));

        Assert.Equal((0, 0, 0, 0), (facts.BoundsChecks, facts.Allocations, facts.Calls, facts.Stores));
        Assert.InRange(facts.Loops, 1, 2);
    }

    private static CodeFacts Of(params string[] lines) => FactFinder.Of(new CodeTree(Listings.Of("Lamp:Light():int", lines), []));
}
