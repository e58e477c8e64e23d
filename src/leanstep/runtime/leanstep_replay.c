/* Plays what golden traces set, and writes down what comes out in the same format: a player that does as Lean Step does gives the
 * same bytes.   cc -std=c99 -O2 leanstep_replay.c -lm -o replay;  ./replay NAME.table.json [OTHER.table.json] TAKE.golden.txt ...
 */
#include "leanstep_player.h"

#include <stdio.h>

static void print_bits(double value) {
  uint64_t bits;
  memcpy(&bits, &value, sizeof bits);
  if (value != value) bits = 0x7ff8000000000000u; /* what is no number has many bits */
  printf("%016llx", (unsigned long long)bits);
}

static void print_drawn(const ls_figure *f) {
  const double asked[] = {f->face, f->cap, f->fall_cap, f->wide, f->high};
  int64_t layer, mirrored = 0, turns = 0, some = 0, *m = f->table->m;
  printf(" requests=%lld,%lld", (long long)f->state_mode, (long long)f->backward);
  for (int at = 0; at < 5; at++) printf(","), print_bits(asked[at]);
  printf(" draws=");
  for (layer = f->lowest; layer >= 0 && layer < f->table->counts[LS_LAYERS]; layer++) {
    if (!ls_frame(f, layer, &mirrored, &turns)) continue;
    printf("%s%lld:%lld:%lld:%lld:", some++ ? "," : "", (long long)layer,
           (long long)ls_frame_of(m, f->table->r, f->counts, f->values, layer, ls_cel(f, layer)), (long long)mirrored, (long long)turns);
    print_bits(ls_drawn_aside(f, layer, LS_X)), printf(":"), print_bits(ls_drawn_aside(f, layer, LS_Y));
  }
}

static void print_places(const double *numbers, int count) {
  for (int at = 0; at < count; at++) printf(":"), print_bits(numbers[at]);
}

static void print_placed(ls_figure *f) {
  int left = f->drawn[LS_DRAWN_FACING] > 180.0;
  int64_t count = ls_pins(f, left), at;
  const double *row;
  printf(" pins=");
  for (at = 0, row = f->placed; at < count; at++, row += LS_PLACED_SIZE) {
    printf("%s%d:%d", at ? "," : "", (int)row[LS_PLACED_NUMBER], (int)row[LS_PLACED_PIN]), print_places(row + LS_PLACED_X, 3);
    printf(":%d", row[LS_PLACED_BEHIND] != 0.0);
  }
  count = ls_accessories(f, left);
  printf(" pinned=");
  for (at = 0, row = f->placed; at < count; at++, row += LS_PINNED_SIZE) {
    printf("%s%d:%d:%d", at ? "," : "", (int)row[LS_PINNED_NAME], (int)row[LS_PINNED_LAYER], (int)row[LS_PINNED_BEHIND]);
    printf(":%d:%d", (int)row[LS_PINNED_FRAME], (int)row[LS_PINNED_MIRRORED]), print_places(row + LS_PINNED_X, 3);
  }
  count = ls_mark_pins(f, left);
  printf(" places=");
  for (at = 0, row = f->placed; at < count; at++, row += LS_PLACED_SIZE)
    printf("%s%d:%d", at ? "," : "", (int)row[LS_PLACED_NUMBER], (int)row[LS_PLACED_PIN]), print_places(row + LS_PLACED_X, 3);
}

static void print_parts(ls_figure *f) {
  int64_t count = ls_parts(f, f->drawn[LS_DRAWN_FACING] > 180.0);
  const double *row = f->placed;
  printf(" parts=");
  for (int64_t at = 0; at < count; at++, row += LS_PARTED_SIZE)
    printf("%s%d:%d", at ? "," : "", (int)row[LS_PARTED_LAYER], (int)row[LS_PARTED_PART]), print_places(row + LS_PARTED_X, 5);
}

