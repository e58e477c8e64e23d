/* Plays a character from its table (NAME.table.json), tick for tick and bit for bit as Lean Step does.
 *
 * One header of C99.  It allocates nothing: you hand it memory, once for a table and once for each figure.
 *
 *     ls_table table;
 *     if (!ls_load(&table, text, length, memory, ls_table_size(length))) puts(table.error);
 *     ls_figure *hero = ls_begin(&table, more);         (more: ls_figure_size(&table) bytes)
 *     int jump = ls_find(&table, LS_PARAMETERS, "jump");
 *     ls_set(hero, jump, held);                         (what your game and your physics set)
 *     ls_push(hero, 0, x, y);                           (the first stick)
 *     ls_step(hero);                                    (once a tick)
 *     ls_cel(hero, 0)                                   (what the first layer shows; hero->fired, hero->on, hero->locked)
 *
 * To save a figure copy its ls_figure_size bytes, to bring it back copy them to the same place.  A figure reads only its own
 * memory and the table's.  Compile with -ffp-contract=off (std=c99 does) and without -ffast-math, and link -lm.
 */
#ifndef LEANSTEP_PLAYER_H
#define LEANSTEP_PLAYER_H

#include <float.h>
#include <math.h>
#include <stddef.h>
#include <stdint.h>
#include <stdlib.h>
#include <string.h>

#if defined(FLT_EVAL_METHOD) && FLT_EVAL_METHOD != 0
#error "doubles must be computed as doubles: on 32-bit x86 compile with -msse2 -mfpmath=sse"
#endif

#define LS_VERSION 1
#define LS_TICK 65536
#define LS_NEVER ((int64_t)1 << 60)
#define LS_MOST_MARKS 10000 /* of a clip in a tick */
enum { LS_NUMBER, LS_WHOLE, LS_BEARING, LS_FLAG, LS_CHOICE, LS_PULSE, LS_BUTTON };
enum { LS_GAME, LS_CONTROLS, LS_BODY, LS_GRAPH, LS_FORMULA };
/* the sections of a table, in the order of ls_shapes */
enum {
  LS_SYMBOLS, LS_STICKS, LS_LAYERS, LS_STATES, LS_WAYS, LS_USES, LS_ACTS, LS_SAMPLES, LS_AXES, LS_PLACES, LS_CLIPS, LS_CUES,
  LS_WINDOWS, LS_PIECES, LS_CELS, LS_KEYS, LS_MEMORIES, LS_BUFFERS, LS_CLOCKS, LS_FORMULAS, LS_HOLDS, LS_PROGRAMS, LS_SECTIONS
};
/* the columns; w is a whole number, d a double; and what each may hold: # a finite number, ? one or null, i a whole number, t a time,
 * a..b from a to b, @ the row of a section, with ? or -1, % the number of a name, < and > the beginning and end of rows of a section */
typedef struct { const char *name, *columns, *types, *rules; } ls_shape;
static const ls_shape ls_shapes[LS_SECTIONS] = {
  {"parameters", "kind owner first low high", "wwddd",
   "0..6 0..4 # # #"},
  {"sticks", "x y push bearing", "wwww",
   "@parameters @parameters @parameters @parameters"},
  {"layers", "start states states_end", "www",
   "@states <states >"},
  {"states", "ways ways_end entry entry_end leave leave_end samples samples_end axes axes_end blends sticky clock still",
   "wwwwwwwwwwwdww",
   "<ways > <acts > <acts > <samples > <axes > 0..1 # @clocks? 0..1"},
  {"ways", "number target program program_end fade blocks keep uses uses_end", "wwwwwwwww",
   "i @states <programs > t 0..1 0..1 <uses >"},
  {"uses", "buffer ticks", "ww",
   "@buffers t"},
  {"acts", "do target value", "wwd",
   "0..8 i #"},
  {"samples", "clip phase places", "www",
   "@clips t t"},
  {"axes", "parameter round low high step", "wwddd",
   "@parameters? 0..1 # # #"},
  {"places", "value", "d",
   "?"},
  {"clips", "length begin vanishes pace at low high cues cues_end windows windows_end pieces pieces_end cels cels_end resting goes "
            "keys keys_end", "wwwwdddwwwwwwwwwwww",
   "t i 0..1 @parameters? # # # <cues > <windows > <pieces > <cels > i 0..7 <keys >"},
  {"cues", "at mark acts acts_end", "wwww",
   "t %marks <acts >"},
  {"windows", "start end hold lock span", "wwwww",
   "i i @parameters? 0..1 %spans"},
  {"pieces", "start cel", "ww",
   "t t"},
  {"cels", "frame mirrored turns", "www",
   "%frames 0..1 0..3"},
  {"keys", "at x y ease", "dddw",
   "# # # 0..3"},
  {"memories", "within ticks program program_end", "wwww",
   "0..1 t <programs >"},
  {"buffers", "parameter most", "ww",
   "@parameters t"},
  {"clocks", "most", "w",
   "t"},
  {"formulas", "parameter program program_end", "www",
   "@parameters <programs >"},
  {"holds", "parameter", "w",
   "@parameters"},
  {"programs", "op a b value", "wwwd",
   "0..16 i i #"},
};

enum { KIND, OWNER, FIRST, LOW, HIGH };
enum { STATE_WAYS, STATE_WAYS_END, STATE_ENTRY, STATE_ENTRY_END, STATE_LEAVE, STATE_LEAVE_END, STATE_SAMPLES, STATE_SAMPLES_END,
       STATE_AXES, STATE_AXES_END, STATE_BLENDS, STATE_STICKY, STATE_CLOCK, STATE_STILL };
enum { WAY_NUMBER, WAY_TARGET, WAY_PROGRAM, WAY_PROGRAM_END, WAY_FADE, WAY_BLOCKS, WAY_KEEP, WAY_USES, WAY_USES_END };
enum { CLIP_LENGTH, CLIP_BEGIN, CLIP_VANISHES, CLIP_PACE, CLIP_AT, CLIP_LOW, CLIP_HIGH, CLIP_CUES, CLIP_CUES_END, CLIP_WINDOWS,
       CLIP_WINDOWS_END, CLIP_PIECES, CLIP_PIECES_END, CLIP_CELS, CLIP_CELS_END, CLIP_RESTING, CLIP_GOES, CLIP_KEYS,
       CLIP_KEYS_END };
/* the kinds of names, in the order of ls_kinds */
enum { LS_PARAMETERS, LS_WORDS, LS_LAYER_NAMES, LS_STATE_NAMES, LS_CLIP_NAMES, LS_FRAMES, LS_MARKS, LS_SPANS, LS_LOCKS, LS_MODES,
       LS_KINDS };
static const char *const ls_kinds[LS_KINDS] = {"parameters", "words", "layers", "states", "clips",
                                               "frames", "marks", "spans", "locks", "modes"};

typedef union { int64_t w; double d; } ls_cell;
typedef struct { ls_cell *rows; int64_t count, width; } ls_section;
typedef struct {
  ls_section sections[LS_SECTIONS];
  char **names[LS_KINDS];
  int64_t name_counts[LS_KINDS];
  double rate;
  int64_t most_fired, deepest;
  int spanned;
  const char *error; /* a sentence, where loading failed */
} ls_table;

typedef struct { int64_t state, stay, head, pick, over, taken, fade_state, fade_pick, fade_head, fade_left, fade_blocks; } ls_layer;
typedef struct { int64_t layer, mark, cue; } ls_fired;
typedef struct {
  const ls_table *table;
  double *values;                                         /* of every parameter */
  ls_layer *layers;
  ls_fired *fired;                                        /* the marks that fired on this tick */
  int64_t fired_count;
  uint8_t *on;                                            /* the spans, by name: 1 is on */
  int64_t locked, freeze;
  double travel_ahead, travel_up, mode, push_ahead, push_up; /* what is asked of the body on this tick */
  int64_t travels;
  double *given, *stack, *kept;
  uint8_t *is_given, *held, *raised, *locks, *hold_now, *hold_before, *memories;
  int64_t *counters, *ages, *since;
} ls_figure;

/* -- reading a table ------------------------------------------------------------------------------------------------------ */

