package side

import (
	"fmt"
	"math"
	"strings"
	"time"
)

type NegativeError struct{}

func (NegativeError) Error() string { return "negative" }

type NoRoomError struct{}

func (*NoRoomError) Error() string { return "no room" }

type Boat struct {
	name   string
	metres int
}

type Quay struct{ room int }

func NewQuay(room int) *Quay { return &Quay{room} }

func (q *Quay) moor(boat Boat) (int, error) {
	if boat.metres > q.room {
		return 0, &NoRoomError{}
	}
	q.room -= boat.metres
	return q.room, nil
}

func (q Quay) larger(other *Quay) bool { return q.room > other.room }

var ticks int

func twice(number int) int                        { return number * 2 }
func half(number float64) float64                 { return number / 2 }
func join(words []string, separator string) string { return strings.Join(words, separator) }
func is_even(number int) bool                     { return number%2 == 0 }

func count(words []string) map[string]int {
	counts := map[string]int{}
	for _, word := range words {
		counts[word]++
	}
	return counts
}

func distinct(words []string) map[string]struct{} {
	found := map[string]struct{}{}
	for _, word := range words {
		found[word] = struct{}{}
	}
	return found
}

func longest(boats []Boat) *Boat {
	var best *Boat
	for at := range boats {
		if best == nil || boats[at].metres > best.metres {
			best = &boats[at]
		}
	}
	return best
}

func fill(numbers []int, value int) {
	for at := range numbers {
		numbers[at] = value
	}
}

func greet(name string) { fmt.Println("hello", name) }

func refuse(number int) (int, error) {
	if number < 0 {
		return 0, NegativeError{}
	}
	return number, nil
}

func big() int64 { return math.MaxInt64 }

func odd_number(which int) float64 {
	return []float64{math.NaN(), math.Inf(1), math.Copysign(0, -1)}[which]
}

func reversed_bytes(data []byte) []byte {
	made := []byte{}
	for at := len(data) - 1; at >= 0; at-- {
		made = append(made, data[at])
	}
	return made
}

func next_day(day time.Time) time.Time { return day.AddDate(0, 0, 1) }
func tick() int                        { ticks++; return ticks }
func nested(value any) any             { return value }
