/* A game's loop with a character of Lean Step: here the lamplighter of the demo, in text instead of pictures.
 *
 *     lean-step export demo/lamplighter.leanstep --to table --to players --to interface --out build
 *     cc -std=c99 -O2 -Ibuild examples/game.c -lm -o build/game && build/game build/lamplighter.table.json
 */
#include <stdio.h>

#include "lamplighter_names.h"
#include "leanstep_player.h"

static const double RATE = 60, GRAVITY = 900, JUMP = 260, FASTEST = 80, FASTER = 500;

typedef struct { double x, y, vx, vy; } body_t;

/* The game's own physics: it runs, jumps and falls. */
static void move(body_t *body, double push, int jumps, int locked) {
  double wanted = locked ? 0 : push * FASTEST, step = FASTER / RATE;
  if (body->vx < wanted) body->vx = body->vx + step < wanted ? body->vx + step : wanted;
  else body->vx = body->vx - step > wanted ? body->vx - step : wanted;
  if (jumps && body->y == 0 && !locked) body->vy = JUMP;
  body->x = body->x + body->vx / RATE;
  body->y = body->y + body->vy / RATE;
  body->vy = body->vy - GRAVITY / RATE;
  if (body->y <= 0) body->y = body->vy = 0;
}

static char *read_file(const char *path, size_t *length) {
  FILE *file = fopen(path, "rb");
  char *text = NULL;
  if (file && !fseek(file, 0, SEEK_END) && (text = malloc((size_t)ftell(file) + 1))) {
    *length = (size_t)ftell(file);
    rewind(file);
    *length = fread(text, 1, *length, file);
  }
  if (file) fclose(file);
  return text;
}

int main(int count, char **arguments) {
  size_t length = 0;
  char *text = count == 2 ? read_file(arguments[1], &length) : NULL;
  ls_table table;
  ls_figure *hero;
  body_t body = {0, 0, 0, 0};
  int jumped = 0;
  int64_t shown = -1;
  if (!text) return puts("usage: game NAME.table.json"), 2;
  if (!ls_load(&table, text, length, malloc(ls_table_size(length)), ls_table_size(length))) return puts(table.error), 1;
  hero = ls_begin(&table, malloc(ls_figure_size(&table)));
  for (int tick = 0; tick < 240; tick++) {
    /* what a player's hands do; a real game reads a device here */
    double push = tick >= 30 && tick < 150 ? 1 : 0;
    int held = tick >= 90 && tick < 100;
    /* 1. the game moves the body; what the character locked on the tick before counts */
    move(&body, push, held && !jumped, (int)hero->locked);
    jumped = held;
    /* 2. the character is told about hands and body, and plays a tick */
    ls_push(hero, 0, push, 0);
    ls_set(hero, LAMPLIGHTER_PARAMETER_JUMP, held);
    ls_set(hero, LAMPLIGHTER_PARAMETER_SPEED, fabs(body.vx));
    ls_set(hero, LAMPLIGHTER_PARAMETER_RISE, body.vy);
    ls_set(hero, LAMPLIGHTER_PARAMETER_GROUNDED, body.y == 0);
    ls_step(hero);
    /* 3. the game draws what is shown, and answers what happened */
    if (hero->layers[LAMPLIGHTER_LAYER_BASE].state != shown) {
      const char *frame = ls_frame(hero, LAMPLIGHTER_LAYER_BASE, NULL, NULL);
      shown = hero->layers[LAMPLIGHTER_LAYER_BASE].state;
      printf("tick %d: %s, at %.1f, shows %s\n", tick, table.names[LS_STATE_NAMES][shown], body.x, frame ? frame : "nothing");
    }
    for (int64_t at = 0; at < hero->fired_count; at++)
      printf("tick %d: %s\n", tick, table.names[LS_MARKS][hero->fired[at].mark]);
  }
  return 0;
}
