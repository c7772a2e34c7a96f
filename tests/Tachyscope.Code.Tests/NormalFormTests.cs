using Tachyscope.Code.Differences;
using Tachyscope.Code.Listings;

namespace Tachyscope.Code.Tests;

public sealed class NormalFormTests
{
    private static readonly string[] s_sum =
        ["xor      eax, eax", "-", "add      eax, dword ptr [rdi+4*rcx+0x10]", "inc      ecx", "cmp      ecx, esi",
            "jl       SHORT G_M000_IG02", "-", "ret      "];

    [Fact]
    public void Registers_and_labels_do_not_make_code_differ()
    {
        string[] sum =
        [
            "push     rbx", "push     r14", "xor      ebx, ebx", "-", "add      ebx, dword ptr [rdi+4*r14+0x10]", "inc      r14d",
            "jl       SHORT G_M000_IG02", "-", "mov      eax, ebx", "pop      r14", "pop      rbx", "ret      ",
        ];
        string[] renamed =
        [
            "push     r15", "push     rbx", "xor      r15d, r15d", "-", "-", "add      r15d, dword ptr [rdi+4*rbx+0x10]", "inc      ebx",
            "jl       G_M000_IG03", "-", "mov      eax, r15d", "pop      rbx", "pop      r15", "ret      ",
        ];

        Assert.True(AreSame(sum, renamed, isSameProcess: true));
    }

    [Fact]
    public void Which_argument_is_which_does()
    {
        Assert.False(AreSame(["mov      eax, edi", "sub      eax, esi", "ret      "],
            ["mov      eax, esi", "sub      eax, edi", "ret      "], isSameProcess: true));
        Assert.False(AreSame(["mov      edi, r13d", "sub      edi, r12d"], ["mov      edi, r12d", "sub      edi, r13d"],
            isSameProcess: true));
    }

    [Theory]
    [InlineData("inc      ecx", "dec      ecx")]
    [InlineData("add      eax, dword ptr [rdi+4*rcx+0x10]", "add      eax, dword ptr [rdi+4*rcx+0x14]")]
    [InlineData("add      eax, dword ptr [rdi+4*rcx+0x10]", "add      eax, dword ptr [rdi+4*rax+0x10]")]
    [InlineData("cmp      ecx, esi", "cmp      rcx, rsi")]
    public void What_is_done_with_what_does(string line, string other)
        => Assert.False(AreSame(s_sum, [.. s_sum.Select(own => own == line ? other : own)], isSameProcess: true));

    [Fact]
    public void An_address_tells_something_within_a_process_only()
    {
        string[] one = ["mov      rdi, 0x7F59CC4574E8", "call     CORINFO_HELP_NEWSFAST", "ret      "];
        string[] other = ["mov      rdi, 0x7F59CC457AA0", "call     CORINFO_HELP_NEWSFAST", "ret      "];

        Assert.False(AreSame(one, other, isSameProcess: true));
        Assert.True(AreSame(one, other, isSameProcess: false));
    }

    [Fact]
    public void A_long_constant_of_the_codes_own_is_no_address()
        => Assert.False(AreSame(["mov      rax, 0xCCCCCCCCCCCCCCCD"], ["mov      rax, 0xAAAAAAAAAAAAAAAB"], isSameProcess: false));

    [Fact]
    public void A_constant_is_what_it_is_and_not_where_it_lies()
    {
        var one = WithConstant("RWD00", "3FE0000000000000h");
        var other = WithConstant("RWD08", "3FE0000000000000h");

        Assert.True(NormalForm.AreSame(new(one, []), new(other, []), isSameProcess: true));
        Assert.False(NormalForm.AreSame(new(one, []), new(WithConstant("RWD00", "4000000000000000h"), []), isSameProcess: true));
        Assert.Contains("qword ptr [0.5]", NormalForm.Of(one, areAddressesKept: true)[0].Shown, StringComparison.Ordinal);
    }

    [Fact]
    public void What_is_called_by_the_same_name_may_still_be_other_code()
    {
        var caller = Listings.Of("Lamp:Light():int", "call     [Lamp:Burn():int]", "ret      ");
        var (slow, fast) = (Listings.Of("Lamp:Burn():int", "mov      eax, 1", "ret      "), Listings
            .Of("Lamp:Burn():int", "mov      eax, 2", "ret      "));

        Assert.False(NormalForm.AreSame(new(caller, [new(slow, [])]), new(caller, [new(fast, [])]), isSameProcess: false));
        Assert.True(NormalForm.AreSame(new(caller, [new(slow, [])]), new(caller, [new(slow, [])]), isSameProcess: false));
    }

    [Fact]
    public void What_is_called_by_other_names_may_be_the_same_code()
    {
        var (one, other) = (Listings.Of("Lamp:A():int", "call     [Lamp:B():int]"), Listings.Of("Lamp:C():int", "call     [Lamp:D():int]"));
        var (called, otherCalled) = (Listings.Of("Lamp:B():int", "ret      "), Listings.Of("Lamp:D():int", "ret      "));

        Assert.True(NormalForm.AreSame(new(one, [new(called, [])]), new(other, [new(otherCalled, [])]), isSameProcess: true));
        Assert.False(NormalForm.AreSame(new(one, []), new(other, []), isSameProcess: true));
    }

    [Fact]
    public void Texts_are_put_beside_each_other_line_by_line()
    {
        var rows = SideBySide.Of(["a", "b", "c", "d"], ["a", "x", "c", "e", "d"]);

        Assert.Equal([(0, 0, true), (1, 1, false), (2, 2, true), (null, 3, false), (3, 4, true)], rows
            .Select(row => (row.Left, row.Right, row.IsSame)));
    }

    [Theory]
    [InlineData("net8.0")]
    [InlineData("net9.0")]
    [InlineData("net10.0")]
    public void Every_recorded_listing_is_itself_and_no_other(string runtime)
    {
        var listings = Listings.Recorded(runtime).Where(listing => !listing.Method.Contains("MeasuredLoop", StringComparison.Ordinal))
            .ToList();

        Assert.All(listings, one => Assert.Equal([one.Method],
            listings.Where(other => NormalForm.AreSame(new(one, []), new(other, []), isSameProcess: true)).Select(other => other.Method)));
    }

    private static bool AreSame(string[] one, string[] other, bool isSameProcess)
        => NormalForm.AreSame(new(Listings.Of("Lamp:Light():int", one), []), new(Listings.Of("Lamp:Light():int", other), []),
            isSameProcess);

    private static MachineListing WithConstant(string name, string value)
        => Assert.Single(Listings.Read(Listings.Text("Lamp:Light():double", $"vmovsd   xmm0, qword ptr [reloc @{name}]", "ret      ")
            .Replace("\n; Total", $"\n{name}  \tdq\t{value}\t;          0.5\n\n; Total", StringComparison.Ordinal)));
}
