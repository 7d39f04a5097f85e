/*
 * The protocol: requests come in on file descriptor 3, replies leave on 4; descriptor 1 is a file that belongs to the ported
 * code: what it prints is read back from there.
 */
#include <errno.h>
#include <execinfo.h>
#include <fcntl.h>
#include <inttypes.h>
#include <locale.h>
#include <signal.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <time.h>
#include <unistd.h>

#include "sha512.h"
#include "sidetwin.h"
#include "state.h"

/* Values that ported code may keep are never freed: beyond this much memory a new process goes on. */
enum { MAX_RESIDENT_KB = 400 * 1024, FRAMES = 24 };

st_state_type *st_state;

double st_now(void) {
  struct timespec now;
  clock_gettime(CLOCK_MONOTONIC, &now);
  return (double)now.tv_sec * 1e3 + (double)now.tv_nsec / 1e6;
}

/* -- requests --------------------------------------------------------------------------------------------------------- */

static st_value nothing = {.kind = ST_JSON_LIST};

static st_value *list_of(const st_value *asked, const char *key) {
  st_value *found = st_member(asked, key);
  return found && found->kind == ST_JSON_LIST ? found : &nothing;
}

static const char *text_of(const st_value *asked, const char *key) {
  st_value *found = st_member(asked, key);
  return found && found->kind == ST_JSON_TEXT ? found->text : NULL;
}

static st_value *one_or_list(const st_value *asked, const char *many, const char *one) {
  st_value *found = st_member(asked, many);
  if (found && found->kind == ST_JSON_LIST && found->first) return found;
  st_value *list = st_brief(sizeof *list);
  list->kind = ST_JSON_LIST;
  st_value *single = st_member(asked, one);
  if (!single) return list;
  list->first = st_brief(sizeof *single);
  *list->first = *single;
  list->first->next = NULL;
  list->count = 1;
  return list;
}

static void check_files(const st_value *files) {
  for (const st_value *file = files->first; file; file = file->next)
    for (const st_complaint *one = st_state->complaints; one && one->file; one++)
      if (strcmp(one->file, file->text) == 0) {
        st_reading(NULL, NULL);
        st_misfit("%s", one->what);
      }
  for (const st_value *file = files->first; file; file = file->next)
    if (st_state->language->knows(file->text)) return;
  st_missing(files->first ? files->first->text : "a file");
}

bool st_wants_blocks(void) { return st_state->wants_blocks; }

void st_enter(void) {
  if (st_state->wants_blocks) st_count_blocks(true);
  errno = 0;
}

void st_leave(void) {
  st_state->error_number = errno;
  if (st_state->wants_blocks) st_count_blocks(false);
}

/* Facts that the case asks for in addition to its answer. */
static void read_wishes(const st_value *asked) {
  const st_value *allocations = st_member(asked, "allocations");
  st_state->wants_blocks = allocations && allocations->flag;
  const st_value *seed = st_member(asked, "seed");
  st_fix_clock(text_of(asked, "now"));
  if (seed && seed->kind == ST_JSON_NUMBER) srand((unsigned)strtoul(seed->text, NULL, 10));
  st_state->wants_errno = false;
  st_state->error_number = 0;
  for (const st_value *one = list_of(asked, "observe")->first; one; one = one->next)
    if (one->kind == ST_JSON_TEXT && strcmp(one->text, "errno") == 0) st_state->wants_errno = true;
  if (st_state->wants_blocks) st_forget_blocks();
}

static void put_observed(st_out *out) {
  if (st_state->wants_errno) st_put_format(out, ",\"errno\":%d", st_state->error_number);
  if (!st_state->wants_blocks) return;
  if (st_state->language->release) {
    st_count_blocks(true);
    st_state->language->release();
    st_count_blocks(false);
  }
  if (st_held_blocks() >= 0) st_put_format(out, ",\"leaks\":{\"blocks\":%ld}", st_held_blocks());
  st_forget_blocks();
}

