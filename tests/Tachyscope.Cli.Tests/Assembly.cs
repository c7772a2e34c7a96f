// Most of these tests wait for processes of their own.
[assembly: CollectionBehavior(MaxParallelThreads = 6)]
