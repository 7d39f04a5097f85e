//go:build go1.18

package sidetwin

import (
	"fmt"
	"strings"
)

// Probe is an instrumented statement.
type Probe struct {
	File string
	Line int
}

var (
	probes []Probe
	hits   []byte
	// sets are the sets of lines that ran, by their probes.
	sets = map[string]int{}
)

// Hit notes that a statement was reached; before Main there is nowhere to note it.
func Hit(number int) {
	if number < len(hits) {
		hits[number] = 1
	}
}

// takeLines returns the reply members for the lines run since the last call: the set's number, and its lines the first time.
func takeLines() string {
	if len(hits) == 0 {
		return ""
	}
	ran := string(hits)
	number, isKnown := sets[ran]
	defer clear(hits)
	if isKnown {
		return fmt.Sprintf(`,"path":%d`, number)
	}
	number = len(sets)
	sets[ran] = number
	files, lines := []string{}, map[string][]string{}
	for at, probe := range probes {
		if hits[at] == 0 {
			continue
		}
		known := lines[probe.File]
		line := fmt.Sprint(probe.Line)
		if len(known) == 0 {
			files = append(files, probe.File)
		}
		if len(known) == 0 || known[len(known)-1] != line {
			lines[probe.File] = append(known, line)
		}
	}
	members := []string{}
	for _, file := range files {
		members = append(members, encodeJSON(file)+":["+strings.Join(lines[file], ",")+"]")
	}
	return fmt.Sprintf(`,"path":%d,"lines":{%s}`, number, strings.Join(members, ","))
}
