package main

import "tachyscope"

type levels []float64

func sum(in *levels) float64 {
	sum := 0.0
	for _, level := range *in {
		sum += level
	}
	return sum
}

func main() { tachyscope.Serve(tachyscope.Number("sum", sum)) }
