#ifndef SIDE_TWIN_SHA512_H
#define SIDE_TWIN_SHA512_H

#include <stddef.h>

/* SHA-512 (FIPS 180-4) of at most 200 bytes, with which replies are sealed. */
void st_sha512(const unsigned char *data, size_t length, unsigned char digest[64]);

#endif
