import type { ProgramProbes } from "@/engine/drivers/driver";

/**
 * Each file brings the probe's function, as a build's commands name the files to link. The library's functions are
 * declared under other names, so that no header is needed and none declares them otherwise.
 */
const complete: ProgramProbes["complete"] = (files, { count }) =>
  new Map([...files].map(([file, text]) => [file, `${prelude(count)}#line 1 ${JSON.stringify(file)}\n${text}`]));

/** For C. */
export const cProbes: ProgramProbes = {
  isSource: (file) => /\.[ch]$/.test(file),
  call: (probe) => `side_twin_hit_(${probe});`,
  complete,
};

/** For C++. */
export const cppProbes: ProgramProbes = {
  ...cProbes,
  isSource: (file) => /\.(?:cc|cpp|cxx|c\+\+|hh|hpp|hxx|h)$/i.test(file),
};

const prelude = (count: number): string => `#ifndef SIDE_TWIN_PROBES_
#define SIDE_TWIN_PROBES_
#ifdef __cplusplus
extern "C" {
#endif
extern char *side_twin_getenv_(const char *) __asm__("getenv");
extern int side_twin_open_(const char *, int, ...) __asm__("open");
extern long side_twin_pwrite_(int, const void *, unsigned long, long) __asm__("pwrite");
#ifdef __cplusplus
}
#endif
static unsigned char side_twin_seen_[${Math.max(1, count)}];
__attribute__((unused)) static void side_twin_hit_(int probe) {
  static int file = -2;
  if (side_twin_seen_[probe]) return;
  side_twin_seen_[probe] = 1;
  if (file == -2) {
    const char *name = side_twin_getenv_("SIDE_TWIN_PROBES");
    file = name ? side_twin_open_(name, 01 | 0100 | 02000000, 0600) : -1;
  }
  if (file >= 0 && side_twin_pwrite_(file, "\\1", 1, probe) != 1) file = -1;
}
#endif
`;
