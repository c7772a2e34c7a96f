// Package tachyscope is the kit for guests in Go: a worker of the protocol that docs/protocol.md describes.
//
// A guest makes an input of JSON, works on it, and says so:
//
//	type gauge struct{ Levels []float64 }
//
//	func highest(in *gauge) float64 { ... }
//
//	func main() { tachyscope.Serve(tachyscope.Number("highest", highest)) }
//
// Go 1.19 or newer; nothing but the standard library.
package tachyscope

import (
	"bufio"
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"os"
	"runtime"
	"strings"
	"time"
	"unsafe"
)

const (
	protocol = 4
	links    = 20480
)

// Operation is one function of a guest, as the kit calls it.
type Operation struct {
	name, result      string
	make              func(json.RawMessage) (unsafe.Pointer, error)
	call              func(unsafe.Pointer) (interface{}, error)
	chained, identity func(unsafe.Pointer, int64)
}

// Zero, which the compiler does not know: what an answer is multiplied by before it is added to the next call's input.
var zero uintptr

//go:noinline
func noZero() uintptr { return zero }

// Number is an operation that answers a number with a fraction.
func Number[In any](name string, function func(*In) float64) Operation {
	loop := func(function func(*In) float64) func(unsafe.Pointer, int64) {
		return func(input unsafe.Pointer, calls int64) {
			from, zero := input, noZero()
			for ; calls > 0; calls-- {
				from = unsafe.Add(input, uintptr(math.Float64bits(function((*In)(from))))&zero)
			}
			last = from
		}
	}
	return Operation{
		name: name, result: "floatingPoint", make: read[In],
		call: func(input unsafe.Pointer) (interface{}, error) {
			return called(func() interface{} { return function((*In)(input)) })
		},
		chained:  loop(function),
		identity: loop(func(input *In) float64 { return math.Float64frombits(uint64(uintptr(unsafe.Pointer(input)))) }),
	}
}

// Whole is an operation that answers a whole number.
func Whole[In any](name string, function func(*In) int64) Operation {
	loop := func(function func(*In) int64) func(unsafe.Pointer, int64) {
		return func(input unsafe.Pointer, calls int64) {
			from, zero := input, noZero()
			for ; calls > 0; calls-- {
				from = unsafe.Add(input, uintptr(function((*In)(from)))&zero)
			}
			last = from
		}
	}
	return Operation{
		name: name, result: "wholeNumber", make: read[In],
		call: func(input unsafe.Pointer) (interface{}, error) {
			return called(func() interface{} { return function((*In)(input)) })
		},
		chained:  loop(function),
		identity: loop(func(input *In) int64 { return int64(uintptr(unsafe.Pointer(input))) }),
	}
}

// Text is an operation that answers a text.
func Text[In any](name string, function func(*In) string) Operation {
	loop := func(function func(*In) string) func(unsafe.Pointer, int64) {
		return func(input unsafe.Pointer, calls int64) {
			from, zero := input, noZero()
			for ; calls > 0; calls-- {
				answer := function((*In)(from))
				kept = answer
				from = unsafe.Add(input, uintptr(len(answer))&zero)
			}
			last = from
		}
	}
	return Operation{
		name: name, result: "opaque", make: read[In],
		call: func(input unsafe.Pointer) (interface{}, error) {
			return called(func() interface{} { return function((*In)(input)) })
		},
		chained:  loop(function),
		identity: loop(func(input *In) string { return "" }),
	}
}

var (
	last unsafe.Pointer
	kept string
)

func read[In any](value json.RawMessage) (unsafe.Pointer, error) {
	made := new(In)
	if err := json.Unmarshal(value, made); err != nil {
		return nil, err
	}
	return unsafe.Pointer(made), nil
}

func called(call func() interface{}) (answer interface{}, err error) {
	defer func() {
		if panicked := recover(); panicked != nil {
			err = fmt.Errorf("panicked: %v", panicked)
		}
	}()
	answer = call()
	if number, isNumber := answer.(float64); isNumber {
		switch {
		case math.IsNaN(number):
			answer = "NaN"
		case math.IsInf(number, 1):
			answer = "Infinity"
		case math.IsInf(number, -1):
			answer = "-Infinity"
		}
	}
	return answer, nil
}

type requestError struct {
	Code    int    `json:"code"`
	Message string `json:"message"`
}

func (failed *requestError) Error() string { return failed.Message }

