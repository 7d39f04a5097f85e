import { runsLines } from "./lines";

const SOURCE = `
static int more(int n) {
  return n * 10; // all one two
}

int choose(int n) {
  int found;
  int more_of_it = 0; // all one two
  if (n == 1) // all one two
    return more(n); // all one
  else if (n == 3) { // all two
    found = 1; // all
  } else
    found = 2; // all two
  switch (n) { // all two
    case 2:
      for (int at = 0; at < 2; at++) more_of_it++; // all two
      break; // all two
    default:
      more_of_it = 5; // all
  }
  while (found < 2) found++; // all two
  return more(found) + more_of_it; // all two
}
`;

runsLines("c", "choose.c", SOURCE);
runsLines(
  "cpp",
  "choose.cpp",
  SOURCE.replace("static int more", "constexpr int none() { return 0; }\nstatic int more"),
);