static void print_told(ls_figure *f) {
  const ls_table *t = f->table;
  int64_t at, layers = t->counts[LS_LAYERS], some = 0;
#define LS_EACH(name, value) \
  printf(name); \
  for (at = 0; at < layers; at++) printf("%s%lld", at ? "," : "", (long long)(value))
  LS_EACH("out states=", f->layers[at].state);
  LS_EACH(" stays=", f->layers[at].stay);
  LS_EACH(" heads=", f->layers[at].head);
  LS_EACH(" picks=", f->layers[at].pick);
  LS_EACH(" cels=", ls_cel(f, at));
  LS_EACH(" taken=", f->taken[at]);
#undef LS_EACH
  printf(" marks=");
  for (at = 0; at < f->fired_count; at++)
    printf("%s%lld:%lld", at ? "," : "", (long long)f->fired[at].layer, (long long)f->fired[at].mark);
  printf(" spans=");
  for (at = 0; at < t->name_counts[LS_SPANS]; at++)
    if (f->on[at]) printf("%s%lld", some++ ? "," : "", (long long)at);
  printf(" locked=%d freeze=%lld travel=", f->locked != 0, (long long)f->freeze);
  print_bits(f->travel_ahead), printf(","), print_bits(f->travel_up), printf(",%lld asked=", (long long)f->travels);
  print_bits(f->mode), printf(","), print_bits(f->push_ahead), printf(","), print_bits(f->push_up), printf(" values=");
  for (at = some = 0; at < t->counts[LS_PARAMETERS]; at++)
    if (ls_owner(t, at) >= LS_GRAPH) {
      if (some++) printf(",");
      print_bits(f->values[at]);
    }
  if (t->version > 1) print_drawn(f);
  if (t->version > 5) print_placed(f);
  if (t->version > 6) print_parts(f);
  if (t->version > 2) {
    printf(" shape="), print_bits(f->shape_wide), printf(","), print_bits(f->shape_high), printf(","), print_bits(f->shape_tilt);
    printf(",%d", f->shape_whole);
  }
  printf("\n");
}

static char *whole_file(const char *path, size_t *length) {
  FILE *file = fopen(path, "rb");
  char *text = NULL;
  long size = 0;
  if (file && !fseek(file, 0, SEEK_END) && (size = ftell(file)) >= 0 && (text = malloc((size_t)size + 1))) {
    rewind(file);
    *length = fread(text, 1, (size_t)size, file);
    text[*length] = 0;
  } else fprintf(stderr, "%s cannot be read\n", path);
  if (file) fclose(file);
  return text;
}

/* Of a figure: its table with what that lies in, and what it has spent on another. */
typedef struct { char *text; void *memory, *room; ls_table table; ls_figure *figure; int64_t *spent; } replayed;

static int open_table(replayed *one, const char *path) {
  size_t length = 0;
  one->text = whole_file(path, &length);
  if (!one->text || !(one->memory = malloc(ls_table_size(length)))) return 0;
  if (!ls_load(&one->table, one->text, length, one->memory, ls_table_size(length)))
    return fprintf(stderr, "%s: %s\n", path, one->table.error), 0;
  one->room = malloc(ls_figure_size(&one->table));
  one->spent = calloc((size_t)one->table.counts[LS_LAYERS] + 1, sizeof *one->spent);
  if (!one->room || !one->spent) return 0;
  one->figure = ls_begin(&one->table, one->room);
  return 1;
}

static void close_table(replayed *one) {
  free(one->spent), free(one->room), free(one->memory), free(one->text);
  memset(one, 0, sizeof *one);
}

/* Numbers, as their bits, that stand in a line with commas between them; where they end. */
static char *read_bits(char *word, double *out, int count) {
  for (int at = 0; at < count && *word && *word != ' '; at++) {
    uint64_t bits = strtoull(word, &word, 16);
    memcpy(&out[at], &bits, 8);
    if (*word == ',') word++;
  }
  return word;
}