func wrong(code int, format string, arguments ...interface{}) *requestError {
	return &requestError{code, fmt.Sprintf(format, arguments...)}
}

type cell struct {
	loop                         func(unsafe.Pointer, int64)
	input                        unsafe.Pointer
	isMetronome, hasFailed       bool
	warmed, perReading           int64
	firstElapsed, firstAllocated int64
	last, fastest                float64
}

type reading struct {
	calls, elapsed, allocated, collections, pause int64
}

var factor uint64 = 0x9E3779B97F4A7C15
var product uint64

func metronome(_ unsafe.Pointer, count int64) {
	by, value := factor, uint64(1)
	for ; count > 0; count -= 16 {
		value *= by
		value *= by
		value *= by
		value *= by
		value *= by
		value *= by
		value *= by
		value *= by
		value *= by
		value *= by
		value *= by
		value *= by
		value *= by
		value *= by
		value *= by
		value *= by
	}
	product = value
}

// Time of additions that fill the core, in thousandths of that of a chain that leaves most of it idle.
func gauge() int64 {
	term := factor
	a, b, c, d := uint64(1), uint64(2), uint64(3), uint64(4)
	start := now()
	for left := 300; left > 0; left-- {
		a += term
		b += term
		c += term
		d += term
		a ^= term
		b ^= term
		c ^= term
		d ^= term
		a += term
		b += term
		c += term
		d += term
		a ^= term
		b ^= term
		c ^= term
		d ^= term
		a += term
		b += term
		c += term
		d += term
		a ^= term
		b ^= term
		c ^= term
		d ^= term
		a += term
		b += term
		c += term
		d += term
		a ^= term
		b ^= term
		c ^= term
		d ^= term
		a += term
		b += term
		c += term
		d += term
		a ^= term
		b ^= term
		c ^= term
		d ^= term
		a += term
		b += term
		c += term
		d += term
		a ^= term
		b ^= term
		c ^= term
		d ^= term
	}
	middle := now()
	value := a ^ b ^ c ^ d
	for left := 150; left > 0; left-- {
		value *= term
		value *= term
		value *= term
		value *= term
		value *= term
		value *= term
		value *= term
		value *= term
	}
	end := now()
	product = value
	if end == middle {
		end++
	}
	return 1000 * (middle - start) / (end - middle)
}

var started = time.Now()

func now() int64 { return int64(time.Since(started)) }

// The counters stop the world to be exact, and so stay outside of what is timed.
func take(loop func(unsafe.Pointer, int64), input unsafe.Pointer, calls int64, isCounted bool) reading {
	var before, after runtime.MemStats
	if isCounted {
		runtime.ReadMemStats(&before)
	}
	start := now()
	loop(input, calls)
	elapsed := now() - start
	if isCounted {
		runtime.ReadMemStats(&after)
	}
	return reading{calls, elapsed, int64(after.TotalAlloc - before.TotalAlloc), int64(after.NumGC - before.NumGC),
		int64(after.PauseTotalNs - before.PauseTotalNs)}
}

type worker struct {
	operations []Operation
	given      map[int]json.RawMessage
	made       map[[2]int]unsafe.Pointer
	cells      []cell
	warmStart  int64
	isWarm     bool
}

type cellRequest struct {
	Kind           string
	Variant, Input *int
}

func (own *worker) find(variant, input *int) (*Operation, int, error) {
	if variant == nil || *variant < 0 || *variant >= len(own.operations) {
		return nil, 0, wrong(-32602, "Send the index of an operation, of which there are %d, as variant.", len(own.operations))
	}
	if input == nil {
		return nil, 0, wrong(-32602, "Send the index of an input.")
	}
	if _, isThere := own.given[*input]; !isThere {
		return nil, 0, wrong(-32602, "There is no input %d; send it with \"take\" first.", *input)
	}
	return &own.operations[*variant], *input, nil
}

func (own *worker) makeInput(variant, input int, isOwn bool) (unsafe.Pointer, error) {
	key := [2]int{variant, input}
	if made, isThere := own.made[key]; isThere && !isOwn {
		return made, nil
	}
	made, err := own.operations[variant].make(own.given[input])
	if err != nil {
		return nil, wrong(-32000, "The input cannot be made of what was given: %v", err)
	}
	if !isOwn {
		own.made[key] = made
	}
	return made, nil
}

type object map[string]interface{}

