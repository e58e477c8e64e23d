/* Plays a character from its table (NAME.table.json), tick for tick and bit for bit as Lean Step does.
 *
 * One header of C99, which C++ reads too.  It allocates nothing: you hand it memory, once for a table and once for each figure.
 *
 *     ls_table table;
 *     if (!ls_load(&table, text, length, memory, ls_table_size(length))) puts(table.error);
 *     ls_figure *hero = ls_begin(&table, more);         (more: ls_figure_size(&table) bytes)
 *     int jump = ls_find(&table, LS_PARAMETERS, "jump");
 *     ls_set(hero, jump, held);                         (what your game and your physics set)
 *     ls_push(hero, 0, x, y);                           (the first stick)
 *     ls_step(hero);                                    (once a tick)
 *     ls_frame(hero, 0, &mirrored, &turns)              (what the first layer shows; hero->fired, hero->on, hero->locked)
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
#ifdef __clang__
#pragma STDC FP_CONTRACT OFF
#endif

static inline int64_t ls_floor_div(int64_t one, int64_t other) { return one / other - (one % other != 0 && (one < 0) != (other < 0)); }

/* -- printed from the kernels of the tick -- */
/* the sections of a table and their columns */
static const char *const ls_columns[][2] = {
  {"parameters", "kind owner first low high"},
  {"sticks", "x y push bearing"},
  {"layers", "start states states_end"},
  {"states", "ways ways_end entry entry_end leave leave_end samples samples_end axes axes_end blends sticky clock still clear turned mode backward face cap fall wide high shapes shapes_end last_shapes last_shapes_end worn worn_end moved moved_end mix_cells mix_cells_end mix_edges mix_edges_end"},
  {"ways", "number target program program_end fade blocks keep uses uses_end shapes shapes_end"},
  {"uses", "buffer ticks"},
  {"acts", "do target value"},
  {"samples", "clip phase places mirrored"},
  {"axes", "parameter round low high step"},
  {"places", "value"},
  {"clips", "length begin vanishes pace at low high cues cues_end windows windows_end pieces pieces_end cels cels_end resting goes keys keys_end actives actives_end reach stun guard_stun freeze strength push"},
  {"cues", "at mark acts acts_end shapes shapes_end cel spots spots_end"},
  {"windows", "start end hold lock span"},
  {"pieces", "start cel"},
  {"cels", "frame mirrored turns looks rects rects_end spots spots_end"},
  {"keys", "at x y ease"},
  {"memories", "within ticks program program_end"},
  {"buffers", "parameter most"},
  {"clocks", "most"},
  {"formulas", "parameter program program_end"},
  {"holds", "parameter"},
  {"programs", "op a b value"},
  {"squashes", "high wide over hold back every by_fall recent whole"},
  {"leans", "speeding turning most share dt signed"},
  {"shapes", "do which"},
  {"countdowns", "parameter"},
  {"actives", "start end window"},
  {"rects", "kind left bottom width height"},
  {"contact", "guards guards_end hit guarded stun strength lands stopped"},
  {"costumes", "parameter value dressed dressed_end"},
  {"dressed", "frame by"},
  {"spots", "pin x y angle behind"},
  {"accessories", "name pin shown shown_end clip clip_end frame angle order"},
  {"moved", "parameter value"},
  {"mix_places", "x y mix_shares mix_shares_end"},
  {"mix_shares", "sample share"},
  {"mix_cells", "first second third"},
  {"mix_edges", "first second"},
  {"posed", "frame figure poses poses_end"},
  {"poses", "part x y turn wide high"},
};
static const int64_t LS_OLDER_WIDTHS[][40] = {
  {5, 4, 3, 14, 9, 2, 3, 3, 5, 1, 19, 4, 5, 2, 3, 4, 4, 2, 1, 3, 1, 4, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0},
  {5, 4, 3, 23, 9, 2, 3, 4, 5, 1, 19, 4, 5, 2, 4, 4, 4, 2, 1, 3, 1, 4, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0},
  {5, 4, 3, 27, 11, 2, 3, 4, 5, 1, 19, 6, 5, 2, 4, 4, 4, 2, 1, 3, 1, 4, 9, 6, 2, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0},
  {5, 4, 3, 27, 11, 2, 3, 4, 5, 1, 27, 6, 5, 2, 6, 4, 4, 2, 1, 3, 1, 4, 9, 6, 2, 1, 3, 5, 8, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0},
  {5, 4, 3, 29, 11, 2, 3, 4, 5, 1, 27, 6, 5, 2, 6, 4, 4, 2, 1, 3, 1, 4, 9, 6, 2, 1, 3, 5, 8, 4, 2, 0, 0, 0, 0, 0, 0, 0, 0, 0},
  {5, 4, 3, 31, 11, 2, 3, 4, 5, 1, 27, 9, 5, 2, 8, 4, 4, 2, 1, 3, 1, 4, 9, 6, 2, 1, 3, 5, 8, 4, 2, 5, 9, 2, 0, 0, 0, 0, 0, 0},
};
enum {
  LS_ACCESSORY_NAME = 0, LS_ACCESSORY_PIN = 1, LS_ACCESSORY_SHOWN = 2, LS_ACCESSORY_SHOWN_END = 3, LS_ACCESSORY_CLIP = 4,
  LS_ACCESSORY_CLIP_END = 5, LS_ACCESSORY_FRAME = 6, LS_ACCESSORY_ANGLE = 7, LS_ACCESSORY_ORDER = 8, LS_ACCESSORY_SIZE = 9,
  LS_ACT_DO = 0, LS_ACT_TARGET = 1, LS_ACT_VALUE = 2, LS_ACT_SIZE = 3, LS_ACTIVE_START = 0, LS_ACTIVE_END = 1,
  LS_ACTIVE_WINDOW = 2, LS_ACTIVE_SIZE = 3, LS_AXIS_PARAMETER = 0, LS_AXIS_ROUND = 1, LS_AXIS_LOW = 2, LS_AXIS_HIGH = 3,
  LS_AXIS_STEP = 4, LS_AXIS_SIZE = 5, LS_BUFFER_PARAMETER = 0, LS_BUFFER_MOST = 1, LS_BUFFER_SIZE = 2, LS_CEL_FRAME = 0,
  LS_CEL_MIRRORED = 1, LS_CEL_TURNS = 2, LS_CEL_LOOKS = 3, LS_CEL_RECTS = 4, LS_CEL_RECTS_END = 5, LS_CEL_SPOTS = 6,
  LS_CEL_SPOTS_END = 7, LS_CEL_SIZE = 8, LS_CLIP_LENGTH = 0, LS_CLIP_BEGIN = 1, LS_CLIP_VANISHES = 2, LS_CLIP_PACE = 3,
  LS_CLIP_AT = 4, LS_CLIP_LOW = 5, LS_CLIP_HIGH = 6, LS_CLIP_CUES = 7, LS_CLIP_CUES_END = 8, LS_CLIP_WINDOWS = 9,
  LS_CLIP_WINDOWS_END = 10, LS_CLIP_PIECES = 11, LS_CLIP_PIECES_END = 12, LS_CLIP_CELS = 13, LS_CLIP_CELS_END = 14,
  LS_CLIP_RESTING = 15, LS_CLIP_GOES = 16, LS_CLIP_KEYS = 17, LS_CLIP_KEYS_END = 18, LS_CLIP_ACTIVES = 19,
  LS_CLIP_ACTIVES_END = 20, LS_CLIP_REACH = 21, LS_CLIP_STUN = 22, LS_CLIP_GUARD_STUN = 23, LS_CLIP_FREEZE = 24,
  LS_CLIP_STRENGTH = 25, LS_CLIP_PUSH = 26, LS_CLIP_SIZE = 27, LS_COMPARE_STACK = 19, LS_CONTACT_GUARDS = 0,
  LS_CONTACT_GUARDS_END = 1, LS_CONTACT_HIT = 2, LS_CONTACT_GUARDED = 3, LS_CONTACT_STUN = 4, LS_CONTACT_STRENGTH = 5,
  LS_CONTACT_LANDS = 6, LS_CONTACT_STOPPED = 7, LS_CONTACT_SIZE = 8, LS_COSTUME_PARAMETER = 0, LS_COSTUME_VALUE = 1,
  LS_COSTUME_DRESSED = 2, LS_COSTUME_DRESSED_END = 3, LS_COSTUME_SIZE = 4, LS_CUE_AT = 0, LS_CUE_MARK = 1, LS_CUE_ACTS = 2,
  LS_CUE_ACTS_END = 3, LS_CUE_SHAPES = 4, LS_CUE_SHAPES_END = 5, LS_CUE_CEL = 6, LS_CUE_SPOTS = 7, LS_CUE_SPOTS_END = 8,
  LS_CUE_SIZE = 9, LS_DRAWN_WIDE = 0, LS_DRAWN_HIGH = 1, LS_DRAWN_TILT = 2, LS_DRAWN_WHOLE = 3, LS_DRAWN_SQUASH = 4,
  LS_DRAWN_HOLDER = 5, LS_DRAWN_AMOUNT = 6, LS_DRAWN_SINCE = 7, LS_DRAWN_FREED = 8, LS_DRAWN_FROM_WIDE = 9,
  LS_DRAWN_FROM_HIGH = 10, LS_DRAWN_LEANING = 11, LS_DRAWN_FALL = 12, LS_DRAWN_LANDED = 13, LS_DRAWN_VELOCITY = 14,
  LS_DRAWN_UP = 15, LS_DRAWN_FACING = 16, LS_DRAWN_GROUNDED = 17, LS_DRAWN_FREEZE = 18, LS_DRAWN_SIZE = 19, LS_DRESSED_FRAME = 0,
  LS_DRESSED_BY = 1, LS_DRESSED_SIZE = 2, LS_DUE_ANY = 0, LS_DUE_FREEZE = 1, LS_DUE_PUSH = 2, LS_DUE_HIT = 3, LS_DUE_GUARDED = 4,
  LS_DUE_STUN = 5, LS_DUE_STRENGTH = 6, LS_DUE_LANDS = 7, LS_DUE_STOPPED = 8, LS_DUE_SIZE = 9, LS_FIELDS_MODE = 22,
  LS_FIELDS_PUSH = 23, LS_FIELDS_PUSH_UP = 24, LS_FIELDS_TRAVEL = 30, LS_FIELDS_TRAVEL_UP = 31, LS_FIELDS_TRAVELS = 32,
  LS_FIRST_PLAYER = 3, LS_FORMULA_PARAMETER = 0, LS_FORMULA_PROGRAM = 1, LS_FORMULA_PROGRAM_END = 2, LS_FORMULA_SIZE = 3,
  LS_FROM_TO = 4, LS_GUARD_BOX = 2, LS_HEAD_PARAMETERS = 0, LS_HEAD_STICKS = 2, LS_HEAD_STICKS_END = 3, LS_HEAD_LAYERS = 4,
  LS_HEAD_LAYERS_END = 5, LS_HEAD_STATES = 6, LS_HEAD_WAYS = 8, LS_HEAD_WAYS_END = 9, LS_HEAD_PLACES = 18, LS_HEAD_CLIPS = 20,
  LS_HEAD_CUES = 22, LS_HEAD_WINDOWS = 24, LS_HEAD_WINDOWS_END = 25, LS_HEAD_MEMORIES = 32, LS_HEAD_MEMORIES_END = 33,
  LS_HEAD_BUFFERS = 34, LS_HEAD_BUFFERS_END = 35, LS_HEAD_CLOCKS = 36, LS_HEAD_CLOCKS_END = 37, LS_HEAD_FORMULAS = 38,
  LS_HEAD_FORMULAS_END = 39, LS_HEAD_HOLDS = 40, LS_HEAD_HOLDS_END = 41, LS_HEAD_SQUASHES = 44, LS_HEAD_SQUASHES_END = 45,
  LS_HEAD_LEANS = 46, LS_HEAD_LEANS_END = 47, LS_HEAD_COUNTDOWNS = 50, LS_HEAD_COUNTDOWNS_END = 51, LS_HEAD_CONTACT = 56,
  LS_HEAD_CONTACT_END = 57, LS_HEAD_COSTUMES = 58, LS_HEAD_COSTUMES_END = 59, LS_HEAD_SPOTS = 62, LS_HEAD_SPOTS_END = 63,
  LS_HEAD_ACCESSORIES = 64, LS_HEAD_ACCESSORIES_END = 65, LS_HEAD_POSED = 76, LS_HEAD_POSED_END = 77, LS_HEAD_PULSES = 80,
  LS_HEAD_PULSES_END = 81, LS_HEAD_BUTTONS = 82, LS_HEAD_BUTTONS_END = 83, LS_HEAD_LAYER_COUNT = 84, LS_HEAD_COUNTERS = 85,
  LS_HEAD_AGES = 86, LS_HEAD_SINCE = 87, LS_HEAD_HELD = 88, LS_HEAD_RAISED = 89, LS_HEAD_LOCKS = 90, LS_HEAD_SPANS = 91,
  LS_HEAD_SPANS_END = 92, LS_HEAD_REMEMBERED = 93, LS_HEAD_HELD_NOW = 94, LS_HEAD_HELD_BEFORE = 95, LS_HEAD_CHANGED = 96,
  LS_HEAD_COUNTS = 97, LS_HEAD_PLACE = 98, LS_HEAD_KEPT = 99, LS_HEAD_STACK = 100, LS_HEAD_VALUES = 101, LS_HEAD_MOST_TOLD = 102,
  LS_HEAD_SIZE = 104, LS_HELD_FOR = 0, LS_HELD_SQUASH = 1, LS_HELD_LEAN = 4, LS_KEY_AT = 0, LS_KEY_SIZE = 4, LS_LAYER_START = 0,
  LS_LAYER_STATES = 1, LS_LAYER_STATES_END = 2, LS_LAYER_SIZE = 3, LS_LEAN_SPEEDING = 0, LS_LEAN_TURNING = 1, LS_LEAN_MOST = 2,
  LS_LEAN_SHARE = 3, LS_LEAN_DT = 4, LS_LEAN_SIGNED = 5, LS_LEAN_SIZE = 6, LS_LET_GO = 2, LS_MEMORY_WITHIN = 0,
  LS_MEMORY_TICKS = 1, LS_MEMORY_PROGRAM = 2, LS_MEMORY_PROGRAM_END = 3, LS_MEMORY_LASTS = 4, LS_MEMORY_SIZE = 5,
  LS_MIX_SHARE_SAMPLE = 0, LS_MIX_CELL_FIRST = 0, LS_MIX_PLACE_X = 0, LS_MIX_EDGE_FIRST = 0, LS_MIX_SHARE_SHARE = 1,
  LS_MIX_CELL_SECOND = 1, LS_MIX_PLACE_Y = 1, LS_MIX_EDGE_SECOND = 1, LS_MIX_PLACE_MIX_SHARES = 2, LS_MIX_SHARE_SIZE = 2,
  LS_MIX_CELL_THIRD = 2, LS_MIX_EDGE_SIZE = 2, LS_MIX_PLACE_MIX_SHARES_END = 3, LS_MIX_CELL_SIZE = 3, LS_MOVED_PARAMETER = 0,
  LS_MOVED_VALUE = 1, LS_MOVED_SIZE = 2, LS_NAMED_PARAMETERS = 0, LS_NAMED_WORDS = 1, LS_NAMED_LAYERS = 2, LS_NAMED_STATES = 3,
  LS_NAMED_CLIPS = 4, LS_NAMED_SPANS = 7, LS_NAMED_LOCKS = 8, LS_NOW_TICK = 0, LS_NOW_LOCKED = 1, LS_NOW_FREEZE = 2,
  LS_OP_NUMBER = 0, LS_OP_PARAMETER = 1, LS_OP_PRESSED = 2, LS_OP_RELEASED = 3, LS_OP_STAY = 4, LS_OP_SINCE = 5,
  LS_OP_BUFFERED = 6, LS_OP_SPAN = 9, LS_OP_MEMORY = 11, LS_OP_NOT = 12, LS_OP_COMPARE = 13, LS_OP_COMPUTE = 14,
  LS_OP_SKIP_FALSE = 15, LS_OP_SKIP_TRUE = 16, LS_OPERATOR_COUNT = 10, LS_OVER_BY = 3, LS_PARAMETER_KIND = 0,
  LS_PARAMETER_OWNER = 1, LS_PARAMETER_FIRST = 2, LS_PARAMETER_LOW = 3, LS_PARAMETER_HIGH = 4, LS_PARAMETER_SIZE = 5,
  LS_PART_POSE_PART = 0, LS_PART_POSE_X = 1, LS_PART_POSE_Y = 2, LS_PART_POSE_TURN = 3, LS_PART_POSE_WIDE = 4,
  LS_PART_POSE_HIGH = 5, LS_PART_POSE_SIZE = 6, LS_PARTED_LAYER = 0, LS_PARTED_PART = 1, LS_PARTED_X = 2, LS_PARTED_Y = 3,
  LS_PARTED_TURN = 4, LS_PARTED_WIDE = 5, LS_PARTED_HIGH = 6, LS_PARTED_SIZE = 7, LS_PIECE_START = 0, LS_PIECE_CEL = 1,
  LS_PIECE_SIZE = 2, LS_PINNED_NAME = 0, LS_PINNED_LAYER = 1, LS_PINNED_BEHIND = 2, LS_PINNED_FRAME = 3, LS_PINNED_MIRRORED = 4,
  LS_PINNED_X = 5, LS_PINNED_Y = 6, LS_PINNED_TURN = 7, LS_PINNED_SIZE = 8, LS_PLACED_NUMBER = 0, LS_PLACED_PIN = 1,
  LS_PLACED_X = 2, LS_PLACED_Y = 3, LS_PLACED_ANGLE = 4, LS_PLACED_BEHIND = 5, LS_PLACED_SIZE = 6, LS_PLAYER_STATE = 0,
  LS_PLAYER_STAY = 1, LS_PLAYER_HEAD = 2, LS_PLAYER_PICK = 3, LS_PLAYER_OVER = 4, LS_PLAYER_FADE_STATE = 5,
  LS_PLAYER_FADE_PICK = 6, LS_PLAYER_FADE_HEAD = 7, LS_PLAYER_FADE_LEFT = 8, LS_PLAYER_FADE_BLOCKS = 9, LS_PLAYER_SIZE = 10,
  LS_POSED_FRAME = 0, LS_POSED_FIGURE = 1, LS_POSED_POSES = 2, LS_POSED_POSES_END = 3, LS_POSED_SIZE = 4, LS_PULSE_SIZE = 2,
  LS_PUSH_UP = 8, LS_PUSH_NUMBER = 14, LS_PUSH_VALUE = 15, LS_PUSH_STAY = 16, LS_PUSH_SINCE = 17, LS_RECT_KIND = 0,
  LS_RECT_LEFT = 1, LS_RECT_BOTTOM = 2, LS_RECT_WIDTH = 3, LS_RECT_HEIGHT = 4, LS_RECT_SIZE = 5, LS_ROW_OR_NONE = 6,
  LS_SAMPLE_CLIP = 0, LS_SAMPLE_PHASE = 1, LS_SAMPLE_PLACES = 2, LS_SAMPLE_MIRRORED = 3, LS_SAMPLE_SIZE = 4,
  LS_SECTION_COUNT = 40, LS_SEEN_WITHIN = 1, LS_SHAPE_DO = 0, LS_SHAPE_WHICH = 1, LS_SHAPE_SIZE = 2, LS_SIGN_COUNT = 6,
  LS_SPOT_PIN = 0, LS_SPOT_X = 1, LS_SPOT_Y = 2, LS_SPOT_ANGLE = 3, LS_SPOT_BEHIND = 4, LS_SPOT_SIZE = 5, LS_SQUASH_HIGH = 0,
  LS_SQUASH_WIDE = 1, LS_SQUASH_OVER = 2, LS_SQUASH_HOLD = 3, LS_SQUASH_BACK = 4, LS_SQUASH_EVERY = 5, LS_SQUASH_BY_FALL = 6,
  LS_SQUASH_RECENT = 7, LS_SQUASH_WHOLE = 8, LS_SQUASH_SIZE = 9, LS_STATE_WAYS = 0, LS_STATE_WAYS_END = 1, LS_STATE_ENTRY = 2,
  LS_STATE_ENTRY_END = 3, LS_STATE_LEAVE = 4, LS_STATE_LEAVE_END = 5, LS_STATE_SAMPLES = 6, LS_STATE_SAMPLES_END = 7,
  LS_STATE_AXES = 8, LS_STATE_AXES_END = 9, LS_STATE_BLENDS = 10, LS_STATE_STICKY = 11, LS_STATE_CLOCK = 12, LS_STATE_STILL = 13,
  LS_STATE_CLEAR = 14, LS_STATE_TURNED = 15, LS_STATE_MODE = 16, LS_STATE_BACKWARD = 17, LS_STATE_FACE = 18, LS_STATE_CAP = 19,
  LS_STATE_FALL = 20, LS_STATE_WIDE = 21, LS_STATE_HIGH = 22, LS_STATE_SHAPES = 23, LS_STATE_SHAPES_END = 24,
  LS_STATE_LAST_SHAPES = 25, LS_STATE_LAST_SHAPES_END = 26, LS_STATE_WORN = 27, LS_STATE_WORN_END = 28, LS_STATE_MOVED = 29,
  LS_STATE_MOVED_END = 30, LS_STATE_MIX_CELLS = 31, LS_STATE_MIX_CELLS_END = 32, LS_STATE_MIX_EDGES = 33,
  LS_STATE_MIX_EDGES_END = 34, LS_STATE_SIZE = 35, LS_STEP_OP = 0, LS_STEP_A = 1, LS_STEP_B = 2, LS_STEP_VALUE = 3,
  LS_STEP_YES = 4, LS_STEP_NO = 5, LS_STEP_SIZE = 6, LS_STICK_PUSH = 2, LS_STICK_BEARING = 3, LS_STICK_SIZE = 4,
  LS_STRIKE_BOX = 0, LS_TOLD_SIZE = 6, LS_USE_BUFFER = 0, LS_USE_TICKS = 1, LS_USE_SIZE = 2, LS_VULNERABLE_BOX = 1,
  LS_WAY_NUMBER = 0, LS_WAY_TARGET = 1, LS_WAY_PROGRAM = 2, LS_WAY_PROGRAM_END = 3, LS_WAY_FADE = 4, LS_WAY_BLOCKS = 5,
  LS_WAY_KEEP = 6, LS_WAY_USES = 7, LS_WAY_USES_END = 8, LS_WAY_SHAPES = 9, LS_WAY_SHAPES_END = 10, LS_WAY_SIZE = 11,
  LS_WINDOW_START = 0, LS_WINDOW_END = 1, LS_WINDOW_HOLD = 2, LS_WINDOW_LOCK = 3, LS_WINDOW_SPAN = 4, LS_WINDOW_SIZE = 5
};
#define LS_NEVER 1152921504606846976LL
#define LS_EXACT 9007199254740992LL
#define LS_LONGEST 2147483648LL
enum {
  LS_BEARING = 2, LS_CHOICE = 4, LS_WHOLE = 1, LS_TICK = 65536, LS_AT = 0, LS_EASE = 3, LS_IN = 1, LS_OUT = 2, LS_BOTH = 3,
  LS_LESS = 1, LS_EQUAL = 2, LS_GREATER = 4, LS_NEITHER = 8, LS_PLUS = 0, LS_MINUS = 1, LS_TIMES = 2, LS_ABSOLUTE = 4,
  LS_NEGATIVE = 5, LS_TURN = 8, LS_DIRECTION = 9, LS_LEAST = 6, LS_COMPARED = 4, LS_ON = 1, LS_STAYED = 6, LS_PRESSED = 2,
  LS_RELEASED = 3, LS_REMEMBERED = 13, LS_BUFFERED = 7, LS_SINCE = 8, LS_DONE = 9, LS_SHARE = 10, LS_SPAN = 11, LS_ACTIVE = 12,
  LS_PAIR = 5, LS_CONSTANT = 0, LS_COMPUTE = 18, LS_TRUE = -1, LS_TOLD = 2, LS_LEANED = 3, LS_WITHIN = 11, LS_FINITE = 1,
  LS_INTEGER = 2, LS_TIME = 3, LS_ROW = 5, LS_ADDRESS = 7, LS_NAME = 8, LS_FIRST = 9, LS_END = 10, LS_RAISE = 2,
  LS_PARAMETERS = 0, LS_LOCK = 3, LS_UNLOCK = 4, LS_FREEZE = 5, LS_MOST_MARKS = 10000, LS_CUES = 11, LS_PIECES = 13, LS_KEYS = 15,
  LS_SAMPLES = 7, LS_CLIPS = 10, LS_PLACES = 9, LS_SQUASHES = 22, LS_LEANS = 23, LS_SHAPES = 24, LS_SQUASHED = 0, LS_CLOCKS = 18,
  LS_BUFFERS = 17, LS_MEMORIES = 16, LS_LAYERS = 2, LS_PROGRAMS = 21, LS_AMOUNT = 1, LS_TRUTH = 2, LS_EITHER = 0, LS_WAYS = 4,
  LS_FORMULAS = 19, LS_CONTACTS = 28, LS_ACCESSORIES = 32, LS_STATES = 3, LS_AXES = 8, LS_ACTS = 6, LS_PULSE = 5, LS_GRAPH = 3,
  LS_BUTTON = 6, LS_PLAYED = 35, LS_STICKS = 1, LS_FALSE = -2, LS_SET = 0, LS_ADD = 1, LS_MODE = 6, LS_PUSH = 7, LS_X = 1,
  LS_Y = 2, LS_VERSION = 7
};
#define LS_RADIAN 0.017453292519943295
#define LS_FARTHEST 1e+308
#define LS_FASTEST 1000.0
static const double LS_SERIES[] = {
  1.397458036904447, -1.4691225516174955, 1.5485345814346574, -1.6370222718023522, 1.7362357428206765, -1.8482509520349137,
  1.9757165349338732, -2.1220659078919377, 2.291831180523293, -2.4911208483948837, 2.72837045300392, -3.0155673427938066,
  3.3703399713577835, -3.819718634205488, 4.407367654852487, -5.208707228462029, 6.366197723675814, -8.18511135901176,
  11.459155902616464, -19.098593171027442, 57.29577951308232
};
static const double LS_SINES[] = {
  -8.22063524662433e-18, 2.8114572543455206e-15, -7.647163731819816e-13, 1.6059043836821613e-10, -2.505210838544172e-08,
  2.7557319223985893e-06, -0.0001984126984126984, 0.008333333333333333, -0.16666666666666666, 1.0
};
static const double LS_COSINES[] = {
  -1.5619206968586225e-16, 4.779477332387385e-14, -1.1470745597729725e-11, 2.08767569878681e-09, -2.755731922398589e-07,
  2.48015873015873e-05, -0.001388888888888889, 0.041666666666666664, -0.5, 1.0
};
static const int64_t LS_WIDTHS[] = {
  5, 4, 3, 35, 11, 2, 3, 4, 5, 1, 27, 9, 5, 2, 8, 4, 4, 2, 1, 3, 1, 4, 9, 6, 2, 1, 3, 5, 8, 4, 2, 5, 9, 2, 4, 2, 3, 2, 4, 6
};
static const int64_t LS_SIZES[] = {
  5, 4, 3, 35, 11, 2, 3, 4, 5, 1, 27, 9, 5, 2, 8, 4, 5, 2, 1, 3, 1, 6, 9, 6, 2, 1, 3, 5, 8, 4, 2, 5, 9, 2, 4, 2, 3, 2, 4, 6
};
static const int64_t LS_RULE[] = {
  4, 4, 1, 1, 1, 5, 5, 5, 5, 5, 9, 10, 9, 10, 9, 10, 9, 10, 9, 10, 9, 10, 4, 1, 6, 4, 4, 4, 4, 4, 1, 1, 1, 1, 1, 9, 10, 9, 10, 9,
  10, 9, 10, 9, 10, 9, 10, 2, 5, 9, 10, 3, 4, 4, 9, 10, 9, 10, 5, 3, 4, 2, 1, 7, 3, 3, 4, 6, 4, 1, 1, 1, 0, 3, 2, 4, 6, 1, 1, 1,
  9, 10, 9, 10, 9, 10, 9, 10, 2, 4, 9, 10, 9, 10, 4, 3, 3, 3, 1, 1, 3, 8, 9, 10, 9, 10, 3, 9, 10, 2, 2, 6, 4, 8, 3, 3, 8, 4, 4, 4,
  9, 10, 9, 10, 1, 1, 1, 4, 4, 3, 9, 10, 11, 5, 3, 3, 5, 9, 10, 5, 4, 2, 2, 1, 11, 11, 1, 0, 1, 0, 1, 1, 1, 1, 4, 1, 1, 1, 1, 1,
  4, 4, 2, 5, 2, 2, 3, 4, 1, 1, 1, 1, 9, 10, 6, 6, 6, 6, 6, 6, 6, 1, 9, 10, 8, 8, 8, 1, 1, 1, 4, 8, 8, 9, 10, 9, 10, 8, 1, 4, 5,
  1, 1, 1, 9, 10, 3, 1, 7, 7, 7, 7, 7, 8, 3, 9, 10, 8, 1, 1, 1, 1, 1
};
static const int64_t LS_ABOUT[] = {
  6, 4, 0, 0, 0, 0, 0, 0, 0, 3, 3, 0, 4, 0, 6, 0, 6, 0, 7, 0, 8, 0, 1, 0, 18, 1, 1, 1, 4, 1, 0, 0, 0, 0, 0, 24, 0, 24, 0, 29, 0,
  33, 0, 36, 0, 37, 0, 0, 3, 21, 0, 0, 1, 1, 5, 0, 24, 0, 17, 0, 8, 0, 0, 10, 0, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 11,
  0, 12, 0, 13, 0, 14, 0, 0, 7, 15, 0, 26, 0, 1, 0, 0, 0, 0, 0, 0, 6, 6, 0, 24, 0, 0, 31, 0, 0, 0, 0, 1, 7, 0, 0, 5, 1, 3, 2, 27,
  0, 31, 0, 0, 0, 0, 3, 1, 0, 21, 0, 0, 0, 0, 0, 0, 21, 0, 0, 16, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1, 4,
  0, 0, 0, 0, 0, 2, 0, 0, 0, 0, 21, 0, 0, 0, 0, 0, 0, 0, 0, 0, 30, 0, 5, 5, 1, 0, 0, 0, 1, 1, 1, 21, 0, 10, 0, 5, 0, 2, 0, 0, 0,
  0, 35, 0, 0, 0, 34, 34, 34, 34, 34, 5, 0, 39, 0, 1, 0, 0, 0, 0, 0
};
static const int64_t LS_TAKES[] = {
  2, 2, 2, 2, 1, 1, 0, 0, 2, 1
};
static const int64_t LS_STANDS[] = {
  1, 3, 2, 13, 4, 6
};
static const int64_t LS_LAID[] = {
  0, 1, 2, 3, 16, 17, 7, 9, 10, 11, 12, 13
};
static const int64_t LS_REAL[] = {
  0, 0, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0,
  0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 0, 0, 0, 0, 1, 1, 1, 0, 0, 0, 0, 0, 0,
  0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 0,
  0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 1, 1, 1, 1, 1, 1, 1, 1, 0, 1, 1, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1,
  0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 1, 1, 1, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0,
  0, 0, 0, 1, 1, 1, 1, 1
};