typedef struct { const char *at, *end; char *free_, *full; const char *error; } ls_reader;
#define LS_BROKEN "this is no table: it is no JSON (is the program's locale \"C\"?)"
#define LS_OTHER "the table has other columns than this player reads: take the player beside it"
#define LS_DAMAGED "the table is damaged: export it again"

static inline int ls_is(const char *one, const char *other) { return one && !strcmp(one, other); }

static inline int ls_fail(ls_reader *r, const char *why) {
  if (!r->error) r->error = why;
  return 0;
}

static inline void *ls_room(ls_reader *r, size_t size) {
  size = (size + 15) & ~(size_t)15;
  if (size > (size_t)(r->full - r->free_)) {
    ls_fail(r, "the memory for the table is too small: give it ls_table_size(length) bytes");
    return NULL;
  }
  r->free_ += size;
  return r->free_ - size;
}

static inline int ls_next(ls_reader *r, char mark) {
  while (r->at < r->end && (*r->at == ' ' || *r->at == '\n' || *r->at == '\t' || *r->at == '\r')) r->at++;
  if (r->error || r->at >= r->end || *r->at != mark) return 0;
  r->at++;
  return 1;
}

static inline int ls_want(ls_reader *r, char mark) { return ls_next(r, mark) || ls_fail(r, LS_BROKEN); }

static inline long ls_hex4(ls_reader *r) {
  long code = 0;
  for (int n = 0; n < 4; n++, r->at++) {
    const char *digits = "0123456789abcdefABCDEF", *found = r->at < r->end && *r->at ? strchr(digits, *r->at) : NULL;
    if (!found) return ls_fail(r, LS_BROKEN);
    code = code * 16 + (found - digits < 16 ? found - digits : found - digits - 6);
  }
  return code;
}

/* a string, with what is escaped in it as UTF-8; written to nowhere where it is not kept */
static inline char *ls_string(ls_reader *r, int kept) {
  const char *at;
  char *made = NULL, *to, letter[4];
  if (!ls_want(r, '"')) return NULL;
  for (at = r->at; at < r->end && *at != '"'; at++) at += *at == '\\';
  if (kept && !(made = (char *)ls_room(r, (size_t)(at - r->at) + 4))) return NULL;
  for (to = made; !r->error && r->at < r->end && *r->at != '"';) {
    size_t n = 1;
    if ((unsigned char)*r->at < 0x20) ls_fail(r, LS_BROKEN);
    letter[0] = *r->at++;
    if (letter[0] == '\\') {
      const char *escaped = "nrtbf\"\\/", *found = r->at < r->end && *r->at ? strchr(escaped, *r->at) : NULL;
      long code, low;
      if (found) letter[0] = "\n\r\t\b\f\"\\/"[found - escaped], r->at++;
      else if (r->at >= r->end || *r->at++ != 'u') ls_fail(r, LS_BROKEN);
      else {
        code = ls_hex4(r);
        if (code >= 0xD800 && code < 0xDC00 && r->end - r->at > 5 && r->at[0] == '\\' && r->at[1] == 'u') {
          const char *before = r->at;
          r->at += 2;
          low = ls_hex4(r);
          if (low >= 0xDC00 && low < 0xE000) code = 0x10000 + ((code - 0xD800) << 10) + (low - 0xDC00);
          else r->at = before;
        }
        n = code < 0x80 ? 1 : code < 0x800 ? 2 : code < 0x10000 ? 3 : 4;
        if (n == 1) letter[0] = (char)code;
        for (size_t part = n; n > 1 && part-- > 0; code >>= 6)
          letter[part] = (char)(part ? 0x80 | (code & 63) : code | (n == 2 ? 0xC0 : n == 3 ? 0xE0 : 0xF0));
      }
    }
    if (made) memcpy(to, letter, n), to += n;
  }
  if (made) *to = 0;
  ls_want(r, '"');
  return made;
}

/* a number; null is none */
static inline double ls_number(ls_reader *r) {
  char text[512], *end;
  size_t n = 0, digits;
  if (ls_next(r, 'n')) return r->end - r->at >= 3 && !memcmp(r->at, "ull", 3) ? (r->at += 3, NAN) : (ls_fail(r, LS_BROKEN), 0.0);
#define LS_TAKE(marks) (r->at < r->end && *r->at && strchr(marks, *r->at) && n < sizeof text - 1 ? (text[n++] = *r->at++, 1) : 0)
#define LS_DIGITS for (digits = 0; LS_TAKE("0123456789"); digits++)
  LS_TAKE("-");
  if (!LS_TAKE("0")) { LS_DIGITS {} if (!digits) ls_fail(r, LS_BROKEN); }
  if (LS_TAKE(".")) { LS_DIGITS {} if (!digits) ls_fail(r, LS_BROKEN); }
  if (LS_TAKE("eE")) { LS_TAKE("+-"); LS_DIGITS {} if (!digits) ls_fail(r, LS_BROKEN); }
#undef LS_TAKE
#undef LS_DIGITS
  text[n] = 0;
  if (n == sizeof text - 1) ls_fail(r, LS_BROKEN);
  if (r->error) return 0.0;
  { double value = strtod(text, &end); if (*end) ls_fail(r, LS_BROKEN); return value; }
}

/* anything, which is not kept; objects have to be of objects so many levels down */
static inline void ls_skip(ls_reader *r, int depth, int objects) {
  const char *words[3] = {"true", "false", "null"};
  if (depth > 200) { ls_fail(r, LS_BROKEN); return; }
  if (ls_next(r, '{')) {
    if (ls_next(r, '}')) return;
    do { ls_string(r, 0), ls_want(r, ':'), ls_skip(r, depth + 1, objects - 1); } while (ls_next(r, ','));
    ls_want(r, '}');
    return;
  }
  if (objects > 0) { ls_fail(r, LS_DAMAGED); return; }
  if (ls_next(r, '[')) {
    if (ls_next(r, ']')) return;
    do { ls_skip(r, depth + 1, 0); } while (ls_next(r, ','));
    ls_want(r, ']');
    return;
  }
  if (ls_next(r, '"')) { r->at--, ls_string(r, 0); return; }
  for (int at = 0; at < 3; at++) {
    size_t length = strlen(words[at]);
    if ((size_t)(r->end - r->at) >= length && !memcmp(r->at, words[at], length)) { r->at += length; return; }
  }
  ls_number(r);
}

static inline void ls_read_section(ls_reader *r, ls_section *section, const ls_shape *shape) {
  size_t width = strlen(shape->types);
  const char *look = r->at;
  int64_t count = 0, row = 0;
  for (int depth = 0; look < r->end; look++) {
    if (*look == '[' && ++depth == 2) count++;
    if (*look == ']' && --depth <= 0) break;
  }
  section->rows = (ls_cell *)ls_room(r, (size_t)count * width * sizeof(ls_cell) + 1);
  section->width = (int64_t)width;
  section->count = 0;
  if (!ls_want(r, '[') || ls_next(r, ']')) return;
  do {
    if (row >= count) ls_fail(r, LS_DAMAGED);
    if (!ls_want(r, '[')) return;
    for (size_t at = 0; at < width && !r->error; at++) {
      ls_cell *cell = &section->rows[(size_t)row * width + at];
      cell->d = ls_number(r);
      if (shape->types[at] == 'w') {
        if (!(fabs(cell->d) <= 1152921504606846976.0) || floor(cell->d) != cell->d) ls_fail(r, LS_DAMAGED);
        else cell->w = (int64_t)cell->d;
      }
      if (!ls_next(r, at + 1 < width ? ',' : ']')) ls_fail(r, LS_DAMAGED);
    }
    section->count = ++row;
  } while (ls_next(r, ','));
  ls_want(r, ']');
}

static inline void ls_read_names(ls_reader *r, ls_table *t, int kind) {
  const char *look = r->at;
  int64_t count = 1;
  for (; look < r->end && *look != ']'; look++) {
    if (*look == '"') for (look++; look < r->end && *look != '"'; look++) look += *look == '\\';
    count += look < r->end && *look == ',';
  }
  t->name_counts[kind] = 0;
  if (!(t->names[kind] = (char **)ls_room(r, (size_t)count * sizeof(char *)))) return;
  if (!ls_want(r, '[') || ls_next(r, ']')) return;
  do {
    if (t->name_counts[kind] >= count) ls_fail(r, LS_DAMAGED);
    else t->names[kind][t->name_counts[kind]++] = ls_string(r, 1);
  } while (ls_next(r, ','));
  ls_want(r, ']');
}

