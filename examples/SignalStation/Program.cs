using Tachyscope;

return await Studies.RunAsync(args, NearestBeacon.Study, LampSignals.Study, TideLevels.Study);
