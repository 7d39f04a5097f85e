/* Called by each statement of a probed copy: marks it as reached. */
#ifndef SIDE_TWIN_PROBE_H
#define SIDE_TWIN_PROBE_H

#ifdef __cplusplus
extern "C" {
#endif
extern unsigned char *st_hits;
#ifdef __cplusplus
}
#endif

static inline void st_hit(unsigned number) { st_hits[number] = 1; }

#endif