static inline void ls_read_columns(ls_reader *r, const ls_shape *shape) {
  const char *rest = shape->columns;
  if (!ls_want(r, '[')) return;
  do {
    const char *name = ls_string(r, 1);
    size_t length = name ? strlen(name) : 0;
    if (!length || strncmp(rest, name, length) || (rest[length] && rest[length] != ' ')) { ls_fail(r, LS_OTHER); return; }
    rest += length + (rest[length] == ' ');
  } while (ls_next(r, ','));
  if (!ls_want(r, ']') || *rest) ls_fail(r, LS_OTHER);
}

/* Reads the members of an object: of the table itself (what 0), its names (1), columns (2), sections (3) or says (4); which there are. */
static inline int64_t ls_read(ls_reader *r, ls_table *t, int what, int64_t *version) {
  static const char *const own[] = {"leanstep_table", "name", "rate", "names", "says", "columns", "sections"};
  int64_t seen = 0, wanted[] = {127, (1 << LS_KINDS) - 1, ((int64_t)1 << LS_SECTIONS) - 1, ((int64_t)1 << LS_SECTIONS) - 1, 3};
  if (!ls_next(r, '{')) return ls_fail(r, what ? LS_DAMAGED : "this is no table of Lean Step: export one with  lean-step export FILE --to table");
  if (ls_next(r, '}')) return ls_fail(r, LS_DAMAGED);
  do {
    const char *key = ls_string(r, 1);
    int at = 0, known = -1;
    ls_want(r, ':');
    for (at = 0; what == 0 && at < 7; at++) if (ls_is(key, own[at])) known = at;
    for (at = 0; what == 1 && at < LS_KINDS; at++) if (ls_is(key, ls_kinds[at])) known = at;
    for (at = 0; (what == 2 || what == 3) && at < LS_SECTIONS; at++) if (ls_is(key, ls_shapes[at].name)) known = at;
    if (what == 4) known = ls_is(key, "cues") ? 0 : ls_is(key, "windows") ? 1 : -1;
    if (r->error || known < 0) { ls_skip(r, 0, 0); continue; }
    seen |= (int64_t)1 << known;
    if (what == 1) ls_read_names(r, t, known);
    else if (what == 2) ls_read_columns(r, &ls_shapes[known]);
    else if (what == 3) ls_next(r, ' '), ls_read_section(r, &t->sections[known], &ls_shapes[known]);
    else if (what == 4) ls_skip(r, 0, 2);
    else if (known == 0) {
      double number = ls_number(r);
      *version = number >= 1.0 && number <= 1e6 && floor(number) == number ? (int64_t)number : -1;
      if (*version > LS_VERSION) ls_fail(r, "the table is newer than this player: take the player beside it");
    } else if (known == 1) ls_string(r, 0);
    else if (known == 2) t->rate = ls_number(r);
    else ls_read(r, t, known == 3 ? 1 : known == 4 ? 4 : known == 5 ? 2 : 3, version);
  } while (ls_next(r, ','));
  ls_want(r, '}');
  if (!r->error && what == 0 && *version < 1) ls_fail(r, "this is no table of Lean Step: export one with  lean-step export FILE --to table");
  return (seen & wanted[what]) == wanted[what] || ls_fail(r, LS_DAMAGED);
}

static inline const ls_cell *ls_row(const ls_table *t, int section, int64_t at) {
  return t->sections[section].rows + at * t->sections[section].width;
}

static inline int64_t ls_count(const ls_table *t, int section) { return t->sections[section].count; }
/* The most bytes a table of so many characters of text needs. */
static inline size_t ls_table_size(size_t length) { return length * 16 + 65536; }

/* -- checking a table once, so that playing needs no checks ---------------------------------------------------------------- */

/* the place of a name at the beginning of a rule */
static inline int ls_named(const char *rule, const char *(*name)(int), int count) {
  size_t length = strcspn(rule, " ?");
  for (int at = 0; at < count; at++)
    if (strlen(name(at)) == length && !strncmp(name(at), rule, length)) return at;
  return 0;
}
static inline const char *ls_section_name(int at) { return ls_shapes[at].name; }
static inline const char *ls_kind_name(int at) { return ls_kinds[at]; }
static inline int ls_within(int64_t value, int64_t low, int64_t high) { return low <= value && value <= high; }

/* whether every cell holds what its column may hold */
static inline int ls_fits(const ls_table *t) {
  const int64_t exact = (int64_t)1 << 53;
  for (int section = 0; section < LS_SECTIONS; section++)
    for (int64_t row = 0; row < ls_count(t, section); row++) {
      const ls_cell *cell = ls_row(t, section, row);
      int64_t begin = 0;
      for (const char *rule = ls_shapes[section].rules; *rule; cell++) {
        size_t length = strcspn(rule, " ");
        int target, fine;
        if (*rule == '#') fine = isfinite(cell->d);
        else if (*rule == '?') fine = isfinite(cell->d) || isnan(cell->d);
        else if (*rule == 'i') fine = ls_within(cell->w, -exact, exact);
        else if (*rule == 't') fine = ls_within(cell->w, 0, exact) || cell->w == LS_NEVER;
        else if (*rule == '@') {
          target = ls_named(rule + 1, ls_section_name, LS_SECTIONS);
          fine = ls_within(cell->w, rule[length - 1] == '?' ? -1 : 0, ls_count(t, target) - 1);
        } else if (*rule == '%') {
          target = ls_named(rule + 1, ls_kind_name, LS_KINDS);
          fine = ls_within(cell->w, 0, t->name_counts[target] - 1);
        } else if (*rule == '<') {
          target = ls_named(rule + 1, ls_section_name, LS_SECTIONS);
          begin = cell->w;
          fine = begin >= 0 && ls_within(cell[1].w, begin, ls_count(t, target));
        } else if (*rule == '>') fine = 1;
        else fine = ls_within(cell->w, rule[0] - '0', atoi(rule + 3));
        if (!fine) return 0;
        rule += length + (rule[length] == ' ');
      }
    }
  return 1;
}

/* whether a postfix program leaves one number, whichever way its skips go; ends has room for two numbers for each of its rows */
static inline int ls_is_program(const ls_table *t, int64_t begin, int64_t end, int64_t *ends) {
  static const int sums[] = {2, 2, 2, 2, 1, 1, 0, 0, 2, 1};
  int64_t depth = 0, base = 0, limit = end, waiting = 0, layers = ls_count(t, LS_LAYERS);
  for (int64_t at = begin;;) {
    const ls_cell *row;
    int64_t op, a, b;
    while (waiting && at == limit) {
      if (depth != base + 1) return 0;
      waiting--;
      base = waiting ? ends[2 * waiting - 1] : 0;
      limit = waiting ? ends[2 * waiting - 2] : end;
    }
    if (at == end) return depth == 1;
    row = ls_row(t, LS_PROGRAMS, at++);
    op = row[0].w, a = row[1].w, b = row[2].w;
    switch (op) {
      case 0: break;
      case 1: case 2: case 3: if (!ls_within(a, 0, ls_count(t, LS_SYMBOLS) - 1)) return 0; break;
      case 5: if (!ls_within(a, 0, ls_count(t, LS_CLOCKS) - 1)) return 0; break;
      case 6: if (!ls_within(a, 0, ls_count(t, LS_BUFFERS) - 1)) return 0; break;
      case 9: if (!ls_within(a, 0, t->name_counts[LS_SPANS] - 1)) return 0; break;
      case 11: if (!ls_within(a, 0, ls_count(t, LS_MEMORIES) - 1)) return 0; break;
      case 12: if (depth < base + 1) return 0; depth--; break;
      case 13: if (!ls_within(a, 0, 5) || depth < base + 2) return 0; depth -= 2; break;
      case 14:
        if (!ls_within(a, 0, 9) || b < 1 || (sums[a] && b != sums[a]) || depth - base < b) return 0;
        depth -= b;
        break;
      case 15: case 16:
        if (depth < base + 1 || !ls_within(a, 1, limit - at)) return 0;
        depth--;
        ends[2 * waiting] = limit = at + a, ends[2 * waiting + 1] = base = depth;
        waiting++;
        continue;
      default: if (!ls_within(a, 0, layers - 1)) return 0;
    }
    depth++;
  }
}