func (own *worker) hello() (interface{}, error) {
	architecture := map[string]string{"amd64": "x64", "arm64": "arm64"}[runtime.GOARCH]
	if architecture == "" {
		architecture = runtime.GOARCH
	}
	return object{"protocol": protocol, "kit": "go", "processId": os.Getpid(), "environment": object{
		"runtime": strings.Replace(runtime.Version(), "go", "Go ", 1), "architecture": architecture, "isOptimized": true,
		"isAheadOfTime": true, "clockStepNanoseconds": 1}}, nil
}

func (own *worker) studies() (interface{}, error) {
	var variants []object
	for _, operation := range own.operations {
		variants = append(variants, object{"name": operation.name, "variant": operation.name, "loop": object{
			"path": "delegate", "order": "chained", "supply": "same", "result": operation.result}})
	}
	return object{"studies": []object{{"name": "guest", "agreement": "", "inputs": []int{}, "variants": variants}}}, nil
}

func (own *worker) take(parameters json.RawMessage) (interface{}, error) {
	var request struct {
		Inputs *[]struct {
			Input *int
			Value json.RawMessage
			File  *string
		}
	}
	if json.Unmarshal(parameters, &request) != nil || request.Inputs == nil {
		return nil, wrong(-32602, "Send inputs, an array of objects.")
	}
	for _, given := range *request.Inputs {
		if given.Input == nil || (given.Value == nil && given.File == nil) {
			return nil, wrong(-32602, "Send of every input its index, and a value or the path of a file.")
		}
		value := given.Value
		if given.File != nil {
			read, err := os.ReadFile(*given.File)
			if err != nil {
				return nil, wrong(-32602, "The file of input %d cannot be read: %v", *given.Input, err)
			}
			value = read
		}
		own.given[*given.Input] = append(json.RawMessage(nil), value...)
		for variant := range own.operations {
			delete(own.made, [2]int{variant, *given.Input})
		}
	}
	return object{}, nil
}

func (own *worker) check(parameters json.RawMessage) (interface{}, error) {
	var request struct{ Variant, Input *int }
	if json.Unmarshal(parameters, &request) != nil {
		return nil, wrong(-32602, "Send variant and input, whole numbers.")
	}
	operation, input, err := own.find(request.Variant, request.Input)
	if err != nil {
		return nil, err
	}
	made, err := own.makeInput(*request.Variant, input, true)
	if err != nil {
		return nil, err
	}
	answer, err := operation.call(made)
	if err != nil {
		return object{"failure": "threw", "reason": err.Error()}, nil
	}
	return object{"value": answer}, nil
}

func (own *worker) open(parameters json.RawMessage) (interface{}, error) {
	var request struct{ Cells []cellRequest }
	if json.Unmarshal(parameters, &request) != nil || len(request.Cells) == 0 {
		return nil, wrong(-32602, "Send cells, an array with at least one.")
	}
	cells := make([]cell, len(request.Cells))
	for index, asked := range request.Cells {
		if asked.Kind == "metronome" {
			cells[index] = cell{loop: metronome, isMetronome: true}
			continue
		}
		operation, input, err := own.find(asked.Variant, asked.Input)
		if err != nil {
			return nil, err
		}
		// Cells of one input share it; a twin has its own.
		made, err := own.makeInput(*asked.Variant, input, asked.Kind == "twin")
		if err != nil {
			return nil, err
		}
		loop := operation.chained
		if asked.Kind == "identity" {
			loop = operation.identity
		}
		cells[index] = cell{loop: loop, input: made}
	}
	own.cells, own.isWarm = cells, false
	return object{"cells": len(cells)}, nil
}

// Whatever a call panics with ends its cell.
func (own *cell) guarded(call func()) (reason string) {
	defer func() {
		if panicked := recover(); panicked != nil {
			own.hasFailed = true
			reason = fmt.Sprintf("panicked: %v", panicked)
		}
	}()
	call()
	return ""
}