/* The bearing of a vector with y up; exact for the eight main directions, within 1e-12 degrees else; 0 for no vector. */
static inline double ls_bearing_of(double x, double y) {
  double wide = fabs(x), high = fabs(y);
  if (!(wide > 0.0 || high > 0.0)) return 0.0;
  double share = wide <= high ? wide / high : high / wide;
  int is_near = share > 0.41421356237309503;
  double rest = is_near ? (share - 1.0) / (share + 1.0) : share;
  double square = rest * rest, total = 0.0;
  for (int64_t number = 0; number < 21; number++) {
    double factor = LS_SERIES[number];
    total = total * square + factor;
  }
  double angle = total * rest;
  if (is_near) angle = 45.0 + angle;
  if (wide > high) angle = 90.0 - angle;
  if (y < 0.0) angle = 180.0 - angle;
  if (x < 0.0) angle = 360.0 - angle;
  return angle < 360.0 ? angle : 0.0;
}

/* How far a stick is pushed, from 0 to 1. */
static inline double ls_push_of(double x, double y) {
  double length = sqrt(x * x + y * y);
  return (1.0 < length ? 1.0 : length);
}

/* Where a layer's active state begins. */
static inline int64_t ls_state_of(int64_t *m, int64_t *z, int64_t layer) {
  return m[LS_HEAD_STATES] + z[LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE + LS_PLAYER_STATE] * LS_STATE_SIZE;
}

/* Where the clip begins that a layer shows; -1 when it shows none. */
static inline int64_t ls_clip_of(int64_t *m, int64_t *z, int64_t layer) {
  int64_t state = ls_state_of(m, z, layer);
  int64_t first = m[state + LS_STATE_SAMPLES];
  if (first == m[state + LS_STATE_SAMPLES_END]) return -1;
  return m[first + z[LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE + LS_PLAYER_PICK] * LS_SAMPLE_SIZE + LS_SAMPLE_CLIP];
}

/* Whether a layer's clip is done: it repeats and has wrapped since entry, or stands at its length. */
static inline int ls_is_done(int64_t *m, int64_t *z, int64_t layer) {
  int64_t clip = ls_clip_of(m, z, layer);
  if (clip < 0) return 0;
  int64_t player = LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE;
  if (m[clip + LS_CLIP_BEGIN] < 0) return z[player + LS_PLAYER_HEAD] >= m[clip + LS_CLIP_LENGTH];
  return z[player + LS_PLAYER_OVER] != 0;
}

/* Whether a layer's playhead is at or past a share of its clip. */
static inline int ls_is_at(int64_t *m, int64_t *z, int64_t layer, double share) {
  int64_t clip = ls_clip_of(m, z, layer);
  return clip >= 0 && z[LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE + LS_PLAYER_HEAD] >= share * m[clip + LS_CLIP_LENGTH];
}

/* A number of degrees as a bearing, from 0 to below 360; what is no finite number is 0. */
static inline double ls_reduced(double value) {
  if (!(-1000000000000000.0 < value && value < 1000000000000000.0)) return 0.0;
  double turned = value - 360.0 * floor(value / 360.0);
  return 0.0 < turned && turned < 360.0 ? turned : 0.0;
}

/* A value brought into a parameter's kind and range; a choice stays what it is. */
static inline double ls_fitted(int64_t *m, double *r, int64_t parameter, double value) {
  int64_t one = m[LS_HEAD_PARAMETERS] + parameter * LS_PARAMETER_SIZE;
  int64_t kind = m[one + LS_PARAMETER_KIND];
  if (kind > LS_BEARING) {
    if (kind == LS_CHOICE) return value;
    return value != 0.0 ? 1.0 : 0.0;
  }
  if (kind == LS_BEARING) return ls_reduced(value);
  if (r[one + LS_PARAMETER_LOW] > value) value = r[one + LS_PARAMETER_LOW];
  if (r[one + LS_PARAMETER_HIGH] < value) value = r[one + LS_PARAMETER_HIGH];
  return kind == LS_WHOLE ? nearbyint(value) + 0.0 : value;
}

/* The playhead units that one tick adds. */
static inline int64_t ls_pace_of(int64_t *m, double *r, double *v, int64_t clip) {
  if (m[clip + LS_CLIP_PACE] < 0) return LS_TICK;
  double rate = v[m[clip + LS_CLIP_PACE]] / r[clip + LS_CLIP_AT];
  if (!(rate >= r[clip + LS_CLIP_LOW])) rate = r[clip + LS_CLIP_LOW];
  else if (rate > r[clip + LS_CLIP_HIGH]) rate = r[clip + LS_CLIP_HIGH];
  return (int64_t)floor(rate * LS_TICK + 0.5);
}

/* A playhead brought into its clip: past the length it is somewhere in what repeats, or at the length. */
static inline int64_t ls_folded(int64_t *m, int64_t clip, int64_t head) {
  int64_t length = m[clip + LS_CLIP_LENGTH], back = m[clip + LS_CLIP_BEGIN];
  if (head < length) return head;
  return back < 0 ? length : back + (head - back) % (length - back);
}

/* The number of the cel a clip shows at a playhead; -1: none. */
static inline int64_t ls_cel_at(int64_t *m, int64_t clip, int64_t head) {
  int64_t piece = m[clip + LS_CLIP_PIECES], end = m[clip + LS_CLIP_PIECES_END], length = m[clip + LS_CLIP_LENGTH];
  if (piece == end || (m[clip + LS_CLIP_VANISHES] != 0 && head >= length)) return -1;
  head = ls_folded(m, clip, head);
  head = (length - 1 < head ? length - 1 : head);
  while (piece + LS_PIECE_SIZE < end && m[piece + LS_PIECE_SIZE + LS_PIECE_START] <= head) piece += LS_PIECE_SIZE;
  return m[piece + LS_PIECE_CEL];
}

/* The number of the cel a clip shows at a playhead, its resting one while it stands; -1: none. */
static inline int64_t ls_cel_shown(int64_t *m, double *r, double *v, int64_t clip, int64_t head) {
  if (m[clip + LS_CLIP_RESTING] >= 0 && ls_pace_of(m, r, v, clip) == 0) return m[clip + LS_CLIP_RESTING];
  return ls_cel_at(m, clip, head);
}

/* The number of the cel a layer shows, counted from its clip's first; -1: none. */
static inline int64_t ls_cel_of(int64_t *m, double *r, int64_t *z, double *v, int64_t layer) {
  int64_t clip = ls_clip_of(m, z, layer);
  return clip >= 0 ? ls_cel_shown(m, r, v, clip, z[LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE + LS_PLAYER_HEAD]) : -1;
}

/* Where a cel of the clip begins that a layer shows. */
static inline int64_t ls_cel_row(int64_t *m, int64_t *z, int64_t layer, int64_t cel) {
  return m[ls_clip_of(m, z, layer) + LS_CLIP_CELS] + cel * LS_CEL_SIZE;
}

/* How fast to turn, to be at most or to fall, or how wide or high to be, as what (a column of states) says; 0: nothing is asked. */
static inline double ls_requested(int64_t *m, double *r, int64_t *z, int64_t what) {
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    double asked = r[ls_state_of(m, z, layer) + what];
    if (asked > 0.0) return asked;
  }
  return 0.0;
}

/* How to move, as the number of a mode; 0: nothing is asked. */
static inline int64_t ls_requested_mode(int64_t *m, int64_t *z) {
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    int64_t mode = m[ls_state_of(m, z, layer) + LS_STATE_MODE];
    if (mode != 0) return mode;
  }
  return 0;
}

/* Whether the body may move against its facing. */
static inline int ls_goes_backward(int64_t *m, int64_t *z) {
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    if (m[ls_state_of(m, z, layer) + LS_STATE_BACKWARD] != 0) return 1;
  }
  return 0;
}

/* The layer to begin to draw with: from it on each that shows a cel is drawn, the last in front; -1: nothing is shown. */
static inline int64_t ls_lowest_seen(int64_t *m, double *r, int64_t *z, double *v) {
  int64_t seen = -1;
  for (int64_t back = 0; back < m[LS_HEAD_LAYER_COUNT]; back++) {
    int64_t layer = m[LS_HEAD_LAYER_COUNT] - 1 - back;
    if (ls_cel_of(m, r, z, v, layer) >= 0) {
      seen = layer;
      if (m[ls_state_of(m, z, layer) + LS_STATE_CLEAR] == 0) return seen;
    }
  }
  return seen;
}

/* Whether a state turns a cel (its row) to where the figure looks, which may be left. */
static inline int ls_turns_round(int64_t *m, int64_t state, int64_t row, int left) {
  int64_t looks = m[row + LS_CEL_LOOKS];
  if (looks == 0) return 0;
  if (m[state + LS_STATE_TURNED] == 0) return looks == 2;
  return left != (looks == 2);
}

/* Whether a cel (its row) of a state's sample is drawn the other way round. */
static inline int ls_is_flipped(int64_t *m, int64_t state, int64_t sample, int64_t row, int left) {
  int mirrored = m[row + LS_CEL_MIRRORED] != m[sample + LS_SAMPLE_MIRRORED];
  return mirrored != ls_turns_round(m, state, row, left);
}

/* Whether a cel of the clip that a layer shows is drawn the other way round. */
static inline int ls_is_mirrored(int64_t *m, int64_t *z, int64_t layer, int64_t cel, int left) {
  int64_t sample = m[ls_state_of(m, z, layer) + LS_STATE_SAMPLES] + z[LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE + LS_PLAYER_PICK] * LS_SAMPLE_SIZE;
  return ls_is_flipped(m, ls_state_of(m, z, layer), sample, ls_cel_row(m, z, layer, cel), left);
}

/* Whether a cel of the clip that a layer shows is turned to where the figure looks, which may be left. */
static inline int ls_is_turned(int64_t *m, int64_t *z, int64_t layer, int64_t cel, int left) {
  return ls_turns_round(m, ls_state_of(m, z, layer), ls_cel_row(m, z, layer, cel), left);
}

/* By how many quarter turns clockwise it is turned, after it has been mirrored. */
static inline int64_t ls_quarter_turns(int64_t *m, int64_t *z, int64_t layer, int64_t cel, int left) {
  int64_t turns = m[ls_cel_row(m, z, layer, cel) + LS_CEL_TURNS];
  return ls_is_turned(m, z, layer, cel, left) ? (4 - turns) % 4 : turns;
}

/* The costume that a layer wears; -1: none. */
static inline int64_t ls_worn(int64_t *m, double *r, int64_t *z, double *v, int64_t layer) {
  int64_t state = ls_state_of(m, z, layer);
  if (m[state + LS_STATE_WORN] < m[state + LS_STATE_WORN_END]) return m[state + LS_STATE_WORN];
  for (int64_t costume = m[LS_HEAD_COSTUMES]; costume < m[LS_HEAD_COSTUMES_END]; costume += LS_COSTUME_SIZE) {
    int64_t parameter = m[costume + LS_COSTUME_PARAMETER];
    if (parameter >= 0 && v[parameter] == r[costume + LS_COSTUME_VALUE]) return costume;
  }
  return -1;
}

/* The frame that is drawn in place of one in the costume that a layer wears. */
static inline int64_t ls_dressed(int64_t *m, double *r, int64_t *z, double *v, int64_t layer, int64_t frame) {
  int64_t costume = ls_worn(m, r, z, v, layer);
  if (costume >= 0) {
    for (int64_t row = m[costume + LS_COSTUME_DRESSED]; row < m[costume + LS_COSTUME_DRESSED_END]; row += LS_DRESSED_SIZE) {
      if (m[row + LS_DRESSED_FRAME] == frame) return m[row + LS_DRESSED_BY];
    }
  }
  return frame;
}

/* The frame that a cel of the clip which a layer shows is drawn as: its own, or that of the costume worn. */
static inline int64_t ls_frame_of(int64_t *m, double *r, int64_t *z, double *v, int64_t layer, int64_t cel) {
  return ls_dressed(m, r, z, v, layer, m[ls_cel_row(m, z, layer, cel) + LS_CEL_FRAME]);
}

/* Where a path laid out in r is at a playhead, ahead (X) or up (Y). */
static inline double ls_place(double *r, int64_t begin, int64_t end, int64_t head, int64_t which) {
  int64_t key = begin;
  while (key + LS_KEY_SIZE < end && r[key + LS_KEY_SIZE + LS_AT] <= head) key += LS_KEY_SIZE;
  int64_t after = key + LS_KEY_SIZE;
  if (after >= end || head <= r[key + LS_AT]) return r[key + which];
  double t = (head - r[key + LS_AT]) / (r[after + LS_AT] - r[key + LS_AT]);
  int64_t ease = (int64_t)r[after + LS_EASE];
  if (ease == LS_IN) t = t * t;
  else if (ease == LS_OUT) t = t * (2.0 - t);
  else if (ease == LS_BOTH) t = t * t * (3.0 - 2.0 * t);
  return r[key + which] + (r[after + which] - r[key + which]) * t;
}

/* How far a path that moves only the drawing has taken it, ahead (1) or up (2). */
static inline double ls_aside(int64_t *m, double *r, int64_t *z, int64_t layer, int64_t which) {
  int64_t clip = ls_clip_of(m, z, layer);
  if (clip < 0 || m[clip + LS_CLIP_GOES] != 0 || m[clip + LS_CLIP_KEYS] == m[clip + LS_CLIP_KEYS_END]) return 0.0;
  int64_t head = z[LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE + LS_PLAYER_HEAD];
  return ls_place(r, m[clip + LS_CLIP_KEYS], m[clip + LS_CLIP_KEYS_END], head, which);
}

/* How far right a step of length 1 along a bearing goes; exact along the axes. */
static inline double ls_across(double bearing) {
  double folded = bearing <= 90.0 ? bearing : bearing <= 270.0 ? 180.0 - bearing : bearing - 360.0;
  if (folded == 90.0) return 1.0;
  if (folded == -90.0) return -1.0;
  double flat = -45.0 <= folded && folded <= 45.0 ? folded : folded > 0.0 ? 90.0 - folded : -90.0 - folded;
  double angle = flat * LS_RADIAN;
  double square = angle * angle, total = 0.0;
  if (flat == folded) {
    for (int64_t number = 0; number < 10; number++) {
      double factor = LS_SINES[number];
      total = total * square + factor;
    }
    return total * angle;
  }
  for (int64_t number = 0; number < 10; number++) {
    double factor = LS_COSINES[number];
    total = total * square + factor;
  }
  return folded > 0.0 ? total : -total;
}