/* whether what stands in several rows goes together */
static inline int ls_agrees(const ls_table *t, int64_t *ends) {
  int64_t at, other, row;
  if (!isfinite(t->rate) || t->rate <= 0.0) return 0;
  if (t->name_counts[LS_PARAMETERS] != ls_count(t, LS_SYMBOLS) || t->name_counts[LS_LAYER_NAMES] != ls_count(t, LS_LAYERS)) return 0;
  if (t->name_counts[LS_STATE_NAMES] != ls_count(t, LS_STATES) || t->name_counts[LS_CLIP_NAMES] != ls_count(t, LS_CLIPS)) return 0;
  for (at = 0; at < ls_count(t, LS_SYMBOLS); at++) {
    const ls_cell *one = ls_row(t, LS_SYMBOLS, at);
    if (one[KIND].w <= LS_WHOLE && one[LOW].d > one[HIGH].d) return 0;
    if (one[KIND].w == LS_CHOICE && !(one[FIRST].d >= 0.0 && one[FIRST].d < (double)t->name_counts[LS_WORDS])) return 0;
    if (one[KIND].w == LS_CHOICE && floor(one[FIRST].d) != one[FIRST].d) return 0;
  }
  for (at = 0; at < ls_count(t, LS_LAYERS); at++) {
    const ls_cell *one = ls_row(t, LS_LAYERS, at);
    if (!ls_within(one[0].w, one[1].w, one[2].w - 1)) return 0;
  }
  for (at = 0; at < ls_count(t, LS_AXES); at++) {
    const ls_cell *one = ls_row(t, LS_AXES, at);
    if (one[2].d > one[3].d || !(one[4].d > 0.0)) return 0;
  }
  for (at = 0; at < ls_count(t, LS_ACTS); at++) {
    const ls_cell *one = ls_row(t, LS_ACTS, at);
    if (one[0].w <= 2 && !ls_within(one[1].w, 0, ls_count(t, LS_SYMBOLS) - 1)) return 0;
    if ((one[0].w == 3 || one[0].w == 4) && !ls_within(one[1].w, 0, t->name_counts[LS_LOCKS] - 1)) return 0;
    if (one[0].w == 5 && !(one[2].d >= 0.0 && one[2].d <= 1e15 && floor(one[2].d) == one[2].d)) return 0;
  }
  for (at = 0; at < ls_count(t, LS_CLIPS); at++) {
    const ls_cell *one = ls_row(t, LS_CLIPS, at);
    int64_t cels = one[CLIP_CELS_END].w - one[CLIP_CELS].w, cues = one[CLIP_CUES_END].w - one[CLIP_CUES].w;
    double rate = one[CLIP_PACE].w < 0 ? 1.0 : one[CLIP_HIGH].d;
    if (!ls_within(one[CLIP_LENGTH].w, 1, (int64_t)1 << 31) || !ls_within(one[CLIP_BEGIN].w, -1, one[CLIP_LENGTH].w - 1)) return 0;
    if (!ls_within(one[CLIP_RESTING].w, -1, cels - 1)) return 0;
    if (one[CLIP_PACE].w >= 0 && (one[CLIP_AT].d == 0.0 || one[CLIP_LOW].d < 0.0 || one[CLIP_LOW].d > rate || rate > 1000.0)) return 0;
    if (one[CLIP_GOES].w && one[CLIP_KEYS].w == one[CLIP_KEYS_END].w) return 0;
    other = one[CLIP_LENGTH].w - (one[CLIP_BEGIN].w < 0 ? 0 : one[CLIP_BEGIN].w);
    if (cues * ((int64_t)floor(rate * LS_TICK) / other + 2) > LS_MOST_MARKS) return 0;
    for (row = one[CLIP_PIECES].w; row < one[CLIP_PIECES_END].w; row++) {
      const ls_cell *piece = ls_row(t, LS_PIECES, row);
      if (row == one[CLIP_PIECES].w ? piece[0].w != 0 : piece[0].w <= piece[-2].w) return 0;
      if (piece[1].w >= cels) return 0;
    }
    for (row = one[CLIP_KEYS].w + 1; row < one[CLIP_KEYS_END].w; row++)
      if (!(ls_row(t, LS_KEYS, row)[0].d > ls_row(t, LS_KEYS, row - 1)[0].d)) return 0;
  }
  for (at = 0; at < ls_count(t, LS_STATES); at++) {
    const ls_cell *one = ls_row(t, LS_STATES, at);
    int64_t axes = one[STATE_AXES_END].w - one[STATE_AXES].w;
    if (one[STATE_STICKY].d < 0.0 || (one[STATE_BLENDS].w && one[STATE_SAMPLES].w == one[STATE_SAMPLES_END].w)) return 0;
    for (row = one[STATE_SAMPLES].w; row < one[STATE_SAMPLES_END].w; row++) {
      const ls_cell *sample = ls_row(t, LS_SAMPLES, row);
      if (sample[1].w > ls_row(t, LS_CLIPS, sample[0].w)[CLIP_LENGTH].w || sample[2].w + axes > ls_count(t, LS_PLACES)) return 0;
    }
  }
  for (at = 0; at < ls_count(t, LS_WAYS); at++)
    if (!ls_is_program(t, ls_row(t, LS_WAYS, at)[WAY_PROGRAM].w, ls_row(t, LS_WAYS, at)[WAY_PROGRAM_END].w, ends)) return 0;
  for (at = 0; at < ls_count(t, LS_MEMORIES); at++)
    if (!ls_is_program(t, ls_row(t, LS_MEMORIES, at)[2].w, ls_row(t, LS_MEMORIES, at)[3].w, ends)) return 0;
  for (at = 0; at < ls_count(t, LS_FORMULAS); at++)
    if (!ls_is_program(t, ls_row(t, LS_FORMULAS, at)[1].w, ls_row(t, LS_FORMULAS, at)[2].w, ends)) return 0;
  return 1;
}

/* Reads a table; 0 and table->error where that fails. */
static inline int ls_load(ls_table *t, const char *text, size_t length, void *memory, size_t size) {
  ls_reader r = {text, text + length, (char *)memory, (char *)memory + size, NULL};
  int64_t version = -1, at, layer, state, *ends;
  memset(t, 0, sizeof *t);
  ls_read(&r, t, 0, &version);
  ls_next(&r, ' ');
  if (!r.error && r.at != r.end) ls_fail(&r, LS_BROKEN);
  ends = r.error ? NULL : (int64_t *)ls_room(&r, (size_t)ls_count(t, LS_PROGRAMS) * 2 * sizeof(int64_t) + 16);
  if (!r.error && !(ls_fits(t) && ls_agrees(t, ends))) ls_fail(&r, LS_DAMAGED);
  t->error = r.error;
  if (r.error) return 0;
  t->spanned = ls_count(t, LS_WINDOWS) > 0;
  t->deepest = ls_count(t, LS_PROGRAMS) + 1;
  for (layer = 0; layer < ls_count(t, LS_LAYERS); layer++) {
    int64_t most = 0, most_begun = 0;
    for (state = ls_row(t, LS_LAYERS, layer)[1].w; state < ls_row(t, LS_LAYERS, layer)[2].w; state++) {
      const ls_cell *s = ls_row(t, LS_STATES, state);
      for (at = s[STATE_SAMPLES].w; at < s[STATE_SAMPLES_END].w; at++) {
        const ls_cell *clip = ls_row(t, LS_CLIPS, ls_row(t, LS_SAMPLES, at)[0].w);
        int64_t cues = clip[CLIP_CUES_END].w - clip[CLIP_CUES].w;
        int64_t lap = clip[CLIP_LENGTH].w - (clip[CLIP_BEGIN].w < 0 ? 0 : clip[CLIP_BEGIN].w);
        double fastest = clip[CLIP_PACE].w < 0 ? 1.0 : clip[CLIP_HIGH].d;
        int64_t fired = cues * ((int64_t)(fastest * LS_TICK) / lap + 2);
        if (fired > most) most = fired;
        if (cues > most_begun) most_begun = cues;
      }
    }
    t->most_fired += most + most_begun;
  }
  return 1;
}

/* The number of a name; -1 where there is none. */
static inline int ls_find(const ls_table *t, int kind, const char *name) {
  for (int64_t at = 0; at < t->name_counts[kind]; at++)
    if (ls_is(t->names[kind][at], name)) return (int)at;
  return -1;
}

