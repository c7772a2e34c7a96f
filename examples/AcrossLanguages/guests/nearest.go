package main

import (
	"math"
	"tachyscope"
)

type chart struct {
	X, Y         []float64
	BoatX, BoatY float64
}

func nearest(in *chart) float64 {
	nearest := math.Inf(1)
	for beacon, x := range in.X {
		east, north := x-in.BoatX, in.Y[beacon]-in.BoatY
		if distance := math.Sqrt(east*east + north*north); distance < nearest {
			nearest = distance
		}
	}
	return nearest
}

func main() { tachyscope.Serve(tachyscope.Number("nearest", nearest)) }