static void put_steps(const st_value *asked, const st_order *common, st_out *out) {
  const st_language *language = st_state->language;
  st_put(out, "\"steps\":[");
  for (st_value *step = list_of(asked, "steps")->first; step; step = step->next) {
    st_order order = {.args = list_of(step, "args"), .kwargs = st_member(step, "kwargs"), .files = common->files};
    const char *as = text_of(step, "as"), *on = text_of(step, "on");
    if (step != list_of(asked, "steps")->first) st_put(out, ",");
    st_put(out, "{");
    if ((order.names = st_member(step, "new"))) language->create(&order, as, out);
    else if ((order.names = st_member(step, "call"))) language->call_on(&order, on, as, out);
    else if ((order.names = st_member(step, "get"))) language->get(&order, on, as, out);
    else if ((order.names = st_member(step, "set"))) language->set(&order, on, st_member(step, "value"), out);
    st_put(out, "}");
  }
  st_put(out, "]");
}

/* Writes the members of the reply, without the braces. */
static void put_answer(const st_value *asked, const char *op, st_out *out, double *milliseconds) {
  const st_language *language = st_state->language;
  st_order order = {.files = one_or_list(asked, "files", "file"), .names = one_or_list(asked, "names", "name"),
                    .args = list_of(asked, "args"), .kwargs = st_member(asked, "kwargs")};
  if (strcmp(op, "hello") == 0) {
    const char *secret = text_of(asked, "secret");
    const st_value *limit = st_member(asked, "outputKb");
    if (secret) snprintf(st_state->secret, sizeof st_state->secret, "%s", secret);
    if (limit && limit->kind == ST_JSON_NUMBER) st_state->output_limit = strtoll(limit->text, NULL, 10) * 1024;
    st_put_format(out, "\"bridge\":1,\"language\":\"%s\",\"version\":\"%s\"", language->language, language->version);
  } else if (strcmp(op, "load") == 0) {
    check_files(order.files);
    st_put(out, "\"names\":[");
    language->names(order.files->first->text, out);
    st_put(out, "]");
  } else if (strcmp(op, "call") == 0) {
    check_files(order.files);
    language->call(&order, out, milliseconds);
    put_observed(out);
  } else if (strcmp(op, "steps") == 0) {
    check_files(order.files);
    put_steps(asked, &order, out);
    put_observed(out);
  } else if (strcmp(op, "reset") != 0) {
    st_put(out, "\"error\":");
    st_put_text(out, "unknown operation; known: hello, load, call, steps, reset", 57);
  }
}

static void put_broken(st_out *out, const char *why, const char *what) {
  out->length = 0;
  st_put_format(out, "\"broken\":{\"why\":\"%s\",\"what\":", why);
  st_put_string(out, what, strlen(what));
  st_put(out, ",\"lastOutput\":\"\"}");
}

/* Reads the output printed since the last case; false if it exceeds the limit. */
static bool take_printed(st_out *out) {
  struct stat facts;
  fflush(stdout);
  if (fstat(1, &facts) != 0 || facts.st_size == 0) {
    st_put(out, ",\"printed\":\"\"");
    return true;
  }
  bool fits = facts.st_size <= st_state->output_limit;
  if (fits) {
    char *data = st_brief((size_t)facts.st_size + 1);
    ssize_t length = pread(1, data, (size_t)facts.st_size, 0);
    st_put(out, ",\"printed\":");
    if (length < 0) length = 0;
    // Bytes that are not UTF-8 become question marks.
    for (ssize_t at = 0; at < length && !st_is_utf8(data, (size_t)length); at++)
      if ((unsigned char)data[at] >= 0x80) data[at] = '?';
    st_put_text(out, data, (size_t)length);
  }
  return ftruncate(1, 0) == 0 && fits;
}

/* -- state ------------------------------------------------------------------------------------------------------------- */

extern char __data_start[] __attribute__((weak));
extern char _end[] __attribute__((weak));

static void keep_image(void) {
  if (!__data_start || !_end) return;
  st_state->start = __data_start;
  st_state->image_size = (size_t)(_end - __data_start);
  st_state->image = malloc(st_state->image_size);
  if (st_state->image) memcpy(st_state->image, __data_start, st_state->image_size);
}

/* Puts variables back to what they held after loading. False where that cannot be, so that the process is to end. */
static bool put_state_back(void) {
  struct rusage use;
  if (!st_state->image || st_state->language->ends) return false;
  bool changed = memcmp(st_state->start, st_state->image, st_state->image_size) != 0;
  if (changed && !st_state->language->restores) return false;
  if (changed) memcpy(st_state->start, st_state->image, st_state->image_size);
  srand(1);
  errno = 0;
  setlocale(LC_ALL, "C");
  return getrusage(RUSAGE_SELF, &use) != 0 || use.ru_maxrss < MAX_RESIDENT_KB;
}

