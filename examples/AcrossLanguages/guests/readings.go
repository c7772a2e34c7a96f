package main

import (
	"strconv"
	"strings"
	"tachyscope"
)

type readings []int

func written(levels *readings) string {
	var text strings.Builder
	for _, level := range *levels {
		if level < 0 {
			text.WriteByte('-')
			level = -level
		}
		text.WriteString(strconv.Itoa(level / 10))
		text.WriteByte('.')
		text.WriteString(strconv.Itoa(level % 10))
		text.WriteByte(';')
	}
	return text.String()
}

func main() { tachyscope.Serve(tachyscope.Text("written", written)) }
