using Tachyscope.Code.Listings;

namespace Tachyscope.Code.Tests;

public sealed class ListingReaderTests
{
    public static TheoryData<string, string> Runtimes => new()
    {
        { "net8.0", "X64 with AVX512" }, { "net9.0", "X64 with AVX10/512" }, { "net10.0", "generic X64 + VEX + EVEX" },
    };

    [Theory]
    [MemberData(nameof(Runtimes))]
    public void Listings_recorded_on_a_runtime_are_read_to_the_last_byte(string runtime, string instructions)
    {
        var listings = Listings.Recorded(runtime);

        Assert.Equal(9, listings.Count);
        Assert.All(listings, listing =>
        {
            Assert.Null(listing.Problem);
            Assert.True(listing.IsFinal);
            Assert.Equal(instructions, listing.Instructions);
            Assert.Equal(listing.CodeBytes, listing.All.Sum(instruction => instruction.Length));
            Assert.All(listing.Blocks, block
                => Assert.Equal(block.Offset, block.Instructions is [var first, ..] ? first.Offset : block.Offset));
        });
    }

    [Theory]
    [InlineData("net8.0")]
    [InlineData("net9.0")]
    [InlineData("net10.0")]
    public void What_a_recorded_loop_calls_is_found_under_its_own_name(string runtime)
    {
        var set = new ListingSet(Listings.Recorded(runtime));
        var loops = set.Loops;

        Assert.Equal(3, loops.Count);
        Assert.Contains(loops[0].All, instruction => instruction.Callee == "GaugeReadings:OverArray(int[]):int");
        Assert.Equal(["GaugeReadings:OverArray(int[]):int"], set.Follow(loops[0], 1).Callees.Select(callee => callee.Listing.Method));
        Assert.Contains(loops[1].All, instruction
            => instruction is { IsIndirectCall: true, Callee: "System.Delegate:GetTarget():System.Object:this" });
    }

    [Fact]
    public void What_is_called_and_never_reached_its_last_tier_is_named_and_what_the_runtime_made_nothing_of_is_not()
    {
        static string Early(string text) => text.Replace("(Tier1)", "(Tier0)", StringComparison.Ordinal);
        var set = new ListingSet(Listings.Read(
            Listings.Text("Lamp:Light():int", "call     [Lamp:Wick():int]", "call     [Lamp:Wick():int]", "call     [Lamp:Glass():int]",
                "call     [Lamp:Light():int]", "ret      ")
            + Listings.Text("Lamp:Wick():int", "call     [Lamp:Oil():int]", "ret      ")
            + Early(Listings.Text("Lamp:Oil():int", "ret      ")) + Early(Listings.Text("Lamp:Glass():int", "ret      "))
            + Early(Listings.Text("Buoy:Ring():int", "ret      "))));

        var tree = set.Follow(set.Final("Lamp:Light():int")!, 2);

        Assert.Equal(["Lamp:Glass():int"], tree.Early);
        Assert.Equal(["Lamp:Glass():int", "Lamp:Oil():int"], tree.AllEarly.Order(StringComparer.Ordinal));
        Assert.Empty(set.Follow(set.Final("Lamp:Light():int")!, 0).AllEarly);
    }

    [Fact]
    public void Two_listings_written_at_once_are_told_from_whole_ones()
    {
        var whole = Listings.Text("Lamp:Light():int", "mov      eax, 1", "ret      ");
        var other = Listings.Text("Buoy:Ring():int", "mov      eax, 2", "ret      ");
        var at = whole.IndexOf(", 1", StringComparison.Ordinal);

        var listings = Listings.Read(whole[..at] + other + whole[at..] + other);

        Assert.Equal(["Lamp:Light():int", "Buoy:Ring():int", "Buoy:Ring():int"], listings.Select(listing => listing.Method));
        Assert.NotNull(listings[0].Problem);
        Assert.Null(listings[2].Problem);
    }

    [Fact]
    public void Bytes_that_do_not_add_up_to_the_length_stated_are_a_listing_that_cannot_be_read()
    {
        const string Text = """
            ; Assembly listing for method Lamp:Light():int (Tier1)

            G_M000_IG01:                ;; offset=0x0000
                   B801000000           mov      eax, 1
                   C3                   ret

            ; Total bytes of code 7
            """;

        Assert.Equal("its instructions are 6 bytes long, and it states 7", Assert.Single(Listings.Read(Text)).Problem);
        Assert.Null(Assert.Single(Listings.Read(Text.Replace("code 7", "code 6", StringComparison.Ordinal))).Problem);
    }

    [Fact]
    public void A_line_in_no_form_known_is_kept_as_it_was_and_named()
    {
        var listing = Listings.Of("Lamp:Light():int", "mov      eax, 1", "?? 12", "ret      ");

        Assert.Equal("\"?? 12\" is in no form known", listing.Problem);
        Assert.Contains(listing.Raw, line => line.Contains("?? 12", StringComparison.Ordinal));
        Assert.Empty(listing.Blocks);
    }

    [Theory]
    [InlineData("call     [Lamp:Light(int):int:this]", "Lamp:Light(int):int:this", false)]
    [InlineData("call     CORINFO_HELP_NEWSFAST", "CORINFO_HELP_NEWSFAST", false)]
    [InlineData("call     [rax+0x30]Lamp:Light():this", "Lamp:Light():this", true)]
    [InlineData("call     [r11]ILamp:Light():this", "ILamp:Light():this", true)]
    [InlineData("call     rax", "", true)]
    [InlineData("tail.jmp [ram:Light():int[]]", "ram:Light():int[]", false)]
    [InlineData("call     Lamp:Lights():int[]", "Lamp:Lights():int[]", false)]
    [InlineData("call     G_M000_IG01", null, false)]
    public void A_call_tells_what_it_calls_and_whether_that_is_found_when_it_is_made(string line, string? callee, bool isIndirect)
    {
        var instruction = Assert.Single(Listings.Of("Lamp:Light():int", line).All);

        Assert.Equal((callee, isIndirect), (instruction.Callee, instruction.IsIndirectCall));
    }

    [Theory]
    [InlineData("Harbour.Chart:Nearest(int):int:this", true)]
    [InlineData("Harbour.Chart:Nearest[long](int):int:this", true)]
    [InlineData("Harbour.Chart:Nearest(System.ValueTuple`2[int,long]):int:this", true)]
    [InlineData("Harbour.Chart:Nearest(int,int):int:this", false)]
    [InlineData("Harbour.Chart:NearestOf(int):int:this", false)]
    [InlineData("Harbour.Chart+Beacon:Nearest(int):int:this", false)]
    public void A_method_is_known_by_its_type_name_and_number_of_parameters(string listed, bool isIt)
        => Assert.Equal(isIt, new MethodName("Harbour.Chart", "Nearest", 1).Is(listed));

    [Fact]
    public void A_generic_type_is_known_whatever_it_is_made_of()
        => Assert.True(new MethodName("Tides`1+<>c", "<Sum>b__0", 0).Is("Tides`1+<>c[System.__Canon]:<Sum>b__0():int:this"));
}