/* -- crashes ----------------------------------------------------------------------------------------------------------- */

/* Shows where a signal struck, by the debug information, and lets it end the process. */
static void crashed(int number) {
  void *frames[FRAMES];
  int count = backtrace(frames, FRAMES);
  char places[FRAMES][32], *command[FRAMES + 7] = {"addr2line", "-s", "-C", "-f", "-p", "-e"};
  char program[64];
  int used = 7;
  snprintf(program, sizeof program, "/proc/%d/exe", (int)getpid());
  command[6] = program;
  extern char __executable_start[] __attribute__((weak));
  for (int at = 2; at < count && at < 8; at++) {
    // The first is the place itself, the others are where a call returns to.
    uintptr_t place = (uintptr_t)frames[at] - (uintptr_t)__executable_start - (at > 2 ? 1 : 0);
    snprintf(places[at], sizeof places[at], "0x%" PRIxPTR, place);
    command[used++] = places[at];
  }
  command[used] = NULL;
  pid_t child = fork();
  if (child == 0) {
    dup2(2, 1);
    execvp(command[0], command);
    _exit(127);
  }
  if (child > 0) waitpid(child, NULL, 0);
  signal(number, SIG_DFL);
  raise(number);
}

static void watch_for_crashes(void) {
  static const int SIGNALS[] = {SIGSEGV, SIGBUS, SIGFPE, SIGILL, SIGABRT};
  size_t size = 256 * 1024;
  stack_t stack = {.ss_sp = malloc(size), .ss_size = size};
  sigaltstack(&stack, NULL);
  void *first[1];
  // The first call loads a library, which must not happen within a signal.
  backtrace(first, 1);
  for (size_t at = 0; at < sizeof SIGNALS / sizeof *SIGNALS; at++) {
    struct sigaction action = {.sa_handler = crashed, .sa_flags = (int)(SA_ONSTACK | SA_NODEFER | SA_RESETHAND)};
    sigaction(SIGNALS[at], &action, NULL);
  }
}

/* -- serving ----------------------------------------------------------------------------------------------------------- */

static void put_tag(st_out *out, long long id) {
  char text[192], hex[9];
  if (!st_state->is_sealed || st_state->sealed != id >> 4) {
    int length = snprintf(text, sizeof text, "%s:%lld", st_state->secret, id >> 4);
    st_sha512((const unsigned char *)text, (size_t)length, st_state->digest);
    st_state->sealed = id >> 4;
    st_state->is_sealed = true;
  }
  for (int at = 0; at < 4; at++) snprintf(hex + at * 2, 3, "%02x", st_state->digest[(id & 15) * 4 + at]);
  st_put_format(out, ",\"tag\":\"%s\"", hex);
}

/* True where the process is to end after the reply. */
static bool answer(const st_value *asked, const char *op) {
  st_out *reply = &st_state->reply, *replies = &st_state->replies;
  double milliseconds = -1;
  bool is_case = strcmp(op, "call") == 0 || strcmp(op, "steps") == 0;
  const st_value *id = st_member(asked, "id");
  const char *state = text_of(asked, "state");
  long long number = id && id->kind == ST_JSON_NUMBER ? strtoll(id->text, NULL, 10) : 0;
  reply->length = 0;
  st_state->problem = ST_NO_PROBLEM;
  st_state->due = number;
  st_state->is_due = is_case;
  st_reading(NULL, NULL);
  if (is_case) read_wishes(asked);
  if (setjmp(st_state->jump) == 0) {
    put_answer(asked, op, reply, &milliseconds);
  } else if (st_state->problem == ST_MISSING) {
    reply->length = 0;
    st_put(reply, "\"missing\":");
    st_put_string(reply, st_state->what, strlen(st_state->what));
  } else {
    put_broken(reply, "would-not-load", st_state->what);
  }
  st_state->is_due = false;
  bool is_last = false, is_new = false;
  int path = -1;
  st_state->lines.length = 0;
  if (is_case) path = st_take_lines(&st_state->lines, &is_new);
  if (is_case) {
    size_t before = reply->length;
    if (!take_printed(reply)) put_broken(reply, "over-limit", "it printed more than the limit allows");
    else if (st_state->problem) reply->length = before;
    st_state->language->forget();
    is_last = !(state && strcmp(state, "kept") == 0) && !put_state_back();
  }
  st_put_format(replies, "{\"id\":%lld", number);
  if (st_state->secret[0]) put_tag(replies, number);
  if (is_last) st_put(replies, ",\"last\":true");
  if (milliseconds >= 0) st_put_format(replies, ",\"ms\":%.4f", milliseconds);
  if (path >= 0) st_put_format(replies, ",\"path\":%d", path);
  // The answer comes last: whoever reads it looks for it behind the rest.
  if (is_new) {
    st_put(replies, ",");
    st_put_bytes(replies, st_state->lines.data, st_state->lines.length);
  }
  if (reply->length) st_put(replies, ",");
  st_put_bytes(replies, reply->data ? reply->data : "", reply->length);
  st_put(replies, "}\n");
  return is_last;
}

