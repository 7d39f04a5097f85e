package sidetwin

import (
	"math/rand"
	"os"
	"time"
)

// The time that a case asked for; nil where the clock goes.
var fixedAt *time.Time

var isSeeded = false

func init() {
	// Later versions ignore a seed of the shared source otherwise.
	os.Setenv("GODEBUG", os.Getenv("GODEBUG")+",randseednop=0")
}

// fix sets clock and random numbers for a case.
func fix(now string, seed *int64) {
	fixedAt = nil
	if at, err := time.Parse(time.RFC3339Nano, now); err == nil {
		fixedAt = &at
	}
	if seed != nil {
		rand.Seed(*seed)
	} else if isSeeded {
		rand.Seed(time.Now().UnixNano())
	}
	isSeeded = seed != nil
}

// Now replaces time.Now in the side's sources.
func Now() time.Time {
	if fixedAt != nil {
		return fixedAt.In(time.Local)
	}
	return time.Now()
}

// Since replaces time.Since.
func Since(from time.Time) time.Duration {
	if fixedAt != nil {
		return fixedAt.Sub(from)
	}
	return time.Since(from)
}

// Until replaces time.Until.
func Until(to time.Time) time.Duration { return -Since(to) }
