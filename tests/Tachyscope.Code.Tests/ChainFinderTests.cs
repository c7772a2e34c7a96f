using Tachyscope.Code.Facts;
using Tachyscope.Code.Listings;

namespace Tachyscope.Code.Tests;

/// <summary>The least a loop waits from round to round, by chains that are known.</summary>
public sealed class ChainFinderTests
{
    [Theory]
    // A product that each round multiplies, and a sum; what is counted goes along.
    [InlineData(3, "imul     rax, rcx", "dec      edx")]
    [InlineData(2, "vaddsd   xmm0, xmm0, qword ptr [rax+8*rcx+0x10]", "inc      ecx", "cmp      ecx, edx")]
    [InlineData(5, "vmulsd   xmm0, xmm0, xmm2", "vaddsd   xmm0, xmm0, xmm1", "dec      edx")]
    // Three sums beside each other wait no longer than one.
    [InlineData(2, "vaddsd   xmm0, xmm0, xmm4", "vaddsd   xmm1, xmm1, xmm4", "vaddsd   xmm2, xmm2, xmm4", "dec      edx")]
    // From element to element of a list; what lies there is read on the side.
    [InlineData(4, "add      ecx, dword ptr [rax+0x10]", "mov      rax, gword ptr [rax+0x08]", "test     rax, rax")]
    // A new product each round hangs on nothing but the count, whose steps take no time of their own.
    [InlineData(0, "imul     rax, rcx, 5", "inc      ecx", "cmp      ecx, edx")]
    [InlineData(0, "xor      eax, eax", "imul     rax, rcx", "dec      edx")]
    [InlineData(0, "vxorps   xmm0, xmm0, xmm0", "vaddsd   xmm0, xmm0, xmm1", "lea      edx, [rdx-0x01]")]
    [InlineData(1, "add      rax, rcx", "dec      edx")]
    [InlineData(1, "lea      rax, [rax+rcx]", "dec      edx")]
    [InlineData(2, "popcnt   rax, rax", "add      rax, rcx", "dec      edx")]
    // Through a place in memory that stays the same, and one that moves on.
    [InlineData(3, "mov      rax, qword ptr [rbp-0x10]", "imul     rax, rcx", "mov      qword ptr [rbp-0x10], rax", "dec      edx")]
    [InlineData(1, "add      dword ptr [rbx+0x08], 3", "dec      edx")]
    [InlineData(0, "mov      dword ptr [rbx+4*rdx+0x10], eax", "dec      edx")]
    // Both halves of what is divided come from the quotient before.
    [InlineData(7, "cdq      ", "idiv     edx:eax, esi", "dec      ecx")]
    // By flags: the smaller of two, chosen without a jump.
    [InlineData(2, "cmp      eax, dword ptr [rdi+4*rcx]", "cmovl    eax, esi", "dec      ecx")]
    public void A_round_waits_for_the_one_before_as_long_as_its_longest_chain_takes(double cycles, params string[] round)
        => Assert.Equal(cycles, Of([.. round, "jne      G_M000_IG02"])!.Cycles);

    [Fact]
    public void A_result_that_goes_through_two_registers_takes_two_rounds()
        => Assert.Equal(1.5, Of("mov      r8, rcx", "mov      rcx, rax", "imul     rax, r8, 5", "jne      G_M000_IG02")!.Cycles);

    [Theory]
    [InlineData("call     [Lamp:Burn():int]", "dec      edx")]
    [InlineData("lock", "dec      edx")]
    [InlineData("xchg     eax, edx")]
    public void What_calls_or_is_not_known_is_not_told(params string[] round)
        => Assert.Null(Of([.. round, "jne      G_M000_IG02"]));

    [Fact]
    public void A_loop_with_several_ways_round_is_not_told()
        => Assert.Null(Of("test     eax, eax", "je       G_M000_IG04", "-", "inc      eax", "-", "dec      edx",
            "jne      G_M000_IG02"));

    [Fact]
    public void Code_without_a_loop_has_no_round()
        => Assert.Null(ChainFinder.OfRound(new(Listings.Of("Lamp:Light():int", "mov      eax, 1", "ret      "), [])));

    [Fact]
    public void Of_a_measured_loop_only_what_is_the_users_takes_time()
    {
        var chain = ChainFinder.OfCall(Listings.Of("Tachyscope.Measuring.Loop:Run(long)",
            "mov      rbx, rdi", "mov      r15, rsi", "-",
            "imul     rax, rcx, 17", "imul     rax, rax, 19",
            "mov      rcx, rax", "and      rcx, qword ptr [rbx+0x50]", "add      rcx, r14",
            "dec      r15", "jne      G_M000_IG02", "-", "ret      "));

        Assert.Equal(new LeastChain(6, IsOfCall: true), chain);
    }

    [Fact]
    public void Of_a_result_known_beforehand_nothing_is_the_users()
    {
        var loop = Listings.Of("Tachyscope.Measuring.Loop:Run(long)",
            "mov      rbx, rdi", "mov      r15, rsi", "-",
            "mov      eax, dword ptr [rbx+0x50]", "and      eax, 3", "add      eax, edi",
            "dec      r15", "jne      G_M000_IG02", "-", "ret      ");

        Assert.Equal(0, ChainFinder.OfCall(loop)!.Cycles);
        Assert.True(FactFinder.Of(new CodeTree(LoopFrame.Of(loop)!.Users(loop, "Bell:Strokes"), [])).IsFoldedAway);
    }

    [Theory]
    [InlineData("net8.0")]
    [InlineData("net9.0")]
    [InlineData("net10.0")]
    public void Recorded_loops_wait_for_no_more_than_all_their_instructions(string runtime)
    {
        var chains = Listings.Recorded(runtime).Where(listing => listing.Problem is null && listing.IsUnderstood)
            .Select(listing => (Listing: listing, Chain: ChainFinder.OfRound(new CodeTree(listing, []))))
            .Where(found => found.Chain is not null).ToList();

        Assert.NotEmpty(chains);
        Assert.All(chains, found => Assert.InRange(found.Chain!.Cycles, 0, 9 * found.Listing.All.Count()));
    }

    private static LeastChain? Of(params string[] round)
        => ChainFinder.OfRound(new CodeTree(Listings.Of("Lamp:Light():int", ["xor      eax, eax", "-", .. round, "-", "ret      "]), []));
}