/* How far up a step of length 1 along a bearing goes; exact along the axes. */
static inline double ls_along(double bearing) {
  double shifted = bearing + 90.0;
  return ls_across(shifted < 360.0 ? shifted : shifted - 360.0);
}

/* Write from place at on where a pin point comes to lie: across, up, and a bearing. */
static inline void ls_place_spot(double *r, int64_t spot, int mirrored, int64_t turns, double wide, double high, double tilt, double *b, int64_t at) {
  double x = r[spot + LS_SPOT_X], y = r[spot + LS_SPOT_Y], angle = r[spot + LS_SPOT_ANGLE];
  if (mirrored) {
    x = 0.0 - x;
    angle = ls_reduced(360.0 - angle);
  }
  for (int64_t again = 0; again < turns; again++) {
    double back = 0.0 - x;
    x = y;
    y = back;
    angle = ls_reduced(angle + 90.0);
  }
  if (wide != high) angle = ls_bearing_of(ls_across(angle) * wide, ls_along(angle) * high);
  x = x * wide;
  y = y * high;
  if (tilt != 0.0) {
    double leaned = ls_reduced(tilt);
    double right = ls_across(leaned), up = ls_along(leaned);
    double to = x * up + y * right;
    y = y * up - x * right;
    x = to;
    angle = ls_reduced(angle + tilt);
  }
  b[at] = x;
  b[at + 1] = y;
  b[at + 2] = angle;
}

/* Write down the pin points of the layers that are seen, from the back to the front, in rows of b; how many there are. */
static inline int64_t ls_list_pins(int64_t *m, double *r, int64_t *z, double *v, int left, double wide, double high, double tilt, double *b) {
  int64_t count = 0, lowest = ls_lowest_seen(m, r, z, v);
  if (lowest < 0 || m[LS_HEAD_SPOTS] == m[LS_HEAD_SPOTS_END]) return 0;
  for (int64_t layer = lowest; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    int64_t cel = ls_cel_of(m, r, z, v, layer);
    if (cel < 0) continue;
    int64_t row = ls_cel_row(m, z, layer, cel);
    int mirrored = ls_is_mirrored(m, z, layer, cel, left);
    int64_t turns = ls_quarter_turns(m, z, layer, cel, left);
    for (int64_t spot = m[row + LS_CEL_SPOTS]; spot < m[row + LS_CEL_SPOTS_END]; spot += LS_SPOT_SIZE) {
      int64_t at = count * LS_PLACED_SIZE;
      b[at + LS_PLACED_NUMBER] = (double)layer;
      b[at + LS_PLACED_PIN] = (double)m[spot + LS_SPOT_PIN];
      ls_place_spot(r, spot, mirrored, turns, wide, high, tilt, b, at + LS_PLACED_X);
      b[at + LS_PLACED_BEHIND] = (double)m[spot + LS_SPOT_BEHIND];
      count += 1;
    }
  }
  return count;
}

/* The pin point of a cel (its row) to which an accessory is pinned; -1: none. */
static inline int64_t ls_pinned_at(int64_t *m, int64_t row, int64_t accessory) {
  for (int64_t spot = m[row + LS_CEL_SPOTS]; spot < m[row + LS_CEL_SPOTS_END]; spot += LS_SPOT_SIZE) {
    if (m[spot + LS_SPOT_PIN] == m[accessory + LS_ACCESSORY_PIN]) return spot;
  }
  return -1;
}

/* Whether an accessory is drawn behind the figure at a pin point. */
static inline int ls_lies_behind(int64_t *m, int64_t accessory, int64_t spot) {
  int64_t order = m[accessory + LS_ACCESSORY_ORDER];
  return order == 2 || (order == 0 && m[spot + LS_SPOT_BEHIND] != 0);
}

/* Whether two numbers stand to each other in one of the ways of sign; without a branch that could be guessed wrong. */
static inline int ls_compared(int64_t sign, double left, double right) {
  int less = left < right, equal = left == right, greater = left > right;
  int64_t stands = less * LS_LESS | equal * LS_EQUAL | greater * LS_GREATER | !(less | equal | greater) * LS_NEITHER;
  return (stands & sign) != 0;
}

/* The shorter way from one bearing to another, in degrees, above -180 to 180; clockwise is positive. */
static inline double ls_turn(double start, double end) {
  double way = end - start;
  if (way > 180.0) return way - 360.0;
  if (way <= -180.0) return way + 360.0;
  return way;
}

/* One arithmetic step in IEEE doubles, on numbers that lie on the stack; a division by zero gives 0. */
static inline double ls_computed(int64_t sign, double *v, int64_t begin, int64_t end) {
  double first = v[begin];
  if (sign == LS_PLUS) return first + v[begin + 1];
  if (sign == LS_MINUS) return first - v[begin + 1];
  if (sign == LS_TIMES) return first * v[begin + 1];
  if (sign == LS_OVER_BY) return v[begin + 1] != 0.0 ? first / v[begin + 1] : 0.0;
  if (sign == LS_ABSOLUTE) return fabs(first);
  if (sign == LS_NEGATIVE) return -first;
  if (sign == LS_TURN) return ls_turn(first, v[begin + 1]);
  if (sign == LS_DIRECTION) return ls_reduced(first);
  for (int64_t at = begin + 1; at < end; at++) {
    if (sign == LS_LEAST ? v[at] < first : v[at] > first) first = v[at];
  }
  return first;
}

/* Run a program from an instruction on. */
static inline int ls_run(int64_t *m, double *r, int64_t *z, double *v, int64_t at) {
  int64_t top = m[LS_HEAD_STACK];
  while (at >= 0) {
    int64_t op = m[at + LS_STEP_OP], a = m[at + LS_STEP_A], b = m[at + LS_STEP_B];
    int holds = 1;
    if (op == LS_COMPARED) holds = ls_compared(b, v[a], r[at + LS_STEP_VALUE]);
    else if (op == LS_ON) holds = v[a] != 0.0;
    else if (op == LS_STAYED) {
      holds = ls_compared(b, z[LS_FIRST_PLAYER + a * LS_PLAYER_SIZE + LS_PLAYER_STAY], r[at + LS_STEP_VALUE]);
    } else if (op == LS_PRESSED) holds = v[a] != 0.0 && z[m[LS_HEAD_HELD] + a] == 0;
    else if (op == LS_RELEASED) holds = v[a] == 0.0 && z[m[LS_HEAD_HELD] + a] != 0;
    else if (op == LS_REMEMBERED) holds = z[m[LS_HEAD_REMEMBERED] + a] != 0;
    else if (op == LS_BUFFERED) {
      int64_t age = z[m[LS_HEAD_AGES] + a];
      holds = age >= 0 && age < r[at + LS_STEP_VALUE];
    } else if (op == LS_SINCE) {
      int64_t age = z[m[LS_HEAD_SINCE] + a];
      holds = ls_compared(b, age >= 0 ? age : LS_NEVER, r[at + LS_STEP_VALUE]);
    } else if (op == LS_DONE) holds = ls_is_done(m, z, a);
    else if (op == LS_SHARE) holds = ls_is_at(m, z, a, r[at + LS_STEP_VALUE]);
    else if (op == LS_SPAN) holds = z[m[LS_HEAD_SPANS] + a] != 0;
    else if (op == LS_ACTIVE) holds = z[LS_FIRST_PLAYER + a * LS_PLAYER_SIZE + LS_PLAYER_STATE] == b;
    else if (op == LS_PAIR) holds = ls_compared(b, v[a], v[m[at + LS_STEP_SIZE + LS_STEP_A]]);
    else if (op == LS_CONSTANT) holds = r[at + LS_STEP_VALUE] != 0.0;
    else if (op == LS_PUSH_VALUE) {
      v[top] = v[a];
      top += 1;
    } else if (op == LS_PUSH_NUMBER) {
      v[top] = r[at + LS_STEP_VALUE];
      top += 1;
    } else if (op == LS_PUSH_STAY) {
      v[top] = z[LS_FIRST_PLAYER + a * LS_PLAYER_SIZE + LS_PLAYER_STAY];
      top += 1;
    } else if (op == LS_PUSH_SINCE) {
      int64_t age = z[m[LS_HEAD_SINCE] + a];
      v[top] = age >= 0 ? age : LS_NEVER;
      top += 1;
    } else if (op == LS_COMPUTE) {
      top -= b - 1;
      v[top - 1] = ls_computed(a, v, top - 1, top - 1 + b);
    } else if (op == LS_COMPARE_STACK) {
      top -= 2;
      holds = ls_compared(b, v[top], v[top + 1]);
    }
    at = holds ? m[at + LS_STEP_YES] : m[at + LS_STEP_NO];
  }
  return at == LS_TRUE;
}

/* The row of the cel that an accessory shows beside a layer, of one that shows a clip; -1: none. */
static inline int64_t ls_accessory_cel(int64_t *m, int64_t *z, int64_t accessory, int64_t layer) {
  int64_t clip = m[accessory + LS_ACCESSORY_CLIP];
  int64_t stay = z[LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE + LS_PLAYER_STAY];
  int64_t cel = ls_cel_at(m, clip, ls_folded(m, clip, stay * LS_TICK));
  return cel >= 0 ? m[clip + LS_CLIP_CELS] + cel * LS_CEL_SIZE : -1;
}

/* Write down the accessories that are seen, from the back to the front, in rows of b; how many there are. */
static inline int64_t ls_list_pinned(int64_t *m, double *r, int64_t *z, double *v, int left, double wide, double high, double tilt, double *b) {
  int64_t count = 0, lowest = ls_lowest_seen(m, r, z, v);
  if (lowest < 0 || m[LS_HEAD_ACCESSORIES] == m[LS_HEAD_ACCESSORIES_END]) return 0;
  for (int64_t layer = lowest; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    int64_t cel = ls_cel_of(m, r, z, v, layer);
    if (cel < 0) continue;
    int64_t row = ls_cel_row(m, z, layer, cel);
    int mirrored = ls_is_mirrored(m, z, layer, cel, left);
    int64_t turns = ls_quarter_turns(m, z, layer, cel, left);
    for (int64_t before = 0; before < 2; before++) {
      for (int64_t accessory = m[LS_HEAD_ACCESSORIES]; accessory < m[LS_HEAD_ACCESSORIES_END]; accessory += LS_ACCESSORY_SIZE) {
        int64_t spot = ls_pinned_at(m, row, accessory);
        if (spot < 0 || ls_lies_behind(m, accessory, spot) == (before == 1)) continue;
        if (!ls_run(m, r, z, v, m[accessory + LS_ACCESSORY_SHOWN])) continue;
        int64_t shown = m[accessory + LS_ACCESSORY_FRAME];
        int flips = 0;
        int64_t quarters = 0;
        if (m[accessory + LS_ACCESSORY_CLIP] < m[accessory + LS_ACCESSORY_CLIP_END]) {
          int64_t own = ls_accessory_cel(m, z, accessory, layer);
          if (own < 0) continue;
          shown = m[own + LS_CEL_FRAME];
          flips = m[own + LS_CEL_MIRRORED] != 0;
          quarters = m[own + LS_CEL_TURNS];
        }
        int64_t at = count * LS_PINNED_SIZE;
        ls_place_spot(r, spot, mirrored, turns, wide, high, tilt, b, at + LS_PINNED_X);
        double turn = ls_reduced(r[spot + LS_SPOT_ANGLE] - r[accessory + LS_ACCESSORY_ANGLE]) + 90.0 * quarters;
        b[at + LS_PINNED_TURN] = ls_reduced(90.0 * turns + (mirrored ? 0.0 - turn : turn));
        b[at + LS_PINNED_NAME] = (double)m[accessory + LS_ACCESSORY_NAME];
        b[at + LS_PINNED_LAYER] = (double)layer;
        b[at + LS_PINNED_BEHIND] = 1.0 - (double)before;
        b[at + LS_PINNED_FRAME] = (double)ls_dressed(m, r, z, v, layer, shown);
        b[at + LS_PINNED_MIRRORED] = mirrored != flips ? 1.0 : 0.0;
        count += 1;
      }
    }
  }
  return count;
}

/* Write down where the marks that fired and name pin points did, in rows of b; how many there are. */
static inline int64_t ls_list_places(int64_t *m, double *r, int64_t *k, int left, double wide, double high, double tilt, double *b) {
  int64_t count = 0;
  for (int64_t mark = 0; mark < (k[1] < k[0] ? k[1] : k[0]); mark++) {
    int64_t told = LS_TOLD + mark * LS_TOLD_SIZE;
    int64_t cue = m[LS_HEAD_CUES] + k[told + 3] * LS_CUE_SIZE;
    int64_t state = m[LS_HEAD_STATES] + k[told + 4] * LS_STATE_SIZE;
    int64_t sample = m[state + LS_STATE_SAMPLES] + k[told + 5] * LS_SAMPLE_SIZE;
    int64_t row = m[m[sample + LS_SAMPLE_CLIP] + LS_CLIP_CELS] + m[cue + LS_CUE_CEL] * LS_CEL_SIZE;
    for (int64_t spot = m[cue + LS_CUE_SPOTS]; spot < m[cue + LS_CUE_SPOTS_END]; spot += LS_SPOT_SIZE) {
      int mirrored = ls_is_flipped(m, state, sample, row, left);
      int64_t turns = m[row + LS_CEL_TURNS];
      if (ls_turns_round(m, state, row, left)) turns = (4 - turns) % 4;
      int64_t at = count * LS_PLACED_SIZE;
      b[at + LS_PLACED_NUMBER] = (double)mark;
      b[at + LS_PLACED_PIN] = (double)m[spot + LS_SPOT_PIN];
      ls_place_spot(r, spot, mirrored, turns, wide, high, tilt, b, at + LS_PLACED_X);
      b[at + LS_PLACED_BEHIND] = (double)m[spot + LS_SPOT_BEHIND];
      count += 1;
    }
  }
  return count;
}

/* The row that says how a frame moves parts; -1: it is not drawn from any. */
static inline int64_t ls_posed_row(int64_t *m, int64_t frame) {
  int64_t low = m[LS_HEAD_POSED], high = m[LS_HEAD_POSED_END];
  while (low < high) {
    int64_t middle = low + ls_floor_div(ls_floor_div(high - low, LS_POSED_SIZE), 2) * LS_POSED_SIZE;
    if (m[middle + LS_POSED_FRAME] < frame) low = middle + LS_POSED_SIZE;
    else high = middle;
  }
  return low < m[LS_HEAD_POSED_END] && m[low + LS_POSED_FRAME] == frame ? low : -1;
}

/* How many samples a state has for each way of moving. */
static inline int64_t ls_samples_each(int64_t *m, int64_t state) {
  int64_t ways = 1 + ls_floor_div(m[state + LS_STATE_MOVED_END] - m[state + LS_STATE_MOVED], LS_MOVED_SIZE);
  return ls_floor_div(ls_floor_div(m[state + LS_STATE_SAMPLES_END] - m[state + LS_STATE_SAMPLES], LS_SAMPLE_SIZE), ways);
}

/* The value an axis reads, brought into its range. */
static inline double ls_value_on(int64_t *m, double *r, double *v, int64_t axis) {
  double value = m[axis + LS_AXIS_PARAMETER] >= 0 ? v[m[axis + LS_AXIS_PARAMETER]] : 0.0;
  if (m[axis + LS_AXIS_ROUND] != 0) return value;
  if (r[axis + LS_AXIS_LOW] > value) value = r[axis + LS_AXIS_LOW];
  if (r[axis + LS_AXIS_HIGH] < value) value = r[axis + LS_AXIS_HIGH];
  return value;
}

/* Add the share of a place to the samples that stand there. */
static inline void ls_give_share(int64_t *m, double *r, int64_t place, double share, int64_t each, double *w) {
  for (int64_t row = m[place + LS_MIX_PLACE_MIX_SHARES]; row < m[place + LS_MIX_PLACE_MIX_SHARES_END]; row += LS_MIX_SHARE_SIZE) {
    int64_t number = m[row + LS_MIX_SHARE_SAMPLE];
    if (number < each) w[number] = w[number] + share * r[row + LS_MIX_SHARE_SHARE];
  }
}

/* Write down how much of every sample of a state's blend space is in the mix (:mod:`leanstep.core.blends.mixing`). */
static inline void ls_weigh(int64_t *m, double *r, double *v, int64_t state, double *w) {
  int64_t a, b;
  double ax, ay, wide, high;
  int64_t each = ls_samples_each(m, state);
  for (int64_t number = 0; number < each; number++) w[number] = 0.0;
  int64_t axis = m[state + LS_STATE_AXES];
  double x = 0.0, y = 0.0;
  if (axis < m[state + LS_STATE_AXES_END]) {
    x = ls_value_on(m, r, v, axis) / r[axis + LS_AXIS_STEP];
    axis += LS_AXIS_SIZE;
  }
  if (axis < m[state + LS_STATE_AXES_END]) y = ls_value_on(m, r, v, axis) / r[axis + LS_AXIS_STEP];
  for (int64_t cell = m[state + LS_STATE_MIX_CELLS]; cell < m[state + LS_STATE_MIX_CELLS_END]; cell += LS_MIX_CELL_SIZE) {
    a = m[cell + LS_MIX_CELL_FIRST];
    b = m[cell + LS_MIX_CELL_SECOND];
    int64_t c = m[cell + LS_MIX_CELL_THIRD];
    ax = r[a + LS_MIX_PLACE_X];
    ay = r[a + LS_MIX_PLACE_Y];
    wide = r[b + LS_MIX_PLACE_X] - ax;
    high = r[b + LS_MIX_PLACE_Y] - ay;
    double far_wide = r[c + LS_MIX_PLACE_X] - ax, far_high = r[c + LS_MIX_PLACE_Y] - ay;
    double whole = wide * far_high - high * far_wide;
    if (whole == 0.0) continue;
    double second = ((x - ax) * far_high - (y - ay) * far_wide) / whole;
    double third = (wide * (y - ay) - high * (x - ax)) / whole;
    double first = 1.0 - second - third;
    if (first >= 0.0 && second >= 0.0 && third >= 0.0) {
      ls_give_share(m, r, a, first, each, w);
      ls_give_share(m, r, b, second, each, w);
      ls_give_share(m, r, c, third, each, w);
      return;
    }
  }
  double nearest = LS_FARTHEST;
  int64_t one = -1, other = -1;
  double along = 0.0;
  for (int64_t edge = m[state + LS_STATE_MIX_EDGES]; edge < m[state + LS_STATE_MIX_EDGES_END]; edge += LS_MIX_EDGE_SIZE) {
    a = m[edge + LS_MIX_EDGE_FIRST];
    b = m[edge + LS_MIX_EDGE_SECOND];
    ax = r[a + LS_MIX_PLACE_X];
    ay = r[a + LS_MIX_PLACE_Y];
    wide = r[b + LS_MIX_PLACE_X] - ax;
    high = r[b + LS_MIX_PLACE_Y] - ay;
    double length = wide * wide + high * high, share = 0.0;
    if (length != 0.0) {
      share = ((x - ax) * wide + (y - ay) * high) / length;
      share = share < 0.0 ? 0.0 : share > 1.0 ? 1.0 : share;
    }
    double right = x - ax - share * wide, up = y - ay - share * high;
    double away = right * right + up * up;
    if (one < 0 || away < nearest) {
      nearest = away;
      one = a;
      other = b;
      along = share;
    }
  }
  ls_give_share(m, r, one, 1.0 - along, each, w);
  ls_give_share(m, r, other, along, each, w);
}

/* The playhead when a state's pick changes: at the same share of the other clip, counted from where each cycle begins. */
static inline int64_t ls_taken_over(int64_t *m, int64_t state, int64_t before, int64_t pick, int64_t head) {
  int64_t old = m[state + LS_STATE_SAMPLES] + before * LS_SAMPLE_SIZE;
  int64_t shown = m[state + LS_STATE_SAMPLES] + pick * LS_SAMPLE_SIZE;
  int64_t clip = m[shown + LS_SAMPLE_CLIP];
  int64_t length = m[clip + LS_CLIP_LENGTH];
  head = ls_floor_div((head - m[old + LS_SAMPLE_PHASE]) * length, m[m[old + LS_SAMPLE_CLIP] + LS_CLIP_LENGTH]) + m[shown + LS_SAMPLE_PHASE];
  if (head < 0) head = m[clip + LS_CLIP_BEGIN] >= 0 ? head + length : 0;
  return ls_folded(m, clip, head);
}

/* The row of the cel that a layer would show if a sample of its state were picked now; -1: none. */
static inline int64_t ls_cel_if_picked(int64_t *m, double *r, int64_t *z, double *v, int64_t layer, int64_t number) {
  int64_t player = LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE, state = ls_state_of(m, z, layer);
  int64_t pick = z[player + LS_PLAYER_PICK], head = z[player + LS_PLAYER_HEAD];
  if (number != pick) head = ls_taken_over(m, state, pick, number, head);
  int64_t clip = m[m[state + LS_STATE_SAMPLES] + number * LS_SAMPLE_SIZE + LS_SAMPLE_CLIP];
  int64_t cel = ls_cel_shown(m, r, v, clip, head);
  return cel >= 0 ? m[clip + LS_CLIP_CELS] + cel * LS_CEL_SIZE : -1;
}

/* Whether what a layer shows mixes: all samples that count show frames drawn from the parts of the one that is picked (its row
   is posed), the same way round and not turned. How much of each there is and where its poses begin are written in w. */
static inline int ls_mixes_parts(int64_t *m, double *r, int64_t *z, double *v, int64_t layer, int64_t posed, int left, double *w) {
  int64_t state = ls_state_of(m, z, layer);
  if (m[state + LS_STATE_MIX_EDGES] == m[state + LS_STATE_MIX_EDGES_END]) return 0;
  int64_t each = ls_samples_each(m, state), pick = z[LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE + LS_PLAYER_PICK];
  int64_t cel = ls_cel_of(m, r, z, v, layer);
  int mirrored = ls_is_mirrored(m, z, layer, cel, left);
  int64_t way = ls_floor_div(pick, each);
  if (m[ls_cel_row(m, z, layer, cel) + LS_CEL_TURNS] != 0) return 0;
  ls_weigh(m, r, v, state, w);
  for (int64_t number = 0; number < each; number++) {
    if (w[number] > 0.0) {
      int64_t sample = m[state + LS_STATE_SAMPLES] + (way * each + number) * LS_SAMPLE_SIZE;
      int64_t row = ls_cel_if_picked(m, r, z, v, layer, way * each + number);
      if (row < 0 || m[row + LS_CEL_TURNS] != 0 || ls_is_flipped(m, state, sample, row, left) != mirrored) return 0;
      int64_t other = ls_posed_row(m, ls_dressed(m, r, z, v, layer, m[row + LS_CEL_FRAME]));
      if (other < 0 || m[other + LS_POSED_FIGURE] != m[posed + LS_POSED_FIGURE]) return 0;
      int64_t parts = m[other + LS_POSED_POSES_END] - m[other + LS_POSED_POSES];
      if (parts != m[posed + LS_POSED_POSES_END] - m[posed + LS_POSED_POSES]) return 0;
      w[each + number] = (double)m[other + LS_POSED_POSES];
    }
  }
  return 1;
}

