/* Plays two figures from their tables and a list of what is set and where they stand, and writes down what comes out. */
#include "leanstep_player.h"

#include <stdio.h>

static double from_bits(const char *text) {
  uint64_t bits = strtoull(text, NULL, 16);
  double value;
  memcpy(&value, &bits, sizeof value);
  return value;
}

static void print_bits(double value) {
  uint64_t bits;
  memcpy(&bits, &value, sizeof bits);
  printf("%016llx", (unsigned long long)bits);
}

static void tell(const ls_figure *f) {
  int64_t at, layers = f->table->counts[LS_LAYERS];
  for (at = 0; at < layers; at++) printf("%s%lld", at ? "," : "", (long long)f->layers[at].state);
  printf("/");
  for (at = 0; at < layers; at++) printf("%s%lld", at ? "," : "", (long long)f->layers[at].head);
  printf("/%lld/", (long long)f->freeze);
  for (at = 0; at < f->table->counts[LS_PARAMETERS]; at++) printf("%s", at ? "," : ""), print_bits(f->values[at]);
  printf("/"), print_bits(f->push_ahead), printf(" ");
}

static int tell_met(const ls_figure *f, int who, int some) {
  for (int64_t layer = 0; layer < f->table->counts[LS_LAYERS]; layer++) {
    ls_struck one = ls_contact(f, layer);
    if (!one.clip) continue;
    printf("%s%d:%lld:%d:%lld:%lld:", some++ ? "," : "", who, (long long)layer, one.guarded ? 2 : 1, (long long)one.stun, (long long)one.freeze);
    print_bits(one.push);
  }
  return some;
}

static char *read_all(const char *path, size_t *length) {
  FILE *file = fopen(path, "rb");
  char *text;
  if (!file) exit(2);
  fseek(file, 0, SEEK_END), *length = (size_t)ftell(file), rewind(file);
  text = (char *)calloc(1, *length + 1);
  if (fread(text, 1, *length, file) != *length) exit(2);
  fclose(file);
  return text;
}

int main(int count, char **words) {
  for (int at = 1; at + 2 < count; at += 3) {
    ls_table tables[2];
    ls_figure *figures[2];
    int64_t *spent[2];
    size_t length;
    char *lines, *line, *after;
    for (int side = 0; side < 2; side++) {
      char *text = read_all(words[at + side], &length);
      if (!ls_load(&tables[side], text, length, malloc(ls_table_size(length)), ls_table_size(length))) return 3;
      figures[side] = ls_begin(&tables[side], malloc(ls_figure_size(&tables[side])));
      spent[side] = (int64_t *)calloc((size_t)tables[side].counts[LS_LAYERS] + 1, sizeof(int64_t));
    }
    lines = read_all(words[at + 2], &length);
    for (line = lines; *line; line = after + 1) {
      ls_place_at places[2];
      char *part = line;
      after = strchr(line, '\n');
      if (!after) break;
      *after = 0;
      for (int side = 0; side < 4; side++) {
        char *end = strchr(part, '|'), *word;
        int number = 0;
        if (end) *end = 0;
        for (word = strtok(part, " "); word; word = strtok(NULL, " "), number++) {
          if (side < 2) {
            char *value = strchr(word, '=');
            int which = (int)strtol(word, NULL, 10);
            figures[side]->given[which] = from_bits(value + 1);
            figures[side]->is_given[which] = 1;
          } else {
            double value = from_bits(word);
            ls_place_at *to = &places[side - 2];
            if (number == 0) to->x = value;
            if (number == 1) to->y = value;
            if (number == 2) to->wide = value;
            if (number == 3) to->high = value;
            if (number == 4) to->along = value;
            if (number == 5) to->left = value != 0.0;
          }
        }
        if (end) part = end + 1;
      }
      ls_step(figures[0]), ls_step(figures[1]);
      ls_touch(figures[0], places[0], spent[0], figures[1], places[1], spent[1]);
      tell(figures[0]), tell(figures[1]);
      tell_met(figures[1], 1, tell_met(figures[0], 0, 0));
      printf("\n");
    }
  }
  return 0;
}
