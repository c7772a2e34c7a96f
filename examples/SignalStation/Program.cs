using Tachyscope;

return await Studies.RunAsync(
    args,
    NearestBeacon.Study,
    LampSignals.Study,
    TideLevels.Study,
    PassingVessels.Study,
    WeatherReports.Study,
    TideSums.Study<int>(),
    TideSums.Study<float>(),
    TideSums.Study<double>());