/* Write from place at on how a part is moved in the mix (:func:`leanstep.core.cut_outs.poses.mixed`); part is how far behind the
   first part of its frame its pose stands. */
static inline void ls_mix_part(double *r, double *w, int64_t each, int64_t part, double *b, int64_t at) {
  double x = 0.0, y = 0.0, way = 0.0, wide = 0.0, high = 0.0;
  double start = 0.0;
  int begun = 0, rests = 1;
  for (int64_t number = 0; number < each; number++) {
    double weight = w[number];
    if (weight > 0.0) {
      int64_t pose = (int64_t)w[each + number] + part;
      double angle = ls_reduced(r[pose + LS_PART_POSE_TURN]);
      if (!begun) {
        start = angle;
        begun = 1;
      }
      x = x + r[pose + LS_PART_POSE_X] * weight;
      y = y + r[pose + LS_PART_POSE_Y] * weight;
      wide = wide + r[pose + LS_PART_POSE_WIDE] * weight;
      high = high + r[pose + LS_PART_POSE_HIGH] * weight;
      way = way + ls_turn(start, angle) * weight;
      int moves = r[pose + LS_PART_POSE_X] != 0.0 || r[pose + LS_PART_POSE_Y] != 0.0 || r[pose + LS_PART_POSE_TURN] != 0.0;
      int scales = r[pose + LS_PART_POSE_WIDE] != 1.0 || r[pose + LS_PART_POSE_HIGH] != 1.0;
      rests = rests && !moves && !scales;
    }
  }
  b[at + LS_PARTED_X] = rests ? 0.0 : x;
  b[at + LS_PARTED_Y] = rests ? 0.0 : y;
  b[at + LS_PARTED_TURN] = rests ? 0.0 : start + way;
  b[at + LS_PARTED_WIDE] = rests ? 1.0 : wide;
  b[at + LS_PARTED_HIGH] = rests ? 1.0 : high;
}

/* Write down how the parts of what is seen are moved, layer by layer from the back to the front, in rows of b; how many there
   are. */
static inline int64_t ls_list_parts(int64_t *m, double *r, int64_t *z, double *v, int left, double *w, double *b) {
  int64_t count = 0, lowest = ls_lowest_seen(m, r, z, v);
  if (lowest < 0 || m[LS_HEAD_POSED] == m[LS_HEAD_POSED_END]) return 0;
  for (int64_t layer = lowest; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    int64_t cel = ls_cel_of(m, r, z, v, layer);
    if (cel < 0) continue;
    int64_t posed = ls_posed_row(m, ls_frame_of(m, r, z, v, layer, cel));
    if (posed < 0) continue;
    int64_t first = m[posed + LS_POSED_POSES];
    int mixes = ls_mixes_parts(m, r, z, v, layer, posed, left, w);
    for (int64_t pose = first; pose < m[posed + LS_POSED_POSES_END]; pose += LS_PART_POSE_SIZE) {
      int64_t at = count * LS_PARTED_SIZE;
      b[at + LS_PARTED_LAYER] = (double)layer;
      b[at + LS_PARTED_PART] = (double)m[pose + LS_PART_POSE_PART];
      if (mixes) ls_mix_part(r, w, ls_samples_each(m, ls_state_of(m, z, layer)), pose - first, b, at);
      else {
        b[at + LS_PARTED_X] = r[pose + LS_PART_POSE_X];
        b[at + LS_PARTED_Y] = r[pose + LS_PART_POSE_Y];
        b[at + LS_PARTED_TURN] = r[pose + LS_PART_POSE_TURN];
        b[at + LS_PARTED_WIDE] = r[pose + LS_PART_POSE_WIDE];
        b[at + LS_PARTED_HIGH] = r[pose + LS_PART_POSE_HIGH];
      }
      count += 1;
    }
  }
  return count;
}

/* How many parts can be listed at most. */
static inline int64_t ls_most_parts(int64_t *m) {
  int64_t most = 0;
  for (int64_t posed = m[LS_HEAD_POSED]; posed < m[LS_HEAD_POSED_END]; posed += LS_POSED_SIZE) {
    most = (ls_floor_div(m[posed + LS_POSED_POSES_END] - m[posed + LS_POSED_POSES], LS_PART_POSE_SIZE) > most ? ls_floor_div(m[posed + LS_POSED_POSES_END] - m[posed + LS_POSED_POSES], LS_PART_POSE_SIZE) : most);
  }
  return most * m[LS_HEAD_LAYER_COUNT];
}

/* The squash there is begins to spring back, unless it does already. */
static inline void ls_let_go(double *s) {
  if (s[LS_DRAWN_SQUASH] > 0.0 && s[LS_DRAWN_FREED] < 0.0) s[LS_DRAWN_FREED] = s[LS_DRAWN_SINCE];
}

/* What some rows say begins; state holds what it holds. */
static inline void ls_begin_all(int64_t *m, double *r, double *s, int64_t begin, int64_t end, int64_t state) {
  for (int64_t shape = begin; shape < end; shape += LS_SHAPE_SIZE) {
    int64_t does = m[shape + LS_SHAPE_DO], which = m[shape + LS_SHAPE_WHICH];
    if (does == LS_LEANED) s[LS_DRAWN_LEANING] = (double)which;
    else if (does == LS_LET_GO) ls_let_go(s);
    else if (does != LS_HELD_LEAN) {
      double whole_at = r[m[LS_HEAD_SQUASHES] + which * LS_SQUASH_SIZE + LS_SQUASH_BY_FALL];
      s[LS_DRAWN_SQUASH] = which + 1.0;
      s[LS_DRAWN_HOLDER] = does == LS_HELD_SQUASH ? state + 1.0 : 0.0;
      s[LS_DRAWN_AMOUNT] = whole_at == 0.0 ? 1.0 : (1.0 < s[LS_DRAWN_FALL] / whole_at ? 1.0 : s[LS_DRAWN_FALL] / whole_at);
      s[LS_DRAWN_SINCE] = 0.0;
      s[LS_DRAWN_FREED] = -1.0;
      s[LS_DRAWN_FROM_WIDE] = s[LS_DRAWN_WIDE];
      s[LS_DRAWN_FROM_HIGH] = s[LS_DRAWN_HIGH];
    }
  }
}

/* Note what the next tick begins with. */
static inline void ls_keep_seen(int64_t *m, int64_t *z, double *s) {
  s[LS_DRAWN_FREEZE] = (double)z[LS_NOW_FREEZE];
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) s[LS_DRAWN_SIZE + layer] = (double)ls_state_of(m, z, layer);
}

/* The width of a shape between two; keeps: its area goes evenly, not its width. */
static inline double ls_wide_between(double wide, double high, double to_wide, double to_high, double share, int keeps) {
  if (!keeps) return wide + (to_wide - wide) * share;
  double area = wide * high, to_area = to_wide * to_high;
  return (area + (to_area - area) * share) / (high + (to_high - high) * share);
}

/* The figure's width and height now; what has sprung back is over. */
static inline void ls_form(int64_t *m, double *r, double *s) {
  if (s[LS_DRAWN_SQUASH] == 0.0) return;
  int64_t one = m[LS_HEAD_SQUASHES] + ((int64_t)s[LS_DRAWN_SQUASH] - 1) * LS_SQUASH_SIZE;
  double over = r[one + LS_SQUASH_OVER], hold = r[one + LS_SQUASH_HOLD], back = r[one + LS_SQUASH_BACK];
  int keeps = r[one + LS_SQUASH_WIDE] != r[one + LS_SQUASH_WIDE];
  double since = s[LS_DRAWN_SINCE];
  if (s[LS_DRAWN_FREED] < 0.0 && hold == hold && since >= over + hold) s[LS_DRAWN_FREED] = since;
  double freed = s[LS_DRAWN_FREED];
  double ticks = freed >= 0.0 ? (freed < since ? freed : since) : since;
  double share = s[LS_DRAWN_AMOUNT], every = r[one + LS_SQUASH_EVERY];
  if (every > 0.0) {
    double quarter = ls_reduced(360.0 * ticks / every) + 90.0;
    share *= (1.0 - ls_across(quarter < 360.0 ? quarter : quarter - 360.0)) / 2.0;
  }
  double high = 1.0 + (r[one + LS_SQUASH_HIGH] - 1.0) * share;
  double wide = keeps ? 1.0 / high : 1.0 + (r[one + LS_SQUASH_WIDE] - 1.0) * share;
  double t = over > 0.0 ? (1.0 < ticks / over ? 1.0 : ticks / over) : 1.0;
  wide = ls_wide_between(s[LS_DRAWN_FROM_WIDE], s[LS_DRAWN_FROM_HIGH], wide, high, t * (2.0 - t), keeps);
  high = s[LS_DRAWN_FROM_HIGH] + (high - s[LS_DRAWN_FROM_HIGH]) * (t * (2.0 - t));
  if (freed >= 0.0) {
    double gone_by = back > 0.0 ? (since - freed) / back : 1.0;
    if (gone_by >= 1.0) {
      s[LS_DRAWN_WIDE] = 1.0;
      s[LS_DRAWN_HIGH] = 1.0;
      s[LS_DRAWN_WHOLE] = 0.0;
      s[LS_DRAWN_SQUASH] = 0.0;
      s[LS_DRAWN_HOLDER] = 0.0;
      return;
    }
    double left = 1.0 - gone_by * gone_by * (3.0 - 2.0 * gone_by);
    wide = ls_wide_between(1.0, 1.0, wide, high, left, keeps);
    high = 1.0 + (high - 1.0) * left;
  }
  s[LS_DRAWN_WIDE] = wide;
  s[LS_DRAWN_HIGH] = high;
  s[LS_DRAWN_WHOLE] = (double)m[one + LS_SQUASH_WHOLE];
}

/* The figure before tick 0, of a body at rest that looks right; s is an array of zeros. */
static inline void ls_begin_shape(int64_t *m, double *r, int64_t *z, double *s) {
  s[LS_DRAWN_WIDE] = 1.0;
  s[LS_DRAWN_HIGH] = 1.0;
  s[LS_DRAWN_FREED] = -1.0;
  s[LS_DRAWN_FACING] = 90.0;
  s[LS_DRAWN_GROUNDED] = 1.0;
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    int64_t state = ls_state_of(m, z, layer);
    ls_begin_all(m, r, s, m[state + LS_STATE_SHAPES], m[state + LS_STATE_SHAPES_END], state);
  }
  ls_keep_seen(m, z, s);
  ls_form(m, r, s);
}

/* Note how fast a fall was. */
static inline void ls_note_fall(int64_t *m, double *r, double *s) {
  if (m[LS_HEAD_SQUASHES] == m[LS_HEAD_SQUASHES_END]) return;
  if (s[LS_DRAWN_UP] < 0.0 && s[LS_DRAWN_GROUNDED] == 0.0) {
    s[LS_DRAWN_FALL] = -s[LS_DRAWN_UP];
    s[LS_DRAWN_LANDED] = 0.0;
  } else if (s[LS_DRAWN_LANDED] > r[m[LS_HEAD_SQUASHES] + LS_SQUASH_RECENT]) s[LS_DRAWN_FALL] = 0.0;
  else s[LS_DRAWN_LANDED] += 1.0;
}

/* The tilt follows how the body speeds up and turns. */
static inline void ls_lean_over(int64_t *m, double *r, int64_t *z, double *s, double velocity, double facing) {
  if (m[LS_HEAD_LEANS] == m[LS_HEAD_LEANS_END]) return;
  int64_t which = -1;
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    int64_t state = ls_state_of(m, z, layer);
    for (int64_t shape = m[state + LS_STATE_SHAPES]; shape < m[state + LS_STATE_SHAPES_END]; shape += LS_SHAPE_SIZE) {
      if (which < 0 && m[shape + LS_SHAPE_DO] == LS_HELD_LEAN) which = m[shape + LS_SHAPE_WHICH];
    }
  }
  if (which < 0) which = (int64_t)s[LS_DRAWN_LEANING];
  if (which == 0 && s[LS_DRAWN_TILT] == 0.0) return;
  int64_t lean = m[LS_HEAD_LEANS] + which * LS_LEAN_SIZE;
  double ahead = facing, gained = velocity - s[LS_DRAWN_VELOCITY], sideways = facing + 90.0;
  if (m[lean + LS_LEAN_SIGNED] != 0) {
    ahead = facing < 180.0 ? 90.0 : 270.0;
    gained = facing < 180.0 ? gained : -gained;
  }
  if (sideways >= 360.0) sideways -= 360.0;
  double dt = r[lean + LS_LEAN_DT], most = r[lean + LS_LEAN_MOST];
  double goal = r[lean + LS_LEAN_TURNING] * ls_turn(s[LS_DRAWN_FACING], facing) / dt / 100.0 * ls_across(sideways);
  goal += r[lean + LS_LEAN_SPEEDING] * (gained / dt) / 100.0 * ls_across(ahead);
  goal = (most < (-most > goal ? -most : goal) ? most : (-most > goal ? -most : goal));
  double leaned = s[LS_DRAWN_TILT] + (goal - s[LS_DRAWN_TILT]) * r[lean + LS_LEAN_SHARE];
  s[LS_DRAWN_TILT] = fabs(leaned) > 0.001 ? leaned : 0.0;
}

/* The figure one tick later; velocity of the body to the right, or of one seen from above along its facing, and up, in units a
   second, facing as a bearing. */
static inline void ls_follow_shape(int64_t *m, double *r, int64_t *z, int64_t *k, int64_t *taken, double *s, double velocity, double up, double facing, int grounded) {
  ls_note_fall(m, r, s);
  if (s[LS_DRAWN_SQUASH] > 0.0 && s[LS_DRAWN_FREEZE] == 0.0) s[LS_DRAWN_SINCE] += 1.0;
  for (int64_t mark = 0; mark < (k[1] < k[0] ? k[1] : k[0]); mark++) {
    int64_t cue = m[LS_HEAD_CUES] + k[LS_TOLD + mark * LS_TOLD_SIZE + 3] * LS_CUE_SIZE;
    ls_begin_all(m, r, s, m[cue + LS_CUE_SHAPES], m[cue + LS_CUE_SHAPES_END], -1);
  }
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    if (taken[layer] < 0) continue;
    int64_t old = (int64_t)s[LS_DRAWN_SIZE + layer], state = ls_state_of(m, z, layer);
    if (s[LS_DRAWN_HOLDER] == old + 1.0) ls_let_go(s);
    ls_begin_all(m, r, s, m[old + LS_STATE_LAST_SHAPES], m[old + LS_STATE_LAST_SHAPES_END], -1);
    for (int64_t way = m[old + LS_STATE_WAYS]; way < m[old + LS_STATE_WAYS_END]; way += LS_WAY_SIZE) {
      if (m[way + LS_WAY_NUMBER] == taken[layer]) {
        ls_begin_all(m, r, s, m[way + LS_WAY_SHAPES], m[way + LS_WAY_SHAPES_END], -1);
        break;
      }
    }
    ls_begin_all(m, r, s, m[state + LS_STATE_SHAPES], m[state + LS_STATE_SHAPES_END], state);
  }
  ls_lean_over(m, r, z, s, velocity, facing);
  ls_keep_seen(m, z, s);
  s[LS_DRAWN_VELOCITY] = velocity;
  s[LS_DRAWN_UP] = up;
  s[LS_DRAWN_FACING] = facing;
  s[LS_DRAWN_GROUNDED] = grounded ? 1.0 : 0.0;
  ls_form(m, r, s);
}

/* Write the spans that are on to out, pairs of a name and the row of a window; how many there are. */
static inline int64_t ls_list_spans(int64_t *m, int64_t *z, int64_t *out) {
  int64_t count = 0;
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    int64_t clip = ls_clip_of(m, z, layer);
    if (clip < 0) continue;
    int64_t head = z[LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE + LS_PLAYER_HEAD];
    for (int64_t window = m[clip + LS_CLIP_WINDOWS]; window < m[clip + LS_CLIP_WINDOWS_END]; window += LS_WINDOW_SIZE) {
      if (m[window + LS_WINDOW_START] <= head && head < m[window + LS_WINDOW_END]) {
        out[2 * count] = m[window + LS_WINDOW_SPAN];
        out[2 * count + 1] = ls_floor_div(window - m[LS_HEAD_WINDOWS], LS_WINDOW_SIZE);
        count += 1;
      }
    }
  }
  return count;
}

/* A pulse comes on, where there is one. */
static inline void ls_pulse_on(double *v, int64_t parameter, double on) {
  if (parameter >= 0 && on != 0.0) v[parameter] = 1.0;
}

/* A number gets a value, where there is one. */
static inline void ls_give_value(int64_t *m, double *r, double *v, int64_t parameter, double value) {
  if (parameter >= 0) v[parameter] = ls_fitted(m, r, parameter, value);
}

/* Set what contact on the tick before raises, once a tick has begun. */
static inline void ls_raise_due(int64_t *m, double *r, double *v, double *w) {
  int64_t rules = m[LS_HEAD_CONTACT];
  if (w[LS_DUE_ANY] == 0.0 || rules >= m[LS_HEAD_CONTACT_END]) return;
  ls_pulse_on(v, m[rules + LS_CONTACT_HIT], w[LS_DUE_HIT]);
  ls_pulse_on(v, m[rules + LS_CONTACT_GUARDED], w[LS_DUE_GUARDED]);
  ls_pulse_on(v, m[rules + LS_CONTACT_LANDS], w[LS_DUE_LANDS]);
  ls_pulse_on(v, m[rules + LS_CONTACT_STOPPED], w[LS_DUE_STOPPED]);
  if (w[LS_DUE_HIT] != 0.0 || w[LS_DUE_GUARDED] != 0.0) {
    ls_give_value(m, r, v, m[rules + LS_CONTACT_STUN], w[LS_DUE_STUN]);
    ls_give_value(m, r, v, m[rules + LS_CONTACT_STRENGTH], w[LS_DUE_STRENGTH]);
  }
}

/* What contact on the tick before does at the end of this one: time stands, and the body is pushed. */
static inline void ls_settle(int64_t *m, int64_t *z, double *v, double *w) {
  if (w[LS_DUE_ANY] != 0.0) {
    z[LS_NOW_FREEZE] = ((int64_t)w[LS_DUE_FREEZE] > z[LS_NOW_FREEZE] ? (int64_t)w[LS_DUE_FREEZE] : z[LS_NOW_FREEZE]);
    v[m[LS_HEAD_PLACE] + LS_FIELDS_PUSH] += w[LS_DUE_PUSH];
    for (int64_t due = 0; due < LS_DUE_SIZE; due++) w[due] = 0.0;
  }
}

/* A strike whose state is entered anew can hit again. */
static inline void ls_forget_spent(int64_t *m, int64_t *taken, int64_t *spent) {
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    if (taken[layer] >= 0) spent[layer] = 0;
  }
}

/* The number of the active phase a layer stands in, counted from 1 and further for each that hits again; 0: in none. */
static inline int64_t ls_window_of(int64_t *m, int64_t *z, int64_t layer) {
  int64_t clip = ls_clip_of(m, z, layer);
  if (clip < 0) return 0;
  int64_t head = z[LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE + LS_PLAYER_HEAD];
  for (int64_t active = m[clip + LS_CLIP_ACTIVES]; active < m[clip + LS_CLIP_ACTIVES_END]; active += LS_ACTIVE_SIZE) {
    if (m[active + LS_ACTIVE_START] <= head && head < m[active + LS_ACTIVE_END]) return m[active + LS_ACTIVE_WINDOW];
  }
  return 0;
}

/* Write where a box of a cel is: its edges, from place at on. */
static inline void ls_place_box(int64_t *m, double *r, int64_t *z, int64_t layer, int64_t cel, int64_t rect, int left, double x, double y, double wide, double high, double *b, int64_t at) {
  double low = r[rect + LS_RECT_LEFT], bottom = r[rect + LS_RECT_BOTTOM];
  double width = r[rect + LS_RECT_WIDTH], height = r[rect + LS_RECT_HEIGHT];
  if (ls_is_mirrored(m, z, layer, cel, left)) low = -low - width;
  for (int64_t again = 0; again < ls_quarter_turns(m, z, layer, cel, left); again++) {
    double turned = -low - width;
    low = bottom;
    bottom = turned;
    turned = width;
    width = height;
    height = turned;
  }
  double ahead = ls_aside(m, r, z, layer, 1);
  double across = x + (left && ahead != 0.0 ? -ahead : ahead);
  double up = y + ls_aside(m, r, z, layer, 2);
  b[at] = across + low * wide;
  b[at + 1] = up + bottom * high;
  b[at + 2] = across + (low + width) * wide;
  b[at + 3] = up + (bottom + height) * high;
}

/* Whether the box that stands first in b overlaps some vulnerable box of a figure in an area. */
static inline int ls_meets_any(int64_t *m, double *r, int64_t *z, double *v, int left, double x, double y, double wide, double high, double *b) {
  int64_t lowest = ls_lowest_seen(m, r, z, v);
  if (lowest < 0) return 0;
  for (int64_t layer = lowest; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    int64_t cel = ls_cel_of(m, r, z, v, layer);
    if (cel < 0) continue;
    int64_t row = ls_cel_row(m, z, layer, cel);
    for (int64_t rect = m[row + LS_CEL_RECTS]; rect < m[row + LS_CEL_RECTS_END]; rect += LS_RECT_SIZE) {
      if (m[rect + LS_RECT_KIND] != LS_VULNERABLE_BOX) continue;
      ls_place_box(m, r, z, layer, cel, rect, left, x, y, wide, high, b, 4);
      if ((b[6] < b[2] ? b[6] : b[2]) - (b[4] > b[0] ? b[4] : b[0]) > 0.0 && (b[7] < b[3] ? b[7] : b[3]) - (b[5] > b[1] ? b[5] : b[1]) > 0.0) {
        return 1;
      }
    }
  }
  return 0;
}

/* Whether a figure guards, after the transitions of a tick. */
static inline int ls_is_guarding(int64_t *m, double *r, int64_t *z, double *v) {
  int64_t rules = m[LS_HEAD_CONTACT];
  return rules < m[LS_HEAD_CONTACT_END] && ls_run(m, r, z, v, m[rules + LS_CONTACT_GUARDS]);
}

/* Decide which strikes of a figure meet another: out is told by layer 0 for none, 1 for a hit and 2 for one that is guarded, and
   spent which windows have hit. */
