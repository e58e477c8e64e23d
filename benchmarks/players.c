/* Ticks a second of the C player: plays what a golden trace sets again and again.   players TABLE GOLDEN TICKS */
#include <stdio.h>
#include <time.h>

#include "leanstep_player.h"

typedef struct { int tick, parameter; double value; } change;

static char *whole(const char *path, size_t *length) {
  FILE *file = fopen(path, "rb");
  char *text = calloc(1, 1 << 24);
  *length = file && text ? fread(text, 1, (1 << 24) - 1, file) : 0;
  if (file) fclose(file);
  return text;
}

int main(int count, char **arguments) {
  size_t length, size;
  char *text = whole(arguments[1], &length), *golden = whole(arguments[2], &size);
  long ticks = count > 3 ? atol(arguments[3]) : 1000000, done = 0;
  change *changes = calloc(size, sizeof(change));
  int made = 0, played = 0, at;
  ls_table table;
  ls_figure *figure;
  clock_t start;
  if (!ls_load(&table, text, length, malloc(ls_table_size(length)), ls_table_size(length))) return puts(table.error), 1;
  for (char *line = strtok(golden, "\n"); line; line = strtok(NULL, "\n")) {
    char *word = line + 2;
    if (strncmp(line, "in", 2)) continue;
    while (*word == ' ' && strncmp(word, " body=", 6)) {
      uint64_t bits;
      changes[made].tick = played;
      changes[made].parameter = (int)strtol(word, &word, 10);
      bits = strtoull(word + 1, &word, 16);
      memcpy(&changes[made++].value, &bits, 8);
    }
    played++;
  }
  figure = malloc(ls_figure_size(&table));
  start = clock();
  while (done < ticks) {
    ls_begin(&table, figure);
    for (int tick = at = 0; tick < played; tick++, done++) {
      for (; at < made && changes[at].tick == tick; at++) ls_set(figure, changes[at].parameter, changes[at].value);
      ls_step(figure);
    }
  }
  printf("%.0f\n", done / ((double)(clock() - start) / CLOCKS_PER_SEC));
  return 0;
}