// Calls the cells in turn, about a millisecond each, until the time asked for is over. Whether they are warm is the tool's to say.
func (own *worker) warm(parameters json.RawMessage) (interface{}, error) {
	var request struct{ QuietMilliseconds, ReadingNanoseconds *int64 }
	if json.Unmarshal(parameters, &request) != nil || request.QuietMilliseconds == nil || request.ReadingNanoseconds == nil {
		return nil, wrong(-32602, "Send quietMilliseconds and readingNanoseconds, whole numbers.")
	}
	if own.cells == nil {
		return nil, wrong(-32600, "No sitting is open; send \"open\" first.")
	}
	begun := now()
	at := begun
	if !own.isWarm {
		own.warmStart, own.isWarm = begun, true
	}
	slices, failures, warmed, gauges := []interface{}{}, []interface{}{}, []interface{}{}, []int64{}
	for {
		for index := range own.cells {
			own.cells[index].warm(index, own.warmStart, *request.ReadingNanoseconds, &slices, &failures)
			gauges = append(gauges, gauge())
		}
		at = now()
		if at-begun >= *request.QuietMilliseconds*1_000_000 {
			break
		}
	}
	for index := range own.cells {
		one := &own.cells[index]
		if !one.hasFailed {
			warmed = append(warmed, object{"cell": index, "firstCallNanoseconds": one.firstElapsed, "firstCallAllocatedBytes": one.firstAllocated,
				"calls": one.warmed, "nanosecondsPerCall": one.fastest, "callsPerReading": one.perReading})
		}
	}
	return object{"slices": slices, "elapsedMilliseconds": float64(at-own.warmStart) * 1e-6, "cells": warmed,
		"failures": failures, "gauges": gauges}, nil
}

func (own *cell) warm(index int, start, length int64, slices, failures *[]interface{}) {
	if own.hasFailed {
		return
	}
	beat := float64(take(metronome, nil, links, false).elapsed) / links
	if own.isMetronome {
		if own.warmed == 0 || beat < own.fastest {
			own.fastest = beat
		}
		own.warmed += links
		own.perReading = links
		return
	}
	calls := int64(1)
	if own.warmed > 0 {
		calls = int64(math.Max(1, math.Min(float64(4*own.warmed), 1e6/math.Max(own.last, 0.1))))
	}
	var slice reading
	if reason := own.guarded(func() { slice = take(own.loop, own.input, calls, true) }); reason != "" {
		*failures = append(*failures, object{"cell": index, "reason": reason})
		return
	}
	at := now()
	own.last = float64(slice.elapsed) / float64(calls)
	if own.warmed == 0 {
		own.firstElapsed, own.firstAllocated, own.fastest = slice.elapsed, slice.allocated, own.last
	}
	own.fastest = math.Min(own.fastest, own.last)
	own.warmed += calls
	own.perReading = int64(math.Max(1, float64(length)/math.Max(own.fastest, 0.1)))
	*slices = append(*slices, []interface{}{index, float64(at-start) * 1e-6, calls, slice.elapsed, beat, slice.allocated})
}

type roundRequest struct {
	Round      *int
	FirstPlace int
	Cells      []int
}

func (own *worker) read(parameters json.RawMessage) (interface{}, error) {
	var request struct {
		Rounds          *[]roundRequest
		ReadingsPerTurn *int
		Metronome       *int
		QuietGauge      int64
	}
	if json.Unmarshal(parameters, &request) != nil || request.Rounds == nil || request.ReadingsPerTurn == nil || request.Metronome == nil {
		return nil, wrong(-32602, "Send rounds, readingsPerTurn and the index of the metronome.")
	}
	if own.cells == nil || !own.isWarm {
		return nil, wrong(-32600, "No sitting is warm; send \"open\" and \"warm\" first.")
	}
	for _, round := range *request.Rounds {
		if round.Round == nil {
			return nil, wrong(-32602, "Send the number of every round.")
		}
		for _, index := range round.Cells {
			if index < 0 || index >= len(own.cells) {
				return nil, wrong(-32602, "A round names the cell %d, which was not opened.", index)
			}
		}
	}
	taken := turnsTaken{most: *request.ReadingsPerTurn, metronome: *request.Metronome, quietGauge: request.QuietGauge,
		readings: []interface{}{}, failures: []interface{}{}, gauges: [][]int64{}}
	for _, round := range *request.Rounds {
		for turn, index := range round.Cells {
			own.cells[index].turn(index, *round.Round, round.FirstPlace+turn, &taken)
		}
	}
	return object{"readings": taken.readings, "gauges": taken.gauges, "isPinned": false, "failures": taken.failures}, nil
}

type turnsTaken struct {
	most, metronome    int
	quietGauge         int64
	readings, failures []interface{}
	gauges             [][]int64
}

