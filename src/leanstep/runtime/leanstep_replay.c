/* Plays what golden traces set, and writes down what comes out in the same format: a player that does as Lean Step does gives the
 * same bytes.   cc -std=c99 -O2 leanstep_replay.c -lm -o replay;  ./replay NAME.table.json TAKE.golden.txt ...
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
           (long long)m[ls_cel_row(m, f->counts, layer, ls_cel(f, layer))], (long long)mirrored, (long long)turns);
    print_bits(ls_drawn_aside(f, layer, LS_X)), printf(":"), print_bits(ls_drawn_aside(f, layer, LS_Y));
  }
}

static void print_told(const ls_figure *f) {
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

static int replay(const char *table_path, const char *golden_path) {
  size_t length = 0, size;
  char *text = whole_file(table_path, &length), *golden = text ? whole_file(golden_path, &size) : NULL;
  void *memory = text ? malloc(ls_table_size(length)) : NULL, *room;
  ls_table table;
  ls_figure *figure;
  int loaded = golden && memory && ls_load(&table, text, length, memory, ls_table_size(length));
  if (golden && memory && !loaded) fprintf(stderr, "%s: %s\n", table_path, table.error);
  room = loaded ? malloc(ls_figure_size(&table)) : NULL;
  if (!room) return free(memory), free(golden), free(text), 1;
  figure = ls_begin(&table, room);
  for (char *line = golden, *next; line && *line; line = next) {
    char *end = strchr(line, '\n');
    next = end ? end + 1 : NULL;
    if (end) *end = 0;
    if (!strncmp(line, "in", 2) && (line[2] == ' ' || !line[2])) {
      double body[4] = {0.0, 0.0, 90.0, 1.0};
      char *word = line + 2;
      puts(line);
      while (*word == ' ') {
        if (!strncmp(word, " body=", 6)) {
          word += 5;
          for (int one = 0; one < 4 && *word && *word != ' '; one++) {
            uint64_t bits = strtoull(word + 1, &word, 16);
            memcpy(&body[one], &bits, 8);
          }
          continue;
        }
        long at = strtol(word, &word, 10);
        uint64_t bits = strtoull(word + 1, &word, 16);
        if (at >= 0 && at < (long)table.counts[LS_PARAMETERS]) memcpy(&figure->given[at], &bits, 8), figure->is_given[at] = 1;
      }
      ls_step(figure);
      ls_shape(figure, body[0], body[1], body[2], body[3] != 0.0);
      print_told(figure);
    } else if (strncmp(line, "out", 3)) {
      puts(line);
      if (!strcmp(line, "begin")) print_told(figure);
    }
  }
  free(figure), free(memory), free(golden), free(text);
  return 0;
}

int main(int count, char **arguments) {
  if (count < 3 || count % 2 == 0) return fprintf(stderr, "usage: %s NAME.table.json TAKE.golden.txt ...\n", arguments[0]), 2;
  for (int at = 1; at < count; at += 2)
    if (replay(arguments[at], arguments[at + 1])) return 1;
  return 0;
}
