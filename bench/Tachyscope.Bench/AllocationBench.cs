using System.Globalization;

namespace Tachyscope.Bench;

/// <summary>Operations of known size: are the bytes per call exact?</summary>
internal static class AllocationBench
{
    public static async Task<int> RunAsync()
    {
        var (findings, _, _, _) = await Instrument.MeasureAsync("allocation", withinSeconds: null, seed: 1);
        var wrong = 0;
        foreach (var cell in findings.Inputs[0].Cells)
        {
            var name = cell.Variant.Name;
            var known = double.Parse(name[(name.LastIndexOf(' ') + 1)..], CultureInfo.InvariantCulture);
            var isExact = cell.AllocatedBytesPerCall == known;
            wrong += isExact ? 0 : 1;
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"{name,-28}  measured {cell.AllocatedBytesPerCall,8:0.####}  {(isExact ? "exact" : "WRONG")}"));
        }

        return wrong == 0 ? 0 : 1;
    }
}
