import { runsLines } from "./lines";

const SOURCE = `package choose

func more(n int) int {
	return n * 10 // all one two
}

func choose(n int) int {
	var found int
	extra := 0 // all one two
	if n == 1 { // all one two
		return more(n) // all one
	} else if n == 3 { // all two
		found = 1 // all
	} else {
		found = 2 // all two
	}
	switch n { // all two
	case 2:
	Outer:
		for { // all two_is_at_the_label
			extra += 2 // all two
			break Outer // all two
		}
	default:
		extra = 5 // all
	}
	return more(found) + extra // all two
}
`;

// A label and its loop are one statement, which begins at the label.
runsLines(
  "go",
  "choose.go",
  SOURCE.replace("Outer:\n", "Outer: // all two\n").replace("// all two_is_at_the_label", ""),
);
