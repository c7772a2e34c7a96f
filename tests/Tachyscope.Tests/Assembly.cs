// Stages, exceptions, samples of allocation and the collector are looked at for the whole process, which in a worker runs one thing
// at a time.
[assembly: CollectionBehavior(DisableTestParallelization = true)]