/* One tick with what a line sets, and with what the body does. */
static void set_and_step(ls_figure *figure, char *word) {
  double body[4] = {0.0, 0.0, 90.0, 1.0}, value = 0.0;
  while (*word == ' ') {
    if (!strncmp(word, " body=", 6)) {
      word = read_bits(word + 6, body, 4);
      continue;
    }
    long at = strtol(word, &word, 10);
    word = read_bits(word + 1, &value, 1);
    if (at >= 0 && at < (long)figure->table->counts[LS_PARAMETERS]) figure->given[at] = value, figure->is_given[at] = 1;
  }
  ls_step(figure);
  ls_shape(figure, body[0], body[1], body[2], body[3] != 0.0);
}

/* What touches of two figures that stand where a line says. */
static void meet(replayed *both, char *word) {
  ls_place_at places[2];
  for (int who = 0; who < 2; who++) {
    double numbers[6] = {0.0, 0.0, 1.0, 1.0, 1.0, 0.0};
    if (*word == ' ') word = read_bits(word + 1, numbers, 6);
    places[who].x = numbers[0], places[who].y = numbers[1], places[who].wide = numbers[2], places[who].high = numbers[3];
    places[who].along = numbers[4], places[who].left = numbers[5] != 0.0;
  }
  ls_touch(both[0].figure, places[0], both[0].spent, both[1].figure, places[1], both[1].spent);
}

static void print_met(replayed *both) {
  printf("met");
  for (int who = 0; who < 2; who++)
    for (int64_t layer = 0; layer < both[who].table.counts[LS_LAYERS]; layer++)
      if (both[who].figure->hits[layer]) printf(" %d:%lld:%lld", who, (long long)layer, (long long)both[who].figure->hits[layer]);
  printf("\n");
}

static void replay(replayed *figures, int count, char *golden) {
  int turn = 0;
  for (char *line = golden, *next; line && *line; line = next) {
    char *end = strchr(line, '\n');
    int sets, at, begins;
    next = end ? end + 1 : NULL;
    if (end) *end = 0;
    sets = !strncmp(line, "in", 2) && (line[2] == ' ' || !line[2]), at = count > 1 && !strncmp(line, "at ", 3), begins = !strcmp(line, "begin");
    if (!strncmp(line, "out", 3) || !strncmp(line, "met", 3)) continue;
    puts(line);
    if (sets) set_and_step(figures[turn].figure, line + 2), turn = (turn + 1) % count;
    if (at) meet(figures, line + 2);
    if (begins || at || (sets && count == 1))
      for (int who = 0; who < count; who++) print_told(figures[who].figure);
    if (at) print_met(figures);
  }
}

/* Whether a path is that of a table. */
static int is_table(const char *path) {
  size_t length = strlen(path);
  return length > 5 && !strcmp(path + length - 5, ".json");
}

int main(int count, char **arguments) {
  replayed figures[2];
  int tables = 0, wrong = 0;
  if (count < 3 || is_table(arguments[count - 1]))
    return fprintf(stderr, "usage: %s NAME.table.json [OTHER.table.json] TAKE.golden.txt ...\n", arguments[0]), 2;
  memset(figures, 0, sizeof figures);
  for (int at = 1; at < count && !wrong; at++) {
    size_t length;
    char *golden;
    if (is_table(arguments[at]) && tables < 2) {
      wrong = !open_table(&figures[tables++], arguments[at]);
      continue;
    }
    golden = whole_file(arguments[at], &length);
    wrong = !golden || tables != (strncmp(golden, "leanstep golden pair", 20) ? 1 : 2);
    if (golden && wrong) fprintf(stderr, "%s: a golden trace stands behind its table, one of two figures behind both\n", arguments[at]);
    if (!wrong) replay(figures, tables, golden);
    free(golden);
    while (tables) close_table(&figures[--tables]);
  }
  while (tables) close_table(&figures[--tables]);
  return wrong;
}