/* -- numbers -------------------------------------------------------------------------------------------------------------- */

static inline double ls_reduced(double value) {
  double turned;
  if (!(-1e15 < value && value < 1e15)) return 0.0;
  turned = 360.0 * floor(value / 360.0);
  turned = value - turned;
  return turned > 0.0 && turned < 360.0 ? turned : 0.0;
}

/* The shorter way from one bearing to another. */
static inline double ls_turn(double start, double end) {
  double way = end - start;
  return way > 180.0 ? way - 360.0 : way <= -180.0 ? way + 360.0 : way;
}

static inline double ls_push_of(double x, double y) {
  double across = x * x, up = y * y, length = sqrt(across + up);
  return length > 1.0 ? 1.0 : length;
}

/* The bearing of a vector with y up: 0 is up, 90 right.  Gregory's series; the same bits on every machine. */
static inline double ls_bearing_of(double x, double y) {
  double wide = fabs(x), high = fabs(y), share, rest, square, total = 0.0, angle;
  int near_;
  if (!(wide > 0.0 || high > 0.0)) return 0.0;
  share = wide <= high ? wide / high : high / wide;
  near_ = share > 0.41421356237309503;
  rest = near_ ? (share - 1.0) / (share + 1.0) : share;
  square = rest * rest;
  for (int n = 20; n >= 0; n--) {
    double factor = (n % 2 ? -1.0 : 1.0) * (180.0 / 3.141592653589793) / (2 * n + 1);
    total = total * square;
    total = total + factor;
  }
  angle = total * rest;
  if (near_) angle = 45.0 + angle;
  if (wide > high) angle = 90.0 - angle;
  if (y < 0.0) angle = 180.0 - angle;
  if (x < 0.0) angle = 360.0 - angle;
  return angle < 360.0 ? angle : 0.0;
}

static inline int64_t ls_floor_div(int64_t one, int64_t other) { return one / other - (one % other != 0 && (one < 0) != (other < 0)); }

static inline double ls_fitted(const ls_figure *f, int64_t at, double value) {
  const ls_cell *one = ls_row(f->table, LS_SYMBOLS, at);
  if (one[KIND].w > LS_BEARING) return one[KIND].w == LS_CHOICE ? value : value != 0.0 ? 1.0 : 0.0;
  if (one[KIND].w == LS_BEARING) return ls_reduced(value);
  if (one[LOW].d > value) value = one[LOW].d;
  if (one[HIGH].d < value) value = one[HIGH].d;
  return one[KIND].w == LS_WHOLE ? nearbyint(value) + 0.0 : value;
}

/* -- what the game says --------------------------------------------------------------------------------------------------- */

/* Sets what the game, the controls or the body sets, by its number (ls_find); it is kept until it is set again, a pulse for one
 * tick.  A choice is the number of its word. */
static inline void ls_set(ls_figure *f, int parameter, double value) {
  if (parameter < 0 || parameter >= ls_count(f->table, LS_SYMBOLS)) return;
  if (ls_row(f->table, LS_SYMBOLS, parameter)[OWNER].w >= LS_GRAPH) return;
  f->given[parameter] = ls_fitted(f, parameter, value);
  f->is_given[parameter] = 1;
}

static inline void ls_push(ls_figure *f, int stick, double x, double y) {
  const ls_cell *one = ls_row(f->table, LS_STICKS, stick);
  ls_set(f, (int)one[0].w, x);
  ls_set(f, (int)one[1].w, y);
  ls_set(f, (int)one[2].w, ls_push_of(x, y));
  ls_set(f, (int)one[3].w, ls_bearing_of(x, y));
}

/* -- conditions ----------------------------------------------------------------------------------------------------------- */

static inline const ls_cell *ls_clip_of(const ls_figure *f, int64_t layer) {
  const ls_cell *state = ls_row(f->table, LS_STATES, f->layers[layer].state);
  if (state[STATE_SAMPLES].w == state[STATE_SAMPLES_END].w) return NULL;
  return ls_row(f->table, LS_CLIPS, ls_row(f->table, LS_SAMPLES, state[STATE_SAMPLES].w + f->layers[layer].pick)[0].w);
}

static inline int ls_stands(int64_t sign, double one, double other) {
  if (sign < 3) return sign == 0 ? one < other : sign == 1 ? one <= other : one == other;
  return sign == 3 ? one != other : sign == 4 ? one > other : one >= other;
}

static inline double ls_sum(int64_t sum, const double *n, int64_t count) {
  double best = n[0];
  switch (sum) {
    case 0: return n[0] + n[1];
    case 1: return n[0] - n[1];
    case 2: return n[0] * n[1];
    case 3: return n[1] != 0.0 ? n[0] / n[1] : 0.0;
    case 4: return fabs(n[0]);
    case 5: return -n[0];
    case 8: return ls_turn(n[0], n[1]);
    case 9: return ls_reduced(n[0]);
  }
  for (int64_t at = 1; at < count; at++)
    if (sum == 6 ? n[at] < best : n[at] > best) best = n[at];
  return best;
}

/* Whether a clip is done: it repeats and has wrapped since entry, or stands at its length. */
static inline int ls_is_done(const ls_layer *l, const ls_cell *clip) {
  return clip[CLIP_BEGIN].w >= 0 ? l->over != 0 : l->head >= clip[CLIP_LENGTH].w;
}

static inline double ls_run(ls_figure *f, int64_t begin, int64_t end) {
  const ls_cell *row = ls_row(f->table, LS_PROGRAMS, begin), *last = ls_row(f->table, LS_PROGRAMS, end);
  double *top = f->stack - 1;
  const ls_cell *clip;
  for (; row < last; row += 4) {
    int64_t a = row[1].w;
    switch (row[0].w) {
      case 0: *++top = row[3].d; break;
      case 1: *++top = f->values[a]; break;
      case 2: *++top = f->values[a] != 0.0 && !f->held[a]; break;
      case 3: *++top = f->values[a] == 0.0 && f->held[a]; break;
      case 4: *++top = (double)f->layers[a].stay; break;
      case 5: *++top = (double)f->since[a]; break;
      case 6: *++top = (double)f->ages[a] < row[3].d; break;
      case 7: clip = ls_clip_of(f, a); *++top = clip && ls_is_done(&f->layers[a], clip); break;
      case 8: clip = ls_clip_of(f, a); *++top = clip && (double)f->layers[a].head >= row[3].d * (double)clip[CLIP_LENGTH].w; break;
      case 9: *++top = f->on[a]; break;
      case 10: *++top = f->layers[a].state == row[2].w; break;
      case 11: *++top = f->memories[a]; break;
      case 12: *top = *top == 0.0; break;
      case 13: top--; *top = ls_stands(a, top[0], top[1]); break;
      case 14: top -= row[2].w - 1; *top = ls_sum(a, top, row[2].w); break;
      case 15: if (*top == 0.0) row += 4 * a; else top--; break;
      default: if (*top != 0.0) row += 4 * a; else top--;
    }
  }
  return *top;
}

static inline void ls_compute(ls_figure *f) {
  for (int64_t at = 0; at < ls_count(f->table, LS_FORMULAS); at++) {
    const ls_cell *one = ls_row(f->table, LS_FORMULAS, at);
    f->values[one[0].w] = ls_run(f, one[1].w, one[2].w);
  }
}

/* -- clips ---------------------------------------------------------------------------------------------------------------- */

static inline int64_t ls_folded(const ls_cell *clip, int64_t head) {
  int64_t length = clip[CLIP_LENGTH].w, begin = clip[CLIP_BEGIN].w;
  if (head < length) return head;
  return begin < 0 ? length : begin + (head - begin) % (length - begin);
}

static inline int64_t ls_amount(const ls_figure *f, const ls_cell *clip) {
  double rate;
  if (clip[CLIP_PACE].w < 0) return LS_TICK;
  rate = f->values[clip[CLIP_PACE].w] / clip[CLIP_AT].d;
  rate = !(rate >= clip[CLIP_LOW].d) ? clip[CLIP_LOW].d : rate > clip[CLIP_HIGH].d ? clip[CLIP_HIGH].d : rate;
  rate = rate * LS_TICK;
  return (int64_t)floor(rate + 0.5);
}

