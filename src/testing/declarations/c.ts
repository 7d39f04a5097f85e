import type { Declarations } from "@/testing/declarations/declarations";

export const c: Declarations = {
  language: "c",
  source: `#include <stdio.h>
#include "money.h"
#include "../tides/tides.h"
#define RATE 3
#define SQ(x) ((x) * (x))
typedef struct fare { char *name; int n; } fare_t;
struct plain { int x; };
enum tier { LOW, HIGH = 4 };
typedef int (*rate_fn)(int, int);
static const int LIMIT = 9;
int table[] = { 1, 2 };
extern int elsewhere;
int declared(int a);
static inline int price(const fare_t *f, int n, ...) {
    if (n > 0 && n < 9 || n == 11) return SQ(n);
    for (int i = 0; i < n; i++) { if (i == 3) continue; }
    do { n--; } while (n > 0);
    switch (n) { case 1: case 2: return 1; default: break; }
    goto end;
end:
    return n ? printf("%d", n) : malloc(3) != NULL;
}
fare_t *make(void) { return 0; }
int (*chooser(int a))(int) { return 0; }
int old(a, b) int a; char b; { return a + b; }
void arr(int xs[static 3], char *const argv[], int (*cb)(void)) {}
#ifdef WINDOWS
int sys(void) { return 1; }
#else
int sys(void) { return 2; }
#endif
`,
  sections: [
    "constant RATE 4-4 () 1",
    "function SQ 5-5 (x) 1",
    "class fare 6-6 () 1",
    "class plain 7-7 () 1",
    "class tier 8-8 () 1",
    "constant LIMIT 10-10 () 1",
    "constant table 11-11 () 1",
    "function price 14-22 (f, n) 11",
    "function make 23-23 () 1",
    "function chooser 24-24 (a) 1",
    "function old 25-25 (a, b) 1",
    "function arr 26-26 (xs, argv, cb) 1",
    "function sys 28-28 () 1",
    "function sys 30-30 () 1",
  ],
  imports: ["1 stdio.h []", "2 money.h []", "3 ../tides/tides.h []"],
  uses: ["21 printf", "21 malloc"],
};
