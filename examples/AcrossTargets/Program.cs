using Tachyscope;

return await Studies.RunAsync(
    args, GaugeReadings.Study, CallSigns.Study, LogChecks.Study, LampLabels.Study, LampReaches.Study, WatchBell.Study);