static inline int ls_strikes(int64_t *m, double *r, int64_t *z, double *v, int left, double x, double y, double wide, double high, int64_t *other_m, double *other_r, int64_t *other_z, double *other_v, int other_left, double other_x, double other_y, double other_wide, double other_high, int64_t *spent, int64_t *out, double *b) {
  int found = 0;
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    out[layer] = 0;
    int64_t window = ls_window_of(m, z, layer);
    if (window <= spent[layer]) continue;
    int64_t cel = ls_cel_of(m, r, z, v, layer), lowest = ls_lowest_seen(m, r, z, v);
    if (cel < 0 || layer < lowest) continue;
    int64_t row = ls_cel_row(m, z, layer, cel);
    int struck = 0, reached = m[ls_clip_of(m, z, layer) + LS_CLIP_REACH] == 0;
    for (int64_t rect = m[row + LS_CEL_RECTS]; rect < m[row + LS_CEL_RECTS_END]; rect += LS_RECT_SIZE) {
      int64_t kind = m[rect + LS_RECT_KIND];
      if (kind == LS_VULNERABLE_BOX || (kind == LS_STRIKE_BOX && struck) || (kind == LS_GUARD_BOX && reached)) continue;
      ls_place_box(m, r, z, layer, cel, rect, left, x, y, wide, high, b, 0);
      if (ls_meets_any(other_m, other_r, other_z, other_v, other_left, other_x, other_y, other_wide, other_high, b)) {
        if (kind == LS_STRIKE_BOX) struck = 1;
        else reached = 1;
      }
    }
    if (struck) {
      int guarded = reached && ls_is_guarding(other_m, other_r, other_z, other_v);
      out[layer] = guarded ? 2 : 1;
      spent[layer] = window;
      found = 1;
    }
  }
  return found;
}

/* Add what strikes raise on who strikes, w, and on the other, along whose facing side of a push goes. */
static inline void ls_add_due(int64_t *m, double *r, int64_t *z, int64_t *out, double *w, double *other, double side) {
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    if (out[layer] == 0) continue;
    int64_t clip = ls_clip_of(m, z, layer);
    int hits = out[layer] == 1;
    w[LS_DUE_ANY] = 1.0;
    other[LS_DUE_ANY] = 1.0;
    if (hits) {
      w[LS_DUE_LANDS] = 1.0;
      other[LS_DUE_HIT] = 1.0;
    } else {
      w[LS_DUE_STOPPED] = 1.0;
      other[LS_DUE_GUARDED] = 1.0;
    }
    double stun = (double)(hits ? m[clip + LS_CLIP_STUN] : m[clip + LS_CLIP_GUARD_STUN]), freeze = (double)m[clip + LS_CLIP_FREEZE];
    other[LS_DUE_STUN] = (stun > other[LS_DUE_STUN] ? stun : other[LS_DUE_STUN]);
    other[LS_DUE_STRENGTH] = (r[clip + LS_CLIP_STRENGTH] > other[LS_DUE_STRENGTH] ? r[clip + LS_CLIP_STRENGTH] : other[LS_DUE_STRENGTH]);
    w[LS_DUE_FREEZE] = (freeze > w[LS_DUE_FREEZE] ? freeze : w[LS_DUE_FREEZE]);
    other[LS_DUE_FREEZE] = (freeze > other[LS_DUE_FREEZE] ? freeze : other[LS_DUE_FREEZE]);
    double push = r[clip + LS_CLIP_PUSH] * side;
    if (fabs(push) > fabs(other[LS_DUE_PUSH])) other[LS_DUE_PUSH] = push;
  }
}

/* Contact of two figures that have both done a tick: out is told by layer 0 for none, 1 for a hit, 2 for one that is guarded, w
   what that raises on the next tick. along is how much of a push to the right goes along the facing. */
static inline int ls_meet(int64_t *m, double *r, int64_t *z, double *v, int64_t *taken, int left, double along, double x, double y, double wide, double high, int64_t *spent, int64_t *out, double *w, int64_t *other_m, double *other_r, int64_t *other_z, double *other_v, int64_t *other_taken, int other_left, double other_along, double other_x, double other_y, double other_wide, double other_high, int64_t *other_spent, int64_t *other_out, double *other_w, double *b) {
  ls_forget_spent(m, taken, spent);
  ls_forget_spent(other_m, other_taken, other_spent);
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) out[layer] = 0;
  for (int64_t layer = 0; layer < other_m[LS_HEAD_LAYER_COUNT]; layer++) other_out[layer] = 0;
  if (z[LS_NOW_FREEZE] > 0 || other_z[LS_NOW_FREEZE] > 0) return 0;
  int first = ls_strikes(m, r, z, v, left, x, y, wide, high, other_m, other_r, other_z, other_v, other_left, other_x, other_y, other_wide, other_high, spent, out, b);
  int second = ls_strikes(other_m, other_r, other_z, other_v, other_left, other_x, other_y, other_wide, other_high, m, r, z, v, left, x, y, wide, high, other_spent, other_out, b);
  if (first) ls_add_due(m, r, z, out, w, other_w, other_x >= x ? other_along : -other_along);
  if (second) ls_add_due(other_m, other_r, other_z, other_out, other_w, w, x >= other_x ? along : -along);
  return first || second;
}

/* Write where the cells of each section begin; how many cells there are in all. */
static inline int64_t ls_rows_of(int64_t *counts, int64_t *rows) {
  int64_t total = 0;
  for (int64_t section = 0; section < LS_SECTION_COUNT; section++) {
    rows[section] = total;
    total += counts[section] * LS_WIDTHS[section];
  }
  return total;
}

/* Whether a cell is a whole number from low to high. */
static inline int ls_is_whole(double value, double low, double high) {
  return low <= value && value <= high && floor(value) == value;
}

/* The number of the first cell that is not what its column may hold; -1: none. */
static inline int64_t ls_wrong_cell(double *cells, int64_t *counts, int64_t *names) {
  int64_t at = 0, first = 0;
  for (int64_t section = 0; section < LS_SECTION_COUNT; section++) {
    for (int64_t again = 0; again < counts[section]; again++) {
      int64_t target = 0;
      for (int64_t column = first; column < first + LS_SIZES[section]; column++) {
        int64_t rule = LS_RULE[column], about = LS_ABOUT[column];
        if (rule == LS_WITHIN) continue;
        double value = cells[at];
        int fine = 1;
        if (rule == LS_FINITE) fine = value - value == 0.0;
        else if (rule == LS_INTEGER) fine = ls_is_whole(value, -LS_EXACT, LS_EXACT);
        else if (rule == LS_TIME) fine = ls_is_whole(value, 0.0, LS_EXACT) || value == LS_NEVER;
        else if (rule == LS_FROM_TO) fine = ls_is_whole(value, 0.0, about);
        else if (rule == LS_ROW || rule == LS_ADDRESS) fine = ls_is_whole(value, 0.0, counts[about] - 1);
        else if (rule == LS_ROW_OR_NONE) fine = ls_is_whole(value, -1.0, counts[about] - 1);
        else if (rule == LS_NAME) fine = ls_is_whole(value, 0.0, names[about] - 1);
        else if (rule == LS_FIRST) {
          target = about;
          fine = ls_is_whole(value, 0.0, counts[about]);
        } else if (rule == LS_END) fine = ls_is_whole(value, cells[at - 1], counts[target]);
        else fine = value != value || value - value == 0.0;
        if (!fine) return at;
        at += 1;
      }
    }
    first += LS_SIZES[section];
  }
  return -1;
}

/* Whether an act changes what there is. */
static inline int ls_act_agrees(double *cells, int64_t *counts, int64_t *names, int64_t one) {
  double does = cells[one + LS_ACT_DO], target = cells[one + LS_ACT_TARGET], value = cells[one + LS_ACT_VALUE];
  if (does <= LS_RAISE) return 0.0 <= target && target < counts[LS_PARAMETERS];
  if (does == LS_LOCK || does == LS_UNLOCK) return 0.0 <= target && target < names[LS_NAMED_LOCKS];
  return does != LS_FREEZE || ls_is_whole(value, 0.0, 1000000000000000.0);
}

/* Whether a clip's times can be counted, and its pieces and keys come one after another, and where marks fire. */
static inline int ls_clip_agrees(double *cells, int64_t *rows, int64_t one) {
  double length = cells[one + LS_CLIP_LENGTH], back = cells[one + LS_CLIP_BEGIN];
  int paced = cells[one + LS_CLIP_PACE] >= 0.0;
  double cels = cells[one + LS_CLIP_CELS_END] - cells[one + LS_CLIP_CELS], cues = cells[one + LS_CLIP_CUES_END] - cells[one + LS_CLIP_CUES];
  double rate = paced ? cells[one + LS_CLIP_HIGH] : 1.0;
  if (!(1.0 <= length && length <= LS_LONGEST) || !(-1.0 <= back && back < length)) return 0;
  if (!(-1.0 <= cells[one + LS_CLIP_RESTING] && cells[one + LS_CLIP_RESTING] < cels)) return 0;
  if (paced && (cells[one + LS_CLIP_AT] == 0.0 || !(0.0 <= cells[one + LS_CLIP_LOW] && cells[one + LS_CLIP_LOW] <= rate && rate <= LS_FASTEST))) {
    return 0;
  }
  if (cells[one + LS_CLIP_GOES] != 0.0 && cells[one + LS_CLIP_KEYS] == cells[one + LS_CLIP_KEYS_END]) return 0;
  double lap = length - (back > 0.0 ? back : 0.0);
  if (cues * (floor(floor(rate * LS_TICK) / lap) + 2.0) > LS_MOST_MARKS) return 0;
  for (int64_t row = (int64_t)cells[one + LS_CLIP_CUES]; row < (int64_t)cells[one + LS_CLIP_CUES_END]; row++) {
    int64_t cue = rows[LS_CUES] + row * LS_WIDTHS[LS_CUES];
    double spots = cells[cue + LS_CUE_SPOTS_END] - cells[cue + LS_CUE_SPOTS];
    if (spots > 1.0 || (spots > 0.0 && cells[cue + LS_CUE_CEL] >= cels)) return 0;
  }
  double before = -1.0;
  for (int64_t row = (int64_t)cells[one + LS_CLIP_PIECES]; row < (int64_t)cells[one + LS_CLIP_PIECES_END]; row++) {
    int64_t piece = rows[LS_PIECES] + row * LS_WIDTHS[LS_PIECES];
    double start = cells[piece + LS_PIECE_START];
    if (start <= before || (before < 0.0 && start != 0.0) || cells[piece + LS_PIECE_CEL] >= cels) return 0;
    before = start;
  }
  for (int64_t row = (int64_t)cells[one + LS_CLIP_KEYS] + 1; row < (int64_t)cells[one + LS_CLIP_KEYS_END]; row++) {
    int64_t key = rows[LS_KEYS] + row * LS_WIDTHS[LS_KEYS];
    if (!(cells[key + LS_KEY_AT] > cells[key - LS_WIDTHS[LS_KEYS] + LS_KEY_AT])) return 0;
  }
  return 1;
}

/* Whether a state's samples have their places, begin within their clips, and are as many for each way of moving. */
static inline int ls_state_agrees(double *cells, int64_t *counts, int64_t *rows, int64_t one) {
  int64_t samples = (int64_t)cells[one + LS_STATE_SAMPLES], samples_end = (int64_t)cells[one + LS_STATE_SAMPLES_END];
  double axes = cells[one + LS_STATE_AXES_END] - cells[one + LS_STATE_AXES];
  if (cells[one + LS_STATE_STICKY] < 0.0 || (cells[one + LS_STATE_BLENDS] != 0.0 && samples == samples_end)) return 0;
  int64_t ways = (int64_t)cells[one + LS_STATE_MOVED_END] - (int64_t)cells[one + LS_STATE_MOVED] + 1;
  if ((samples_end - samples) % ways != 0 || (ways > 1 && samples == samples_end)) return 0;
  for (int64_t row = samples; row < samples_end; row++) {
    int64_t sample = rows[LS_SAMPLES] + row * LS_WIDTHS[LS_SAMPLES];
    int64_t clip = rows[LS_CLIPS] + (int64_t)cells[sample + LS_SAMPLE_CLIP] * LS_WIDTHS[LS_CLIPS];
    if (cells[sample + LS_SAMPLE_PHASE] > cells[clip + LS_CLIP_LENGTH]) return 0;
    if (cells[sample + LS_SAMPLE_PLACES] + axes > counts[LS_PLACES]) return 0;
  }
  return 1;
}

/* Whether squashes and leans can be followed, and what begins them is there. */
static inline int ls_shapes_agree(double *cells, int64_t *counts, int64_t *rows) {
  int64_t one;
  for (int64_t number = 0; number < counts[LS_SQUASHES]; number++) {
    one = rows[LS_SQUASHES] + number * LS_WIDTHS[LS_SQUASHES];
    if (!(cells[one + LS_SQUASH_HIGH] > 0.0) || cells[one + LS_SQUASH_WIDE] <= 0.0) return 0;
    if (cells[one + LS_SQUASH_OVER] < 0.0 || cells[one + LS_SQUASH_HOLD] < 0.0 || cells[one + LS_SQUASH_BACK] < 0.0) return 0;
    if (cells[one + LS_SQUASH_EVERY] < 0.0 || cells[one + LS_SQUASH_BY_FALL] < 0.0) return 0;
  }
  for (int64_t number = 0; number < counts[LS_LEANS]; number++) {
    one = rows[LS_LEANS] + number * LS_WIDTHS[LS_LEANS];
    if (cells[one + LS_LEAN_MOST] < 0.0 || !(cells[one + LS_LEAN_DT] > 0.0)) return 0;
  }
  for (int64_t number = 0; number < counts[LS_SHAPES]; number++) {
    one = rows[LS_SHAPES] + number * LS_WIDTHS[LS_SHAPES];
    double does = cells[one + LS_SHAPE_DO], which = cells[one + LS_SHAPE_WHICH];
    if (which < 0.0 || (which >= counts[LS_LEANS] && (does == LS_LEANED || does == LS_HELD_LEAN))) return 0;
    if (which >= counts[LS_SQUASHES] && (does == LS_SQUASHED || does == LS_HELD_SQUASH)) return 0;
  }
  return 1;
}

/* Whether what a row of a program puts on the stack is there. */
static inline int ls_leads(int64_t *counts, int64_t *names, int64_t op, double a) {
  if (op == LS_OP_NUMBER) return 1;
  if (op == LS_OP_PARAMETER || op == LS_OP_PRESSED || op == LS_OP_RELEASED) return 0.0 <= a && a < counts[LS_PARAMETERS];
  if (op == LS_OP_SINCE) return 0.0 <= a && a < counts[LS_CLOCKS];
  if (op == LS_OP_BUFFERED) return 0.0 <= a && a < counts[LS_BUFFERS];
  if (op == LS_OP_SPAN) return 0.0 <= a && a < names[LS_NAMED_SPANS];
  if (op == LS_OP_MEMORY) return 0.0 <= a && a < counts[LS_MEMORIES];
  return 0.0 <= a && a < counts[LS_LAYERS];
}

/* Whether a postfix program leaves one number (an amount) or one truth, whichever way its skips go. */
static inline int ls_is_program(double *cells, int64_t *counts, int64_t *names, int64_t *rows, int64_t *room, int64_t begin, int64_t end, int amount) {
  int64_t ends = counts[LS_PROGRAMS], used = 3 * counts[LS_PROGRAMS];
  int64_t depth = 0, base = 0, limit = end, waiting = 0, at = begin;
  while (1) {
    while (waiting > 0 && at == limit) {
      if (depth != base + 1 || room[depth - 1] == LS_AMOUNT) return 0;
      room[depth - 1] = LS_TRUTH;
      waiting -= 1;
      limit = waiting > 0 ? room[ends + 2 * waiting - 2] : end;
      base = waiting > 0 ? room[ends + 2 * waiting - 1] : 0;
    }
    if (at == end) return depth == 1 && room[0] != (amount ? LS_TRUTH : LS_AMOUNT);
    int64_t row = rows[LS_PROGRAMS] + at * LS_WIDTHS[LS_PROGRAMS];
    int64_t op = (int64_t)cells[row + LS_STEP_OP];
    double a = cells[row + LS_STEP_A], b = cells[row + LS_STEP_B];
    if (room[used + at] != 0) return 0;
    room[used + at] = 1;
    at += 1;
    if (op >= LS_OP_SKIP_FALSE) {
      if (depth < base + 1 || room[depth - 1] == LS_AMOUNT || !(1.0 <= a && a <= limit - at)) return 0;
      depth -= 1;
      limit = at + (int64_t)a;
      base = depth;
      room[ends + 2 * waiting] = limit;
      room[ends + 2 * waiting + 1] = base;
      waiting += 1;
      continue;
    }
    int64_t taken = 0, made = LS_TRUTH;
    if (op == LS_OP_NOT) taken = 1;
    else if (op == LS_OP_COMPARE) {
      taken = 2;
      if (!(0.0 <= a && a < LS_SIGN_COUNT)) return 0;
    } else if (op == LS_OP_COMPUTE) {
      if (!(0.0 <= a && a < LS_OPERATOR_COUNT) || !(1.0 <= b && b <= depth - base)) return 0;
      taken = (int64_t)b;
      made = LS_AMOUNT;
      if (LS_TAKES[(int64_t)a] != 0 && LS_TAKES[(int64_t)a] != taken) return 0;
    } else {
      if (!ls_leads(counts, names, op, a)) return 0;
      if (op == LS_OP_NUMBER || op == LS_OP_PARAMETER) made = LS_EITHER;
      else if (op == LS_OP_STAY || op == LS_OP_SINCE) made = LS_AMOUNT;
    }
    if (depth - base < taken) return 0;
    depth -= taken;
    for (int64_t below = depth; below < depth + taken; below++) {
      if (room[below] == (op == LS_OP_NOT ? LS_AMOUNT : LS_TRUTH)) return 0;
    }
    room[depth] = made;
    depth += 1;
  }
}

/* Whether each program comes to what it is asked for, and no two have a row in common. */
static inline int ls_programs_agree(double *cells, int64_t *counts, int64_t *names, int64_t *rows, int64_t *room) {
  int64_t one;
  for (int64_t row = 0; row < counts[LS_PROGRAMS]; row++) room[3 * counts[LS_PROGRAMS] + row] = 0;
  for (int64_t number = 0; number < counts[LS_WAYS]; number++) {
    one = rows[LS_WAYS] + number * LS_WIDTHS[LS_WAYS] + LS_WAY_PROGRAM;
    if (!ls_is_program(cells, counts, names, rows, room, (int64_t)cells[one], (int64_t)cells[one + 1], 0)) return 0;
  }
  for (int64_t number = 0; number < counts[LS_MEMORIES]; number++) {
    one = rows[LS_MEMORIES] + number * LS_WIDTHS[LS_MEMORIES] + LS_MEMORY_PROGRAM;
    if (!ls_is_program(cells, counts, names, rows, room, (int64_t)cells[one], (int64_t)cells[one + 1], 0)) return 0;
  }
  for (int64_t number = 0; number < counts[LS_FORMULAS]; number++) {
    one = rows[LS_FORMULAS] + number * LS_WIDTHS[LS_FORMULAS];
    int64_t parameter = rows[LS_PARAMETERS] + (int64_t)cells[one + LS_FORMULA_PARAMETER] * LS_WIDTHS[LS_PARAMETERS];
    int amount = cells[parameter + LS_PARAMETER_KIND] <= LS_BEARING;
    int64_t begin = (int64_t)cells[one + LS_FORMULA_PROGRAM], end = (int64_t)cells[one + LS_FORMULA_PROGRAM_END];
    if (!ls_is_program(cells, counts, names, rows, room, begin, end, amount)) return 0;
  }
  for (int64_t number = 0; number < counts[LS_CONTACTS]; number++) {
    one = rows[LS_CONTACTS] + number * LS_WIDTHS[LS_CONTACTS] + LS_CONTACT_GUARDS;
    if (!ls_is_program(cells, counts, names, rows, room, (int64_t)cells[one], (int64_t)cells[one + 1], 0)) return 0;
  }
  for (int64_t number = 0; number < counts[LS_ACCESSORIES]; number++) {
    one = rows[LS_ACCESSORIES] + number * LS_WIDTHS[LS_ACCESSORIES] + LS_ACCESSORY_SHOWN;
    if (!ls_is_program(cells, counts, names, rows, room, (int64_t)cells[one], (int64_t)cells[one + 1], 0)) return 0;
  }
  return 1;
}

/* Whether what stands in several rows goes together; room is for four whole numbers a row of a program. */
static inline int ls_agrees(double *cells, int64_t *counts, int64_t *names, int64_t *rows, int64_t *room) {
  int64_t one;
  if (names[LS_NAMED_PARAMETERS] != counts[LS_PARAMETERS] || names[LS_NAMED_LAYERS] != counts[LS_LAYERS]) return 0;
  if (names[LS_NAMED_STATES] != counts[LS_STATES] || names[LS_NAMED_CLIPS] != counts[LS_CLIPS]) return 0;
  for (int64_t number = 0; number < counts[LS_PARAMETERS]; number++) {
    one = rows[LS_PARAMETERS] + number * LS_WIDTHS[LS_PARAMETERS];
    double kind = cells[one + LS_PARAMETER_KIND];
    if (kind <= LS_WHOLE && cells[one + LS_PARAMETER_LOW] > cells[one + LS_PARAMETER_HIGH]) return 0;
    if (kind == LS_CHOICE && !ls_is_whole(cells[one + LS_PARAMETER_FIRST], 0.0, names[LS_NAMED_WORDS] - 1)) return 0;
  }
  for (int64_t number = 0; number < counts[LS_LAYERS]; number++) {
    one = rows[LS_LAYERS] + number * LS_WIDTHS[LS_LAYERS];
    double start = cells[one + LS_LAYER_START];
    if (start < cells[one + LS_LAYER_STATES] || start >= cells[one + LS_LAYER_STATES_END]) return 0;
  }
  for (int64_t number = 0; number < counts[LS_AXES]; number++) {
    one = rows[LS_AXES] + number * LS_WIDTHS[LS_AXES];
    if (cells[one + LS_AXIS_LOW] > cells[one + LS_AXIS_HIGH] || !(cells[one + LS_AXIS_STEP] > 0.0)) return 0;
  }
  for (int64_t number = 0; number < counts[LS_ACTS]; number++) {
    if (!ls_act_agrees(cells, counts, names, rows[LS_ACTS] + number * LS_WIDTHS[LS_ACTS])) return 0;
  }
  for (int64_t number = 0; number < counts[LS_CLIPS]; number++) {
    if (!ls_clip_agrees(cells, rows, rows[LS_CLIPS] + number * LS_WIDTHS[LS_CLIPS])) return 0;
  }
  for (int64_t number = 0; number < counts[LS_STATES]; number++) {
    if (!ls_state_agrees(cells, counts, rows, rows[LS_STATES] + number * LS_WIDTHS[LS_STATES])) return 0;
  }
  if (!ls_shapes_agree(cells, counts, rows)) return 0;
  return ls_programs_agree(cells, counts, names, rows, room);
}

/* How long the arrays of a table are, that has so many rows in each section. */
static inline int64_t ls_laid_size(int64_t *counts) {
  int64_t total = LS_HEAD_SIZE + 3 * counts[LS_PARAMETERS];
  for (int64_t section = 0; section < LS_SECTION_COUNT; section++) total += counts[section] * LS_SIZES[section];
  return total;
}

