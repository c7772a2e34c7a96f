using Tachyscope;

return await Studies.RunAsync(args, NearestBeacon.Study, GaugeReadings.Study);
