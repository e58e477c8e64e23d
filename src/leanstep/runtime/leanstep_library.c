/* The player as a shared library, for languages that call C:
 *
 *     cc -std=c99 -O2 -shared -fPIC leanstep_library.c -lm -o libleanstep.so
 *
 * Tables and figures are pointers; what is not there is NULL or -1.
 */
#include "leanstep_player.h"

#if defined(_WIN32)
#define LEANSTEP_API __declspec(dllexport)
#else
#define LEANSTEP_API __attribute__((visibility("default")))
#endif

typedef struct { ls_table table; void *memory; } leanstep_table;

/* Reads a table; NULL where that fails, and why in error (room for 200 characters), which may be NULL. */
LEANSTEP_API leanstep_table *leanstep_load(const char *text, size_t length, char *error) {
  leanstep_table *made = (leanstep_table *)malloc(sizeof *made);
  if (!made) return NULL;
  made->memory = malloc(ls_table_size(length));
  if (made->memory && ls_load(&made->table, text, length, made->memory, ls_table_size(length))) return made;
  if (error) strncpy(error, made->memory ? made->table.error : "there is no memory left", 199), error[199] = 0;
  free(made->memory), free(made);
  return NULL;
}

LEANSTEP_API void leanstep_free_table(leanstep_table *table) {
  if (table) free(table->memory), free(table);
}

/* The number of a name; kinds are 0 parameters, 1 words, 2 layers, 3 states, 4 clips, 5 frames, 6 marks, 7 spans, 8 locks, 9 modes. */
LEANSTEP_API int leanstep_find(const leanstep_table *table, int kind, const char *name) {
  return kind < 0 || kind >= LS_KINDS ? -1 : ls_find(&table->table, kind, name);
}

LEANSTEP_API const char *leanstep_name(const leanstep_table *table, int kind, int64_t at) {
  if (kind < 0 || kind >= LS_KINDS || at < 0 || at >= table->table.name_counts[kind]) return NULL;
  return table->table.names[kind][at];
}

LEANSTEP_API ls_figure *leanstep_begin(const leanstep_table *table) {
  void *memory = malloc(ls_figure_size(&table->table));
  return memory ? ls_begin(&table->table, memory) : NULL;
}

LEANSTEP_API void leanstep_free(ls_figure *figure) { free(figure); }
LEANSTEP_API void leanstep_set(ls_figure *figure, int parameter, double value) { ls_set(figure, parameter, value); }
LEANSTEP_API void leanstep_push(ls_figure *figure, int stick, double x, double y) { ls_push(figure, stick, x, y); }
LEANSTEP_API void leanstep_step(ls_figure *figure) { ls_step(figure); }
/* How the figure is drawn, as four numbers: width, height, tilt in degrees, and whether the height is in whole pixels; see ls_shape. */
LEANSTEP_API void leanstep_shape(ls_figure *figure, double velocity, double up, double facing, int grounded, double shape[4]) {
  ls_shape(figure, velocity, up, facing, grounded);
  shape[0] = figure->shape_wide, shape[1] = figure->shape_high, shape[2] = figure->shape_tilt, shape[3] = figure->shape_whole;
}

LEANSTEP_API int leanstep_locked(const ls_figure *figure) { return figure->locked != 0; }

LEANSTEP_API double leanstep_value(const ls_figure *figure, int parameter) {
  return parameter < 0 || parameter >= figure->table->counts[LS_PARAMETERS] ? 0.0 : figure->values[parameter];
}

LEANSTEP_API int64_t leanstep_state(const ls_figure *figure, int layer) {
  return layer < 0 || layer >= figure->table->counts[LS_LAYERS] ? -1 : figure->layers[layer].state;
}

/* The name of the frame a layer shows of a figure that looks right, or left; NULL: none. */
LEANSTEP_API const char *leanstep_frame(const ls_figure *figure, int layer, int left, int64_t *mirrored, int64_t *turns) {
  if (layer < 0 || layer >= figure->table->counts[LS_LAYERS]) return NULL;
  return ls_frame_to(figure, layer, left, mirrored, turns);
}

/* The pin points of what is seen: how many; of each leanstep_pin gives its name, and its place and bearing as three numbers. */
LEANSTEP_API int64_t leanstep_pins(ls_figure *figure, int left) { return ls_pins(figure, left); }
/* The same of the marks that fired and name a pin point; leanstep_pin gives the number of the mark. */
LEANSTEP_API int64_t leanstep_mark_pins(ls_figure *figure, int left) { return ls_mark_pins(figure, left); }
LEANSTEP_API const char *leanstep_pin(const ls_figure *figure, int64_t at, int64_t *number, double place[3]) {
  ls_pin found = ls_pin_at(figure, at);
  if (number) *number = found.number;
  place[0] = found.x, place[1] = found.y, place[2] = found.angle;
  return found.name;
}

/* The accessories that are seen: how many; of each leanstep_accessory gives the frame, and where it lies and how it is turned. */
LEANSTEP_API int64_t leanstep_accessories(ls_figure *figure, int left) { return ls_accessories(figure, left); }
LEANSTEP_API const char *leanstep_accessory(const ls_figure *figure, int64_t at, int64_t *layer, int *behind, int *mirrored, double place[3]) {
  ls_pinned found = ls_accessory_at(figure, at);
  if (layer) *layer = found.layer;
  if (behind) *behind = found.behind;
  if (mirrored) *mirrored = found.mirrored;
  place[0] = found.x, place[1] = found.y, place[2] = found.turn;
  return found.frame;
}

/* The parts of what is seen and drawn from parts: how many; of each leanstep_part gives the name, and how it is moved in its parent, turned,
 * and how wide and high it is. */
LEANSTEP_API int64_t leanstep_parts(ls_figure *figure, int left) { return ls_parts(figure, left); }
LEANSTEP_API const char *leanstep_part(const ls_figure *figure, int64_t at, int64_t *layer, double pose[5]) {
  ls_part_pose found = ls_part_at(figure, at);
  if (layer) *layer = found.layer;
  pose[0] = found.x, pose[1] = found.y, pose[2] = found.turn, pose[3] = found.wide, pose[4] = found.high;
  return found.name;
}

/* The number of the mark that fired as number at on this tick; -1: no more did. */
LEANSTEP_API int64_t leanstep_mark(const ls_figure *figure, int64_t at) {
  return at < 0 || at >= figure->fired_count ? -1 : figure->fired[at].mark;
}