// A turn: the metronome once, a few calls thrown away, then the readings, each between two gauges, until there are enough or three are
// quiet.
func (own *cell) turn(index, round, place int, taken *turnsTaken) {
	// The first links after somebody else's turn are cold, and are thrown away.
	take(metronome, nil, links/16, false)
	beat := take(metronome, nil, links, false)
	taken.readings = append(taken.readings, []interface{}{round, place, taken.metronome, links, beat.elapsed, nil})
	if own.isMetronome || own.hasFailed {
		return
	}
	perCall := math.Max(own.fastest, 0.1)
	thrown := math.Max(8, math.Ceil(20_000/perCall))
	if thrown*perCall > 60_000 {
		thrown = math.Floor(60_000 / perCall)
	}
	length, most := perCall*float64(own.perReading), taken.most
	if length > 1e7 {
		most = 1
	} else if length > 1e6 && most > 3 {
		most = 3
	}
	gauges := []int64{int64(round), int64(place), -1}
	reason := own.guarded(func() {
		if thrown > 0 {
			own.loop(own.input, int64(thrown))
		}
		before, quiet := gauge(), 0
		for count := 0; count < most && quiet < 3; count++ {
			one := take(own.loop, own.input, own.perReading, true)
			after := gauge()
			taken.readings = append(taken.readings, []interface{}{round, place, index, one.calls, one.elapsed, nil, one.allocated,
				one.collections, one.collections, one.collections, one.pause})
			gauges = append(gauges, before, after)
			if before <= taken.quietGauge && after <= taken.quietGauge {
				quiet++
			}
			before = after
		}
	})
	taken.gauges = append(taken.gauges, gauges)
	if reason != "" {
		taken.failures = append(taken.failures, object{"cell": index, "reason": reason})
	}
}

func (own *worker) dispatch(method string, parameters json.RawMessage) (interface{}, error) {
	switch method {
	case "hello":
		return own.hello()
	case "studies":
		return own.studies()
	case "inspect":
		return object{"mistakes": []string{}}, nil
	case "take":
		return own.take(parameters)
	case "check":
		return own.check(parameters)
	case "open":
		return own.open(parameters)
	case "warm":
		return own.warm(parameters)
	case "read":
		return own.read(parameters)
	case "bye":
		return object{}, nil
	}
	return nil, wrong(-32601, "No method is named %q.", method)
}

func (own *worker) answer(line []byte) (reply []byte, isLast bool) {
	var request struct {
		ID     json.RawMessage `json:"id"`
		Method *string
		Params json.RawMessage
	}
	var result interface{}
	var err error
	if !json.Valid(line) {
		err = wrong(-32700, "The line is no JSON.")
	} else if json.Unmarshal(line, &request) != nil || request.Method == nil {
		err = wrong(-32600, "The line is no request.")
	} else {
		isLast = *request.Method == "bye"
		result, err = own.dispatch(*request.Method, request.Params)
	}
	if request.ID == nil {
		request.ID = json.RawMessage("null")
	}
	if err == nil {
		if reply, err = json.Marshal(object{"jsonrpc": "2.0", "id": request.ID, "result": result}); err == nil {
			return reply, isLast
		}
		err = wrong(-32000, "What it answered cannot be written as JSON: %v", err)
	}
	failed, isOurs := err.(*requestError)
	if !isOurs {
		failed = wrong(-32000, "%v", err)
	}
	reply, _ = json.Marshal(object{"jsonrpc": "2.0", "id": request.ID, "error": failed})
	return reply, false
}

// Serve answers the tool until it takes its leave. Inputs are read of JSON into what the operations take.
func Serve(operations ...Operation) {
	if _, isWorker := os.LookupEnv("TACHYSCOPE_WORKER"); !isWorker {
		fmt.Fprintln(os.Stderr, "This program is a guest: it is started by tachyscope run, or looked at by tachyscope guest.")
		os.Exit(2)
	}
	runtime.LockOSThread()
	requests := bufio.NewReaderSize(os.Stdin, 1<<16)
	replies := os.Stdout
	// What the guest prints goes to standard error, and what it reads is empty.
	os.Stdout = os.Stderr
	os.Stdin, _ = os.Open(os.DevNull)
	own := &worker{operations: operations, given: map[int]json.RawMessage{}, made: map[[2]int]unsafe.Pointer{}}
	for {
		line, err := requests.ReadBytes('\n')
		if len(bytes.TrimSpace(line)) > 0 {
			reply, isLast := own.answer(line)
			if _, failed := replies.Write(append(reply, '\n')); failed != nil || isLast {
				return
			}
		}
		if err != nil {
			return
		}
	}
}