static inline double ls_place(const ls_table *t, const ls_cell *clip, int64_t head, int which) {
  int64_t key = clip[CLIP_KEYS].w, end = clip[CLIP_KEYS_END].w;
  const ls_cell *one, *two;
  double at = (double)head, share;
  while (key + 1 < end && ls_row(t, LS_KEYS, key + 1)[0].d <= at) key++;
  one = ls_row(t, LS_KEYS, key);
  if (key + 1 >= end || at <= one[0].d) return one[which].d;
  two = one + 4;
  share = (at - one[0].d) / (two[0].d - one[0].d);
  if (two[3].w == 1) share = share * share;
  else if (two[3].w == 2) share = share * (2.0 - share);
  else if (two[3].w == 3) { double twice = 2.0 * share, square = share * share; share = square * (3.0 - twice); }
  share = (two[which].d - one[which].d) * share;
  return one[which].d + share;
}

static inline double ls_gone(const ls_table *t, const ls_cell *clip, int64_t head, int64_t amount, int which) {
  int64_t length = clip[CLIP_LENGTH].w, back = clip[CLIP_BEGIN].w, moved = head + amount;
  double whole, first, rest;
  if (moved < length || back < 0)
    return ls_place(t, clip, moved < length ? moved : length, which) - ls_place(t, clip, head < length ? head : length, which);
  whole = ls_place(t, clip, length, which) - ls_place(t, clip, back, which);
  first = ls_place(t, clip, length, which) - ls_place(t, clip, head, which);
  rest = ls_place(t, clip, back + (moved - length) % (length - back), which) - ls_place(t, clip, back, which);
  whole = (double)((moved - length) / (length - back)) * whole;
  return first + whole + rest;
}

static inline int64_t ls_pick(const ls_figure *f, const ls_cell *state, int64_t before) {
  const ls_table *t = f->table;
  int64_t best = 0, sample, axis;
  double nearest = INFINITY, distance = 0.0;
  if (!state[STATE_BLENDS].w) return 0;
  for (sample = state[STATE_SAMPLES].w; sample < state[STATE_SAMPLES_END].w; sample++) {
    int64_t number = sample - state[STATE_SAMPLES].w, place = ls_row(t, LS_SAMPLES, sample)[2].w;
    double total = 0.0;
    for (axis = state[STATE_AXES].w; axis < state[STATE_AXES_END].w; axis++) {
      const ls_cell *a = ls_row(t, LS_AXES, axis);
      double at = ls_row(t, LS_PLACES, place + axis - state[STATE_AXES].w)[0].d, value, away;
      if (isnan(at)) continue;
      value = a[0].w >= 0 ? f->values[a[0].w] : 0.0;
      if (a[1].w) away = ls_turn(at, ls_reduced(value)) / a[4].d;
      else {
        if (a[2].d > value) value = a[2].d;
        if (a[3].d < value) value = a[3].d;
        away = (value - at) / a[4].d;
      }
      away = away * away;
      total = total + away;
    }
    if (number == before) distance = total;
    if (number == 0 || total < nearest) { best = number; nearest = total; }
  }
  if (state[STATE_STICKY].d > 0.0 && before >= 0)
    return sqrt(nearest) < sqrt(distance) - state[STATE_STICKY].d ? best : before;
  return best;
}

/* What counts as picked before when a state is entered from another; -1: nothing. */
static inline int64_t ls_kept_from(const ls_figure *f, const ls_cell *state, const ls_cell *left, int64_t picked) {
  const ls_table *t = f->table;
  if (!left || picked < 0 || !state[STATE_BLENDS].w || !left[STATE_BLENDS].w) return -1;
  for (int64_t other = state[STATE_SAMPLES].w; other < state[STATE_SAMPLES_END].w; other++) {
    int both = 0, same = 1;
    for (int64_t axis = state[STATE_AXES].w; axis < state[STATE_AXES_END].w; axis++)
      for (int64_t old = left[STATE_AXES].w; old < left[STATE_AXES_END].w; old++) {
        double one, two;
        if (ls_row(t, LS_AXES, axis)[0].w != ls_row(t, LS_AXES, old)[0].w || ls_row(t, LS_AXES, axis)[0].w < 0) continue;
        one = ls_row(t, LS_PLACES, ls_row(t, LS_SAMPLES, left[STATE_SAMPLES].w + picked)[2].w + old - left[STATE_AXES].w)[0].d;
        two = ls_row(t, LS_PLACES, ls_row(t, LS_SAMPLES, other)[2].w + axis - state[STATE_AXES].w)[0].d;
        both = 1;
        same = same && (one == two || (isnan(one) && isnan(two)));
        break;
      }
    if (!both) return -1;
    if (same) return other - state[STATE_SAMPLES].w;
  }
  return -1;
}

/* The number of the cel a layer shows, counted from the clip's first; -1: none. */
static inline int64_t ls_cel(const ls_figure *f, int64_t layer) {
  const ls_cell *clip = ls_clip_of(f, layer);
  int64_t piece, head = f->layers[layer].head, end;
  if (!clip) return -1;
  if (clip[CLIP_RESTING].w >= 0 && ls_amount(f, clip) == 0) return clip[CLIP_RESTING].w;
  piece = clip[CLIP_PIECES].w, end = clip[CLIP_PIECES_END].w;
  if (piece == end || (clip[CLIP_VANISHES].w && head >= clip[CLIP_LENGTH].w)) return -1;
  head = ls_folded(clip, head);
  if (head > clip[CLIP_LENGTH].w - 1) head = clip[CLIP_LENGTH].w - 1;
  while (piece + 1 < end && ls_row(f->table, LS_PIECES, piece + 1)[0].w <= head) piece++;
  return ls_row(f->table, LS_PIECES, piece)[1].w;
}

/* The name of the frame a layer shows; NULL: none.  turned: mirrored and quarter turns, where they are wanted. */
static inline const char *ls_frame(const ls_figure *f, int64_t layer, int64_t *mirrored, int64_t *turns) {
  int64_t cel = ls_cel(f, layer);
  const ls_cell *row;
  if (cel < 0) return NULL;
  row = ls_row(f->table, LS_CELS, ls_clip_of(f, layer)[CLIP_CELS].w + cel);
  if (mirrored) *mirrored = row[1].w;
  if (turns) *turns = row[2].w;
  return f->table->names[LS_FRAMES][row[0].w];
}

/* -- effects and spans ---------------------------------------------------------------------------------------------------- */

static inline void ls_apply(ls_figure *f, int64_t begin, int64_t end, int now) {
  for (int64_t at = begin; at < end; at++) {
    const ls_cell *act = ls_row(f->table, LS_ACTS, at);
    int64_t target = act[1].w;
    double value = act[2].d;
    switch (act[0].w) {
      case 0: f->values[target] = value; break;
      case 1: f->values[target] = ls_fitted(f, target, f->values[target] + value); break;
      case 2: if (now) f->values[target] = 1.0; else f->raised[target] = 1; break;
      case 3: f->locks[target] = 1; break;
      case 4: f->locks[target] = 0; break;
      case 5: if ((int64_t)value > f->freeze) f->freeze = (int64_t)value; break;
      case 6: f->mode = value; break;
      case 7: f->push_ahead = f->push_ahead + value; break;
      case 8: f->push_up = f->push_up + value; break;
    }
    ls_compute(f);
  }
}

static inline void ls_tell(ls_figure *f, int64_t layer, int64_t cue) {
  ls_fired *one = &f->fired[f->fired_count];
  if (f->fired_count++ >= f->table->most_fired) { f->fired_count--; return; }
  one->layer = layer, one->mark = ls_row(f->table, LS_CUES, cue)[1].w, one->cue = cue;
}

/* Spans by looking at every window that is on, of every layer but one: held is told the parameters, on (where asked for) the names;
   whether one locks. */
static inline int ls_look(const ls_figure *f, uint8_t *held, uint8_t *on, int64_t but) {
  int locks = 0;
  if (held) memset(held, 0, (size_t)ls_count(f->table, LS_SYMBOLS));
  for (int64_t layer = 0; layer < ls_count(f->table, LS_LAYERS); layer++) {
    const ls_cell *clip = layer == but ? NULL : ls_clip_of(f, layer);
    for (int64_t at = clip ? clip[CLIP_WINDOWS].w : 0; clip && at < clip[CLIP_WINDOWS_END].w; at++) {
      const ls_cell *window = ls_row(f->table, LS_WINDOWS, at);
      if (f->layers[layer].head < window[0].w || f->layers[layer].head >= window[1].w) continue;
      if (held && window[2].w >= 0) held[window[2].w] = 1;
      if (on) on[window[4].w] = 1;
      locks = locks || window[3].w;
    }
  }
  return locks;
}

