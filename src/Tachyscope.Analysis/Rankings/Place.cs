namespace Tachyscope.Analysis.Rankings;

/// <summary>
/// A row's place among those of its input, from 1 for the fastest; where nothing separates rows, they share a range of places.
/// </summary>
/// <param name="First">The best place it may have: one more than the rows that are faster.</param>
/// <param name="Last">The worst place it may have: the number of rows less those that are slower.</param>
public readonly record struct Place(int First, int Last);