static void send_replies(void) {
  st_out *replies = &st_state->replies;
  size_t sent = 0;
  while (sent < replies->length) {
    ssize_t count = write(4, replies->data + sent, replies->length - sent);
    if (count < 0 && errno != EINTR) _exit(0);
    if (count > 0) sent += (size_t)count;
  }
  replies->length = 0;
}

/* The code called exit: its case still gets its answer. */
static void ended(int status, void *unused) {
  (void)unused;
  if (!st_state->is_due) return;
  st_out *replies = &st_state->replies;
  st_put_format(replies, "{\"id\":%lld", st_state->due);
  if (st_state->secret[0]) put_tag(replies, st_state->due);
  st_put_format(replies, ",\"last\":true,\"broken\":{\"why\":\"ended\",\"what\":\"it ended the process: exit(%d)\",\"lastOutput\":\"\"}}\n", status);
  st_state->is_due = false;
  send_replies();
  _exit(0);
}

/* Reads a line from the pipe of requests; null at its end. `start` and `end` bound the unread input. */
static char *next_line(char **buffer, size_t *room, size_t *start, size_t *end, size_t *length) {
  size_t looked = *start;
  for (;;) {
    char *found = *end > looked ? memchr(*buffer + looked, '\n', *end - looked) : NULL;
    if (found) {
      char *line = *buffer + *start;
      *length = (size_t)(found - line);
      *start = (size_t)(found - *buffer) + 1;
      return line;
    }
    if (*start > 0) {
      memmove(*buffer, *buffer + *start, *end - *start);
      *end -= *start;
      *start = 0;
    }
    looked = *end;
    if (*end == *room) *buffer = realloc(*buffer, *room *= 2);
    if (!*buffer) return NULL;
    ssize_t count = read(3, *buffer + *end, *room - *end);
    if (count < 0 && errno == EINTR) continue;
    if (count <= 0) return NULL;
    *end += (size_t)count;
  }
}

int st_serve(const st_language *language, const st_complaint *complaints) {
  size_t room = 1 << 16, start = 0, end = 0, length = 0;
  char *buffer = malloc(room);
  st_state = calloc(1, sizeof *st_state);
  if (!buffer || !st_state) return 1;
  st_state->language = language;
  st_state->complaints = complaints;
  st_state->output_limit = 8192 * 1024;
  fcntl(3, F_SETFD, FD_CLOEXEC);
  fcntl(4, F_SETFD, FD_CLOEXEC);
  watch_for_crashes();
  on_exit(ended, NULL);
  // The buffer is made here: it is not the ported code's.
  setvbuf(stdout, malloc(1 << 16), _IOFBF, 1 << 16);
  st_forget_lines();
  st_forget_blocks();
  keep_image();
  for (char *line; (line = next_line(&buffer, &room, &start, &end, &length));) {
    st_forget_brief();
    st_value *asked = st_parse(line, length);
    const char *op = asked ? text_of(asked, "op") : NULL;
    if (!op || strcmp(op, "bye") == 0) break;
    const st_value *alone = st_member(asked, "alone");
    bool is_last = answer(asked, op);
    // Replies leave together while requests are at hand; asked to be alone, one has left before the next can end the process.
    bool more = start < end && memchr(buffer + start, '\n', end - start);
    if (!more || is_last || (alone && alone->flag) || st_state->replies.length > 1 << 16) send_replies();
    if (is_last) break;
  }
  send_replies();
  _exit(0);
}