static inline void ls_see_spans(ls_figure *f, int before) {
  int changed = 0;
  if (!f->table->spanned) return;
  memset(f->on, 0, (size_t)f->table->name_counts[LS_SPANS]);
  ls_look(f, f->hold_now, f->on, -1);
  for (int64_t at = 0; at < ls_count(f->table, LS_HOLDS); at++) {
    int64_t symbol = ls_row(f->table, LS_HOLDS, at)[0].w;
    if (f->hold_now[symbol] || (before && f->hold_before[symbol])) {
      f->values[symbol] = f->hold_now[symbol];
      changed = 1;
    }
  }
  if (changed) ls_compute(f);
}

/* The spans of a layer's state that is left are over: flags that only they held go off. */
static inline void ls_end_spans(ls_figure *f, int64_t layer) {
  int ended = 0;
  if (!f->table->spanned) return;
  ls_look(f, f->hold_now, NULL, layer);
  for (int64_t at = 0; at < ls_count(f->table, LS_HOLDS); at++) {
    int64_t symbol = ls_row(f->table, LS_HOLDS, at)[0].w;
    if (f->hold_before[symbol] && !f->hold_now[symbol]) f->values[symbol] = 0.0, ended = 1;
  }
  if (ended) ls_compute(f);
}

static inline int ls_is_locked(const ls_figure *f) {
  for (int64_t at = 0; at < f->table->name_counts[LS_LOCKS]; at++)
    if (f->locks[at]) return 1;
  for (int64_t layer = 0; layer < ls_count(f->table, LS_LAYERS); layer++)
    if (ls_row(f->table, LS_STATES, f->layers[layer].state)[STATE_STILL].w) return 1;
  return f->table->spanned && ls_look(f, NULL, NULL, -1);
}

/* -- a tick --------------------------------------------------------------------------------------------------------------- */

static inline int64_t ls_passed(const ls_cell *clip, int64_t at, int64_t head, int64_t amount) {
  int64_t length = clip[CLIP_LENGTH].w, back = clip[CLIP_BEGIN].w, end = head + amount, since, before, lap = length - back;
  if (at < back || back < 0) return head < at && at <= (end < length ? end : length);
  if (at > length) return 0;
  if (at == length && back == 0) at = 0;
  since = end - at, before = head - at;
  return (since >= 0 ? since / lap + 1 : 0) - (before >= 0 ? before / lap + 1 : 0);
}

/* The marks in (head, head + amount], in time order: again and again the next one. */
static inline void ls_fire(ls_figure *f, int64_t layer, const ls_cell *clip, int64_t head, int64_t amount) {
  int64_t length = clip[CLIP_LENGTH].w, back = clip[CLIP_BEGIN].w, last = -1, last_cue = -1;
  for (int64_t best = 0, best_cue; best >= 0; last = best, last_cue = best_cue) {
    best = best_cue = -1;
    for (int64_t cue = clip[CLIP_CUES].w; cue < clip[CLIP_CUES_END].w; cue++) {
      int64_t at = ls_row(f->table, LS_CUES, cue)[0].w, laps = ls_passed(clip, at, head, amount), time;
      if (laps <= 0) continue;
      if (at == length && back == 0) at = 0;
      time = back < 0 || at > head ? at - head : at - head + length - back;
      for (; laps > 0; laps--, time += length - back)
        if ((time > last || (time == last && cue > last_cue)) && (best < 0 || time < best)) { best = time, best_cue = cue; break; }
    }
    if (best < 0) return;
    ls_tell(f, layer, best_cue);
    ls_apply(f, ls_row(f->table, LS_CUES, best_cue)[2].w, ls_row(f->table, LS_CUES, best_cue)[3].w, 1);
  }
}

static inline void ls_enter(ls_figure *f, int64_t layer, int64_t head, int64_t old_length, const ls_cell *left, int64_t picked) {
  ls_layer *l = &f->layers[layer];
  const ls_cell *state = ls_row(f->table, LS_STATES, l->state), *clip;
  l->head = l->pick = l->over = 0;
  ls_apply(f, state[STATE_ENTRY].w, state[STATE_ENTRY_END].w, 0);
  if (state[STATE_SAMPLES].w == state[STATE_SAMPLES_END].w) return;
  l->pick = ls_pick(f, state, ls_kept_from(f, state, left, picked));
  clip = ls_clip_of(f, layer);
  if (head && old_length) {
    l->head = ls_folded(clip, head * clip[CLIP_LENGTH].w / old_length);
  }
  if (l->head) return;
  for (int64_t cue = clip[CLIP_CUES].w; cue < clip[CLIP_CUES_END].w; cue++) {
    const ls_cell *one = ls_row(f->table, LS_CUES, cue);
    if (one[0].w == 0 || (clip[CLIP_BEGIN].w == 0 && one[0].w == clip[CLIP_LENGTH].w)) {
      ls_tell(f, layer, cue);
      ls_apply(f, one[2].w, one[3].w, 0);
    }
  }
}

static inline void ls_take(ls_figure *f, int64_t layer, const ls_cell *way) {
  ls_layer *l = &f->layers[layer];
  const ls_cell *old = ls_row(f->table, LS_STATES, l->state), *clip = ls_clip_of(f, layer);
  int64_t target = way[WAY_TARGET].w, old_state = l->state, pick = l->pick, head = l->head;
  l->taken = way[WAY_NUMBER].w;
  if (f->table->spanned) ls_look(f, f->hold_before, NULL, -1);
  for (int64_t use = way[WAY_USES].w; use < way[WAY_USES_END].w; use++) {
    const ls_cell *one = ls_row(f->table, LS_USES, use);
    if (f->ages[one[0].w] < one[1].w) f->ages[one[0].w] = LS_NEVER;
  }
  ls_apply(f, old[STATE_LEAVE].w, old[STATE_LEAVE_END].w, 0);
  ls_end_spans(f, layer);
  if (target != old_state && old[STATE_CLOCK].w >= 0) f->since[old[STATE_CLOCK].w] = 0;
  l->fade_left = way[WAY_FADE].w > 0 ? way[WAY_FADE].w : -1;
  l->fade_state = old_state, l->fade_pick = pick, l->fade_head = head, l->fade_blocks = way[WAY_BLOCKS].w;
  l->state = target, l->stay = 0;
  ls_enter(f, layer, way[WAY_KEEP].w ? head : 0, clip ? clip[CLIP_LENGTH].w : 0, old, clip ? pick : -1);
  ls_see_spans(f, 0);
}

static inline void ls_advance(ls_figure *f) {
  const ls_table *t = f->table;
  if (t->spanned) ls_look(f, f->hold_before, NULL, -1);
  for (int64_t layer = 0; layer < ls_count(t, LS_LAYERS); layer++) {
    ls_layer *l = &f->layers[layer];
    const ls_cell *state = ls_row(t, LS_STATES, l->state), *clip;
    int64_t pick, head = l->head, amount;
    l->stay++;
    if (state[STATE_SAMPLES].w == state[STATE_SAMPLES_END].w) continue;
    pick = ls_pick(f, state, l->pick);
    clip = ls_row(t, LS_CLIPS, ls_row(t, LS_SAMPLES, state[STATE_SAMPLES].w + pick)[0].w);
    if (pick != l->pick) {
      const ls_cell *old = ls_row(t, LS_SAMPLES, state[STATE_SAMPLES].w + l->pick);
      head = (head - old[1].w) * clip[CLIP_LENGTH].w;
      head = ls_floor_div(head, ls_row(t, LS_CLIPS, old[0].w)[CLIP_LENGTH].w);
      head += ls_row(t, LS_SAMPLES, state[STATE_SAMPLES].w + pick)[1].w;
      if (head < 0) head = clip[CLIP_BEGIN].w >= 0 ? head + clip[CLIP_LENGTH].w : 0;
      head = ls_folded(clip, head);
      l->pick = pick;
    }
    amount = ls_amount(f, clip);
    if (head + amount >= clip[CLIP_LENGTH].w && clip[CLIP_BEGIN].w >= 0) l->over = 1;
    l->head = ls_folded(clip, head + amount);
    if (clip[CLIP_GOES].w) {
      f->travel_ahead = f->travel_ahead + ls_gone(t, clip, head, amount, 1);
      f->travel_up = f->travel_up + ls_gone(t, clip, head, amount, 2);
      f->travels |= clip[CLIP_GOES].w;
    }
    if (clip[CLIP_CUES].w < clip[CLIP_CUES_END].w) ls_fire(f, layer, clip, head, amount);
  }
  ls_see_spans(f, 1);
}

