// Chains of multiplications, three clock cycles each: a guest of known cost.
package main

import "tachyscope"

type start struct{ Start uint64 }

var factor uint64 = 0x1E3779B97F4A7C15

func chain(from *start, links int) int64 {
	value, by := from.Start, factor
	for left := links; left > 0; left -= 8 {
		value *= by
		value *= by
		value *= by
		value *= by
		value *= by
		value *= by
		value *= by
		value *= by
	}
	return int64(value)
}

func chain64(from *start) int64  { return chain(from, 64) }
func chain256(from *start) int64 { return chain(from, 256) }

func main() {
	tachyscope.Serve(tachyscope.Whole("chain64", chain64), tachyscope.Whole("chain256", chain256))
}
