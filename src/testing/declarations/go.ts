import type { Declarations } from "@/testing/declarations/declarations";

export const go: Declarations = {
  language: "go",
  source: `// Package fares
package fares

import (
	"fmt"
	str "strings"
	_ "embed"
	. "math"
	"github.com/harbour/tides/v2"
	"harbour.example/money"
)

const Rate, Other = 3, 4
const (
	A = iota
	B
)
var seen = map[string]int{}
type Fare struct { Name string; inner *Fare }
type (
	Priced interface { Price(n int) (int, error) }
	ID = string
)
type Num interface{ ~int | ~float64 }
func (f *Fare) Price(n int, rest ...string) (out int, err error) {
	if n > 0 && n < 9 || n == 11 { return int(Sqrt(float64(n))), nil }
	for i, r := range rest { if i > 3 { continue }; fmt.Println(r) }
	switch x := any(n).(type) { case int: fmt.Print(x); case string: default: }
	switch { case n > 5: fallthrough; case n > 6: str.ToUpper("a") }
	select { case <-make(chan int): default: }
	defer func() { recover() }()
	go tides.Height(n)
	return money.Of(n), nil
}
func (Fare) Value() int { return 1 }
func Map[T any, U any](xs []T, f func(T) U) []U { var out []U; for _, x := range xs { out = append(out, f(x)) }; return out }
func init() {}
`,
  sections: [
    "constant Rate 13-13 () 1",
    "constant Other 13-13 () 1",
    "constant A 15-15 () 1",
    "constant B 16-16 () 1",
    "constant seen 18-18 () 1",
    "class Fare 19-19 () 1",
    "class Priced 21-21 () 1",
    "class Num 24-24 () 1",
    "method Fare.Price 25-34 (n, rest) 11",
    "method Fare.Value 35-35 () 1",
    "function Map 36-36 (xs, f) 2",
    "function init 37-37 () 1",
  ],
  imports: [
    "5 fmt [] fmt=fmt",
    "6 strings [] str=strings",
    "7 embed []",
    "8 math [*]",
    "9 github.com/harbour/tides/v2 [] tides=github.com/harbour/tides/v2",
    "10 harbour.example/money [] money=harbour.example/money",
  ],
  uses: ["27 fmt.Println", "28 fmt.Print", "29 str.ToUpper", "31 recover", "32 tides.Height", "33 money.Of"],
};