static inline void ls_older(int64_t *age, int64_t most) {
  if (*age != LS_NEVER) *age = *age + 1 < most ? *age + 1 : LS_NEVER;
}

static inline void ls_remember(ls_figure *f) {
  const ls_table *t = f->table;
  int64_t at, count = ls_count(t, LS_MEMORIES);
  for (at = 0; at < ls_count(t, LS_BUFFERS); at++) {
    const ls_cell *buffer = ls_row(t, LS_BUFFERS, at);
    if (f->values[buffer[0].w] != 0.0 && !f->held[buffer[0].w]) f->ages[at] = 0;
    else ls_older(&f->ages[at], buffer[1].w);
  }
  for (at = 0; at < ls_count(t, LS_CLOCKS); at++) ls_older(&f->since[at], ls_row(t, LS_CLOCKS, at)[0].w);
  memset(f->memories, 0, (size_t)count);
  for (at = 0; at < count; at++) {
    const ls_cell *memory = ls_row(t, LS_MEMORIES, at);
    int true_ = ls_run(f, memory[2].w, memory[3].w) != 0.0;
    int64_t *counter = &f->counters[at], ticks = memory[1].w;
    if (memory[0].w) *counter = true_ ? ticks : *counter > 0 ? *counter - 1 : 0;
    else *counter = true_ ? (*counter + 1 < ticks ? *counter + 1 : ticks) : 0;
    f->memories[at] = memory[0].w ? *counter > 0 : *counter >= ticks;
  }
}

static inline void ls_forget_tick(ls_figure *f) {
  for (int64_t layer = 0; layer < ls_count(f->table, LS_LAYERS); layer++) f->layers[layer].taken = -1;
  f->fired_count = f->travels = 0;
  f->travel_ahead = f->travel_up = f->mode = f->push_ahead = f->push_up = 0.0;
}

static inline void ls_end_tick(ls_figure *f, int locked) {
  for (int64_t at = 0; at < ls_count(f->table, LS_STICKS); at++) f->kept[at] = f->values[ls_row(f->table, LS_STICKS, at)[3].w];
  f->locked = locked || ls_is_locked(f);
}

/* One tick with what has been set. */
static inline void ls_step(ls_figure *f) {
  const ls_table *t = f->table;
  int64_t at, layer, symbols = ls_count(t, LS_SYMBOLS);
  int frozen = f->freeze > 0, locked;
  for (at = 0; at < symbols; at++) {
    const ls_cell *one = ls_row(t, LS_SYMBOLS, at);
    if (one[KIND].w == LS_PULSE) f->values[at] = one[OWNER].w == LS_GRAPH && f->raised[at];
    if (f->is_given[at]) f->values[at] = f->given[at];
    f->is_given[at] = f->raised[at] = 0;
  }
  for (at = 0; at < ls_count(t, LS_STICKS); at++) {
    const ls_cell *stick = ls_row(t, LS_STICKS, at);
    if (f->values[stick[2].w] == 0.0) f->values[stick[3].w] = f->kept[at];
  }
  ls_forget_tick(f);
  ls_compute(f);
  for (layer = 0; layer < ls_count(t, LS_LAYERS); layer++) {
    ls_layer *l = &f->layers[layer];
    const ls_cell *state = ls_row(t, LS_STATES, l->fade_state);
    if (l->fade_left < 0 || --l->fade_left < 0 || state[STATE_SAMPLES].w == state[STATE_SAMPLES_END].w) continue;
    l->fade_head =
        ls_folded(ls_row(t, LS_CLIPS, ls_row(t, LS_SAMPLES, state[STATE_SAMPLES].w + l->fade_pick)[0].w), l->fade_head + LS_TICK);
  }
  if (frozen) { f->freeze--; ls_see_spans(f, 0); }
  else ls_advance(f);
  ls_remember(f);
  locked = ls_is_locked(f);
  for (layer = 0; layer < ls_count(t, LS_LAYERS) && !frozen; layer++) {
    const ls_cell *state = ls_row(t, LS_STATES, f->layers[layer].state);
    if (f->layers[layer].fade_left >= 0 && f->layers[layer].fade_blocks) continue;
    for (at = state[STATE_WAYS].w; at < state[STATE_WAYS_END].w; at++)
      if (ls_run(f, ls_row(t, LS_WAYS, at)[WAY_PROGRAM].w, ls_row(t, LS_WAYS, at)[WAY_PROGRAM_END].w) != 0.0) break;
    if (at < state[STATE_WAYS_END].w) ls_take(f, layer, ls_row(t, LS_WAYS, at));
  }
  for (at = 0; at < symbols; at++) f->held[at] = ls_row(t, LS_SYMBOLS, at)[KIND].w == LS_BUTTON && f->values[at] != 0.0;
  ls_end_tick(f, locked);
}

/* -- beginning ------------------------------------------------------------------------------------------------------------ */

/* The parts of a figure one after another; with nowhere to put them, only how much room they need. */
static inline size_t ls_laid(const ls_table *t, char *to) {
  int64_t symbols = ls_count(t, LS_SYMBOLS), bytes = symbols + 1;
  ls_figure none, *f = to ? (ls_figure *)to : &none;
  size_t at = sizeof(ls_figure);
#define LS_PART(field, count) \
  at = (at + 15) & ~(size_t)15; \
  if (to) f->field = (void *)(to + at); \
  at += (size_t)((count) + 1) * sizeof *f->field
  LS_PART(values, symbols); LS_PART(given, symbols); LS_PART(stack, t->deepest); LS_PART(kept, ls_count(t, LS_STICKS));
  LS_PART(layers, ls_count(t, LS_LAYERS)); LS_PART(fired, t->most_fired); LS_PART(on, t->name_counts[LS_SPANS]);
  LS_PART(is_given, bytes); LS_PART(held, bytes); LS_PART(raised, bytes); LS_PART(hold_now, bytes); LS_PART(hold_before, bytes);
  LS_PART(locks, t->name_counts[LS_LOCKS]); LS_PART(memories, ls_count(t, LS_MEMORIES));
  LS_PART(counters, ls_count(t, LS_MEMORIES)); LS_PART(ages, ls_count(t, LS_BUFFERS)); LS_PART(since, ls_count(t, LS_CLOCKS));
#undef LS_PART
  return at + 16;
}

/* The bytes one figure needs. */
static inline size_t ls_figure_size(const ls_table *t) { return ls_laid(t, NULL); }

/* A figure just before tick 0, in memory of ls_figure_size bytes. */
static inline ls_figure *ls_begin(const ls_table *t, void *memory) {
  ls_figure *f = (ls_figure *)memory;
  int64_t at;
  memset(memory, 0, ls_figure_size(t));
  ls_laid(t, (char *)memory);
  f->table = t;
  for (at = 0; at < ls_count(t, LS_SYMBOLS); at++) f->values[at] = ls_row(t, LS_SYMBOLS, at)[FIRST].d;
  for (at = 0; at < ls_count(t, LS_BUFFERS); at++) f->ages[at] = LS_NEVER;
  for (at = 0; at < ls_count(t, LS_CLOCKS); at++) f->since[at] = LS_NEVER;
  for (at = 0; at < ls_count(t, LS_LAYERS); at++) f->layers[at].state = ls_row(t, LS_LAYERS, at)[0].w, f->layers[at].fade_left = -1;
  ls_forget_tick(f);
  ls_compute(f);
  for (at = 0; at < ls_count(t, LS_LAYERS); at++) ls_enter(f, at, 0, 0, NULL, -1);
  ls_see_spans(f, 0);
  ls_end_tick(f, 0);
  return f;
}

#endif
