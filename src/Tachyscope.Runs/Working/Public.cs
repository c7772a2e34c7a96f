namespace Tachyscope.Working;

public static partial class DotnetHost;