/* List the pulses, with whether they come from outside, and the buttons. */
static inline void ls_lay_kinds(int64_t *counts, int64_t *m, int64_t to) {
  m[LS_HEAD_PULSES] = to;
  for (int64_t parameter = 0; parameter < counts[LS_PARAMETERS]; parameter++) {
    int64_t one = m[LS_HEAD_PARAMETERS] + parameter * LS_PARAMETER_SIZE;
    if (m[one + LS_PARAMETER_KIND] == LS_PULSE) {
      m[to] = parameter;
      m[to + 1] = m[one + LS_PARAMETER_OWNER] < LS_GRAPH;
      to += 2;
    }
  }
  m[LS_HEAD_PULSES_END] = to;
  m[LS_HEAD_BUTTONS] = to;
  for (int64_t parameter = 0; parameter < counts[LS_PARAMETERS]; parameter++) {
    if (m[m[LS_HEAD_PARAMETERS] + parameter * LS_PARAMETER_SIZE + LS_PARAMETER_KIND] == LS_BUTTON) {
      m[to] = parameter;
      to += 1;
    }
  }
  m[LS_HEAD_BUTTONS_END] = to;
}

/* Say where a situation has what. */
static inline void ls_lay_situation(int64_t *counts, int64_t *names, int64_t *m) {
  int64_t symbols = counts[LS_PARAMETERS];
  m[LS_HEAD_LAYER_COUNT] = counts[LS_LAYERS];
  m[LS_HEAD_COUNTERS] = LS_FIRST_PLAYER + counts[LS_LAYERS] * LS_PLAYER_SIZE;
  m[LS_HEAD_AGES] = m[LS_HEAD_COUNTERS] + counts[LS_MEMORIES];
  m[LS_HEAD_SINCE] = m[LS_HEAD_AGES] + counts[LS_BUFFERS];
  m[LS_HEAD_HELD] = m[LS_HEAD_SINCE] + counts[LS_CLOCKS];
  m[LS_HEAD_RAISED] = m[LS_HEAD_HELD] + symbols;
  m[LS_HEAD_LOCKS] = m[LS_HEAD_RAISED] + symbols;
  m[LS_HEAD_SPANS] = m[LS_HEAD_LOCKS] + names[LS_NAMED_LOCKS];
  m[LS_HEAD_SPANS_END] = m[LS_HEAD_SPANS] + names[LS_NAMED_SPANS];
  m[LS_HEAD_REMEMBERED] = m[LS_HEAD_SPANS_END];
  m[LS_HEAD_HELD_NOW] = m[LS_HEAD_REMEMBERED] + counts[LS_MEMORIES];
  m[LS_HEAD_HELD_BEFORE] = m[LS_HEAD_HELD_NOW] + symbols;
  m[LS_HEAD_CHANGED] = m[LS_HEAD_HELD_BEFORE] + symbols;
  m[LS_HEAD_COUNTS] = m[LS_HEAD_CHANGED] + 1;
  m[LS_HEAD_PLACE] = symbols;
  m[LS_HEAD_KEPT] = symbols + LS_PLAYED;
  m[LS_HEAD_STACK] = m[LS_HEAD_KEPT] + counts[LS_STICKS];
  m[LS_HEAD_VALUES] = m[LS_HEAD_STACK] + counts[LS_PROGRAMS] + 1;
}

/* Where a program goes on at a row with a truth on top: the address of the next instruction, or TRUE or FALSE. */
static inline int64_t ls_onward(int64_t *m, int64_t at, int64_t end, int holds) {
  while (at < end) {
    int64_t op = m[at + LS_STEP_OP];
    if (op == LS_OP_NOT) {
      holds = !holds;
      at += LS_STEP_SIZE;
    } else if (op == LS_OP_SKIP_FALSE || op == LS_OP_SKIP_TRUE) {
      if (holds == (op == LS_OP_SKIP_FALSE)) return at + LS_STEP_SIZE;
      at += LS_STEP_SIZE * (1 + m[at + LS_STEP_A]);
    } else return at;
  }
  return holds ? LS_TRUE : LS_FALSE;
}

/* Turn a program into instructions, each in the place of the first row it stands for; where it begins. number: it comes to a
   number and not to a truth. */
static inline int64_t ls_link(int64_t *m, double *r, int64_t begin, int64_t end, int number) {
  int64_t at = begin;
  while (at < end) {
    int64_t op = m[at + LS_STEP_OP], rows = 1;
    int64_t after = at + LS_STEP_SIZE < end ? m[at + LS_STEP_SIZE + LS_STEP_OP] : -1;
    int64_t last = at + 2 * LS_STEP_SIZE < end ? m[at + 2 * LS_STEP_SIZE + LS_STEP_OP] : -1;
    if (op == LS_OP_PARAMETER && after == LS_OP_PARAMETER && last == LS_OP_COMPARE) {
      m[at + LS_STEP_OP] = LS_PAIR;
      rows = 3;
    } else if (op == LS_OP_PARAMETER && after == LS_OP_NUMBER && last == LS_OP_COMPARE) {
      m[at + LS_STEP_OP] = LS_COMPARED;
      rows = 3;
    } else if (op == LS_OP_STAY && after == LS_OP_NUMBER && last == LS_OP_COMPARE) {
      m[at + LS_STEP_OP] = LS_STAYED;
      rows = 3;
    } else if (op == LS_OP_SINCE && after == LS_OP_NUMBER && last == LS_OP_COMPARE) {
      m[at + LS_STEP_OP] = LS_SINCE;
      rows = 3;
    } else if (op == LS_OP_COMPARE) {
      m[at + LS_STEP_OP] = LS_COMPARE_STACK;
      m[at + LS_STEP_B] = LS_STANDS[m[at + LS_STEP_A]];
    } else if (op == LS_OP_COMPUTE) m[at + LS_STEP_OP] = LS_COMPUTE;
    else if (op < LS_OP_NOT) {
      m[at + LS_STEP_OP] = LS_LAID[op];
      if (op == LS_OP_PARAMETER || op == LS_OP_NUMBER) {
        int tested = after == LS_OP_NOT || after == LS_OP_SKIP_FALSE || after == LS_OP_SKIP_TRUE || (after < 0 && !number);
        if (!tested) m[at + LS_STEP_OP] = op == LS_OP_PARAMETER ? LS_PUSH_VALUE : LS_PUSH_NUMBER;
      }
    }
    if (rows == 3) {
      m[at + LS_STEP_B] = LS_STANDS[m[at + 2 * LS_STEP_SIZE + LS_STEP_A]];
      r[at + LS_STEP_VALUE] = r[at + LS_STEP_SIZE + LS_STEP_VALUE];
    }
    int64_t following = at + rows * LS_STEP_SIZE;
    m[at + LS_STEP_YES] = ls_onward(m, following, end, 1);
    m[at + LS_STEP_NO] = ls_onward(m, following, end, 0);
    at = following;
  }
  return begin;
}

/* Turn the program of each transition, memory, formula, guard and accessory into instructions. */
static inline void ls_link_all(int64_t *m, double *r) {
  for (int64_t way = m[LS_HEAD_WAYS]; way < m[LS_HEAD_WAYS_END]; way += LS_WAY_SIZE) {
    m[way + LS_WAY_PROGRAM] = ls_link(m, r, m[way + LS_WAY_PROGRAM], m[way + LS_WAY_PROGRAM_END], 0);
  }
  for (int64_t memory = m[LS_HEAD_MEMORIES]; memory < m[LS_HEAD_MEMORIES_END]; memory += LS_MEMORY_SIZE) {
    m[memory + LS_MEMORY_PROGRAM] = ls_link(m, r, m[memory + LS_MEMORY_PROGRAM], m[memory + LS_MEMORY_PROGRAM_END], 0);
  }
  for (int64_t formula = m[LS_HEAD_FORMULAS]; formula < m[LS_HEAD_FORMULAS_END]; formula += LS_FORMULA_SIZE) {
    int64_t one = m[LS_HEAD_PARAMETERS] + m[formula + LS_FORMULA_PARAMETER] * LS_PARAMETER_SIZE;
    int number = m[one + LS_PARAMETER_KIND] <= LS_BEARING;
    m[formula + LS_FORMULA_PROGRAM] = ls_link(m, r, m[formula + LS_FORMULA_PROGRAM], m[formula + LS_FORMULA_PROGRAM_END], number);
  }
  for (int64_t rules = m[LS_HEAD_CONTACT]; rules < m[LS_HEAD_CONTACT_END]; rules += LS_CONTACT_SIZE) {
    m[rules + LS_CONTACT_GUARDS] = ls_link(m, r, m[rules + LS_CONTACT_GUARDS], m[rules + LS_CONTACT_GUARDS_END], 0);
  }
  for (int64_t one = m[LS_HEAD_ACCESSORIES]; one < m[LS_HEAD_ACCESSORIES_END]; one += LS_ACCESSORY_SIZE) {
    m[one + LS_ACCESSORY_SHOWN] = ls_link(m, r, m[one + LS_ACCESSORY_SHOWN], m[one + LS_ACCESSORY_SHOWN_END], 0);
  }
}

/* How many marks can fire in one tick at most: in each layer those of a step of a clip, and those of one that is entered. */
static inline int64_t ls_most_told(int64_t *m, double *r) {
  int64_t total = 0;
  for (int64_t layer = m[LS_HEAD_LAYERS]; layer < m[LS_HEAD_LAYERS_END]; layer += LS_LAYER_SIZE) {
    int64_t most = 0, begun = 0;
    for (int64_t state = m[layer + LS_LAYER_STATES]; state < m[layer + LS_LAYER_STATES_END]; state += LS_STATE_SIZE) {
      for (int64_t sample = m[state + LS_STATE_SAMPLES]; sample < m[state + LS_STATE_SAMPLES_END]; sample += LS_SAMPLE_SIZE) {
        int64_t clip = m[sample + LS_SAMPLE_CLIP];
        int64_t cues = ls_floor_div(m[clip + LS_CLIP_CUES_END] - m[clip + LS_CLIP_CUES], LS_CUE_SIZE);
        double fastest = m[clip + LS_CLIP_PACE] < 0 ? 1.0 : r[clip + LS_CLIP_HIGH];
        int64_t lap = m[clip + LS_CLIP_LENGTH] - (0 > m[clip + LS_CLIP_BEGIN] ? 0 : m[clip + LS_CLIP_BEGIN]);
        most = (cues * (ls_floor_div((int64_t)(fastest * LS_TICK), lap) + 2) > most ? cues * (ls_floor_div((int64_t)(fastest * LS_TICK), lap) + 2) : most);
        begun = (cues > begun ? cues : begun);
      }
    }
    total += most + begun;
  }
  return total;
}

/* Lay a table out in m and r, arrays of zeros; names are how many of each kind there are. */
static inline void ls_lay(double *cells, int64_t *counts, int64_t *names, int64_t *m, double *r) {
  int64_t end = LS_HEAD_SIZE;
  for (int64_t section = 0; section < LS_SECTION_COUNT; section++) {
    m[2 * section] = end;
    end += counts[section] * LS_SIZES[section];
    m[2 * section + 1] = end;
  }
  int64_t cell = 0, to = LS_HEAD_SIZE, first = 0;
  for (int64_t section = 0; section < LS_SECTION_COUNT; section++) {
    for (int64_t again = 0; again < counts[section]; again++) {
      int64_t target = 0;
      for (int64_t column = first; column < first + LS_SIZES[section]; column++) {
        if (LS_RULE[column] != LS_WITHIN) {
          if (LS_REAL[column] != 0) r[to] = cells[cell];
          else {
            m[to] = (int64_t)cells[cell];
            if (LS_RULE[column] == LS_FIRST || LS_RULE[column] == LS_ADDRESS) target = LS_ABOUT[column];
            if (LS_RULE[column] == LS_FIRST || LS_RULE[column] == LS_END || LS_RULE[column] == LS_ADDRESS) {
              m[to] = m[2 * target] + m[to] * LS_SIZES[target];
            }
          }
          cell += 1;
        }
        to += 1;
      }
    }
    first += LS_SIZES[section];
  }
  ls_lay_kinds(counts, m, to);
  ls_lay_situation(counts, names, m);
  ls_link_all(m, r);
  m[LS_HEAD_MOST_TOLD] = ls_most_told(m, r);
}

/* Before the inputs are set: pulses go off, or on where one was raised, and the sticks' bearings are kept. */
static inline void ls_open_tick(int64_t *m, int64_t *z, double *v) {
  for (int64_t pulse = m[LS_HEAD_PULSES]; pulse < m[LS_HEAD_PULSES_END]; pulse += LS_PULSE_SIZE) {
    v[m[pulse]] = m[pulse + 1] != 0 ? 0.0 : (double)z[m[LS_HEAD_RAISED] + m[pulse]];
  }
  int64_t kept = m[LS_HEAD_KEPT];
  for (int64_t stick = m[LS_HEAD_STICKS]; stick < m[LS_HEAD_STICKS_END]; stick += LS_STICK_SIZE) {
    v[kept] = v[m[stick + LS_STICK_BEARING]];
    kept += 1;
  }
}

/* A stick's bearing is what it was while there is no push. */
static inline void ls_keep_bearings(int64_t *m, double *v) {
  int64_t kept = m[LS_HEAD_KEPT];
  for (int64_t stick = m[LS_HEAD_STICKS]; stick < m[LS_HEAD_STICKS_END]; stick += LS_STICK_SIZE) {
    if (v[m[stick + LS_STICK_PUSH]] == 0.0) v[m[stick + LS_STICK_BEARING]] = v[kept];
    kept += 1;
  }
}

/* Nothing has been asked of the body on this tick yet; for games that move it by their own rules. */
static inline void ls_forget_asked(int64_t *m, double *v) {
  int64_t place = m[LS_HEAD_PLACE];
  v[place + LS_FIELDS_TRAVEL] = 0.0;
  v[place + LS_FIELDS_TRAVEL_UP] = 0.0;
  v[place + LS_FIELDS_TRAVELS] = 0.0;
  v[place + LS_FIELDS_MODE] = 0.0;
  v[place + LS_FIELDS_PUSH] = 0.0;
  v[place + LS_FIELDS_PUSH_UP] = 0.0;
}

/* What a program comes to: its number, or 1 for true and 0 for false. */
static inline double ls_worth(int64_t *m, double *r, int64_t *z, double *v, int64_t program, int number) {
  int holds = ls_run(m, r, z, v, program);
  if (number) return v[m[LS_HEAD_STACK]];
  return holds ? 1.0 : 0.0;
}

/* Bring the parameters that are computed from others up to date. */
static inline void ls_compute_formulas(int64_t *m, double *r, int64_t *z, double *v) {
  for (int64_t formula = m[LS_HEAD_FORMULAS]; formula < m[LS_HEAD_FORMULAS_END]; formula += LS_FORMULA_SIZE) {
    int64_t parameter = m[formula + LS_FORMULA_PARAMETER];
    int number = m[m[LS_HEAD_PARAMETERS] + parameter * LS_PARAMETER_SIZE + LS_PARAMETER_KIND] <= LS_BEARING;
    v[parameter] = ls_worth(m, r, z, v, m[formula + LS_FORMULA_PROGRAM], number);
  }
}

/* Crossfades run on by one tick. */
static inline void ls_fade_on(int64_t *m, int64_t *z) {
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    int64_t player = LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE;
    int64_t left = z[player + LS_PLAYER_FADE_LEFT] - 1;
    if (left < -1) continue;
    z[player + LS_PLAYER_FADE_LEFT] = left;
    if (left < 0) {
      z[player + LS_PLAYER_FADE_STATE] = 0;
      z[player + LS_PLAYER_FADE_PICK] = 0;
      z[player + LS_PLAYER_FADE_HEAD] = 0;
      z[player + LS_PLAYER_FADE_BLOCKS] = 0;
      continue;
    }
    int64_t state = m[LS_HEAD_STATES] + z[player + LS_PLAYER_FADE_STATE] * LS_STATE_SIZE;
    if (m[state + LS_STATE_SAMPLES] < m[state + LS_STATE_SAMPLES_END]) {
      int64_t sample = m[state + LS_STATE_SAMPLES] + z[player + LS_PLAYER_FADE_PICK] * LS_SAMPLE_SIZE;
      z[player + LS_PLAYER_FADE_HEAD] = ls_folded(m, m[sample + LS_SAMPLE_CLIP], z[player + LS_PLAYER_FADE_HEAD] + LS_TICK);
    }
  }
}

/* Write the parameters that spans of every layer but one hold from place held on, and from spans on (-1: nowhere) which are on. */
static inline void ls_look(int64_t *m, int64_t *z, int64_t held, int64_t spans, int64_t but) {
  for (int64_t one = m[LS_HEAD_HOLDS]; one < m[LS_HEAD_HOLDS_END]; one++) z[held + m[one]] = 0;
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    int64_t clip = ls_clip_of(m, z, layer);
    if (clip < 0 || layer == but) continue;
    int64_t head = z[LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE + LS_PLAYER_HEAD];
    for (int64_t window = m[clip + LS_CLIP_WINDOWS]; window < m[clip + LS_CLIP_WINDOWS_END]; window += LS_WINDOW_SIZE) {
      if (m[window + LS_WINDOW_START] <= head && head < m[window + LS_WINDOW_END]) {
        if (m[window + LS_WINDOW_HOLD] >= 0) z[held + m[window + LS_WINDOW_HOLD]] = 1;
        if (spans >= 0) z[spans + m[window + LS_WINDOW_SPAN]] = 1;
      }
    }
  }
}

/* Work out which spans are on; flags they hold go on, and off again where they were held before. */
static inline void ls_see_spans(int64_t *m, double *r, int64_t *z, double *v, int before) {
  if (m[LS_HEAD_WINDOWS] == m[LS_HEAD_WINDOWS_END]) return;
  int64_t held_now = m[LS_HEAD_HELD_NOW], held_before = m[LS_HEAD_HELD_BEFORE];
  for (int64_t span = m[LS_HEAD_SPANS]; span < m[LS_HEAD_SPANS_END]; span++) z[span] = 0;
  ls_look(m, z, held_now, m[LS_HEAD_SPANS], -1);
  int changed = 0;
  for (int64_t one = m[LS_HEAD_HOLDS]; one < m[LS_HEAD_HOLDS_END]; one++) {
    int64_t parameter = m[one];
    if (z[held_now + parameter] != 0 || (before && z[held_before + parameter] != 0)) {
      v[parameter] = (double)z[held_now + parameter];
      changed = 1;
    }
  }
  if (changed) ls_compute_formulas(m, r, z, v);
}

/* Countdowns go down by one. */
static inline void ls_count_down(int64_t *m, double *r, int64_t *z, double *v) {
  for (int64_t countdown = m[LS_HEAD_COUNTDOWNS]; countdown < m[LS_HEAD_COUNTDOWNS_END]; countdown++) {
    v[m[countdown]] = v[m[countdown]] > 1.0 ? v[m[countdown]] - 1.0 : 0.0;
  }
  if (m[LS_HEAD_COUNTDOWNS] < m[LS_HEAD_COUNTDOWNS_END]) ls_compute_formulas(m, r, z, v);
}

/* Note the parameters that spans hold on, before anything moves. */
static inline void ls_note_held(int64_t *m, int64_t *z) {
  if (m[LS_HEAD_WINDOWS] < m[LS_HEAD_WINDOWS_END] && m[LS_HEAD_HOLDS] < m[LS_HEAD_HOLDS_END]) {
    ls_look(m, z, m[LS_HEAD_HELD_BEFORE], -1, -1);
  }
}

/* The way of moving in a state: the first whose choice it is, counted from 1; 0: none of them. */
static inline int64_t ls_way_of(int64_t *m, double *r, double *v, int64_t state) {
  int64_t number = 0;
  for (int64_t way = m[state + LS_STATE_MOVED]; way < m[state + LS_STATE_MOVED_END]; way += LS_MOVED_SIZE) {
    number += 1;
    if (v[m[way + LS_MOVED_PARAMETER]] == r[way + LS_MOVED_VALUE]) return number;
  }
  return 0;
}

/* How far the value an axis reads is from a place on it, in rulings. */
static inline double ls_rulings_to(int64_t *m, double *r, double *v, int64_t axis, double at) {
  double value = ls_value_on(m, r, v, axis);
  if (m[axis + LS_AXIS_ROUND] != 0) return ls_turn(at, value) / r[axis + LS_AXIS_STEP];
  return (value - at) / r[axis + LS_AXIS_STEP];
}

/* The sample a state would show now, after the one picked before (-1: none was). */
static inline int64_t ls_picked(int64_t *m, double *r, double *v, int64_t state, int64_t before) {
  int64_t way = ls_way_of(m, r, v, state);
  if (m[state + LS_STATE_BLENDS] == 0) return way;
  int64_t block = ls_samples_each(m, state);
  int64_t number = way * block;
  if (before >= 0) before = number + before % block;
  int64_t best = number, first = m[state + LS_STATE_SAMPLES] + number * LS_SAMPLE_SIZE;
  double nearest = -1.0, distance = -1.0;
  for (int64_t sample = first; sample < first + block * LS_SAMPLE_SIZE; sample += LS_SAMPLE_SIZE) {
    double total = 0.0;
    int64_t place = m[LS_HEAD_PLACES] + m[sample + LS_SAMPLE_PLACES];
    for (int64_t axis = m[state + LS_STATE_AXES]; axis < m[state + LS_STATE_AXES_END]; axis += LS_AXIS_SIZE) {
      double at = r[place];
      place += 1;
      if (at == at) {
        double away = ls_rulings_to(m, r, v, axis, at);
        total = total + away * away;
      }
    }
    if (number == before) distance = total;
    if (nearest < 0.0 || total < nearest) {
      best = number;
      nearest = total;
    }
    number += 1;
  }
  double sticky = r[state + LS_STATE_STICKY];
  if (sticky > 0.0 && before >= 0) return sqrt(nearest) < sqrt(distance) - sticky ? best : before;
  return best;
}

/* How far a path goes while the playhead steps from head by amount, in a clip of length that goes back to there from its end
   (-1: it stays there). */
static inline double ls_gone(double *r, int64_t begin, int64_t end, int64_t length, int64_t back, int64_t head, int64_t amount, int64_t which) {
  int64_t moved = head + amount;
  if (moved < length || back < 0) {
    return ls_place(r, begin, end, (length < moved ? length : moved), which) - ls_place(r, begin, end, (length < head ? length : head), which);
  }
  int64_t lap = length - back, over = moved - length;
  double whole = ls_place(r, begin, end, length, which) - ls_place(r, begin, end, back, which);
  double first = ls_place(r, begin, end, length, which) - ls_place(r, begin, end, head, which);
  double rest = ls_place(r, begin, end, back + over % lap, which) - ls_place(r, begin, end, back, which);
  return first + ls_floor_div(over, lap) * whole + rest;
}

