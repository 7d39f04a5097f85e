/** Which header of the C standard library or of POSIX declares a name (ISO C17, section 7; POSIX.1-2017). */

const NAMES: Readonly<Record<string, string>> = {
  "stdio.h": `printf fprintf sprintf snprintf vprintf vfprintf vsnprintf scanf fscanf sscanf fopen fclose fread fwrite fgets fputs
    fgetc fputc getc putc getchar putchar puts fseek ftell rewind fflush feof ferror perror remove rename tmpfile popen pclose
    getline fileno stdin stdout stderr FILE EOF`,
  "stdlib.h": `malloc calloc realloc free abort exit atexit atoi atol atof strtol strtoul strtoll strtoull strtod rand srand qsort
    bsearch abs labs div getenv setenv system mkstemp EXIT_SUCCESS EXIT_FAILURE`,
  "string.h": `memcpy memmove memset memcmp memchr strlen strcpy strncpy strcat strncat strcmp strncmp strchr strrchr strstr strtok
    strdup strndup strerror strspn strcspn strcoll`,
  "math.h": `sin cos tan asin acos atan atan2 sinh cosh tanh exp log log2 log10 pow sqrt cbrt floor ceil round lround trunc fmod
    remainder fabs fmin fmax hypot rint nearbyint isnan isinf NAN INFINITY M_PI`,
  "ctype.h": "isalpha isdigit isalnum isspace isupper islower ispunct isxdigit isprint toupper tolower",
  "time.h":
    "time clock difftime mktime localtime gmtime strftime asctime ctime nanosleep clock_gettime time_t tm CLOCK_MONOTONIC",
  "errno.h": "errno EINTR EAGAIN ENOENT EINVAL ENOMEM",
  "assert.h": "assert static_assert",
  "stdarg.h": "va_list va_start va_arg va_end va_copy",
  "setjmp.h": "setjmp longjmp jmp_buf",
  "signal.h": "signal raise sigaction kill SIGINT SIGTERM SIGALRM",
  "locale.h": "setlocale localeconv LC_ALL LC_NUMERIC",
  "limits.h": "INT_MAX INT_MIN UINT_MAX LONG_MAX LONG_MIN CHAR_BIT",
  "stdint.h":
    "int8_t int16_t int32_t int64_t uint8_t uint16_t uint32_t uint64_t INT32_MAX UINT32_MAX intptr_t uintptr_t",
  "stdbool.h": "bool true false",
  "stddef.h": "size_t ptrdiff_t NULL offsetof",
  "unistd.h":
    "read write close lseek fork execv execvp execlp pipe dup dup2 getpid getppid sleep usleep unlink access chdir getcwd isatty",
  "fcntl.h": "open fcntl O_RDONLY O_WRONLY O_RDWR O_CREAT",
  "pthread.h":
    "pthread_create pthread_join pthread_mutex_lock pthread_mutex_unlock pthread_mutex_init pthread_t pthread_mutex_t",
  "sys/socket.h": "socket bind listen accept connect send recv setsockopt",
  "sys/stat.h": "stat fstat mkdir chmod",
  "sys/types.h": "pid_t off_t ssize_t",
};

/** Name → headers that declare it, the C++ spelling (`cstdio`) too. */
export const HEADERS: ReadonlyMap<string, readonly string[]> = new Map(
  Object.entries(NAMES).flatMap(([header, names]) =>
    names
      .split(/\s+/)
      .filter(Boolean)
      .map((name) => [name, [header, ...(header.includes("/") ? [] : [`c${header.replace(/\.h$/, "")}`])]] as const),
  ),
);