/* How often an instant lies in (head, head + amount]; the end of a clip that repeats from its start is its start. */
static inline int64_t ls_passed(int64_t *m, int64_t clip, int64_t at, int64_t head, int64_t amount) {
  int64_t length = m[clip + LS_CLIP_LENGTH], back = m[clip + LS_CLIP_BEGIN];
  if (at < back || back < 0) return head < at && at <= (length < head + amount ? length : head + amount) ? 1 : 0;
  if (at > length) return 0;
  if (at == length && back == 0) at = 0;
  if (amount < length - head) return head < at && at <= head + amount ? 1 : 0;
  int64_t since = head + amount - at, before = head - at;
  int64_t laps = since >= 0 ? ls_floor_div(since, length - back) + 1 : 0;
  return laps - (before >= 0 ? ls_floor_div(before, length - back) + 1 : 0);
}

/* Note that a mark fires, where there is room. */
static inline void ls_tell(int64_t *m, int64_t *z, int64_t *k, int64_t layer, int64_t cue) {
  if (k[0] < k[1]) {
    int64_t at = LS_TOLD + k[0] * LS_TOLD_SIZE;
    k[at] = z[LS_NOW_TICK];
    k[at + 1] = layer;
    k[at + 2] = m[cue + LS_CUE_MARK];
    k[at + 3] = ls_floor_div(cue - m[LS_HEAD_CUES], LS_CUE_SIZE);
    k[at + 4] = z[LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE + LS_PLAYER_STATE];
    k[at + 5] = z[LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE + LS_PLAYER_PICK];
  }
  k[0] += 1;
}

/* Effects; a pulse raised at_once is true for the rest of this tick, else throughout the next. */
static inline void ls_apply(int64_t *m, double *r, int64_t *z, double *v, int64_t begin, int64_t end, int at_once) {
  for (int64_t act = begin; act < end; act += LS_ACT_SIZE) {
    int64_t does = m[act + LS_ACT_DO], target = m[act + LS_ACT_TARGET];
    double value = r[act + LS_ACT_VALUE];
    if (does == LS_SET) v[target] = value;
    else if (does == LS_ADD) v[target] = ls_fitted(m, r, target, v[target] + value);
    else if (does == LS_RAISE) {
      if (at_once) v[target] = 1.0;
      else z[m[LS_HEAD_RAISED] + target] = 1;
    } else if (does == LS_LOCK) z[m[LS_HEAD_LOCKS] + target] = 1;
    else if (does == LS_UNLOCK) z[m[LS_HEAD_LOCKS] + target] = 0;
    else if (does == LS_FREEZE) z[LS_NOW_FREEZE] = ((int64_t)value > z[LS_NOW_FREEZE] ? (int64_t)value : z[LS_NOW_FREEZE]);
    else if (does == LS_MODE) v[m[LS_HEAD_PLACE] + LS_FIELDS_MODE] = value;
    else if (does == LS_PUSH) v[m[LS_HEAD_PLACE] + LS_FIELDS_PUSH] += value;
    else if (does == LS_PUSH_UP) v[m[LS_HEAD_PLACE] + LS_FIELDS_PUSH_UP] += value;
    ls_compute_formulas(m, r, z, v);
  }
}

/* The marks in (head, head + amount], in time order: again and again the next one. */
static inline void ls_fire(int64_t *m, double *r, int64_t *z, double *v, int64_t *k, int64_t layer, int64_t clip, int64_t head, int64_t amount) {
  int64_t length = m[clip + LS_CLIP_LENGTH], back = m[clip + LS_CLIP_BEGIN];
  int64_t last = -1, last_cue = -1;
  while (1) {
    int64_t best = -1, best_cue = -1;
    for (int64_t cue = m[clip + LS_CLIP_CUES]; cue < m[clip + LS_CLIP_CUES_END]; cue += LS_CUE_SIZE) {
      int64_t at = m[cue + LS_CUE_AT];
      int64_t laps = ls_passed(m, clip, at, head, amount);
      if (laps <= 0) continue;
      if (at == length && back == 0) at = 0;
      int64_t time = (back < 0 || at > head) ? at - head : at - head + length - back;
      for (int64_t again = 0; again < laps; again++) {
        if ((time > last || (time == last && cue > last_cue)) && (best < 0 || time < best)) {
          best = time;
          best_cue = cue;
          break;
        }
        time += length - back;
      }
    }
    if (best < 0) return;
    last = best;
    last_cue = best_cue;
    ls_tell(m, z, k, layer, best_cue);
    ls_apply(m, r, z, v, m[best_cue + LS_CUE_ACTS], m[best_cue + LS_CUE_ACTS_END], 1);
  }
}

/* A layer's stay goes up, its playhead steps, and the marks passed fire. */
static inline void ls_play_on(int64_t *m, double *r, int64_t *z, double *v, int64_t *k, int64_t layer) {
  int64_t player = LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE, state = ls_state_of(m, z, layer);
  z[player + LS_PLAYER_STAY] += 1;
  int64_t first = m[state + LS_STATE_SAMPLES];
  if (first == m[state + LS_STATE_SAMPLES_END]) return;
  int64_t before = z[player + LS_PLAYER_PICK], head = z[player + LS_PLAYER_HEAD];
  int64_t pick = ls_picked(m, r, v, state, before);
  int64_t clip = m[first + pick * LS_SAMPLE_SIZE + LS_SAMPLE_CLIP];
  int64_t length = m[clip + LS_CLIP_LENGTH], back = m[clip + LS_CLIP_BEGIN];
  if (pick != before) {
    head = ls_taken_over(m, state, before, pick, head);
    z[player + LS_PLAYER_PICK] = pick;
  }
  int64_t amount = ls_pace_of(m, r, v, clip);
  if (head + amount >= length && back >= 0) z[player + LS_PLAYER_OVER] = 1;
  z[player + LS_PLAYER_HEAD] = ls_folded(m, clip, head + amount);
  if (m[clip + LS_CLIP_GOES] != 0) {
    int64_t begin = m[clip + LS_CLIP_KEYS], end = m[clip + LS_CLIP_KEYS_END], place = m[LS_HEAD_PLACE];
    v[place + LS_FIELDS_TRAVEL] += ls_gone(r, begin, end, length, back, head, amount, LS_X);
    v[place + LS_FIELDS_TRAVEL_UP] += ls_gone(r, begin, end, length, back, head, amount, LS_Y);
    v[place + LS_FIELDS_TRAVELS] = (double)((int64_t)v[place + LS_FIELDS_TRAVELS] | m[clip + LS_CLIP_GOES]);
  }
  if (m[clip + LS_CLIP_CUES] < m[clip + LS_CLIP_CUES_END]) ls_fire(m, r, z, v, k, layer, clip, head, amount);
}

/* A press or a leaving a tick ago more; one that is too old for any condition to ask is forgotten. */
static inline void ls_older(int64_t *z, int64_t age, int64_t most) {
  if (z[age] >= 0) z[age] = z[age] + 1 < most ? z[age] + 1 : -1;
}

/* A memory's counter after a tick on which its operand was true or not (holds). */
static inline int64_t ls_counted(int64_t kind, int64_t counter, int64_t ticks, int holds) {
  if (kind == LS_HELD_FOR) return holds ? (ticks < counter + 1 ? ticks : counter + 1) : 0;
  return holds ? ticks : (0 > counter - 1 ? 0 : counter - 1);
}

/* Step 5: a press begins its age, other ages grow, and memories count; where nothing has changed, an operand that lasts is what
   it was, which the counters tell. */
static inline void ls_remember(int64_t *m, double *r, int64_t *z, double *v, int changed) {
  int64_t age = m[LS_HEAD_AGES];
  for (int64_t buffer = m[LS_HEAD_BUFFERS]; buffer < m[LS_HEAD_BUFFERS_END]; buffer += LS_BUFFER_SIZE) {
    int64_t parameter = m[buffer + LS_BUFFER_PARAMETER];
    if (v[parameter] != 0.0 && z[m[LS_HEAD_HELD] + parameter] == 0) z[age] = 0;
    else ls_older(z, age, m[buffer + LS_BUFFER_MOST]);
    age += 1;
  }
  age = m[LS_HEAD_SINCE];
  for (int64_t clock = m[LS_HEAD_CLOCKS]; clock < m[LS_HEAD_CLOCKS_END]; clock++) {
    ls_older(z, age, m[clock]);
    age += 1;
  }
  int64_t at = 0;
  for (int64_t memory = m[LS_HEAD_MEMORIES]; memory < m[LS_HEAD_MEMORIES_END]; memory += LS_MEMORY_SIZE) {
    int64_t counter = z[m[LS_HEAD_COUNTERS] + at], ticks = m[memory + LS_MEMORY_TICKS];
    int64_t kind = m[memory + LS_MEMORY_WITHIN];
    int holds = 0;
    if (changed || m[memory + LS_MEMORY_LASTS] == 0) holds = ls_run(m, r, z, v, m[memory + LS_MEMORY_PROGRAM]);
    else holds = kind == LS_HELD_FOR ? counter > 0 : counter >= ticks;
    counter = ls_counted(kind, counter, ticks, holds);
    z[m[LS_HEAD_REMEMBERED] + at] = kind == LS_SEEN_WITHIN ? counter > 0 : counter >= ticks;
    z[m[LS_HEAD_COUNTERS] + at] = counter;
    at += 1;
  }
}

/* Whether anything locks movement: a state that holds still, a span, or a named lock. */
static inline int ls_locked(int64_t *m, int64_t *z) {
  for (int64_t at = m[LS_HEAD_LOCKS]; at < m[LS_HEAD_SPANS]; at++) {
    if (z[at] != 0) return 1;
  }
  int spanned = m[LS_HEAD_WINDOWS] < m[LS_HEAD_WINDOWS_END];
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    if (m[ls_state_of(m, z, layer) + LS_STATE_STILL] != 0) return 1;
    if (!spanned) continue;
    int64_t clip = ls_clip_of(m, z, layer);
    if (clip < 0) continue;
    int64_t head = z[LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE + LS_PLAYER_HEAD];
    for (int64_t window = m[clip + LS_CLIP_WINDOWS]; window < m[clip + LS_CLIP_WINDOWS_END]; window += LS_WINDOW_SIZE) {
      if (m[window + LS_WINDOW_LOCK] != 0 && m[window + LS_WINDOW_START] <= head && head < m[window + LS_WINDOW_END]) return 1;
    }
  }
  return 0;
}

/* The spans of a layer's state that is left are over: flags that only they held go off. */
static inline void ls_end_spans(int64_t *m, double *r, int64_t *z, double *v, int64_t layer) {
  if (m[LS_HEAD_HOLDS] >= m[LS_HEAD_HOLDS_END]) return;
  ls_look(m, z, m[LS_HEAD_HELD_NOW], -1, layer);
  int ended = 0;
  for (int64_t one = m[LS_HEAD_HOLDS]; one < m[LS_HEAD_HOLDS_END]; one++) {
    if (z[m[LS_HEAD_HELD_BEFORE] + m[one]] != 0 && z[m[LS_HEAD_HELD_NOW] + m[one]] == 0) {
      v[m[one]] = 0.0;
      ended = 1;
    }
  }
  if (ended) ls_compute_formulas(m, r, z, v);
}

/* The number of the first axis of a state's that reads a parameter; -1: none. */
static inline int64_t ls_axis_like(int64_t *m, int64_t state, int64_t parameter) {
  int64_t number = 0;
  for (int64_t axis = m[state + LS_STATE_AXES]; axis < m[state + LS_STATE_AXES_END]; axis += LS_AXIS_SIZE) {
    if (parameter >= 0 && m[axis + LS_AXIS_PARAMETER] == parameter) return number;
    number += 1;
  }
  return -1;
}

/* The sample of a state that counts as picked before, when the sample pick was shown in the state left; -1: none. */
static inline int64_t ls_kept_from(int64_t *m, double *r, int64_t left, int64_t pick, int64_t state) {
  if (left < 0 || pick < 0 || m[left + LS_STATE_BLENDS] == 0 || m[state + LS_STATE_BLENDS] == 0) return -1;
  int64_t shown = m[LS_HEAD_PLACES] + m[m[left + LS_STATE_SAMPLES] + pick * LS_SAMPLE_SIZE + LS_SAMPLE_PLACES];
  int64_t number = 0;
  for (int64_t sample = m[state + LS_STATE_SAMPLES]; sample < m[state + LS_STATE_SAMPLES_END]; sample += LS_SAMPLE_SIZE) {
    int64_t place = m[LS_HEAD_PLACES] + m[sample + LS_SAMPLE_PLACES];
    int both = 0, same = 1;
    for (int64_t axis = m[state + LS_STATE_AXES]; axis < m[state + LS_STATE_AXES_END]; axis += LS_AXIS_SIZE) {
      int64_t old = ls_axis_like(m, left, m[axis + LS_AXIS_PARAMETER]);
      if (old >= 0) {
        double one = r[shown + old], two = r[place];
        both = 1;
        same = same && (one == two || (one != one && two != two));
      }
      place += 1;
    }
    if (!both) return -1;
    if (same) return number;
    number += 1;
  }
  return -1;
}

/* The marks at the very start of a clip that is entered there. */
static inline void ls_fire_first(int64_t *m, double *r, int64_t *z, double *v, int64_t *k, int64_t layer, int64_t clip) {
  int64_t length = m[clip + LS_CLIP_LENGTH], back = m[clip + LS_CLIP_BEGIN];
  for (int64_t cue = m[clip + LS_CLIP_CUES]; cue < m[clip + LS_CLIP_CUES_END]; cue += LS_CUE_SIZE) {
    if (m[cue + LS_CUE_AT] == 0 || (back == 0 && m[cue + LS_CUE_AT] == length)) {
      ls_tell(m, z, k, layer, cue);
      ls_apply(m, r, z, v, m[cue + LS_CUE_ACTS], m[cue + LS_CUE_ACTS_END], 0);
    }
  }
}

/* The layer's new state begins, at the same share of its clip as a head in a clip of old_length; left is the state before (-1:
   none), which showed the sample shown (-1: none). */
static inline void ls_enter(int64_t *m, double *r, int64_t *z, double *v, int64_t *k, int64_t layer, int64_t head, int64_t old_length, int64_t left, int64_t shown) {
  int64_t player = LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE, state = ls_state_of(m, z, layer);
  z[player + LS_PLAYER_HEAD] = 0;
  z[player + LS_PLAYER_PICK] = 0;
  z[player + LS_PLAYER_OVER] = 0;
  ls_apply(m, r, z, v, m[state + LS_STATE_ENTRY], m[state + LS_STATE_ENTRY_END], 0);
  int64_t first = m[state + LS_STATE_SAMPLES];
  if (first == m[state + LS_STATE_SAMPLES_END]) return;
  int64_t pick = ls_picked(m, r, v, state, ls_kept_from(m, r, left, shown, state));
  z[player + LS_PLAYER_PICK] = pick;
  int64_t clip = m[first + pick * LS_SAMPLE_SIZE + LS_SAMPLE_CLIP];
  if (head != 0 && old_length != 0) {
    z[player + LS_PLAYER_HEAD] = ls_folded(m, clip, ls_floor_div(head * m[clip + LS_CLIP_LENGTH], old_length));
  }
  if (z[player + LS_PLAYER_HEAD] == 0) ls_fire_first(m, r, z, v, k, layer, clip);
}

/* Take a transition: leave, change over, enter. */
static inline void ls_take(int64_t *m, double *r, int64_t *z, double *v, int64_t *k, int64_t layer, int64_t way) {
  ls_note_held(m, z);
  int64_t player = LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE, state = ls_state_of(m, z, layer);
  int64_t old = z[player + LS_PLAYER_STATE], target = m[way + LS_WAY_TARGET];
  int64_t pick = z[player + LS_PLAYER_PICK], head = z[player + LS_PLAYER_HEAD], length = 0;
  for (int64_t use = m[way + LS_WAY_USES]; use < m[way + LS_WAY_USES_END]; use += LS_USE_SIZE) {
    int64_t age = m[LS_HEAD_AGES] + m[use + LS_USE_BUFFER];
    if (z[age] < m[use + LS_USE_TICKS]) z[age] = -1;
  }
  int shown = m[state + LS_STATE_SAMPLES] < m[state + LS_STATE_SAMPLES_END];
  if (shown) length = m[m[m[state + LS_STATE_SAMPLES] + pick * LS_SAMPLE_SIZE + LS_SAMPLE_CLIP] + LS_CLIP_LENGTH];
  ls_apply(m, r, z, v, m[state + LS_STATE_LEAVE], m[state + LS_STATE_LEAVE_END], 0);
  ls_end_spans(m, r, z, v, layer);
  if (target != old && m[state + LS_STATE_CLOCK] >= 0) z[m[LS_HEAD_SINCE] + m[state + LS_STATE_CLOCK]] = 0;
  int fading = m[way + LS_WAY_FADE] > 0;
  z[player + LS_PLAYER_FADE_STATE] = fading ? old : 0;
  z[player + LS_PLAYER_FADE_PICK] = fading ? pick : 0;
  z[player + LS_PLAYER_FADE_HEAD] = fading ? head : 0;
  z[player + LS_PLAYER_FADE_LEFT] = fading ? m[way + LS_WAY_FADE] : -1;
  z[player + LS_PLAYER_FADE_BLOCKS] = fading ? m[way + LS_WAY_BLOCKS] : 0;
  z[player + LS_PLAYER_STATE] = target;
  z[player + LS_PLAYER_STAY] = 0;
  ls_enter(m, r, z, v, k, layer, m[way + LS_WAY_KEEP] != 0 ? head : 0, length, state, shown ? pick : -1);
  ls_see_spans(m, r, z, v, 0);
}

/* One tick, after inputs and body have been set; taken is told each layer's transition from place at on (-1: none). changed:
   values from outside are not all what they were on the tick before. */
static inline void ls_tick(int64_t *m, double *r, int64_t *z, double *v, int64_t *k, int changed, int64_t *taken, int64_t at) {
  int frozen = z[LS_NOW_FREEZE] > 0;
  ls_compute_formulas(m, r, z, v);
  for (int64_t pulse = m[LS_HEAD_PULSES]; pulse < m[LS_HEAD_PULSES_END]; pulse += LS_PULSE_SIZE) {
    z[m[LS_HEAD_RAISED] + m[pulse]] = 0;
  }
  ls_fade_on(m, z);
  if (frozen) {
    z[LS_NOW_FREEZE] -= 1;
    ls_see_spans(m, r, z, v, 0);
  } else {
    ls_count_down(m, r, z, v);
    ls_note_held(m, z);
    for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) ls_play_on(m, r, z, v, k, layer);
    ls_see_spans(m, r, z, v, 1);
  }
  ls_remember(m, r, z, v, changed);
  int still = ls_locked(m, z), moved = 0;
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    taken[at + layer] = -1;
    int64_t player = LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE;
    if (!frozen && (z[player + LS_PLAYER_FADE_LEFT] < 0 || z[player + LS_PLAYER_FADE_BLOCKS] == 0)) {
      int64_t state = ls_state_of(m, z, layer);
      for (int64_t way = m[state + LS_STATE_WAYS]; way < m[state + LS_STATE_WAYS_END]; way += LS_WAY_SIZE) {
        if (ls_run(m, r, z, v, m[way + LS_WAY_PROGRAM])) {
          taken[at + layer] = m[way + LS_WAY_NUMBER];
          ls_take(m, r, z, v, k, layer, way);
          moved = 1;
          break;
        }
      }
    }
  }
  for (int64_t button = m[LS_HEAD_BUTTONS]; button < m[LS_HEAD_BUTTONS_END]; button++) {
    z[m[LS_HEAD_HELD] + m[button]] = v[m[button]] != 0.0;
  }
  z[LS_NOW_LOCKED] = still || (moved && ls_locked(m, z));
  z[LS_NOW_TICK] += 1;
}

/* Enter every layer's start state, just before tick 0, in a situation of zeros. */
static inline void ls_enter_start(int64_t *m, double *r, int64_t *z, double *v, int64_t *k) {
  for (int64_t parameter = 0; parameter < m[LS_HEAD_PLACE]; parameter++) {
    v[parameter] = r[m[LS_HEAD_PARAMETERS] + parameter * LS_PARAMETER_SIZE + LS_PARAMETER_FIRST];
  }
  for (int64_t age = m[LS_HEAD_AGES]; age < m[LS_HEAD_HELD]; age++) z[age] = -1;
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) {
    int64_t player = LS_FIRST_PLAYER + layer * LS_PLAYER_SIZE;
    z[player + LS_PLAYER_FADE_LEFT] = -1;
    z[player + LS_PLAYER_STATE] = m[m[LS_HEAD_LAYERS] + layer * LS_LAYER_SIZE + LS_LAYER_START];
  }
  ls_compute_formulas(m, r, z, v);
  for (int64_t layer = 0; layer < m[LS_HEAD_LAYER_COUNT]; layer++) ls_enter(m, r, z, v, k, layer, 0, 0, -1, -1);
  ls_see_spans(m, r, z, v, 0);
  z[LS_NOW_LOCKED] = ls_locked(m, z);
}
/* -- printed until here -- */

/* the kinds of names, in the order of ls_kinds; LS_PARAMETERS is the first */
enum { LS_WORDS = 1, LS_LAYER_NAMES, LS_STATE_NAMES, LS_CLIP_NAMES, LS_FRAMES, LS_MARKS, LS_SPANS, LS_LOCKS, LS_MODES, LS_KINDS };
static const char *const ls_kinds[] = {"parameters", "words", "layers", "states", "clips",
                                       "frames", "marks", "spans", "locks", "modes"};

/* m and r are the table as the kernels read it; counts has the rows of each section */
typedef struct {
  int64_t *m;
  double *r;
  int64_t version, counts[LS_SECTION_COUNT], widths[LS_SECTION_COUNT];
  char **names[LS_KINDS];
  int64_t name_counts[LS_KINDS];
  double rate;
  const char *error; /* a sentence, where loading failed */
} ls_table;

typedef struct { int64_t state, stay, head, pick, over, fade_state, fade_pick, fade_head, fade_left, fade_blocks; } ls_layer;
typedef struct { int64_t tick, layer, mark, cue, state, pick; } ls_fired;
typedef struct {
  const ls_table *table;
  double *values;                                         /* of every parameter */
  ls_layer *layers;
  int64_t *taken;                                         /* the transition of each layer, -1: none */
  ls_fired *fired;                                        /* the marks that fired on this tick */
  int64_t fired_count;
  int64_t *on;                                            /* the spans, by name: 1 is on */
  int64_t locked, freeze;
  double travel_ahead, travel_up, mode, push_ahead, push_up; /* what is asked of the body on this tick */
  int64_t travels;
  int64_t state_mode, backward;                              /* what the states ask of it: how to move; against the facing? */
  double face, cap, fall_cap, wide, high;                    /* how fast to turn, at most, to fall; the box; 0: nothing */
  int64_t lowest;                                            /* the layer to begin to draw with; -1: nothing is shown */
  double shape_wide, shape_high, shape_tilt;                 /* how it is drawn (ls_shape): so many times as wide and high, degrees */
  int shape_whole;                                           /* whether its height is in whole pixels */
  double *given, *drawn, *due, *placed, *mixed;               /* placed: what ls_pins and the like have found, in rows */
  uint8_t *is_given;
  int64_t *counts, *told, *hits;                             /* hits: by layer what has met (ls_meet): 0 nothing, 1 a hit, 2 guarded */
} ls_figure;

/* Where a figure stands for contact, and how large a pixel of its drawings is; along: how much of a push to the right goes along its
 * facing, 1 or, of one that looks left, -1, or anything between for one that is seen from above. */
typedef struct { double x, y, wide, high, along; int left; } ls_place_at;
/* Where a pin point lies: pixels of the drawing from the figure's foot, and the bearing in which it points.  number: of its layer, or that
 * of the mark in fired. */
typedef struct { const char *name; int64_t number; double x, y, angle; int behind; } ls_pin;
/* An accessory: its frame, mirrored, and then turned by degrees clockwise about its own foot, which lies at x, y from the figure's; behind:
 * it is drawn before the layer with which it is, else after it. */
typedef struct { const char *name, *frame; int64_t layer; int behind, mirrored; double turn, x, y; } ls_pinned;

/* how a part of a layer's figure is moved in its parent, in pixels of the drawing to the right and up, then turned about its joint (degrees
 * clockwise), and how many times as wide and high it is, which comes first of all */
typedef struct { const char *name; int64_t layer; double x, y, turn, wide, high; } ls_part_pose;
/* What a strike does that has met (ls_contact). */
typedef struct { const char *clip; int guarded; int64_t stun, freeze; double strength, push; } ls_struck;

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

/* the rows of a section, as numbers one after another */
static inline double *ls_read_section(ls_reader *r, int section, int64_t *counted, int64_t *read) {
  const char *look = r->at;
  int64_t count = 0, row = 0, width = LS_WIDTHS[section];
  double *cells;
  for (int depth = 0; look < r->end; look++) {
    if (*look == '[' && ++depth == 2) count++;
    if (*look == ']' && --depth <= 0) break;
  }
  *counted = 0;
  cells = (double *)ls_room(r, (size_t)(count * width) * sizeof(double) + 1);
  if (!ls_want(r, '[') || ls_next(r, ']')) return cells;
  do {
    if (row >= count) ls_fail(r, LS_DAMAGED);
    if (!ls_want(r, '[') || r->error) return cells;
    for (int64_t at = 0; at < width; at++) cells[row * width + at] = 0.0;
    for (int64_t at = 0; at < width && !r->error; at++) {
      cells[row * width + at] = ls_number(r);
      if (at + 1 < width && ls_next(r, ',')) continue;
      if (!ls_next(r, ']') || (*read && *read != at + 1)) ls_fail(r, LS_DAMAGED);
      *read = at + 1;
      break;
    }
    *counted = ++row;
  } while (ls_next(r, ','));
  ls_want(r, ']');
  return cells;
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

static inline void ls_read_columns(ls_reader *r, const char *rest, int64_t *count) {
  if (!ls_want(r, '[')) return;
  for (*count = 1; ; (*count)++) {
    const char *name = ls_string(r, 1);
    size_t length = name ? strlen(name) : 0;
    if (!length || strncmp(rest, name, length) || (rest[length] && rest[length] != ' ')) { ls_fail(r, LS_OTHER); return; }
    rest += length + (rest[length] == ' ');
    if (!ls_next(r, ',')) break;
  }
  ls_want(r, ']');
}

/* Reads the members of an object: of the table itself (what 0), its names (1), columns (2), sections (3) or says (4); which there are. */
static inline int64_t ls_read(ls_reader *r, ls_table *t, int what, int64_t *version, double **cells, int64_t *columns) {
  static const char *const own[] = {"leanstep_table", "name", "rate", "names", "says", "columns", "sections"};
  const int64_t first = ((int64_t)1 << (LS_PROGRAMS + 1)) - 1, wanted[] = {127, (1 << LS_KINDS) - 1, first, first, 3};
  int64_t seen = 0;
  if (!ls_next(r, '{')) return ls_fail(r, what ? LS_DAMAGED : "this is no table of Lean Step: export one with  lean-step export FILE --to table");
  if (ls_next(r, '}')) return ls_fail(r, LS_DAMAGED);
  do {
    const char *key = ls_string(r, 1);
    int at = 0, known = -1;
    ls_want(r, ':');
    for (at = 0; what == 0 && at < 7; at++) if (ls_is(key, own[at])) known = at;
    for (at = 0; what == 1 && at < LS_KINDS; at++) if (ls_is(key, ls_kinds[at])) known = at;
    for (at = 0; (what == 2 || what == 3) && at < LS_SECTION_COUNT; at++) if (ls_is(key, ls_columns[at][0])) known = at;
    if (what == 4) known = ls_is(key, "cues") ? 0 : ls_is(key, "windows") ? 1 : -1;
    if (r->error || known < 0) { ls_skip(r, 0, 0); continue; }
    seen |= (int64_t)1 << known;
    if (what == 1) ls_read_names(r, t, known);
    else if (what == 2) ls_read_columns(r, ls_columns[known][1], &columns[known]);
    else if (what == 3) ls_next(r, ' '), cells[known] = ls_read_section(r, known, &t->counts[known], &t->widths[known]);
    else if (what == 4) ls_skip(r, 0, 2);
    else if (known == 0) {
      double number = ls_number(r);
      *version = number >= 1.0 && number <= 1e6 && floor(number) == number ? (int64_t)number : -1;
      if (*version > LS_VERSION) ls_fail(r, "the table is newer than this player: take the player beside it");
    } else if (known == 1) ls_string(r, 0);
    else if (known == 2) t->rate = ls_number(r);
    else ls_read(r, t, known == 3 ? 1 : known == 4 ? 4 : known == 5 ? 2 : 3, version, cells, columns);
  } while (ls_next(r, ','));
  ls_want(r, '}');
  if (!r->error && what == 0 && *version < 1) ls_fail(r, "this is no table of Lean Step: export one with  lean-step export FILE --to table");
  return (seen & wanted[what]) == wanted[what] || ls_fail(r, LS_DAMAGED);
}

/* Lays out what has been read; whether the table is whole. */
static inline int ls_lay_out(ls_reader *r, ls_table *t, double **sections) {
  int64_t rows[LS_SECTION_COUNT], total = ls_rows_of(t->counts, rows), *room;
  double *cells = (double *)ls_room(r, (size_t)total * sizeof(double) + 1);
  size_t size = (size_t)ls_laid_size(t->counts);
  room = (int64_t *)ls_room(r, (size_t)t->counts[LS_PROGRAMS] * 4 * sizeof(int64_t) + 1);
  t->m = (int64_t *)ls_room(r, size * sizeof(int64_t));
  t->r = (double *)ls_room(r, size * sizeof(double));
  if (r->error) return 1;
  for (int at = 0; at < LS_SECTION_COUNT; at++)
    if (t->counts[at]) memcpy(cells + rows[at], sections[at], (size_t)(t->counts[at] * LS_WIDTHS[at]) * sizeof(double));
  if (!isfinite(t->rate) || t->rate <= 0.0) return 0;
  if (ls_wrong_cell(cells, t->counts, t->name_counts) >= 0 || !ls_agrees(cells, t->counts, t->name_counts, rows, room)) return 0;
  memset(t->m, 0, size * sizeof(int64_t));
  memset(t->r, 0, size * sizeof(double));
  ls_lay(cells, t->counts, t->name_counts, t->m, t->r);
  return 1;
}

/* The most bytes a table of so many characters of text needs. */
static inline size_t ls_table_size(size_t length) { return length * 32 + 65536; }

/* Reads a table; 0 and table->error where that fails. */
static inline int ls_load(ls_table *t, const char *text, size_t length, void *memory, size_t size) {
  ls_reader r = {text, text + length, (char *)memory, (char *)memory + size, NULL};
  int64_t version = -1, columns[LS_SECTION_COUNT] = {0};
  double *cells[LS_SECTION_COUNT];
  memset(t, 0, sizeof *t);
  for (int at = 0; at < LS_SECTION_COUNT; at++) t->counts[at] = -1;
  ls_read(&r, t, 0, &version, cells, columns);
  t->version = version;
  for (int at = 0; at < LS_SECTION_COUNT && !r.error; at++) {
    int64_t width = version < LS_VERSION ? LS_OLDER_WIDTHS[version - 1][at] : LS_WIDTHS[at];
    if (!width) t->counts[at] = 0; /* there was no such section then */
    else if (columns[at] != width) ls_fail(&r, LS_OTHER);
    else if (t->counts[at] < 0 || (t->counts[at] && t->widths[at] != width)) ls_fail(&r, LS_DAMAGED);
  }
  ls_next(&r, ' ');
  if (!r.error && r.at != r.end) ls_fail(&r, LS_BROKEN);
  if (!r.error && !ls_lay_out(&r, t, cells)) ls_fail(&r, LS_DAMAGED);
  t->error = r.error;
  return !r.error;
}

/* The number of a name; -1 where there is none. */
static inline int ls_find(const ls_table *t, int kind, const char *name) {
  for (int64_t at = 0; at < t->name_counts[kind]; at++)
    if (ls_is(t->names[kind][at], name)) return (int)at;
  return -1;
}

/* Who sets a parameter: from LS_GRAPH on the character itself. */
static inline int64_t ls_owner(const ls_table *t, int64_t parameter) {
  return t->m[t->m[LS_HEAD_PARAMETERS] + parameter * LS_PARAMETER_SIZE + LS_PARAMETER_OWNER];
}

/* -- what the game says --------------------------------------------------------------------------------------------------- */

/* Sets what the game, the controls or the body sets, by its number (ls_find); it is kept until it is set again, a pulse for one
 * tick.  A choice is the number of its word. */
static inline void ls_set(ls_figure *f, int parameter, double value) {
  if (parameter < 0 || parameter >= f->table->counts[LS_PARAMETERS] || ls_owner(f->table, parameter) >= LS_GRAPH) return;
  f->given[parameter] = ls_fitted(f->table->m, f->table->r, parameter, value);
  f->is_given[parameter] = 1;
}

static inline void ls_push(ls_figure *f, int stick, double x, double y) {
  const int64_t *one = f->table->m + f->table->m[LS_HEAD_STICKS];
  if (stick < 0 || stick >= f->table->counts[LS_STICKS]) return;
  one += stick * LS_STICK_SIZE;
  ls_set(f, (int)one[0], x);
  ls_set(f, (int)one[1], y);
  ls_set(f, (int)one[2], ls_push_of(x, y));
  ls_set(f, (int)one[3], ls_bearing_of(x, y));
}

/* -- what the game is told ------------------------------------------------------------------------------------------------ */

/* The number of the cel a layer shows, counted from the clip's first; -1: none. */
static inline int64_t ls_cel(const ls_figure *f, int64_t layer) {
  return ls_cel_of(f->table->m, f->table->r, f->counts, f->values, layer);
}

/* The name of the frame a layer shows of a figure that looks right, or left; NULL: none.  mirrored, and then turns (quarter turns
 * clockwise): where they are wanted. */
static inline const char *ls_frame_to(const ls_figure *f, int64_t layer, int left, int64_t *mirrored, int64_t *turns) {
  int64_t cel = ls_cel(f, layer), *m = f->table->m;
  if (cel < 0) return NULL;
  if (mirrored) *mirrored = ls_is_mirrored(m, f->counts, layer, cel, left);
  if (turns) *turns = ls_quarter_turns(m, f->counts, layer, cel, left);
  return f->table->names[LS_FRAMES][ls_frame_of(m, f->table->r, f->counts, f->values, layer, cel)];
}

/* The same of a figure that looks right. */
static inline const char *ls_frame(const ls_figure *f, int64_t layer, int64_t *mirrored, int64_t *turns) {
  return ls_frame_to(f, layer, 0, mirrored, turns);
}

/* How far a path that moves only the drawing of a layer has taken it, ahead (LS_X) or up (LS_Y). */
static inline double ls_drawn_aside(const ls_figure *f, int64_t layer, int which) {
  return ls_aside(f->table->m, f->table->r, f->counts, layer, which);
}

/* The pin points of what is seen of a figure that looks right, or left, as it is drawn since ls_shape was called last, from the back to
 * the front: how many; each is ls_pin_at. */
static inline int64_t ls_pins(ls_figure *f, int left) {
  return ls_list_pins(f->table->m, f->table->r, f->counts, f->values, left, f->shape_wide, f->shape_high, f->shape_tilt, f->placed);
}

/* Where the marks that fired did, of those that name a pin point: how many; each is ls_pin_at. */
static inline int64_t ls_mark_pins(ls_figure *f, int left) {
  return ls_list_places(f->table->m, f->table->r, f->told, left, f->shape_wide, f->shape_high, f->shape_tilt, f->placed);
}

static inline ls_pin ls_pin_at(const ls_figure *f, int64_t at) {
  const double *row = f->placed + at * LS_PLACED_SIZE;
  ls_pin made = {f->table->names[LS_WORDS][(int64_t)row[LS_PLACED_PIN]], (int64_t)row[LS_PLACED_NUMBER], row[LS_PLACED_X],
                 row[LS_PLACED_Y], row[LS_PLACED_ANGLE], row[LS_PLACED_BEHIND] != 0.0};
  return made;
}

/* The accessories that are seen: how many; each is ls_accessory_at. */
static inline int64_t ls_accessories(ls_figure *f, int left) {
  return ls_list_pinned(f->table->m, f->table->r, f->counts, f->values, left, f->shape_wide, f->shape_high, f->shape_tilt, f->placed);
}

static inline ls_pinned ls_accessory_at(const ls_figure *f, int64_t at) {
  const double *row = f->placed + at * LS_PINNED_SIZE;
  ls_pinned made = {f->table->names[LS_WORDS][(int64_t)row[LS_PINNED_NAME]], f->table->names[LS_FRAMES][(int64_t)row[LS_PINNED_FRAME]],
                    (int64_t)row[LS_PINNED_LAYER], row[LS_PINNED_BEHIND] != 0.0, row[LS_PINNED_MIRRORED] != 0.0, row[LS_PINNED_TURN],
                    row[LS_PINNED_X], row[LS_PINNED_Y]};
  return made;
}

/* How the parts are moved of what is seen and drawn from parts, layer by layer from the back to the front, parents first, and mixed where
 * samples of a blend space mix: how many; each is ls_part_at. */
static inline int64_t ls_parts(ls_figure *f, int left) {
  return ls_list_parts(f->table->m, f->table->r, f->counts, f->values, left, f->mixed, f->placed);
}

static inline ls_part_pose ls_part_at(const ls_figure *f, int64_t at) {
  const double *row = f->placed + at * LS_PARTED_SIZE;
  ls_part_pose made = {f->table->names[LS_WORDS][(int64_t)row[LS_PARTED_PART]], (int64_t)row[LS_PARTED_LAYER], row[LS_PARTED_X],
                       row[LS_PARTED_Y], row[LS_PARTED_TURN], row[LS_PARTED_WIDE], row[LS_PARTED_HIGH]};
  return made;
}

static inline void ls_show(ls_figure *f) {
  int64_t *m = f->table->m, *z = f->counts;
  double *r = f->table->r, *asked = f->values + m[LS_HEAD_PLACE];
  f->fired_count = f->told[0] < f->told[1] ? f->told[0] : f->told[1];
  f->locked = f->counts[LS_NOW_LOCKED], f->freeze = f->counts[LS_NOW_FREEZE];
  f->travel_ahead = asked[LS_FIELDS_TRAVEL], f->travel_up = asked[LS_FIELDS_TRAVEL_UP];
  f->travels = (int64_t)asked[LS_FIELDS_TRAVELS], f->mode = asked[LS_FIELDS_MODE];
  f->push_ahead = asked[LS_FIELDS_PUSH], f->push_up = asked[LS_FIELDS_PUSH_UP];
  f->state_mode = ls_requested_mode(m, z), f->backward = ls_goes_backward(m, z), f->face = ls_requested(m, r, z, LS_STATE_FACE);
  f->cap = ls_requested(m, r, z, LS_STATE_CAP), f->fall_cap = ls_requested(m, r, z, LS_STATE_FALL);
  f->wide = ls_requested(m, r, z, LS_STATE_WIDE), f->high = ls_requested(m, r, z, LS_STATE_HIGH);
  f->lowest = ls_lowest_seen(m, r, z, f->values);
}

static inline void ls_show_shape(ls_figure *f) {
  f->shape_wide = f->drawn[LS_DRAWN_WIDE], f->shape_high = f->drawn[LS_DRAWN_HIGH], f->shape_tilt = f->drawn[LS_DRAWN_TILT];
  f->shape_whole = f->drawn[LS_DRAWN_WHOLE] != 0.0;
}

/* One tick with what has been set. */
static inline void ls_step(ls_figure *f) {
  const ls_table *t = f->table;
  ls_open_tick(t->m, f->counts, f->values);
  ls_raise_due(t->m, t->r, f->values, f->due);
  for (int64_t at = 0; at < t->counts[LS_PARAMETERS]; at++) if (f->is_given[at]) f->values[at] = f->given[at];
  memset(f->is_given, 0, (size_t)t->counts[LS_PARAMETERS]);
  f->told[0] = 0;
  ls_keep_bearings(t->m, f->values);
  ls_forget_asked(t->m, f->values);
  ls_tick(t->m, t->r, f->counts, f->values, f->told, 1, f->taken, 0);
  ls_settle(t->m, f->counts, f->values, f->due);
  ls_show(f);
}

/* How the figure is drawn, in shape_wide, shape_high, shape_tilt and shape_whole; called once after each step, with what the body does:
 * its velocity to the right (seen from above: its speed) and up, in units a second, where it looks, as a bearing (90 is right, 270 left),
 * and whether it stands. */
static inline void ls_shape(ls_figure *f, double velocity, double up, double facing, int grounded) {
  ls_follow_shape(f->table->m, f->table->r, f->counts, f->told, f->taken, f->drawn, velocity, up, ls_reduced(facing), grounded);
  ls_show_shape(f);
}

/* What touches, called once after both figures have done a tick; spent are as many numbers as each has layers, 0 at first and kept for
 * these two.  hits of each tells its strikes that have met; what that raises on both comes on their next tick, and so does the push. */
static inline int ls_touch(ls_figure *f, ls_place_at at, int64_t *spent, ls_figure *o, ls_place_at to, int64_t *other_spent) {
  double edges[8];
  return ls_meet(f->table->m, f->table->r, f->counts, f->values, f->taken, at.left, at.along, at.x, at.y, at.wide, at.high, spent,
                 f->hits, f->due, o->table->m, o->table->r, o->counts, o->values, o->taken, to.left, to.along, to.x, to.y, to.wide,
                 to.high, other_spent, o->hits, o->due, edges);
}

/* What the strike of a layer does, where hits says that it has met. */
static inline ls_struck ls_contact(const ls_figure *f, int64_t layer) {
  const int64_t *m = f->table->m, clip = ls_clip_of(f->table->m, f->counts, layer), hits = f->hits[layer] == 1;
  ls_struck made = {NULL, f->hits[layer] == 2, 0, 0, 0.0, 0.0};
  if (clip < 0 || !f->hits[layer]) return made;
  made.clip = f->table->names[LS_CLIP_NAMES][(clip - m[LS_HEAD_CLIPS]) / LS_CLIP_SIZE];
  made.stun = m[clip + (hits ? LS_CLIP_STUN : LS_CLIP_GUARD_STUN)], made.freeze = m[clip + LS_CLIP_FREEZE];
  made.strength = f->table->r[clip + LS_CLIP_STRENGTH], made.push = f->table->r[clip + LS_CLIP_PUSH];
  return made;
}

/* -- beginning ------------------------------------------------------------------------------------------------------------ */

/* The most numbers of ls_pins, ls_mark_pins and ls_accessories. */
static inline int64_t ls_most_placed(const ls_table *t) {
  int64_t pins = t->counts[LS_LAYERS] * ((t->m[LS_HEAD_SPOTS_END] - t->m[LS_HEAD_SPOTS]) / LS_SPOT_SIZE) * LS_PLACED_SIZE;
  int64_t pinned = t->counts[LS_LAYERS] * t->counts[LS_ACCESSORIES] * LS_PINNED_SIZE;
  int64_t marks = pins ? t->m[LS_HEAD_MOST_TOLD] * LS_PLACED_SIZE : 0;
  int64_t parts = ls_most_parts(t->m) * LS_PARTED_SIZE, most = pins > pinned ? pins : pinned;
  most = most > marks ? most : marks;
  return most > parts ? most : parts;
}

/* The parts of a figure one after another; with nowhere to put them, only how much room they need. */
static inline size_t ls_laid(const ls_table *t, char *to) {
  ls_figure none, *f = to ? (ls_figure *)to : &none;
  size_t at = sizeof(ls_figure);
#define LS_PART(type, field, count) \
  at = (at + 15) & ~(size_t)15; \
  if (to) f->field = (type *)(to + at); \
  at += (size_t)((count) + 1) * sizeof(type)
  LS_PART(double, values, t->m[LS_HEAD_VALUES]);
  LS_PART(double, given, t->counts[LS_PARAMETERS]);
  LS_PART(double, drawn, LS_DRAWN_SIZE + t->counts[LS_LAYERS]);
  LS_PART(double, due, LS_DUE_SIZE);
  LS_PART(double, placed, ls_most_placed(t));
  LS_PART(double, mixed, 2 * t->counts[LS_SAMPLES]);
  LS_PART(int64_t, hits, t->counts[LS_LAYERS]);
  LS_PART(uint8_t, is_given, t->counts[LS_PARAMETERS]);
  LS_PART(int64_t, counts, t->m[LS_HEAD_COUNTS]);
  LS_PART(int64_t, taken, t->counts[LS_LAYERS]);
  LS_PART(int64_t, told, LS_TOLD + LS_TOLD_SIZE * t->m[LS_HEAD_MOST_TOLD]);
#undef LS_PART
  return at + 16;
}

/* The bytes one figure needs. */
static inline size_t ls_figure_size(const ls_table *t) { return ls_laid(t, NULL); }

/* A figure just before tick 0, in memory of ls_figure_size bytes. */
static inline ls_figure *ls_begin(const ls_table *t, void *memory) {
  ls_figure *f = (ls_figure *)memory;
  memset(memory, 0, ls_figure_size(t));
  ls_laid(t, (char *)memory);
  f->table = t;
  f->layers = (ls_layer *)(f->counts + LS_FIRST_PLAYER);
  f->fired = (ls_fired *)(f->told + LS_TOLD);
  f->on = f->counts + t->m[LS_HEAD_SPANS];
  f->told[1] = t->m[LS_HEAD_MOST_TOLD];
  for (int64_t at = 0; at < t->counts[LS_LAYERS]; at++) f->taken[at] = -1;
  ls_enter_start(t->m, t->r, f->counts, f->values, f->told);
  ls_begin_shape(t->m, t->r, f->counts, f->drawn);
  ls_show(f), ls_show_shape(f);
  return f;
}

#endif
