-- Plays a character from its table (NAME.table.json), tick for tick and bit for bit as Lean Step does.
--
-- One file for Lua 5.4 (doubles and whole numbers of 64 bits), without modules of others:
--
--     local leanstep = require("leanstep_player")
--     local hero = leanstep.player(leanstep.load("hero.table.json"))
--     hero:hold("jump", true)              -- buttons; hero:push("stick", 1, 0) for sticks
--     hero:set("speed", 3.5)               -- what your game and your physics set; hero:pulse("hurt")
--     hero:step()                          -- once a tick
--     hero:frame("base")                   -- what to draw: clip, cel, frame; nil: nothing
--     hero:marks(); hero:spans(); hero:locked(); hero:asked()
--
-- What is wrong with a table, or with what a player is asked, is an error whose message is a sentence.

local K = {}

-- To the nearest whole number, halves to the even one.
function K.rounded(value)
  local below = value // 1
  local over = value - below
  if over > 0.5 or (over == 0.5 and below % 2 ~= 0) then return below + 1.0 end
  return below
end

function K.floor(value) return value // 1 end

-- -- printed from the kernels of the tick --
K.COLUMNS = {
  { "parameters", "kind owner first low high" },
  { "sticks", "x y push bearing" },
  { "layers", "start states states_end" },
  { "states", "ways ways_end entry entry_end leave leave_end samples samples_end axes axes_end blends sticky clock still clear turned mode backward face cap fall wide high shapes shapes_end last_shapes last_shapes_end worn worn_end moved moved_end mix_cells mix_cells_end mix_edges mix_edges_end" },
  { "ways", "number target program program_end fade blocks keep uses uses_end shapes shapes_end" },
  { "uses", "buffer ticks" },
  { "acts", "do target value" },
  { "samples", "clip phase places mirrored" },
  { "axes", "parameter round low high step" },
  { "places", "value" },
  { "clips", "length begin vanishes pace at low high cues cues_end windows windows_end pieces pieces_end cels cels_end resting goes keys keys_end actives actives_end reach stun guard_stun freeze strength push" },
  { "cues", "at mark acts acts_end shapes shapes_end cel spots spots_end" },
  { "windows", "start end hold lock span" },
  { "pieces", "start cel" },
  { "cels", "frame mirrored turns looks rects rects_end spots spots_end" },
  { "keys", "at x y ease" },
  { "memories", "within ticks program program_end" },
  { "buffers", "parameter most" },
  { "clocks", "most" },
  { "formulas", "parameter program program_end" },
  { "holds", "parameter" },
  { "programs", "op a b value" },
  { "squashes", "high wide over hold back every by_fall recent whole" },
  { "leans", "speeding turning most share dt signed" },
  { "shapes", "do which" },
  { "countdowns", "parameter" },
  { "actives", "start end window" },
  { "rects", "kind left bottom width height" },
  { "contact", "guards guards_end hit guarded stun strength lands stopped" },
  { "costumes", "parameter value dressed dressed_end" },
  { "dressed", "frame by" },
  { "spots", "pin x y angle behind" },
  { "accessories", "name pin shown shown_end clip clip_end frame angle order" },
  { "moved", "parameter value" },
  { "mix_places", "x y mix_shares mix_shares_end" },
  { "mix_shares", "sample share" },
  { "mix_cells", "first second third" },
  { "mix_edges", "first second" },
  { "posed", "frame figure poses poses_end" },
  { "poses", "part x y turn wide high" },
}
K.NAMED = { "parameters", "words", "layers", "states", "clips", "frames", "marks", "spans", "locks", "modes" }
K.OLDER_WIDTHS = { { 5, 4, 3, 14, 9, 2, 3, 3, 5, 1, 19, 4, 5, 2, 3, 4, 4, 2, 1, 3, 1, 4, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0 }, { 5, 4, 3, 23, 9, 2, 3, 4, 5, 1, 19, 4, 5, 2, 4, 4, 4, 2, 1, 3, 1, 4, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0 }, { 5, 4, 3, 27, 11, 2, 3, 4, 5, 1, 19, 6, 5, 2, 4, 4, 4, 2, 1, 3, 1, 4, 9, 6, 2, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0 }, { 5, 4, 3, 27, 11, 2, 3, 4, 5, 1, 27, 6, 5, 2, 6, 4, 4, 2, 1, 3, 1, 4, 9, 6, 2, 1, 3, 5, 8, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0 }, { 5, 4, 3, 29, 11, 2, 3, 4, 5, 1, 27, 6, 5, 2, 6, 4, 4, 2, 1, 3, 1, 4, 9, 6, 2, 1, 3, 5, 8, 4, 2, 0, 0, 0, 0, 0, 0, 0, 0, 0 }, { 5, 4, 3, 31, 11, 2, 3, 4, 5, 1, 27, 9, 5, 2, 8, 4, 4, 2, 1, 3, 1, 4, 9, 6, 2, 1, 3, 5, 8, 4, 2, 5, 9, 2, 0, 0, 0, 0, 0, 0 } }
K.ACCESSORY_NAME, K.ACCESSORY_PIN, K.ACCESSORY_SHOWN, K.ACCESSORY_SHOWN_END = 0, 1, 2, 3
K.ACCESSORY_CLIP, K.ACCESSORY_CLIP_END, K.ACCESSORY_FRAME, K.ACCESSORY_ANGLE = 4, 5, 6, 7
K.ACCESSORY_ORDER, K.ACCESSORY_SIZE, K.ACT_DO, K.ACT_TARGET = 8, 9, 0, 1
K.ACT_VALUE, K.ACT_SIZE, K.ACTIVE_START, K.ACTIVE_END = 2, 3, 0, 1
K.ACTIVE_WINDOW, K.ACTIVE_SIZE, K.AXIS_PARAMETER, K.AXIS_ROUND = 2, 3, 0, 1
K.AXIS_LOW, K.AXIS_HIGH, K.AXIS_STEP, K.AXIS_SIZE = 2, 3, 4, 5
K.BUFFER_PARAMETER, K.BUFFER_MOST, K.BUFFER_SIZE, K.CEL_FRAME = 0, 1, 2, 0
K.CEL_MIRRORED, K.CEL_TURNS, K.CEL_LOOKS, K.CEL_RECTS = 1, 2, 3, 4
K.CEL_RECTS_END, K.CEL_SPOTS, K.CEL_SPOTS_END, K.CEL_SIZE = 5, 6, 7, 8
K.CLIP_LENGTH, K.CLIP_BEGIN, K.CLIP_VANISHES, K.CLIP_PACE = 0, 1, 2, 3
K.CLIP_AT, K.CLIP_LOW, K.CLIP_HIGH, K.CLIP_CUES = 4, 5, 6, 7
K.CLIP_CUES_END, K.CLIP_WINDOWS, K.CLIP_WINDOWS_END, K.CLIP_PIECES = 8, 9, 10, 11
K.CLIP_PIECES_END, K.CLIP_CELS, K.CLIP_CELS_END, K.CLIP_RESTING = 12, 13, 14, 15
K.CLIP_GOES, K.CLIP_KEYS, K.CLIP_KEYS_END, K.CLIP_ACTIVES = 16, 17, 18, 19
K.CLIP_ACTIVES_END, K.CLIP_REACH, K.CLIP_STUN, K.CLIP_GUARD_STUN = 20, 21, 22, 23
K.CLIP_FREEZE, K.CLIP_STRENGTH, K.CLIP_PUSH, K.CLIP_SIZE = 24, 25, 26, 27
K.COMPARE_STACK, K.CONTACT_GUARDS, K.CONTACT_GUARDS_END, K.CONTACT_HIT = 19, 0, 1, 2
K.CONTACT_GUARDED, K.CONTACT_STUN, K.CONTACT_STRENGTH, K.CONTACT_LANDS = 3, 4, 5, 6
K.CONTACT_STOPPED, K.CONTACT_SIZE, K.COSTUME_PARAMETER, K.COSTUME_VALUE = 7, 8, 0, 1
K.COSTUME_DRESSED, K.COSTUME_DRESSED_END, K.COSTUME_SIZE, K.CUE_AT = 2, 3, 4, 0
K.CUE_MARK, K.CUE_ACTS, K.CUE_ACTS_END, K.CUE_SHAPES = 1, 2, 3, 4
K.CUE_SHAPES_END, K.CUE_CEL, K.CUE_SPOTS, K.CUE_SPOTS_END = 5, 6, 7, 8
K.CUE_SIZE, K.DRAWN_WIDE, K.DRAWN_HIGH, K.DRAWN_TILT = 9, 0, 1, 2
K.DRAWN_WHOLE, K.DRAWN_SQUASH, K.DRAWN_HOLDER, K.DRAWN_AMOUNT = 3, 4, 5, 6
K.DRAWN_SINCE, K.DRAWN_FREED, K.DRAWN_FROM_WIDE, K.DRAWN_FROM_HIGH = 7, 8, 9, 10
K.DRAWN_LEANING, K.DRAWN_FALL, K.DRAWN_LANDED, K.DRAWN_VELOCITY = 11, 12, 13, 14
K.DRAWN_UP, K.DRAWN_FACING, K.DRAWN_GROUNDED, K.DRAWN_FREEZE = 15, 16, 17, 18
K.DRAWN_SIZE, K.DRESSED_FRAME, K.DRESSED_BY, K.DRESSED_SIZE = 19, 0, 1, 2
K.DUE_ANY, K.DUE_FREEZE, K.DUE_PUSH, K.DUE_HIT = 0, 1, 2, 3
K.DUE_GUARDED, K.DUE_STUN, K.DUE_STRENGTH, K.DUE_LANDS = 4, 5, 6, 7
K.DUE_STOPPED, K.DUE_SIZE, K.FIELDS_MODE, K.FIELDS_PUSH = 8, 9, 22, 23
K.FIELDS_PUSH_UP, K.FIELDS_TRAVEL, K.FIELDS_TRAVEL_UP, K.FIELDS_TRAVELS = 24, 30, 31, 32
K.FIRST_PLAYER, K.FORMULA_PARAMETER, K.FORMULA_PROGRAM, K.FORMULA_PROGRAM_END = 3, 0, 1, 2
K.FORMULA_SIZE, K.FROM_TO, K.GUARD_BOX, K.HEAD_PARAMETERS = 3, 4, 2, 0
K.HEAD_STICKS, K.HEAD_STICKS_END, K.HEAD_LAYERS, K.HEAD_LAYERS_END = 2, 3, 4, 5
K.HEAD_STATES, K.HEAD_WAYS, K.HEAD_WAYS_END, K.HEAD_PLACES = 6, 8, 9, 18
K.HEAD_CLIPS, K.HEAD_CUES, K.HEAD_WINDOWS, K.HEAD_WINDOWS_END = 20, 22, 24, 25
K.HEAD_MEMORIES, K.HEAD_MEMORIES_END, K.HEAD_BUFFERS, K.HEAD_BUFFERS_END = 32, 33, 34, 35
K.HEAD_CLOCKS, K.HEAD_CLOCKS_END, K.HEAD_FORMULAS, K.HEAD_FORMULAS_END = 36, 37, 38, 39
K.HEAD_HOLDS, K.HEAD_HOLDS_END, K.HEAD_SQUASHES, K.HEAD_SQUASHES_END = 40, 41, 44, 45
K.HEAD_LEANS, K.HEAD_LEANS_END, K.HEAD_COUNTDOWNS, K.HEAD_COUNTDOWNS_END = 46, 47, 50, 51
K.HEAD_CONTACT, K.HEAD_CONTACT_END, K.HEAD_COSTUMES, K.HEAD_COSTUMES_END = 56, 57, 58, 59
K.HEAD_SPOTS, K.HEAD_SPOTS_END, K.HEAD_ACCESSORIES, K.HEAD_ACCESSORIES_END = 62, 63, 64, 65
K.HEAD_POSED, K.HEAD_POSED_END, K.HEAD_PULSES, K.HEAD_PULSES_END = 76, 77, 80, 81
K.HEAD_BUTTONS, K.HEAD_BUTTONS_END, K.HEAD_LAYER_COUNT, K.HEAD_COUNTERS = 82, 83, 84, 85
K.HEAD_AGES, K.HEAD_SINCE, K.HEAD_HELD, K.HEAD_RAISED = 86, 87, 88, 89
K.HEAD_LOCKS, K.HEAD_SPANS, K.HEAD_SPANS_END, K.HEAD_REMEMBERED = 90, 91, 92, 93
K.HEAD_HELD_NOW, K.HEAD_HELD_BEFORE, K.HEAD_CHANGED, K.HEAD_COUNTS = 94, 95, 96, 97
K.HEAD_PLACE, K.HEAD_KEPT, K.HEAD_STACK, K.HEAD_VALUES = 98, 99, 100, 101
K.HEAD_MOST_TOLD, K.HEAD_SIZE, K.HELD_FOR, K.HELD_SQUASH = 102, 104, 0, 1
K.HELD_LEAN, K.KEY_AT, K.KEY_SIZE, K.LAYER_START = 4, 0, 4, 0
K.LAYER_STATES, K.LAYER_STATES_END, K.LAYER_SIZE, K.LEAN_SPEEDING = 1, 2, 3, 0
K.LEAN_TURNING, K.LEAN_MOST, K.LEAN_SHARE, K.LEAN_DT = 1, 2, 3, 4
K.LEAN_SIGNED, K.LEAN_SIZE, K.LET_GO, K.MEMORY_WITHIN = 5, 6, 2, 0
K.MEMORY_TICKS, K.MEMORY_PROGRAM, K.MEMORY_PROGRAM_END, K.MEMORY_LASTS = 1, 2, 3, 4
K.MEMORY_SIZE, K.MIX_SHARE_SAMPLE, K.MIX_CELL_FIRST, K.MIX_PLACE_X = 5, 0, 0, 0
K.MIX_EDGE_FIRST, K.MIX_SHARE_SHARE, K.MIX_CELL_SECOND, K.MIX_PLACE_Y = 0, 1, 1, 1
K.MIX_EDGE_SECOND, K.MIX_PLACE_MIX_SHARES, K.MIX_SHARE_SIZE, K.MIX_CELL_THIRD = 1, 2, 2, 2
K.MIX_EDGE_SIZE, K.MIX_PLACE_MIX_SHARES_END, K.MIX_CELL_SIZE, K.MOVED_PARAMETER = 2, 3, 3, 0
K.MOVED_VALUE, K.MOVED_SIZE, K.NAMED_PARAMETERS, K.NAMED_WORDS = 1, 2, 0, 1
K.NAMED_LAYERS, K.NAMED_STATES, K.NAMED_CLIPS, K.NAMED_SPANS = 2, 3, 4, 7
K.NAMED_LOCKS, K.NOW_TICK, K.NOW_LOCKED, K.NOW_FREEZE = 8, 0, 1, 2
K.OP_NUMBER, K.OP_PARAMETER, K.OP_PRESSED, K.OP_RELEASED = 0, 1, 2, 3
K.OP_STAY, K.OP_SINCE, K.OP_BUFFERED, K.OP_SPAN = 4, 5, 6, 9
K.OP_MEMORY, K.OP_NOT, K.OP_COMPARE, K.OP_COMPUTE = 11, 12, 13, 14
K.OP_SKIP_FALSE, K.OP_SKIP_TRUE, K.OPERATOR_COUNT, K.OVER_BY = 15, 16, 10, 3
K.PARAMETER_KIND, K.PARAMETER_OWNER, K.PARAMETER_FIRST, K.PARAMETER_LOW = 0, 1, 2, 3
K.PARAMETER_HIGH, K.PARAMETER_SIZE, K.PART_POSE_PART, K.PART_POSE_X = 4, 5, 0, 1
K.PART_POSE_Y, K.PART_POSE_TURN, K.PART_POSE_WIDE, K.PART_POSE_HIGH = 2, 3, 4, 5
K.PART_POSE_SIZE, K.PARTED_LAYER, K.PARTED_PART, K.PARTED_X = 6, 0, 1, 2
K.PARTED_Y, K.PARTED_TURN, K.PARTED_WIDE, K.PARTED_HIGH = 3, 4, 5, 6
K.PARTED_SIZE, K.PIECE_START, K.PIECE_CEL, K.PIECE_SIZE = 7, 0, 1, 2
K.PINNED_NAME, K.PINNED_LAYER, K.PINNED_BEHIND, K.PINNED_FRAME = 0, 1, 2, 3
K.PINNED_MIRRORED, K.PINNED_X, K.PINNED_Y, K.PINNED_TURN = 4, 5, 6, 7
K.PINNED_SIZE, K.PLACED_NUMBER, K.PLACED_PIN, K.PLACED_X = 8, 0, 1, 2
K.PLACED_Y, K.PLACED_ANGLE, K.PLACED_BEHIND, K.PLACED_SIZE = 3, 4, 5, 6
K.PLAYER_STATE, K.PLAYER_STAY, K.PLAYER_HEAD, K.PLAYER_PICK = 0, 1, 2, 3
K.PLAYER_OVER, K.PLAYER_FADE_STATE, K.PLAYER_FADE_PICK, K.PLAYER_FADE_HEAD = 4, 5, 6, 7
K.PLAYER_FADE_LEFT, K.PLAYER_FADE_BLOCKS, K.PLAYER_SIZE, K.POSED_FRAME = 8, 9, 10, 0
K.POSED_FIGURE, K.POSED_POSES, K.POSED_POSES_END, K.POSED_SIZE = 1, 2, 3, 4
K.PULSE_SIZE, K.PUSH_UP, K.PUSH_NUMBER, K.PUSH_VALUE = 2, 8, 14, 15
K.PUSH_STAY, K.PUSH_SINCE, K.RECT_KIND, K.RECT_LEFT = 16, 17, 0, 1
K.RECT_BOTTOM, K.RECT_WIDTH, K.RECT_HEIGHT, K.RECT_SIZE = 2, 3, 4, 5
K.ROW_OR_NONE, K.SAMPLE_CLIP, K.SAMPLE_PHASE, K.SAMPLE_PLACES = 6, 0, 1, 2
K.SAMPLE_MIRRORED, K.SAMPLE_SIZE, K.SECTION_COUNT, K.SEEN_WITHIN = 3, 4, 40, 1
K.SHAPE_DO, K.SHAPE_WHICH, K.SHAPE_SIZE, K.SIGN_COUNT = 0, 1, 2, 6
K.SPOT_PIN, K.SPOT_X, K.SPOT_Y, K.SPOT_ANGLE = 0, 1, 2, 3
K.SPOT_BEHIND, K.SPOT_SIZE, K.SQUASH_HIGH, K.SQUASH_WIDE = 4, 5, 0, 1
K.SQUASH_OVER, K.SQUASH_HOLD, K.SQUASH_BACK, K.SQUASH_EVERY = 2, 3, 4, 5
K.SQUASH_BY_FALL, K.SQUASH_RECENT, K.SQUASH_WHOLE, K.SQUASH_SIZE = 6, 7, 8, 9
K.STATE_WAYS, K.STATE_WAYS_END, K.STATE_ENTRY, K.STATE_ENTRY_END = 0, 1, 2, 3
K.STATE_LEAVE, K.STATE_LEAVE_END, K.STATE_SAMPLES, K.STATE_SAMPLES_END = 4, 5, 6, 7
K.STATE_AXES, K.STATE_AXES_END, K.STATE_BLENDS, K.STATE_STICKY = 8, 9, 10, 11
K.STATE_CLOCK, K.STATE_STILL, K.STATE_CLEAR, K.STATE_TURNED = 12, 13, 14, 15
K.STATE_MODE, K.STATE_BACKWARD, K.STATE_FACE, K.STATE_CAP = 16, 17, 18, 19
K.STATE_FALL, K.STATE_WIDE, K.STATE_HIGH, K.STATE_SHAPES = 20, 21, 22, 23
K.STATE_SHAPES_END, K.STATE_LAST_SHAPES, K.STATE_LAST_SHAPES_END, K.STATE_WORN = 24, 25, 26, 27
K.STATE_WORN_END, K.STATE_MOVED, K.STATE_MOVED_END, K.STATE_MIX_CELLS = 28, 29, 30, 31
K.STATE_MIX_CELLS_END, K.STATE_MIX_EDGES, K.STATE_MIX_EDGES_END, K.STATE_SIZE = 32, 33, 34, 35
K.STEP_OP, K.STEP_A, K.STEP_B, K.STEP_VALUE = 0, 1, 2, 3
K.STEP_YES, K.STEP_NO, K.STEP_SIZE, K.STICK_PUSH = 4, 5, 6, 2
K.STICK_BEARING, K.STICK_SIZE, K.STRIKE_BOX, K.TOLD_SIZE = 3, 4, 0, 6
K.USE_BUFFER, K.USE_TICKS, K.USE_SIZE, K.VULNERABLE_BOX = 0, 1, 2, 1
K.WAY_NUMBER, K.WAY_TARGET, K.WAY_PROGRAM, K.WAY_PROGRAM_END = 0, 1, 2, 3
K.WAY_FADE, K.WAY_BLOCKS, K.WAY_KEEP, K.WAY_USES = 4, 5, 6, 7
K.WAY_USES_END, K.WAY_SHAPES, K.WAY_SHAPES_END, K.WAY_SIZE = 8, 9, 10, 11
K.WINDOW_START, K.WINDOW_END, K.WINDOW_HOLD, K.WINDOW_LOCK = 0, 1, 2, 3
K.WINDOW_SPAN, K.WINDOW_SIZE = 4, 5
K.BEARING, K.CHOICE, K.WHOLE, K.TICK = 2, 4, 1, 65536
K.AT, K.EASE, K.IN, K.OUT = 0, 3, 1, 2
K.BOTH, K.LESS, K.EQUAL, K.GREATER = 3, 1, 2, 4
K.NEITHER, K.PLUS, K.MINUS, K.TIMES = 8, 0, 1, 2
K.ABSOLUTE, K.NEGATIVE, K.TURN, K.DIRECTION = 4, 5, 8, 9
K.LEAST, K.COMPARED, K.ON, K.STAYED = 6, 4, 1, 6
K.PRESSED, K.RELEASED, K.REMEMBERED, K.BUFFERED = 2, 3, 13, 7
K.SINCE, K.NEVER, K.DONE, K.SHARE = 8, 1152921504606846976, 9, 10
K.SPAN, K.ACTIVE, K.PAIR, K.CONSTANT = 11, 12, 5, 0
K.COMPUTE, K.TRUE, K.TOLD, K.LEANED = 18, -1, 2, 3
K.WITHIN, K.FINITE, K.INTEGER, K.EXACT = 11, 1, 2, 9007199254740992
K.TIME, K.ROW, K.ADDRESS, K.NAME = 3, 5, 7, 8
K.FIRST, K.END, K.RAISE, K.PARAMETERS = 9, 10, 2, 0
K.LOCK, K.UNLOCK, K.FREEZE, K.LONGEST = 3, 4, 5, 2147483648
K.MOST_MARKS, K.CUES, K.PIECES, K.KEYS = 10000, 11, 13, 15
K.SAMPLES, K.CLIPS, K.PLACES, K.SQUASHES = 7, 10, 9, 22
K.LEANS, K.SHAPES, K.SQUASHED, K.CLOCKS = 23, 24, 0, 18
K.BUFFERS, K.MEMORIES, K.LAYERS, K.PROGRAMS = 17, 16, 2, 21
K.AMOUNT, K.TRUTH, K.EITHER, K.WAYS = 1, 2, 0, 4
K.FORMULAS, K.CONTACTS, K.ACCESSORIES, K.STATES = 19, 28, 32, 3
K.AXES, K.ACTS, K.PULSE, K.GRAPH = 8, 6, 5, 3
K.BUTTON, K.PLAYED, K.STICKS, K.FALSE = 6, 35, 1, -2
K.SET, K.ADD, K.MODE, K.PUSH = 0, 1, 6, 7
K.X, K.Y, K.VERSION, K.WINDOWS = 1, 2, 7, 12
K.RADIAN, K.FARTHEST, K.FASTEST = 0.017453292519943295, 1e+308, 1000.0
K.SERIES = {
  [0]=1.397458036904447, -1.4691225516174955, 1.5485345814346574, -1.6370222718023522, 1.7362357428206765, -1.8482509520349137,
  1.9757165349338732, -2.1220659078919377, 2.291831180523293, -2.4911208483948837, 2.72837045300392, -3.0155673427938066,
  3.3703399713577835, -3.819718634205488, 4.407367654852487, -5.208707228462029, 6.366197723675814, -8.18511135901176,
  11.459155902616464, -19.098593171027442, 57.29577951308232
}
K.SINES = {
  [0]=-8.22063524662433e-18, 2.8114572543455206e-15, -7.647163731819816e-13, 1.6059043836821613e-10, -2.505210838544172e-08,
  2.7557319223985893e-06, -0.0001984126984126984, 0.008333333333333333, -0.16666666666666666, 1.0
}
K.COSINES = {
  [0]=-1.5619206968586225e-16, 4.779477332387385e-14, -1.1470745597729725e-11, 2.08767569878681e-09, -2.755731922398589e-07,
  2.48015873015873e-05, -0.001388888888888889, 0.041666666666666664, -0.5, 1.0
}
K.WIDTHS = {
  [0]=5, 4, 3, 35, 11, 2, 3, 4, 5, 1, 27, 9, 5, 2, 8, 4, 4, 2, 1, 3, 1, 4, 9, 6, 2, 1, 3, 5, 8, 4, 2, 5, 9, 2, 4, 2, 3, 2, 4, 6
}
K.SIZES = {
  [0]=5, 4, 3, 35, 11, 2, 3, 4, 5, 1, 27, 9, 5, 2, 8, 4, 5, 2, 1, 3, 1, 6, 9, 6, 2, 1, 3, 5, 8, 4, 2, 5, 9, 2, 4, 2, 3, 2, 4, 6
}
K.RULE = {
  [0]=4, 4, 1, 1, 1, 5, 5, 5, 5, 5, 9, 10, 9, 10, 9, 10, 9, 10, 9, 10, 9, 10, 4, 1, 6, 4, 4, 4, 4, 4, 1, 1, 1, 1, 1, 9, 10, 9, 10,
  9, 10, 9, 10, 9, 10, 9, 10, 2, 5, 9, 10, 3, 4, 4, 9, 10, 9, 10, 5, 3, 4, 2, 1, 7, 3, 3, 4, 6, 4, 1, 1, 1, 0, 3, 2, 4, 6, 1, 1,
  1, 9, 10, 9, 10, 9, 10, 9, 10, 2, 4, 9, 10, 9, 10, 4, 3, 3, 3, 1, 1, 3, 8, 9, 10, 9, 10, 3, 9, 10, 2, 2, 6, 4, 8, 3, 3, 8, 4, 4,
  4, 9, 10, 9, 10, 1, 1, 1, 4, 4, 3, 9, 10, 11, 5, 3, 3, 5, 9, 10, 5, 4, 2, 2, 1, 11, 11, 1, 0, 1, 0, 1, 1, 1, 1, 4, 1, 1, 1, 1,
  1, 4, 4, 2, 5, 2, 2, 3, 4, 1, 1, 1, 1, 9, 10, 6, 6, 6, 6, 6, 6, 6, 1, 9, 10, 8, 8, 8, 1, 1, 1, 4, 8, 8, 9, 10, 9, 10, 8, 1, 4,
  5, 1, 1, 1, 9, 10, 3, 1, 7, 7, 7, 7, 7, 8, 3, 9, 10, 8, 1, 1, 1, 1, 1
}
K.ABOUT = {
  [0]=6, 4, 0, 0, 0, 0, 0, 0, 0, 3, 3, 0, 4, 0, 6, 0, 6, 0, 7, 0, 8, 0, 1, 0, 18, 1, 1, 1, 4, 1, 0, 0, 0, 0, 0, 24, 0, 24, 0, 29,
  0, 33, 0, 36, 0, 37, 0, 0, 3, 21, 0, 0, 1, 1, 5, 0, 24, 0, 17, 0, 8, 0, 0, 10, 0, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0,
  11, 0, 12, 0, 13, 0, 14, 0, 0, 7, 15, 0, 26, 0, 1, 0, 0, 0, 0, 0, 0, 6, 6, 0, 24, 0, 0, 31, 0, 0, 0, 0, 1, 7, 0, 0, 5, 1, 3, 2,
  27, 0, 31, 0, 0, 0, 0, 3, 1, 0, 21, 0, 0, 0, 0, 0, 0, 21, 0, 0, 16, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1,
  4, 0, 0, 0, 0, 0, 2, 0, 0, 0, 0, 21, 0, 0, 0, 0, 0, 0, 0, 0, 0, 30, 0, 5, 5, 1, 0, 0, 0, 1, 1, 1, 21, 0, 10, 0, 5, 0, 2, 0, 0,
  0, 0, 35, 0, 0, 0, 34, 34, 34, 34, 34, 5, 0, 39, 0, 1, 0, 0, 0, 0, 0
}
K.TAKES = {
  [0]=2, 2, 2, 2, 1, 1, 0, 0, 2, 1
}
K.STANDS = {
  [0]=1, 3, 2, 13, 4, 6
}
K.LAID = {
  [0]=0, 1, 2, 3, 16, 17, 7, 9, 10, 11, 12, 13
}
K.REAL = {
  [0]=0, 0, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 0, 0, 0, 0, 0, 0,
  0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 0, 0, 0, 0, 1, 1, 1, 0, 0, 0, 0,
  0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1,
  1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 1, 1, 1, 1, 1, 1, 1, 1, 0, 1, 1, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1,
  1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 1, 1, 1, 0, 0, 0, 1, 0, 0, 0, 0, 0,
  0, 0, 0, 0, 0, 1, 1, 1, 1, 1
}

-- The bearing of a vector with y up; exact for the eight main directions, within 1e-12 degrees else; 0 for no vector.
function K.bearing_of(x, y)
  local wide, high = math.abs(x), math.abs(y)
  if not (wide > 0.0 or high > 0.0) then return 0.0 end
  local share = wide <= high and wide / high or high / wide
  local is_near = share > 0.41421356237309503
  local rest = is_near and (share - 1.0) / (share + 1.0) or share
  local square, total = rest * rest, 0.0
  for number = 0, 20 do
    local factor = K.SERIES[number]
    total = total * square + factor
  end
  local angle = total * rest
  if is_near then angle = 45.0 + angle end
  if wide > high then angle = 90.0 - angle end
  if y < 0.0 then angle = 180.0 - angle end
  if x < 0.0 then angle = 360.0 - angle end
  return angle < 360.0 and angle or 0.0
end

-- How far a stick is pushed, from 0 to 1.
function K.push_of(x, y)
  local length = math.sqrt(x * x + y * y)
  return math.min(length, 1.0)
end

-- Where a layer's active state begins.
function K.state_of(m, z, layer)
  return m[K.HEAD_STATES] + z[K.FIRST_PLAYER + layer * K.PLAYER_SIZE + K.PLAYER_STATE] * K.STATE_SIZE
end

-- Where the clip begins that a layer shows; -1 when it shows none.
function K.clip_of(m, z, layer)
  local state = K.state_of(m, z, layer)
  local first = m[state + K.STATE_SAMPLES]
  if first == m[state + K.STATE_SAMPLES_END] then return -1 end
  return m[first + z[K.FIRST_PLAYER + layer * K.PLAYER_SIZE + K.PLAYER_PICK] * K.SAMPLE_SIZE + K.SAMPLE_CLIP]
end

-- Whether a layer's clip is done: it repeats and has wrapped since entry, or stands at its length.
function K.is_done(m, z, layer)
  local clip = K.clip_of(m, z, layer)
  if clip < 0 then return false end
  local player = K.FIRST_PLAYER + layer * K.PLAYER_SIZE
  if m[clip + K.CLIP_BEGIN] < 0 then return z[player + K.PLAYER_HEAD] >= m[clip + K.CLIP_LENGTH] end
  return z[player + K.PLAYER_OVER] ~= 0
end

-- Whether a layer's playhead is at or past a share of its clip.
function K.is_at(m, z, layer, share)
  local clip = K.clip_of(m, z, layer)
  return clip >= 0 and z[K.FIRST_PLAYER + layer * K.PLAYER_SIZE + K.PLAYER_HEAD] >= share * m[clip + K.CLIP_LENGTH]
end

-- A number of degrees as a bearing, from 0 to below 360; what is no finite number is 0.
function K.reduced(value)
  if not (-1000000000000000.0 < value and value < 1000000000000000.0) then return 0.0 end
  local turned = value - 360.0 * K.floor(value / 360.0)
  return (0.0 < turned and turned < 360.0) and turned or 0.0
end

-- A value brought into a parameter's kind and range; a choice stays what it is.
function K.fitted(m, r, parameter, value)
  local one = m[K.HEAD_PARAMETERS] + parameter * K.PARAMETER_SIZE
  local kind = m[one + K.PARAMETER_KIND]
  if kind > K.BEARING then
    if kind == K.CHOICE then return value end
    return value ~= 0.0 and 1.0 or 0.0
  end
  if kind == K.BEARING then return K.reduced(value) end
  if r[one + K.PARAMETER_LOW] > value then value = r[one + K.PARAMETER_LOW] end
  if r[one + K.PARAMETER_HIGH] < value then value = r[one + K.PARAMETER_HIGH] end
  return kind == K.WHOLE and K.rounded(value) + 0.0 or value
end

-- The playhead units that one tick adds.
function K.pace_of(m, r, v, clip)
  if m[clip + K.CLIP_PACE] < 0 then return K.TICK end
  local rate = v[m[clip + K.CLIP_PACE]] / r[clip + K.CLIP_AT]
  if not (rate >= r[clip + K.CLIP_LOW]) then
    rate = r[clip + K.CLIP_LOW]
  elseif rate > r[clip + K.CLIP_HIGH] then
    rate = r[clip + K.CLIP_HIGH]
  end
  return math.floor(rate * K.TICK + 0.5)
end

-- A playhead brought into its clip: past the length it is somewhere in what repeats, or at the length.
function K.folded(m, clip, head)
  local length, back = m[clip + K.CLIP_LENGTH], m[clip + K.CLIP_BEGIN]
  if head < length then return head end
  return back < 0 and length or back + (head - back) % (length - back)
end

-- The number of the cel a clip shows at a playhead; -1: none.
function K.cel_at(m, clip, head)
  local piece, finish, length = m[clip + K.CLIP_PIECES], m[clip + K.CLIP_PIECES_END], m[clip + K.CLIP_LENGTH]
  if piece == finish or m[clip + K.CLIP_VANISHES] ~= 0 and head >= length then return -1 end
  head = K.folded(m, clip, head)
  head = math.min(head, length - 1)
  while piece + K.PIECE_SIZE < finish and m[piece + K.PIECE_SIZE + K.PIECE_START] <= head do
    piece = piece + K.PIECE_SIZE
  end
  return m[piece + K.PIECE_CEL]
end

-- The number of the cel a clip shows at a playhead, its resting one while it stands; -1: none.
function K.cel_shown(m, r, v, clip, head)
  if m[clip + K.CLIP_RESTING] >= 0 and K.pace_of(m, r, v, clip) == 0 then return m[clip + K.CLIP_RESTING] end
  return K.cel_at(m, clip, head)
end

-- The number of the cel a layer shows, counted from its clip's first; -1: none.
function K.cel_of(m, r, z, v, layer)
  local clip = K.clip_of(m, z, layer)
  return clip >= 0 and K.cel_shown(m, r, v, clip, z[K.FIRST_PLAYER + layer * K.PLAYER_SIZE + K.PLAYER_HEAD]) or -1
end

-- Where a cel of the clip begins that a layer shows.
function K.cel_row(m, z, layer, cel)
  return m[K.clip_of(m, z, layer) + K.CLIP_CELS] + cel * K.CEL_SIZE
end

-- How fast to turn, to be at most or to fall, or how wide or high to be, as what (a column of states) says; 0: nothing is asked.
function K.requested(m, r, z, what)
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    local asked = r[K.state_of(m, z, layer) + what]
    if asked > 0.0 then return asked end
  end
  return 0.0
end

-- How to move, as the number of a mode; 0: nothing is asked.
function K.requested_mode(m, z)
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    local mode = m[K.state_of(m, z, layer) + K.STATE_MODE]
    if mode ~= 0 then return mode end
  end
  return 0
end

-- Whether the body may move against its facing.
function K.goes_backward(m, z)
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    if m[K.state_of(m, z, layer) + K.STATE_BACKWARD] ~= 0 then return true end
  end
  return false
end

-- The layer to begin to draw with: from it on each that shows a cel is drawn, the last in front; -1: nothing is shown.
function K.lowest_seen(m, r, z, v)
  local seen = -1
  for back = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    local layer = m[K.HEAD_LAYER_COUNT] - 1 - back
    if K.cel_of(m, r, z, v, layer) >= 0 then
      seen = layer
      if m[K.state_of(m, z, layer) + K.STATE_CLEAR] == 0 then return seen end
    end
  end
  return seen
end

-- Whether a state turns a cel (its row) to where the figure looks, which may be left.
function K.turns_round(m, state, row, left)
  local looks = m[row + K.CEL_LOOKS]
  if looks == 0 then return false end
  if m[state + K.STATE_TURNED] == 0 then return looks == 2 end
  return left ~= (looks == 2)
end

-- Whether a cel (its row) of a state's sample is drawn the other way round.
function K.is_flipped(m, state, sample, row, left)
  local mirrored = m[row + K.CEL_MIRRORED] ~= m[sample + K.SAMPLE_MIRRORED]
  return mirrored ~= K.turns_round(m, state, row, left)
end

-- Whether a cel of the clip that a layer shows is drawn the other way round.
function K.is_mirrored(m, z, layer, cel, left)
  local sample = m[K.state_of(m, z, layer) + K.STATE_SAMPLES] + z[K.FIRST_PLAYER + layer * K.PLAYER_SIZE + K.PLAYER_PICK] * K.SAMPLE_SIZE
  return K.is_flipped(m, K.state_of(m, z, layer), sample, K.cel_row(m, z, layer, cel), left)
end

-- Whether a cel of the clip that a layer shows is turned to where the figure looks, which may be left.
function K.is_turned(m, z, layer, cel, left)
  return K.turns_round(m, K.state_of(m, z, layer), K.cel_row(m, z, layer, cel), left)
end

-- By how many quarter turns clockwise it is turned, after it has been mirrored.
function K.quarter_turns(m, z, layer, cel, left)
  local turns = m[K.cel_row(m, z, layer, cel) + K.CEL_TURNS]
  return K.is_turned(m, z, layer, cel, left) and (4 - turns) % 4 or turns
end

-- The costume that a layer wears; -1: none.
function K.worn(m, r, z, v, layer)
  local state = K.state_of(m, z, layer)
  if m[state + K.STATE_WORN] < m[state + K.STATE_WORN_END] then return m[state + K.STATE_WORN] end
  for costume = m[K.HEAD_COSTUMES], m[K.HEAD_COSTUMES_END] - 1, K.COSTUME_SIZE do
    local parameter = m[costume + K.COSTUME_PARAMETER]
    if parameter >= 0 and v[parameter] == r[costume + K.COSTUME_VALUE] then return costume end
  end
  return -1
end

-- The frame that is drawn in place of one in the costume that a layer wears.
function K.dressed(m, r, z, v, layer, frame)
  local costume = K.worn(m, r, z, v, layer)
  if costume >= 0 then
    for row = m[costume + K.COSTUME_DRESSED], m[costume + K.COSTUME_DRESSED_END] - 1, K.DRESSED_SIZE do
      if m[row + K.DRESSED_FRAME] == frame then return m[row + K.DRESSED_BY] end
    end
  end
  return frame
end

-- The frame that a cel of the clip which a layer shows is drawn as: its own, or that of the costume worn.
function K.frame_of(m, r, z, v, layer, cel)
  return K.dressed(m, r, z, v, layer, m[K.cel_row(m, z, layer, cel) + K.CEL_FRAME])
end

-- Where a path laid out in r is at a playhead, ahead (X) or up (Y).
function K.place(r, begin, finish, head, which)
  local key = begin
  while key + K.KEY_SIZE < finish and r[key + K.KEY_SIZE + K.AT] <= head do
    key = key + K.KEY_SIZE
  end
  local after = key + K.KEY_SIZE
  if after >= finish or head <= r[key + K.AT] then return r[key + which] end
  local t = (head - r[key + K.AT]) / (r[after + K.AT] - r[key + K.AT])
  local ease = math.floor(r[after + K.EASE])
  if ease == K.IN then
    t = t * t
  elseif ease == K.OUT then
    t = t * (2.0 - t)
  elseif ease == K.BOTH then
    t = t * t * (3.0 - 2.0 * t)
  end
  return r[key + which] + (r[after + which] - r[key + which]) * t
end

-- How far a path that moves only the drawing has taken it, ahead (1) or up (2).
function K.aside(m, r, z, layer, which)
  local clip = K.clip_of(m, z, layer)
  if clip < 0 or m[clip + K.CLIP_GOES] ~= 0 or m[clip + K.CLIP_KEYS] == m[clip + K.CLIP_KEYS_END] then return 0.0 end
  local head = z[K.FIRST_PLAYER + layer * K.PLAYER_SIZE + K.PLAYER_HEAD]
  return K.place(r, m[clip + K.CLIP_KEYS], m[clip + K.CLIP_KEYS_END], head, which)
end

-- How far right a step of length 1 along a bearing goes; exact along the axes.
function K.across(bearing)
  local folded = bearing <= 90.0 and bearing or (bearing <= 270.0 and 180.0 - bearing or bearing - 360.0)
  if folded == 90.0 then return 1.0 end
  if folded == -90.0 then return -1.0 end
  local flat = (-45.0 <= folded and folded <= 45.0) and folded or (folded > 0.0 and 90.0 - folded or -90.0 - folded)
  local angle = flat * K.RADIAN
  local square, total = angle * angle, 0.0
  if flat == folded then
    for number = 0, 9 do
      local factor = K.SINES[number]
      total = total * square + factor
    end
    return total * angle
  end
  for number = 0, 9 do
    local factor = K.COSINES[number]
    total = total * square + factor
  end
  return folded > 0.0 and total or -total
end

-- How far up a step of length 1 along a bearing goes; exact along the axes.
function K.along(bearing)
  local shifted = bearing + 90.0
  return K.across(shifted < 360.0 and shifted or shifted - 360.0)
end

-- Write from place at on where a pin point comes to lie: across, up, and a bearing.
function K.place_spot(r, spot, mirrored, turns, wide, high, tilt, b, at)
  local x, y, angle = r[spot + K.SPOT_X], r[spot + K.SPOT_Y], r[spot + K.SPOT_ANGLE]
  if mirrored then
    x = 0.0 - x
    angle = K.reduced(360.0 - angle)
  end
  for again = 0, turns - 1 do
    local back = 0.0 - x
    x = y
    y = back
    angle = K.reduced(angle + 90.0)
  end
  if wide ~= high then angle = K.bearing_of(K.across(angle) * wide, K.along(angle) * high) end
  x = x * wide
  y = y * high
  if tilt ~= 0.0 then
    local leaned = K.reduced(tilt)
    local right, up = K.across(leaned), K.along(leaned)
    local to = x * up + y * right
    y = y * up - x * right
    x = to
    angle = K.reduced(angle + tilt)
  end
  b[at] = x
  b[at + 1] = y
  b[at + 2] = angle
end

-- Write down the pin points of the layers that are seen, from the back to the front, in rows of b; how many there are.
function K.list_pins(m, r, z, v, left, wide, high, tilt, b)
  local count, lowest = 0, K.lowest_seen(m, r, z, v)
  if lowest < 0 or m[K.HEAD_SPOTS] == m[K.HEAD_SPOTS_END] then return 0 end
  for layer = lowest, m[K.HEAD_LAYER_COUNT] - 1 do
    local cel = K.cel_of(m, r, z, v, layer)
    if cel < 0 then goto continue end
    local row = K.cel_row(m, z, layer, cel)
    local mirrored = K.is_mirrored(m, z, layer, cel, left)
    local turns = K.quarter_turns(m, z, layer, cel, left)
    for spot = m[row + K.CEL_SPOTS], m[row + K.CEL_SPOTS_END] - 1, K.SPOT_SIZE do
      local at = count * K.PLACED_SIZE
      b[at + K.PLACED_NUMBER] = (layer + 0.0)
      b[at + K.PLACED_PIN] = (m[spot + K.SPOT_PIN] + 0.0)
      K.place_spot(r, spot, mirrored, turns, wide, high, tilt, b, at + K.PLACED_X)
      b[at + K.PLACED_BEHIND] = (m[spot + K.SPOT_BEHIND] + 0.0)
      count = count + 1
    end
    ::continue::
  end
  return count
end

-- The pin point of a cel (its row) to which an accessory is pinned; -1: none.
function K.pinned_at(m, row, accessory)
  for spot = m[row + K.CEL_SPOTS], m[row + K.CEL_SPOTS_END] - 1, K.SPOT_SIZE do
    if m[spot + K.SPOT_PIN] == m[accessory + K.ACCESSORY_PIN] then return spot end
  end
  return -1
end

-- Whether an accessory is drawn behind the figure at a pin point.
function K.lies_behind(m, accessory, spot)
  local order = m[accessory + K.ACCESSORY_ORDER]
  return order == 2 or order == 0 and m[spot + K.SPOT_BEHIND] ~= 0
end

-- Whether two numbers stand to each other in one of the ways of sign; without a branch that could be guessed wrong.
function K.compared(sign, left, right)
  if left < right then return sign & K.LESS ~= 0 end
  if left == right then return sign & K.EQUAL ~= 0 end
  return sign & (left > right and K.GREATER or K.NEITHER) ~= 0
end

-- The shorter way from one bearing to another, in degrees, above -180 to 180; clockwise is positive.
function K.turn(start, finish)
  local way = finish - start
  if way > 180.0 then return way - 360.0 end
  if way <= -180.0 then return way + 360.0 end
  return way
end

-- One arithmetic step in IEEE doubles, on numbers that lie on the stack; a division by zero gives 0.
function K.computed(sign, v, begin, finish)
  local first = v[begin]
  if sign == K.PLUS then return first + v[begin + 1] end
  if sign == K.MINUS then return first - v[begin + 1] end
  if sign == K.TIMES then return first * v[begin + 1] end
  if sign == K.OVER_BY then return v[begin + 1] ~= 0.0 and first / v[begin + 1] or 0.0 end
  if sign == K.ABSOLUTE then return math.abs(first) end
  if sign == K.NEGATIVE then return -first end
  if sign == K.TURN then return K.turn(first, v[begin + 1]) end
  if sign == K.DIRECTION then return K.reduced(first) end
  for at = begin + 1, finish - 1 do
    if (sign == K.LEAST and v[at] < first) or (not (sign == K.LEAST) and v[at] > first) then first = v[at] end
  end
  return first
end

-- Run a program from an instruction on.
function K.run(m, r, z, v, at)
  local top = m[K.HEAD_STACK]
  while at >= 0 do
    local op, a, b = m[at + K.STEP_OP], m[at + K.STEP_A], m[at + K.STEP_B]
    local holds = true
    if op == K.COMPARED then
      holds = K.compared(b, v[a], r[at + K.STEP_VALUE])
    elseif op == K.ON then
      holds = v[a] ~= 0.0
    elseif op == K.STAYED then
      holds = K.compared(b, z[K.FIRST_PLAYER + a * K.PLAYER_SIZE + K.PLAYER_STAY], r[at + K.STEP_VALUE])
    elseif op == K.PRESSED then
      holds = v[a] ~= 0.0 and z[m[K.HEAD_HELD] + a] == 0
    elseif op == K.RELEASED then
      holds = v[a] == 0.0 and z[m[K.HEAD_HELD] + a] ~= 0
    elseif op == K.REMEMBERED then
      holds = z[m[K.HEAD_REMEMBERED] + a] ~= 0
    elseif op == K.BUFFERED then
      local age = z[m[K.HEAD_AGES] + a]
      holds = age >= 0 and age < r[at + K.STEP_VALUE]
    elseif op == K.SINCE then
      local age = z[m[K.HEAD_SINCE] + a]
      holds = K.compared(b, age >= 0 and age or K.NEVER, r[at + K.STEP_VALUE])
    elseif op == K.DONE then
      holds = K.is_done(m, z, a)
    elseif op == K.SHARE then
      holds = K.is_at(m, z, a, r[at + K.STEP_VALUE])
    elseif op == K.SPAN then
      holds = z[m[K.HEAD_SPANS] + a] ~= 0
    elseif op == K.ACTIVE then
      holds = z[K.FIRST_PLAYER + a * K.PLAYER_SIZE + K.PLAYER_STATE] == b
    elseif op == K.PAIR then
      holds = K.compared(b, v[a], v[m[at + K.STEP_SIZE + K.STEP_A]])
    elseif op == K.CONSTANT then
      holds = r[at + K.STEP_VALUE] ~= 0.0
    elseif op == K.PUSH_VALUE then
      v[top] = v[a]
      top = top + 1
    elseif op == K.PUSH_NUMBER then
      v[top] = r[at + K.STEP_VALUE]
      top = top + 1
    elseif op == K.PUSH_STAY then
      v[top] = z[K.FIRST_PLAYER + a * K.PLAYER_SIZE + K.PLAYER_STAY]
      top = top + 1
    elseif op == K.PUSH_SINCE then
      local age = z[m[K.HEAD_SINCE] + a]
      v[top] = age >= 0 and age or K.NEVER
      top = top + 1
    elseif op == K.COMPUTE then
      top = top - (b - 1)
      v[top - 1] = K.computed(a, v, top - 1, top - 1 + b)
    elseif op == K.COMPARE_STACK then
      top = top - 2
      holds = K.compared(b, v[top], v[top + 1])
    end
    at = holds and m[at + K.STEP_YES] or m[at + K.STEP_NO]
  end
  return at == K.TRUE
end

-- The row of the cel that an accessory shows beside a layer, of one that shows a clip; -1: none.
function K.accessory_cel(m, z, accessory, layer)
  local clip = m[accessory + K.ACCESSORY_CLIP]
  local stay = z[K.FIRST_PLAYER + layer * K.PLAYER_SIZE + K.PLAYER_STAY]
  local cel = K.cel_at(m, clip, K.folded(m, clip, stay * K.TICK))
  return cel >= 0 and m[clip + K.CLIP_CELS] + cel * K.CEL_SIZE or -1
end

-- Write down the accessories that are seen, from the back to the front, in rows of b; how many there are.
function K.list_pinned(m, r, z, v, left, wide, high, tilt, b)
  local count, lowest = 0, K.lowest_seen(m, r, z, v)
  if lowest < 0 or m[K.HEAD_ACCESSORIES] == m[K.HEAD_ACCESSORIES_END] then return 0 end
  for layer = lowest, m[K.HEAD_LAYER_COUNT] - 1 do
    local cel = K.cel_of(m, r, z, v, layer)
    if cel < 0 then goto continue end
    local row = K.cel_row(m, z, layer, cel)
    local mirrored = K.is_mirrored(m, z, layer, cel, left)
    local turns = K.quarter_turns(m, z, layer, cel, left)
    for before = 0, 2 - 1 do
      for accessory = m[K.HEAD_ACCESSORIES], m[K.HEAD_ACCESSORIES_END] - 1, K.ACCESSORY_SIZE do
        local spot = K.pinned_at(m, row, accessory)
        if spot < 0 or K.lies_behind(m, accessory, spot) == (before == 1) then goto continue end
        if not K.run(m, r, z, v, m[accessory + K.ACCESSORY_SHOWN]) then goto continue end
        local shown = m[accessory + K.ACCESSORY_FRAME]
        local flips = false
        local quarters = 0
        if m[accessory + K.ACCESSORY_CLIP] < m[accessory + K.ACCESSORY_CLIP_END] then
          local own = K.accessory_cel(m, z, accessory, layer)
          if own < 0 then goto continue end
          shown = m[own + K.CEL_FRAME]
          flips = m[own + K.CEL_MIRRORED] ~= 0
          quarters = m[own + K.CEL_TURNS]
        end
        local at = count * K.PINNED_SIZE
        K.place_spot(r, spot, mirrored, turns, wide, high, tilt, b, at + K.PINNED_X)
        local turn = K.reduced(r[spot + K.SPOT_ANGLE] - r[accessory + K.ACCESSORY_ANGLE]) + 90.0 * quarters
        b[at + K.PINNED_TURN] = K.reduced(90.0 * turns + (mirrored and 0.0 - turn or turn))
        b[at + K.PINNED_NAME] = (m[accessory + K.ACCESSORY_NAME] + 0.0)
        b[at + K.PINNED_LAYER] = (layer + 0.0)
        b[at + K.PINNED_BEHIND] = 1.0 - (before + 0.0)
        b[at + K.PINNED_FRAME] = (K.dressed(m, r, z, v, layer, shown) + 0.0)
        b[at + K.PINNED_MIRRORED] = mirrored ~= flips and 1.0 or 0.0
        count = count + 1
        ::continue::
      end
    end
    ::continue::
  end
  return count
end

-- Write down where the marks that fired and name pin points did, in rows of b; how many there are.
function K.list_places(m, r, k, left, wide, high, tilt, b)
  local count = 0
  for mark = 0, math.min(k[0], k[1]) - 1 do
    local told = K.TOLD + mark * K.TOLD_SIZE
    local cue = m[K.HEAD_CUES] + k[told + 3] * K.CUE_SIZE
    local state = m[K.HEAD_STATES] + k[told + 4] * K.STATE_SIZE
    local sample = m[state + K.STATE_SAMPLES] + k[told + 5] * K.SAMPLE_SIZE
    local row = m[m[sample + K.SAMPLE_CLIP] + K.CLIP_CELS] + m[cue + K.CUE_CEL] * K.CEL_SIZE
    for spot = m[cue + K.CUE_SPOTS], m[cue + K.CUE_SPOTS_END] - 1, K.SPOT_SIZE do
      local mirrored = K.is_flipped(m, state, sample, row, left)
      local turns = m[row + K.CEL_TURNS]
      if K.turns_round(m, state, row, left) then turns = (4 - turns) % 4 end
      local at = count * K.PLACED_SIZE
      b[at + K.PLACED_NUMBER] = (mark + 0.0)
      b[at + K.PLACED_PIN] = (m[spot + K.SPOT_PIN] + 0.0)
      K.place_spot(r, spot, mirrored, turns, wide, high, tilt, b, at + K.PLACED_X)
      b[at + K.PLACED_BEHIND] = (m[spot + K.SPOT_BEHIND] + 0.0)
      count = count + 1
    end
  end
  return count
end

-- The row that says how a frame moves parts; -1: it is not drawn from any.
function K.posed_row(m, frame)
  local low, high = m[K.HEAD_POSED], m[K.HEAD_POSED_END]
  while low < high do
    local middle = low + (((high - low) // K.POSED_SIZE) // 2) * K.POSED_SIZE
    if m[middle + K.POSED_FRAME] < frame then
      low = middle + K.POSED_SIZE
    else
      high = middle
    end
  end
  return (low < m[K.HEAD_POSED_END] and m[low + K.POSED_FRAME] == frame) and low or -1
end

-- How many samples a state has for each way of moving.
function K.samples_each(m, state)
  local ways = 1 + ((m[state + K.STATE_MOVED_END] - m[state + K.STATE_MOVED]) // K.MOVED_SIZE)
  return (((m[state + K.STATE_SAMPLES_END] - m[state + K.STATE_SAMPLES]) // K.SAMPLE_SIZE) // ways)
end

-- The value an axis reads, brought into its range.
function K.value_on(m, r, v, axis)
  local value = m[axis + K.AXIS_PARAMETER] >= 0 and v[m[axis + K.AXIS_PARAMETER]] or 0.0
  if m[axis + K.AXIS_ROUND] ~= 0 then return value end
  if r[axis + K.AXIS_LOW] > value then value = r[axis + K.AXIS_LOW] end
  if r[axis + K.AXIS_HIGH] < value then value = r[axis + K.AXIS_HIGH] end
  return value
end

-- Add the share of a place to the samples that stand there.
function K.give_share(m, r, place, share, each, w)
  for row = m[place + K.MIX_PLACE_MIX_SHARES], m[place + K.MIX_PLACE_MIX_SHARES_END] - 1, K.MIX_SHARE_SIZE do
    local number = m[row + K.MIX_SHARE_SAMPLE]
    if number < each then w[number] = w[number] + share * r[row + K.MIX_SHARE_SHARE] end
  end
end

-- Write down how much of every sample of a state's blend space is in the mix (:mod:`leanstep.core.blends.mixing`).
function K.weigh(m, r, v, state, w)
  local a, b
  local ax, ay, wide, high
  local each = K.samples_each(m, state)
  for number = 0, each - 1 do
    w[number] = 0.0
  end
  local axis = m[state + K.STATE_AXES]
  local x, y = 0.0, 0.0
  if axis < m[state + K.STATE_AXES_END] then
    x = K.value_on(m, r, v, axis) / r[axis + K.AXIS_STEP]
    axis = axis + K.AXIS_SIZE
  end
  if axis < m[state + K.STATE_AXES_END] then y = K.value_on(m, r, v, axis) / r[axis + K.AXIS_STEP] end
  for cell = m[state + K.STATE_MIX_CELLS], m[state + K.STATE_MIX_CELLS_END] - 1, K.MIX_CELL_SIZE do
    a = m[cell + K.MIX_CELL_FIRST]
    b = m[cell + K.MIX_CELL_SECOND]
    local c = m[cell + K.MIX_CELL_THIRD]
    ax = r[a + K.MIX_PLACE_X]
    ay = r[a + K.MIX_PLACE_Y]
    wide = r[b + K.MIX_PLACE_X] - ax
    high = r[b + K.MIX_PLACE_Y] - ay
    local far_wide, far_high = r[c + K.MIX_PLACE_X] - ax, r[c + K.MIX_PLACE_Y] - ay
    local whole = wide * far_high - high * far_wide
    if whole == 0.0 then goto continue end
    local second = ((x - ax) * far_high - (y - ay) * far_wide) / whole
    local third = (wide * (y - ay) - high * (x - ax)) / whole
    local first = 1.0 - second - third
    if first >= 0.0 and second >= 0.0 and third >= 0.0 then
      K.give_share(m, r, a, first, each, w)
      K.give_share(m, r, b, second, each, w)
      K.give_share(m, r, c, third, each, w)
      return
    end
    ::continue::
  end
  local nearest = K.FARTHEST
  local one, other = -1, -1
  local along = 0.0
  for edge = m[state + K.STATE_MIX_EDGES], m[state + K.STATE_MIX_EDGES_END] - 1, K.MIX_EDGE_SIZE do
    a = m[edge + K.MIX_EDGE_FIRST]
    b = m[edge + K.MIX_EDGE_SECOND]
    ax = r[a + K.MIX_PLACE_X]
    ay = r[a + K.MIX_PLACE_Y]
    wide = r[b + K.MIX_PLACE_X] - ax
    high = r[b + K.MIX_PLACE_Y] - ay
    local length, share = wide * wide + high * high, 0.0
    if length ~= 0.0 then
      share = ((x - ax) * wide + (y - ay) * high) / length
      share = share < 0.0 and 0.0 or (share > 1.0 and 1.0 or share)
    end
    local right, up = x - ax - share * wide, y - ay - share * high
    local away = right * right + up * up
    if one < 0 or away < nearest then
      nearest = away
      one = a
      other = b
      along = share
    end
  end
  K.give_share(m, r, one, 1.0 - along, each, w)
  K.give_share(m, r, other, along, each, w)
end

-- The playhead when a state's pick changes: at the same share of the other clip, counted from where each cycle begins.
function K.taken_over(m, state, before, pick, head)
  local old = m[state + K.STATE_SAMPLES] + before * K.SAMPLE_SIZE
  local shown = m[state + K.STATE_SAMPLES] + pick * K.SAMPLE_SIZE
  local clip = m[shown + K.SAMPLE_CLIP]
  local length = m[clip + K.CLIP_LENGTH]
  head = ((head - m[old + K.SAMPLE_PHASE]) * length // m[m[old + K.SAMPLE_CLIP] + K.CLIP_LENGTH]) + m[shown + K.SAMPLE_PHASE]
  if head < 0 then head = m[clip + K.CLIP_BEGIN] >= 0 and head + length or 0 end
  return K.folded(m, clip, head)
end

-- The row of the cel that a layer would show if a sample of its state were picked now; -1: none.
function K.cel_if_picked(m, r, z, v, layer, number)
  local player, state = K.FIRST_PLAYER + layer * K.PLAYER_SIZE, K.state_of(m, z, layer)
  local pick, head = z[player + K.PLAYER_PICK], z[player + K.PLAYER_HEAD]
  if number ~= pick then head = K.taken_over(m, state, pick, number, head) end
  local clip = m[m[state + K.STATE_SAMPLES] + number * K.SAMPLE_SIZE + K.SAMPLE_CLIP]
  local cel = K.cel_shown(m, r, v, clip, head)
  return cel >= 0 and m[clip + K.CLIP_CELS] + cel * K.CEL_SIZE or -1
end

-- Whether what a layer shows mixes: all samples that count show frames drawn from the parts of the one that is picked (its row is
-- posed), the same way round and not turned. How much of each there is and where its poses begin are written in w.
function K.mixes_parts(m, r, z, v, layer, posed, left, w)
  local state = K.state_of(m, z, layer)
  if m[state + K.STATE_MIX_EDGES] == m[state + K.STATE_MIX_EDGES_END] then return false end
  local each, pick = K.samples_each(m, state), z[K.FIRST_PLAYER + layer * K.PLAYER_SIZE + K.PLAYER_PICK]
  local cel = K.cel_of(m, r, z, v, layer)
  local mirrored = K.is_mirrored(m, z, layer, cel, left)
  local way = (pick // each)
  if m[K.cel_row(m, z, layer, cel) + K.CEL_TURNS] ~= 0 then return false end
  K.weigh(m, r, v, state, w)
  for number = 0, each - 1 do
    if w[number] > 0.0 then
      local sample = m[state + K.STATE_SAMPLES] + (way * each + number) * K.SAMPLE_SIZE
      local row = K.cel_if_picked(m, r, z, v, layer, way * each + number)
      if row < 0 or m[row + K.CEL_TURNS] ~= 0 or K.is_flipped(m, state, sample, row, left) ~= mirrored then return false end
      local other = K.posed_row(m, K.dressed(m, r, z, v, layer, m[row + K.CEL_FRAME]))
      if other < 0 or m[other + K.POSED_FIGURE] ~= m[posed + K.POSED_FIGURE] then return false end
      local parts = m[other + K.POSED_POSES_END] - m[other + K.POSED_POSES]
      if parts ~= m[posed + K.POSED_POSES_END] - m[posed + K.POSED_POSES] then return false end
      w[each + number] = (m[other + K.POSED_POSES] + 0.0)
    end
  end
  return true
end

-- Write from place at on how a part is moved in the mix (:func:`leanstep.core.cut_outs.poses.mixed`); part is how far behind the
-- first part of its frame its pose stands.
function K.mix_part(r, w, each, part, b, at)
  local x, y, way, wide, high = 0.0, 0.0, 0.0, 0.0, 0.0
  local start = 0.0
  local begun, rests = false, true
  for number = 0, each - 1 do
    local weight = w[number]
    if weight > 0.0 then
      local pose = math.floor(w[each + number]) + part
      local angle = K.reduced(r[pose + K.PART_POSE_TURN])
      if not begun then
        start = angle
        begun = true
      end
      x = x + r[pose + K.PART_POSE_X] * weight
      y = y + r[pose + K.PART_POSE_Y] * weight
      wide = wide + r[pose + K.PART_POSE_WIDE] * weight
      high = high + r[pose + K.PART_POSE_HIGH] * weight
      way = way + K.turn(start, angle) * weight
      local moves = r[pose + K.PART_POSE_X] ~= 0.0 or r[pose + K.PART_POSE_Y] ~= 0.0 or r[pose + K.PART_POSE_TURN] ~= 0.0
      local scales = r[pose + K.PART_POSE_WIDE] ~= 1.0 or r[pose + K.PART_POSE_HIGH] ~= 1.0
      rests = rests and not moves and not scales
    end
  end
  b[at + K.PARTED_X] = rests and 0.0 or x
  b[at + K.PARTED_Y] = rests and 0.0 or y
  b[at + K.PARTED_TURN] = rests and 0.0 or start + way
  b[at + K.PARTED_WIDE] = rests and 1.0 or wide
  b[at + K.PARTED_HIGH] = rests and 1.0 or high
end

-- Write down how the parts of what is seen are moved, layer by layer from the back to the front, in rows of b; how many there are.
function K.list_parts(m, r, z, v, left, w, b)
  local count, lowest = 0, K.lowest_seen(m, r, z, v)
  if lowest < 0 or m[K.HEAD_POSED] == m[K.HEAD_POSED_END] then return 0 end
  for layer = lowest, m[K.HEAD_LAYER_COUNT] - 1 do
    local cel = K.cel_of(m, r, z, v, layer)
    if cel < 0 then goto continue end
    local posed = K.posed_row(m, K.frame_of(m, r, z, v, layer, cel))
    if posed < 0 then goto continue end
    local first = m[posed + K.POSED_POSES]
    local mixes = K.mixes_parts(m, r, z, v, layer, posed, left, w)
    for pose = first, m[posed + K.POSED_POSES_END] - 1, K.PART_POSE_SIZE do
      local at = count * K.PARTED_SIZE
      b[at + K.PARTED_LAYER] = (layer + 0.0)
      b[at + K.PARTED_PART] = (m[pose + K.PART_POSE_PART] + 0.0)
      if mixes then
        K.mix_part(r, w, K.samples_each(m, K.state_of(m, z, layer)), pose - first, b, at)
      else
        b[at + K.PARTED_X] = r[pose + K.PART_POSE_X]
        b[at + K.PARTED_Y] = r[pose + K.PART_POSE_Y]
        b[at + K.PARTED_TURN] = r[pose + K.PART_POSE_TURN]
        b[at + K.PARTED_WIDE] = r[pose + K.PART_POSE_WIDE]
        b[at + K.PARTED_HIGH] = r[pose + K.PART_POSE_HIGH]
      end
      count = count + 1
    end
    ::continue::
  end
  return count
end

-- How many parts can be listed at most.
function K.most_parts(m)
  local most = 0
  for posed = m[K.HEAD_POSED], m[K.HEAD_POSED_END] - 1, K.POSED_SIZE do
    most = math.max(most, ((m[posed + K.POSED_POSES_END] - m[posed + K.POSED_POSES]) // K.PART_POSE_SIZE))
  end
  return most * m[K.HEAD_LAYER_COUNT]
end

-- The squash there is begins to spring back, unless it does already.
function K.let_go(s)
  if s[K.DRAWN_SQUASH] > 0.0 and s[K.DRAWN_FREED] < 0.0 then s[K.DRAWN_FREED] = s[K.DRAWN_SINCE] end
end

-- What some rows say begins; state holds what it holds.
function K.begin_all(m, r, s, begin, finish, state)
  for shape = begin, finish - 1, K.SHAPE_SIZE do
    local does, which = m[shape + K.SHAPE_DO], m[shape + K.SHAPE_WHICH]
    if does == K.LEANED then
      s[K.DRAWN_LEANING] = (which + 0.0)
    elseif does == K.LET_GO then
      K.let_go(s)
    elseif does ~= K.HELD_LEAN then
      local whole_at = r[m[K.HEAD_SQUASHES] + which * K.SQUASH_SIZE + K.SQUASH_BY_FALL]
      s[K.DRAWN_SQUASH] = which + 1.0
      s[K.DRAWN_HOLDER] = does == K.HELD_SQUASH and state + 1.0 or 0.0
      s[K.DRAWN_AMOUNT] = whole_at == 0.0 and 1.0 or math.min(s[K.DRAWN_FALL] / whole_at, 1.0)
      s[K.DRAWN_SINCE] = 0.0
      s[K.DRAWN_FREED] = -1.0
      s[K.DRAWN_FROM_WIDE] = s[K.DRAWN_WIDE]
      s[K.DRAWN_FROM_HIGH] = s[K.DRAWN_HIGH]
    end
  end
end

-- Note what the next tick begins with.
function K.keep_seen(m, z, s)
  s[K.DRAWN_FREEZE] = (z[K.NOW_FREEZE] + 0.0)
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    s[K.DRAWN_SIZE + layer] = (K.state_of(m, z, layer) + 0.0)
  end
end

-- The width of a shape between two; keeps: its area goes evenly, not its width.
function K.wide_between(wide, high, to_wide, to_high, share, keeps)
  if not keeps then return wide + (to_wide - wide) * share end
  local area, to_area = wide * high, to_wide * to_high
  return (area + (to_area - area) * share) / (high + (to_high - high) * share)
end

-- The figure's width and height now; what has sprung back is over.
function K.form(m, r, s)
  if s[K.DRAWN_SQUASH] == 0.0 then return end
  local one = m[K.HEAD_SQUASHES] + (math.floor(s[K.DRAWN_SQUASH]) - 1) * K.SQUASH_SIZE
  local over, hold, back = r[one + K.SQUASH_OVER], r[one + K.SQUASH_HOLD], r[one + K.SQUASH_BACK]
  local keeps = r[one + K.SQUASH_WIDE] ~= r[one + K.SQUASH_WIDE]
  local since = s[K.DRAWN_SINCE]
  if s[K.DRAWN_FREED] < 0.0 and hold == hold and since >= over + hold then s[K.DRAWN_FREED] = since end
  local freed = s[K.DRAWN_FREED]
  local ticks = freed >= 0.0 and math.min(since, freed) or since
  local share, every = s[K.DRAWN_AMOUNT], r[one + K.SQUASH_EVERY]
  if every > 0.0 then
    local quarter = K.reduced(360.0 * ticks / every) + 90.0
    share = share * ((1.0 - K.across(quarter < 360.0 and quarter or quarter - 360.0)) / 2.0)
  end
  local high = 1.0 + (r[one + K.SQUASH_HIGH] - 1.0) * share
  local wide = keeps and 1.0 / high or 1.0 + (r[one + K.SQUASH_WIDE] - 1.0) * share
  local t = over > 0.0 and math.min(ticks / over, 1.0) or 1.0
  wide = K.wide_between(s[K.DRAWN_FROM_WIDE], s[K.DRAWN_FROM_HIGH], wide, high, t * (2.0 - t), keeps)
  high = s[K.DRAWN_FROM_HIGH] + (high - s[K.DRAWN_FROM_HIGH]) * (t * (2.0 - t))
  if freed >= 0.0 then
    local gone_by = back > 0.0 and (since - freed) / back or 1.0
    if gone_by >= 1.0 then
      s[K.DRAWN_WIDE] = 1.0
      s[K.DRAWN_HIGH] = 1.0
      s[K.DRAWN_WHOLE] = 0.0
      s[K.DRAWN_SQUASH] = 0.0
      s[K.DRAWN_HOLDER] = 0.0
      return
    end
    local left = 1.0 - gone_by * gone_by * (3.0 - 2.0 * gone_by)
    wide = K.wide_between(1.0, 1.0, wide, high, left, keeps)
    high = 1.0 + (high - 1.0) * left
  end
  s[K.DRAWN_WIDE] = wide
  s[K.DRAWN_HIGH] = high
  s[K.DRAWN_WHOLE] = (m[one + K.SQUASH_WHOLE] + 0.0)
end

-- The figure before tick 0, of a body at rest that looks right; s is an array of zeros.
function K.begin_shape(m, r, z, s)
  s[K.DRAWN_WIDE] = 1.0
  s[K.DRAWN_HIGH] = 1.0
  s[K.DRAWN_FREED] = -1.0
  s[K.DRAWN_FACING] = 90.0
  s[K.DRAWN_GROUNDED] = 1.0
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    local state = K.state_of(m, z, layer)
    K.begin_all(m, r, s, m[state + K.STATE_SHAPES], m[state + K.STATE_SHAPES_END], state)
  end
  K.keep_seen(m, z, s)
  K.form(m, r, s)
end

-- Note how fast a fall was.
function K.note_fall(m, r, s)
  if m[K.HEAD_SQUASHES] == m[K.HEAD_SQUASHES_END] then return end
  if s[K.DRAWN_UP] < 0.0 and s[K.DRAWN_GROUNDED] == 0.0 then
    s[K.DRAWN_FALL] = -s[K.DRAWN_UP]
    s[K.DRAWN_LANDED] = 0.0
  elseif s[K.DRAWN_LANDED] > r[m[K.HEAD_SQUASHES] + K.SQUASH_RECENT] then
    s[K.DRAWN_FALL] = 0.0
  else
    s[K.DRAWN_LANDED] = s[K.DRAWN_LANDED] + 1.0
  end
end

-- The tilt follows how the body speeds up and turns.
function K.lean_over(m, r, z, s, velocity, facing)
  if m[K.HEAD_LEANS] == m[K.HEAD_LEANS_END] then return end
  local which = -1
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    local state = K.state_of(m, z, layer)
    for shape = m[state + K.STATE_SHAPES], m[state + K.STATE_SHAPES_END] - 1, K.SHAPE_SIZE do
      if which < 0 and m[shape + K.SHAPE_DO] == K.HELD_LEAN then which = m[shape + K.SHAPE_WHICH] end
    end
  end
  if which < 0 then which = math.floor(s[K.DRAWN_LEANING]) end
  if which == 0 and s[K.DRAWN_TILT] == 0.0 then return end
  local lean = m[K.HEAD_LEANS] + which * K.LEAN_SIZE
  local ahead, gained, sideways = facing, velocity - s[K.DRAWN_VELOCITY], facing + 90.0
  if m[lean + K.LEAN_SIGNED] ~= 0 then
    ahead = facing < 180.0 and 90.0 or 270.0
    gained = facing < 180.0 and gained or -gained
  end
  if sideways >= 360.0 then sideways = sideways - 360.0 end
  local dt, most = r[lean + K.LEAN_DT], r[lean + K.LEAN_MOST]
  local goal = r[lean + K.LEAN_TURNING] * K.turn(s[K.DRAWN_FACING], facing) / dt / 100.0 * K.across(sideways)
  goal = goal + (r[lean + K.LEAN_SPEEDING] * (gained / dt) / 100.0 * K.across(ahead))
  goal = math.min(math.max(goal, -most), most)
  local leaned = s[K.DRAWN_TILT] + (goal - s[K.DRAWN_TILT]) * r[lean + K.LEAN_SHARE]
  s[K.DRAWN_TILT] = math.abs(leaned) > 0.001 and leaned or 0.0
end

-- The figure one tick later; velocity of the body to the right, or of one seen from above along its facing, and up, in units a
-- second, facing as a bearing.
function K.follow_shape(m, r, z, k, taken, s, velocity, up, facing, grounded)
  K.note_fall(m, r, s)
  if s[K.DRAWN_SQUASH] > 0.0 and s[K.DRAWN_FREEZE] == 0.0 then s[K.DRAWN_SINCE] = s[K.DRAWN_SINCE] + 1.0 end
  for mark = 0, math.min(k[0], k[1]) - 1 do
    local cue = m[K.HEAD_CUES] + k[K.TOLD + mark * K.TOLD_SIZE + 3] * K.CUE_SIZE
    K.begin_all(m, r, s, m[cue + K.CUE_SHAPES], m[cue + K.CUE_SHAPES_END], -1)
  end
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    if taken[layer] < 0 then goto continue end
    local old, state = math.floor(s[K.DRAWN_SIZE + layer]), K.state_of(m, z, layer)
    if s[K.DRAWN_HOLDER] == old + 1.0 then K.let_go(s) end
    K.begin_all(m, r, s, m[old + K.STATE_LAST_SHAPES], m[old + K.STATE_LAST_SHAPES_END], -1)
    for way = m[old + K.STATE_WAYS], m[old + K.STATE_WAYS_END] - 1, K.WAY_SIZE do
      if m[way + K.WAY_NUMBER] == taken[layer] then
        K.begin_all(m, r, s, m[way + K.WAY_SHAPES], m[way + K.WAY_SHAPES_END], -1)
        break
      end
    end
    K.begin_all(m, r, s, m[state + K.STATE_SHAPES], m[state + K.STATE_SHAPES_END], state)
    ::continue::
  end
  K.lean_over(m, r, z, s, velocity, facing)
  K.keep_seen(m, z, s)
  s[K.DRAWN_VELOCITY] = velocity
  s[K.DRAWN_UP] = up
  s[K.DRAWN_FACING] = facing
  s[K.DRAWN_GROUNDED] = grounded and 1.0 or 0.0
  K.form(m, r, s)
end

-- Write the spans that are on to out, pairs of a name and the row of a window; how many there are.
function K.list_spans(m, z, out)
  local count = 0
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    local clip = K.clip_of(m, z, layer)
    if clip < 0 then goto continue end
    local head = z[K.FIRST_PLAYER + layer * K.PLAYER_SIZE + K.PLAYER_HEAD]
    for window = m[clip + K.CLIP_WINDOWS], m[clip + K.CLIP_WINDOWS_END] - 1, K.WINDOW_SIZE do
      if m[window + K.WINDOW_START] <= head and head < m[window + K.WINDOW_END] then
        out[2 * count] = m[window + K.WINDOW_SPAN]
        out[2 * count + 1] = ((window - m[K.HEAD_WINDOWS]) // K.WINDOW_SIZE)
        count = count + 1
      end
    end
    ::continue::
  end
  return count
end

-- A pulse comes on, where there is one.
function K.pulse_on(v, parameter, on)
  if parameter >= 0 and on ~= 0.0 then v[parameter] = 1.0 end
end

-- A number gets a value, where there is one.
function K.give_value(m, r, v, parameter, value)
  if parameter >= 0 then v[parameter] = K.fitted(m, r, parameter, value) end
end

-- Set what contact on the tick before raises, once a tick has begun.
function K.raise_due(m, r, v, w)
  local rules = m[K.HEAD_CONTACT]
  if w[K.DUE_ANY] == 0.0 or rules >= m[K.HEAD_CONTACT_END] then return end
  K.pulse_on(v, m[rules + K.CONTACT_HIT], w[K.DUE_HIT])
  K.pulse_on(v, m[rules + K.CONTACT_GUARDED], w[K.DUE_GUARDED])
  K.pulse_on(v, m[rules + K.CONTACT_LANDS], w[K.DUE_LANDS])
  K.pulse_on(v, m[rules + K.CONTACT_STOPPED], w[K.DUE_STOPPED])
  if w[K.DUE_HIT] ~= 0.0 or w[K.DUE_GUARDED] ~= 0.0 then
    K.give_value(m, r, v, m[rules + K.CONTACT_STUN], w[K.DUE_STUN])
    K.give_value(m, r, v, m[rules + K.CONTACT_STRENGTH], w[K.DUE_STRENGTH])
  end
end

-- What contact on the tick before does at the end of this one: time stands, and the body is pushed.
function K.settle(m, z, v, w)
  if w[K.DUE_ANY] ~= 0.0 then
    z[K.NOW_FREEZE] = math.max(z[K.NOW_FREEZE], math.floor(w[K.DUE_FREEZE]))
    v[m[K.HEAD_PLACE] + K.FIELDS_PUSH] = v[m[K.HEAD_PLACE] + K.FIELDS_PUSH] + w[K.DUE_PUSH]
    for due = 0, K.DUE_SIZE - 1 do
      w[due] = 0.0
    end
  end
end

-- A strike whose state is entered anew can hit again.
function K.forget_spent(m, taken, spent)
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    if taken[layer] >= 0 then spent[layer] = 0 end
  end
end

-- The number of the active phase a layer stands in, counted from 1 and further for each that hits again; 0: in none.
function K.window_of(m, z, layer)
  local clip = K.clip_of(m, z, layer)
  if clip < 0 then return 0 end
  local head = z[K.FIRST_PLAYER + layer * K.PLAYER_SIZE + K.PLAYER_HEAD]
  for active = m[clip + K.CLIP_ACTIVES], m[clip + K.CLIP_ACTIVES_END] - 1, K.ACTIVE_SIZE do
    if m[active + K.ACTIVE_START] <= head and head < m[active + K.ACTIVE_END] then return m[active + K.ACTIVE_WINDOW] end
  end
  return 0
end

-- Write where a box of a cel is: its edges, from place at on.
function K.place_box(m, r, z, layer, cel, rect, left, x, y, wide, high, b, at)
  local low, bottom = r[rect + K.RECT_LEFT], r[rect + K.RECT_BOTTOM]
  local width, height = r[rect + K.RECT_WIDTH], r[rect + K.RECT_HEIGHT]
  if K.is_mirrored(m, z, layer, cel, left) then low = -low - width end
  for again = 0, K.quarter_turns(m, z, layer, cel, left) - 1 do
    local turned = -low - width
    low = bottom
    bottom = turned
    turned = width
    width = height
    height = turned
  end
  local ahead = K.aside(m, r, z, layer, 1)
  local across = x + ((left and ahead ~= 0.0) and -ahead or ahead)
  local up = y + K.aside(m, r, z, layer, 2)
  b[at] = across + low * wide
  b[at + 1] = up + bottom * high
  b[at + 2] = across + (low + width) * wide
  b[at + 3] = up + (bottom + height) * high
end

-- Whether the box that stands first in b overlaps some vulnerable box of a figure in an area.
function K.meets_any(m, r, z, v, left, x, y, wide, high, b)
  local lowest = K.lowest_seen(m, r, z, v)
  if lowest < 0 then return false end
  for layer = lowest, m[K.HEAD_LAYER_COUNT] - 1 do
    local cel = K.cel_of(m, r, z, v, layer)
    if cel < 0 then goto continue end
    local row = K.cel_row(m, z, layer, cel)
    for rect = m[row + K.CEL_RECTS], m[row + K.CEL_RECTS_END] - 1, K.RECT_SIZE do
      if m[rect + K.RECT_KIND] ~= K.VULNERABLE_BOX then goto continue end
      K.place_box(m, r, z, layer, cel, rect, left, x, y, wide, high, b, 4)
      if math.min(b[2], b[6]) - math.max(b[0], b[4]) > 0.0 and math.min(b[3], b[7]) - math.max(b[1], b[5]) > 0.0 then
        return true
      end
      ::continue::
    end
    ::continue::
  end
  return false
end

-- Whether a figure guards, after the transitions of a tick.
function K.is_guarding(m, r, z, v)
  local rules = m[K.HEAD_CONTACT]
  return rules < m[K.HEAD_CONTACT_END] and K.run(m, r, z, v, m[rules + K.CONTACT_GUARDS])
end

-- Decide which strikes of a figure meet another: out is told by layer 0 for none, 1 for a hit and 2 for one that is guarded, and
-- spent which windows have hit.
function K.strikes(m, r, z, v, left, x, y, wide, high, other_m, other_r, other_z, other_v, other_left, other_x, other_y, other_wide, other_high, spent, out, b)
  local found = false
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    out[layer] = 0
    local window = K.window_of(m, z, layer)
    if window <= spent[layer] then goto continue end
    local cel, lowest = K.cel_of(m, r, z, v, layer), K.lowest_seen(m, r, z, v)
    if cel < 0 or layer < lowest then goto continue end
    local row = K.cel_row(m, z, layer, cel)
    local struck, reached = false, m[K.clip_of(m, z, layer) + K.CLIP_REACH] == 0
    for rect = m[row + K.CEL_RECTS], m[row + K.CEL_RECTS_END] - 1, K.RECT_SIZE do
      local kind = m[rect + K.RECT_KIND]
      if kind == K.VULNERABLE_BOX or kind == K.STRIKE_BOX and struck or kind == K.GUARD_BOX and reached then goto continue end
      K.place_box(m, r, z, layer, cel, rect, left, x, y, wide, high, b, 0)
      if K.meets_any(other_m, other_r, other_z, other_v, other_left, other_x, other_y, other_wide, other_high, b) then
        if kind == K.STRIKE_BOX then
          struck = true
        else
          reached = true
        end
      end
      ::continue::
    end
    if struck then
      local guarded = reached and K.is_guarding(other_m, other_r, other_z, other_v)
      out[layer] = guarded and 2 or 1
      spent[layer] = window
      found = true
    end
    ::continue::
  end
  return found
end

-- Add what strikes raise on who strikes, w, and on the other, along whose facing side of a push goes.
function K.add_due(m, r, z, out, w, other, side)
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    if out[layer] == 0 then goto continue end
    local clip = K.clip_of(m, z, layer)
    local hits = out[layer] == 1
    w[K.DUE_ANY] = 1.0
    other[K.DUE_ANY] = 1.0
    if hits then
      w[K.DUE_LANDS] = 1.0
      other[K.DUE_HIT] = 1.0
    else
      w[K.DUE_STOPPED] = 1.0
      other[K.DUE_GUARDED] = 1.0
    end
    local stun, freeze = ((hits and m[clip + K.CLIP_STUN] or m[clip + K.CLIP_GUARD_STUN]) + 0.0), (m[clip + K.CLIP_FREEZE] + 0.0)
    other[K.DUE_STUN] = math.max(other[K.DUE_STUN], stun)
    other[K.DUE_STRENGTH] = math.max(other[K.DUE_STRENGTH], r[clip + K.CLIP_STRENGTH])
    w[K.DUE_FREEZE] = math.max(w[K.DUE_FREEZE], freeze)
    other[K.DUE_FREEZE] = math.max(other[K.DUE_FREEZE], freeze)
    local push = r[clip + K.CLIP_PUSH] * side
    if math.abs(push) > math.abs(other[K.DUE_PUSH]) then other[K.DUE_PUSH] = push end
    ::continue::
  end
end

-- Contact of two figures that have both done a tick: out is told by layer 0 for none, 1 for a hit, 2 for one that is guarded, w
-- what that raises on the next tick. along is how much of a push to the right goes along the facing.
function K.meet(m, r, z, v, taken, left, along, x, y, wide, high, spent, out, w, other_m, other_r, other_z, other_v, other_taken, other_left, other_along, other_x, other_y, other_wide, other_high, other_spent, other_out, other_w, b)
  K.forget_spent(m, taken, spent)
  K.forget_spent(other_m, other_taken, other_spent)
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    out[layer] = 0
  end
  for layer = 0, other_m[K.HEAD_LAYER_COUNT] - 1 do
    other_out[layer] = 0
  end
  if z[K.NOW_FREEZE] > 0 or other_z[K.NOW_FREEZE] > 0 then return false end
  local first = K.strikes(m, r, z, v, left, x, y, wide, high, other_m, other_r, other_z, other_v, other_left, other_x, other_y, other_wide, other_high, spent, out, b)
  local second = K.strikes(other_m, other_r, other_z, other_v, other_left, other_x, other_y, other_wide, other_high, m, r, z, v, left, x, y, wide, high, other_spent, other_out, b)
  if first then K.add_due(m, r, z, out, w, other_w, other_x >= x and other_along or -other_along) end
  if second then K.add_due(other_m, other_r, other_z, other_out, other_w, w, x >= other_x and along or -along) end
  return first or second
end

-- Write where the cells of each section begin; how many cells there are in all.
function K.rows_of(counts, rows)
  local total = 0
  for section = 0, K.SECTION_COUNT - 1 do
    rows[section] = total
    total = total + (counts[section] * K.WIDTHS[section])
  end
  return total
end

-- Whether a cell is a whole number from low to high.
function K.is_whole(value, low, high)
  return (low <= value and value <= high) and K.floor(value) == value
end

-- The number of the first cell that is not what its column may hold; -1: none.
function K.wrong_cell(cells, counts, names)
  local at, first = 0, 0
  for section = 0, K.SECTION_COUNT - 1 do
    for again = 0, counts[section] - 1 do
      local target = 0
      for column = first, first + K.SIZES[section] - 1 do
        local rule, about = K.RULE[column], K.ABOUT[column]
        if rule == K.WITHIN then goto continue end
        local value = cells[at]
        local fine = true
        if rule == K.FINITE then
          fine = value - value == 0.0
        elseif rule == K.INTEGER then
          fine = K.is_whole(value, -K.EXACT, K.EXACT)
        elseif rule == K.TIME then
          fine = K.is_whole(value, 0.0, K.EXACT) or value == K.NEVER
        elseif rule == K.FROM_TO then
          fine = K.is_whole(value, 0.0, about)
        elseif rule == K.ROW or rule == K.ADDRESS then
          fine = K.is_whole(value, 0.0, counts[about] - 1)
        elseif rule == K.ROW_OR_NONE then
          fine = K.is_whole(value, -1.0, counts[about] - 1)
        elseif rule == K.NAME then
          fine = K.is_whole(value, 0.0, names[about] - 1)
        elseif rule == K.FIRST then
          target = about
          fine = K.is_whole(value, 0.0, counts[about])
        elseif rule == K.END then
          fine = K.is_whole(value, cells[at - 1], counts[target])
        else
          fine = value ~= value or value - value == 0.0
        end
        if not fine then return at end
        at = at + 1
        ::continue::
      end
    end
    first = first + K.SIZES[section]
  end
  return -1
end

-- Whether an act changes what there is.
function K.act_agrees(cells, counts, names, one)
  local does, target, value = cells[one + K.ACT_DO], cells[one + K.ACT_TARGET], cells[one + K.ACT_VALUE]
  if does <= K.RAISE then return 0.0 <= target and target < counts[K.PARAMETERS] end
  if does == K.LOCK or does == K.UNLOCK then return 0.0 <= target and target < names[K.NAMED_LOCKS] end
  return does ~= K.FREEZE or K.is_whole(value, 0.0, 1000000000000000.0)
end

-- Whether a clip's times can be counted, and its pieces and keys come one after another, and where marks fire.
function K.clip_agrees(cells, rows, one)
  local length, back = cells[one + K.CLIP_LENGTH], cells[one + K.CLIP_BEGIN]
  local paced = cells[one + K.CLIP_PACE] >= 0.0
  local cels, cues = cells[one + K.CLIP_CELS_END] - cells[one + K.CLIP_CELS], cells[one + K.CLIP_CUES_END] - cells[one + K.CLIP_CUES]
  local rate = paced and cells[one + K.CLIP_HIGH] or 1.0
  if not (1.0 <= length and length <= K.LONGEST) or not (-1.0 <= back and back < length) then return false end
  if not (-1.0 <= cells[one + K.CLIP_RESTING] and cells[one + K.CLIP_RESTING] < cels) then return false end
  if paced and (cells[one + K.CLIP_AT] == 0.0 or not (0.0 <= cells[one + K.CLIP_LOW] and cells[one + K.CLIP_LOW] <= rate and rate <= K.FASTEST)) then
    return false
  end
  if cells[one + K.CLIP_GOES] ~= 0.0 and cells[one + K.CLIP_KEYS] == cells[one + K.CLIP_KEYS_END] then return false end
  local lap = length - (back > 0.0 and back or 0.0)
  if cues * (K.floor(K.floor(rate * K.TICK) / lap) + 2.0) > K.MOST_MARKS then return false end
  for row = math.floor(cells[one + K.CLIP_CUES]), math.floor(cells[one + K.CLIP_CUES_END]) - 1 do
    local cue = rows[K.CUES] + row * K.WIDTHS[K.CUES]
    local spots = cells[cue + K.CUE_SPOTS_END] - cells[cue + K.CUE_SPOTS]
    if spots > 1.0 or spots > 0.0 and cells[cue + K.CUE_CEL] >= cels then return false end
  end
  local before = -1.0
  for row = math.floor(cells[one + K.CLIP_PIECES]), math.floor(cells[one + K.CLIP_PIECES_END]) - 1 do
    local piece = rows[K.PIECES] + row * K.WIDTHS[K.PIECES]
    local start = cells[piece + K.PIECE_START]
    if start <= before or before < 0.0 and start ~= 0.0 or cells[piece + K.PIECE_CEL] >= cels then return false end
    before = start
  end
  for row = math.floor(cells[one + K.CLIP_KEYS]) + 1, math.floor(cells[one + K.CLIP_KEYS_END]) - 1 do
    local key = rows[K.KEYS] + row * K.WIDTHS[K.KEYS]
    if not (cells[key + K.KEY_AT] > cells[key - K.WIDTHS[K.KEYS] + K.KEY_AT]) then return false end
  end
  return true
end

-- Whether a state's samples have their places, begin within their clips, and are as many for each way of moving.
function K.state_agrees(cells, counts, rows, one)
  local samples, samples_end = math.floor(cells[one + K.STATE_SAMPLES]), math.floor(cells[one + K.STATE_SAMPLES_END])
  local axes = cells[one + K.STATE_AXES_END] - cells[one + K.STATE_AXES]
  if cells[one + K.STATE_STICKY] < 0.0 or cells[one + K.STATE_BLENDS] ~= 0.0 and samples == samples_end then return false end
  local ways = math.floor(cells[one + K.STATE_MOVED_END]) - math.floor(cells[one + K.STATE_MOVED]) + 1
  if (samples_end - samples) % ways ~= 0 or ways > 1 and samples == samples_end then return false end
  for row = samples, samples_end - 1 do
    local sample = rows[K.SAMPLES] + row * K.WIDTHS[K.SAMPLES]
    local clip = rows[K.CLIPS] + math.floor(cells[sample + K.SAMPLE_CLIP]) * K.WIDTHS[K.CLIPS]
    if cells[sample + K.SAMPLE_PHASE] > cells[clip + K.CLIP_LENGTH] then return false end
    if cells[sample + K.SAMPLE_PLACES] + axes > counts[K.PLACES] then return false end
  end
  return true
end

-- Whether squashes and leans can be followed, and what begins them is there.
function K.shapes_agree(cells, counts, rows)
  local one
  for number = 0, counts[K.SQUASHES] - 1 do
    one = rows[K.SQUASHES] + number * K.WIDTHS[K.SQUASHES]
    if not (cells[one + K.SQUASH_HIGH] > 0.0) or cells[one + K.SQUASH_WIDE] <= 0.0 then return false end
    if cells[one + K.SQUASH_OVER] < 0.0 or cells[one + K.SQUASH_HOLD] < 0.0 or cells[one + K.SQUASH_BACK] < 0.0 then
      return false
    end
    if cells[one + K.SQUASH_EVERY] < 0.0 or cells[one + K.SQUASH_BY_FALL] < 0.0 then return false end
  end
  for number = 0, counts[K.LEANS] - 1 do
    one = rows[K.LEANS] + number * K.WIDTHS[K.LEANS]
    if cells[one + K.LEAN_MOST] < 0.0 or not (cells[one + K.LEAN_DT] > 0.0) then return false end
  end
  for number = 0, counts[K.SHAPES] - 1 do
    one = rows[K.SHAPES] + number * K.WIDTHS[K.SHAPES]
    local does, which = cells[one + K.SHAPE_DO], cells[one + K.SHAPE_WHICH]
    if which < 0.0 or which >= counts[K.LEANS] and (does == K.LEANED or does == K.HELD_LEAN) then return false end
    if which >= counts[K.SQUASHES] and (does == K.SQUASHED or does == K.HELD_SQUASH) then return false end
  end
  return true
end

-- Whether what a row of a program puts on the stack is there.
function K.leads(counts, names, op, a)
  if op == K.OP_NUMBER then return true end
  if op == K.OP_PARAMETER or op == K.OP_PRESSED or op == K.OP_RELEASED then return 0.0 <= a and a < counts[K.PARAMETERS] end
  if op == K.OP_SINCE then return 0.0 <= a and a < counts[K.CLOCKS] end
  if op == K.OP_BUFFERED then return 0.0 <= a and a < counts[K.BUFFERS] end
  if op == K.OP_SPAN then return 0.0 <= a and a < names[K.NAMED_SPANS] end
  if op == K.OP_MEMORY then return 0.0 <= a and a < counts[K.MEMORIES] end
  return 0.0 <= a and a < counts[K.LAYERS]
end

-- Whether a postfix program leaves one number (an amount) or one truth, whichever way its skips go.
function K.is_program(cells, counts, names, rows, room, begin, finish, amount)
  local ends, used = counts[K.PROGRAMS], 3 * counts[K.PROGRAMS]
  local depth, base, limit, waiting, at = 0, 0, finish, 0, begin
  while true do
    while waiting > 0 and at == limit do
      if depth ~= base + 1 or room[depth - 1] == K.AMOUNT then return false end
      room[depth - 1] = K.TRUTH
      waiting = waiting - 1
      limit = waiting > 0 and room[ends + 2 * waiting - 2] or finish
      base = waiting > 0 and room[ends + 2 * waiting - 1] or 0
    end
    if at == finish then return depth == 1 and room[0] ~= (amount and K.TRUTH or K.AMOUNT) end
    local row = rows[K.PROGRAMS] + at * K.WIDTHS[K.PROGRAMS]
    local op = math.floor(cells[row + K.STEP_OP])
    local a, b = cells[row + K.STEP_A], cells[row + K.STEP_B]
    if room[used + at] ~= 0 then return false end
    room[used + at] = 1
    at = at + 1
    if op >= K.OP_SKIP_FALSE then
      if depth < base + 1 or room[depth - 1] == K.AMOUNT or not (1.0 <= a and a <= limit - at) then return false end
      depth = depth - 1
      limit = at + math.floor(a)
      base = depth
      room[ends + 2 * waiting] = limit
      room[ends + 2 * waiting + 1] = base
      waiting = waiting + 1
      goto continue
    end
    local taken, made = 0, K.TRUTH
    if op == K.OP_NOT then
      taken = 1
    elseif op == K.OP_COMPARE then
      taken = 2
      if not (0.0 <= a and a < K.SIGN_COUNT) then return false end
    elseif op == K.OP_COMPUTE then
      if not (0.0 <= a and a < K.OPERATOR_COUNT) or not (1.0 <= b and b <= depth - base) then return false end
      taken = math.floor(b)
      made = K.AMOUNT
      if K.TAKES[math.floor(a)] ~= 0 and K.TAKES[math.floor(a)] ~= taken then return false end
    else
      if not K.leads(counts, names, op, a) then return false end
      if op == K.OP_NUMBER or op == K.OP_PARAMETER then
        made = K.EITHER
      elseif op == K.OP_STAY or op == K.OP_SINCE then
        made = K.AMOUNT
      end
    end
    if depth - base < taken then return false end
    depth = depth - taken
    for below = depth, depth + taken - 1 do
      if room[below] == (op == K.OP_NOT and K.AMOUNT or K.TRUTH) then return false end
    end
    room[depth] = made
    depth = depth + 1
    ::continue::
  end
end

-- Whether each program comes to what it is asked for, and no two have a row in common.
function K.programs_agree(cells, counts, names, rows, room)
  local one
  for row = 0, counts[K.PROGRAMS] - 1 do
    room[3 * counts[K.PROGRAMS] + row] = 0
  end
  for number = 0, counts[K.WAYS] - 1 do
    one = rows[K.WAYS] + number * K.WIDTHS[K.WAYS] + K.WAY_PROGRAM
    if not K.is_program(cells, counts, names, rows, room, math.floor(cells[one]), math.floor(cells[one + 1]), false) then
      return false
    end
  end
  for number = 0, counts[K.MEMORIES] - 1 do
    one = rows[K.MEMORIES] + number * K.WIDTHS[K.MEMORIES] + K.MEMORY_PROGRAM
    if not K.is_program(cells, counts, names, rows, room, math.floor(cells[one]), math.floor(cells[one + 1]), false) then
      return false
    end
  end
  for number = 0, counts[K.FORMULAS] - 1 do
    one = rows[K.FORMULAS] + number * K.WIDTHS[K.FORMULAS]
    local parameter = rows[K.PARAMETERS] + math.floor(cells[one + K.FORMULA_PARAMETER]) * K.WIDTHS[K.PARAMETERS]
    local amount = cells[parameter + K.PARAMETER_KIND] <= K.BEARING
    local begin, finish = math.floor(cells[one + K.FORMULA_PROGRAM]), math.floor(cells[one + K.FORMULA_PROGRAM_END])
    if not K.is_program(cells, counts, names, rows, room, begin, finish, amount) then return false end
  end
  for number = 0, counts[K.CONTACTS] - 1 do
    one = rows[K.CONTACTS] + number * K.WIDTHS[K.CONTACTS] + K.CONTACT_GUARDS
    if not K.is_program(cells, counts, names, rows, room, math.floor(cells[one]), math.floor(cells[one + 1]), false) then
      return false
    end
  end
  for number = 0, counts[K.ACCESSORIES] - 1 do
    one = rows[K.ACCESSORIES] + number * K.WIDTHS[K.ACCESSORIES] + K.ACCESSORY_SHOWN
    if not K.is_program(cells, counts, names, rows, room, math.floor(cells[one]), math.floor(cells[one + 1]), false) then
      return false
    end
  end
  return true
end

-- Whether what stands in several rows goes together; room is for four whole numbers a row of a program.
function K.agrees(cells, counts, names, rows, room)
  local one
  if names[K.NAMED_PARAMETERS] ~= counts[K.PARAMETERS] or names[K.NAMED_LAYERS] ~= counts[K.LAYERS] then return false end
  if names[K.NAMED_STATES] ~= counts[K.STATES] or names[K.NAMED_CLIPS] ~= counts[K.CLIPS] then return false end
  for number = 0, counts[K.PARAMETERS] - 1 do
    one = rows[K.PARAMETERS] + number * K.WIDTHS[K.PARAMETERS]
    local kind = cells[one + K.PARAMETER_KIND]
    if kind <= K.WHOLE and cells[one + K.PARAMETER_LOW] > cells[one + K.PARAMETER_HIGH] then return false end
    if kind == K.CHOICE and not K.is_whole(cells[one + K.PARAMETER_FIRST], 0.0, names[K.NAMED_WORDS] - 1) then return false end
  end
  for number = 0, counts[K.LAYERS] - 1 do
    one = rows[K.LAYERS] + number * K.WIDTHS[K.LAYERS]
    local start = cells[one + K.LAYER_START]
    if start < cells[one + K.LAYER_STATES] or start >= cells[one + K.LAYER_STATES_END] then return false end
  end
  for number = 0, counts[K.AXES] - 1 do
    one = rows[K.AXES] + number * K.WIDTHS[K.AXES]
    if cells[one + K.AXIS_LOW] > cells[one + K.AXIS_HIGH] or not (cells[one + K.AXIS_STEP] > 0.0) then return false end
  end
  for number = 0, counts[K.ACTS] - 1 do
    if not K.act_agrees(cells, counts, names, rows[K.ACTS] + number * K.WIDTHS[K.ACTS]) then return false end
  end
  for number = 0, counts[K.CLIPS] - 1 do
    if not K.clip_agrees(cells, rows, rows[K.CLIPS] + number * K.WIDTHS[K.CLIPS]) then return false end
  end
  for number = 0, counts[K.STATES] - 1 do
    if not K.state_agrees(cells, counts, rows, rows[K.STATES] + number * K.WIDTHS[K.STATES]) then return false end
  end
  if not K.shapes_agree(cells, counts, rows) then return false end
  return K.programs_agree(cells, counts, names, rows, room)
end

-- How long the arrays of a table are, that has so many rows in each section.
function K.laid_size(counts)
  local total = K.HEAD_SIZE + 3 * counts[K.PARAMETERS]
  for section = 0, K.SECTION_COUNT - 1 do
    total = total + (counts[section] * K.SIZES[section])
  end
  return total
end

-- List the pulses, with whether they come from outside, and the buttons.
function K.lay_kinds(counts, m, to)
  m[K.HEAD_PULSES] = to
  for parameter = 0, counts[K.PARAMETERS] - 1 do
    local one = m[K.HEAD_PARAMETERS] + parameter * K.PARAMETER_SIZE
    if m[one + K.PARAMETER_KIND] == K.PULSE then
      m[to] = parameter
      m[to + 1] = m[one + K.PARAMETER_OWNER] < K.GRAPH and 1 or 0
      to = to + 2
    end
  end
  m[K.HEAD_PULSES_END] = to
  m[K.HEAD_BUTTONS] = to
  for parameter = 0, counts[K.PARAMETERS] - 1 do
    if m[m[K.HEAD_PARAMETERS] + parameter * K.PARAMETER_SIZE + K.PARAMETER_KIND] == K.BUTTON then
      m[to] = parameter
      to = to + 1
    end
  end
  m[K.HEAD_BUTTONS_END] = to
end

-- Say where a situation has what.
function K.lay_situation(counts, names, m)
  local symbols = counts[K.PARAMETERS]
  m[K.HEAD_LAYER_COUNT] = counts[K.LAYERS]
  m[K.HEAD_COUNTERS] = K.FIRST_PLAYER + counts[K.LAYERS] * K.PLAYER_SIZE
  m[K.HEAD_AGES] = m[K.HEAD_COUNTERS] + counts[K.MEMORIES]
  m[K.HEAD_SINCE] = m[K.HEAD_AGES] + counts[K.BUFFERS]
  m[K.HEAD_HELD] = m[K.HEAD_SINCE] + counts[K.CLOCKS]
  m[K.HEAD_RAISED] = m[K.HEAD_HELD] + symbols
  m[K.HEAD_LOCKS] = m[K.HEAD_RAISED] + symbols
  m[K.HEAD_SPANS] = m[K.HEAD_LOCKS] + names[K.NAMED_LOCKS]
  m[K.HEAD_SPANS_END] = m[K.HEAD_SPANS] + names[K.NAMED_SPANS]
  m[K.HEAD_REMEMBERED] = m[K.HEAD_SPANS_END]
  m[K.HEAD_HELD_NOW] = m[K.HEAD_REMEMBERED] + counts[K.MEMORIES]
  m[K.HEAD_HELD_BEFORE] = m[K.HEAD_HELD_NOW] + symbols
  m[K.HEAD_CHANGED] = m[K.HEAD_HELD_BEFORE] + symbols
  m[K.HEAD_COUNTS] = m[K.HEAD_CHANGED] + 1
  m[K.HEAD_PLACE] = symbols
  m[K.HEAD_KEPT] = symbols + K.PLAYED
  m[K.HEAD_STACK] = m[K.HEAD_KEPT] + counts[K.STICKS]
  m[K.HEAD_VALUES] = m[K.HEAD_STACK] + counts[K.PROGRAMS] + 1
end

-- Where a program goes on at a row with a truth on top: the address of the next instruction, or TRUE or FALSE.
function K.onward(m, at, finish, holds)
  while at < finish do
    local op = m[at + K.STEP_OP]
    if op == K.OP_NOT then
      holds = not holds
      at = at + K.STEP_SIZE
    elseif op == K.OP_SKIP_FALSE or op == K.OP_SKIP_TRUE then
      if holds == (op == K.OP_SKIP_FALSE) then return at + K.STEP_SIZE end
      at = at + (K.STEP_SIZE * (1 + m[at + K.STEP_A]))
    else
      return at
    end
  end
  return holds and K.TRUE or K.FALSE
end

-- Turn a program into instructions, each in the place of the first row it stands for; where it begins. number: it comes to a number
-- and not to a truth.
function K.link(m, r, begin, finish, number)
  local at = begin
  while at < finish do
    local op, rows = m[at + K.STEP_OP], 1
    local after = at + K.STEP_SIZE < finish and m[at + K.STEP_SIZE + K.STEP_OP] or -1
    local last = at + 2 * K.STEP_SIZE < finish and m[at + 2 * K.STEP_SIZE + K.STEP_OP] or -1
    if op == K.OP_PARAMETER and after == K.OP_PARAMETER and last == K.OP_COMPARE then
      m[at + K.STEP_OP] = K.PAIR
      rows = 3
    elseif op == K.OP_PARAMETER and after == K.OP_NUMBER and last == K.OP_COMPARE then
      m[at + K.STEP_OP] = K.COMPARED
      rows = 3
    elseif op == K.OP_STAY and after == K.OP_NUMBER and last == K.OP_COMPARE then
      m[at + K.STEP_OP] = K.STAYED
      rows = 3
    elseif op == K.OP_SINCE and after == K.OP_NUMBER and last == K.OP_COMPARE then
      m[at + K.STEP_OP] = K.SINCE
      rows = 3
    elseif op == K.OP_COMPARE then
      m[at + K.STEP_OP] = K.COMPARE_STACK
      m[at + K.STEP_B] = K.STANDS[m[at + K.STEP_A]]
    elseif op == K.OP_COMPUTE then
      m[at + K.STEP_OP] = K.COMPUTE
    elseif op < K.OP_NOT then
      m[at + K.STEP_OP] = K.LAID[op]
      if op == K.OP_PARAMETER or op == K.OP_NUMBER then
        local tested = after == K.OP_NOT or after == K.OP_SKIP_FALSE or after == K.OP_SKIP_TRUE or after < 0 and not number
        if not tested then m[at + K.STEP_OP] = op == K.OP_PARAMETER and K.PUSH_VALUE or K.PUSH_NUMBER end
      end
    end
    if rows == 3 then
      m[at + K.STEP_B] = K.STANDS[m[at + 2 * K.STEP_SIZE + K.STEP_A]]
      r[at + K.STEP_VALUE] = r[at + K.STEP_SIZE + K.STEP_VALUE]
    end
    local following = at + rows * K.STEP_SIZE
    m[at + K.STEP_YES] = K.onward(m, following, finish, true)
    m[at + K.STEP_NO] = K.onward(m, following, finish, false)
    at = following
  end
  return begin
end

-- Turn the program of each transition, memory, formula, guard and accessory into instructions.
function K.link_all(m, r)
  for way = m[K.HEAD_WAYS], m[K.HEAD_WAYS_END] - 1, K.WAY_SIZE do
    m[way + K.WAY_PROGRAM] = K.link(m, r, m[way + K.WAY_PROGRAM], m[way + K.WAY_PROGRAM_END], false)
  end
  for memory = m[K.HEAD_MEMORIES], m[K.HEAD_MEMORIES_END] - 1, K.MEMORY_SIZE do
    m[memory + K.MEMORY_PROGRAM] = K.link(m, r, m[memory + K.MEMORY_PROGRAM], m[memory + K.MEMORY_PROGRAM_END], false)
  end
  for formula = m[K.HEAD_FORMULAS], m[K.HEAD_FORMULAS_END] - 1, K.FORMULA_SIZE do
    local one = m[K.HEAD_PARAMETERS] + m[formula + K.FORMULA_PARAMETER] * K.PARAMETER_SIZE
    local number = m[one + K.PARAMETER_KIND] <= K.BEARING
    m[formula + K.FORMULA_PROGRAM] = K.link(m, r, m[formula + K.FORMULA_PROGRAM], m[formula + K.FORMULA_PROGRAM_END], number)
  end
  for rules = m[K.HEAD_CONTACT], m[K.HEAD_CONTACT_END] - 1, K.CONTACT_SIZE do
    m[rules + K.CONTACT_GUARDS] = K.link(m, r, m[rules + K.CONTACT_GUARDS], m[rules + K.CONTACT_GUARDS_END], false)
  end
  for one = m[K.HEAD_ACCESSORIES], m[K.HEAD_ACCESSORIES_END] - 1, K.ACCESSORY_SIZE do
    m[one + K.ACCESSORY_SHOWN] = K.link(m, r, m[one + K.ACCESSORY_SHOWN], m[one + K.ACCESSORY_SHOWN_END], false)
  end
end

-- How many marks can fire in one tick at most: in each layer those of a step of a clip, and those of one that is entered.
function K.most_told(m, r)
  local total = 0
  for layer = m[K.HEAD_LAYERS], m[K.HEAD_LAYERS_END] - 1, K.LAYER_SIZE do
    local most, begun = 0, 0
    for state = m[layer + K.LAYER_STATES], m[layer + K.LAYER_STATES_END] - 1, K.STATE_SIZE do
      for sample = m[state + K.STATE_SAMPLES], m[state + K.STATE_SAMPLES_END] - 1, K.SAMPLE_SIZE do
        local clip = m[sample + K.SAMPLE_CLIP]
        local cues = ((m[clip + K.CLIP_CUES_END] - m[clip + K.CLIP_CUES]) // K.CUE_SIZE)
        local fastest = m[clip + K.CLIP_PACE] < 0 and 1.0 or r[clip + K.CLIP_HIGH]
        local lap = m[clip + K.CLIP_LENGTH] - math.max(m[clip + K.CLIP_BEGIN], 0)
        most = math.max(most, cues * ((math.floor(fastest * K.TICK) // lap) + 2))
        begun = math.max(begun, cues)
      end
    end
    total = total + (most + begun)
  end
  return total
end

-- Lay a table out in m and r, arrays of zeros; names are how many of each kind there are.
function K.lay(cells, counts, names, m, r)
  local finish = K.HEAD_SIZE
  for section = 0, K.SECTION_COUNT - 1 do
    m[2 * section] = finish
    finish = finish + (counts[section] * K.SIZES[section])
    m[2 * section + 1] = finish
  end
  local cell, to, first = 0, K.HEAD_SIZE, 0
  for section = 0, K.SECTION_COUNT - 1 do
    for again = 0, counts[section] - 1 do
      local target = 0
      for column = first, first + K.SIZES[section] - 1 do
        if K.RULE[column] ~= K.WITHIN then
          if K.REAL[column] ~= 0 then
            r[to] = cells[cell]
          else
            m[to] = math.floor(cells[cell])
            if K.RULE[column] == K.FIRST or K.RULE[column] == K.ADDRESS then target = K.ABOUT[column] end
            if K.RULE[column] == K.FIRST or K.RULE[column] == K.END or K.RULE[column] == K.ADDRESS then
              m[to] = m[2 * target] + m[to] * K.SIZES[target]
            end
          end
          cell = cell + 1
        end
        to = to + 1
      end
    end
    first = first + K.SIZES[section]
  end
  K.lay_kinds(counts, m, to)
  K.lay_situation(counts, names, m)
  K.link_all(m, r)
  m[K.HEAD_MOST_TOLD] = K.most_told(m, r)
end

-- Before the inputs are set: pulses go off, or on where one was raised, and the sticks' bearings are kept.
function K.open_tick(m, z, v)
  for pulse = m[K.HEAD_PULSES], m[K.HEAD_PULSES_END] - 1, K.PULSE_SIZE do
    v[m[pulse]] = m[pulse + 1] ~= 0 and 0.0 or (z[m[K.HEAD_RAISED] + m[pulse]] + 0.0)
  end
  local kept = m[K.HEAD_KEPT]
  for stick = m[K.HEAD_STICKS], m[K.HEAD_STICKS_END] - 1, K.STICK_SIZE do
    v[kept] = v[m[stick + K.STICK_BEARING]]
    kept = kept + 1
  end
end

-- A stick's bearing is what it was while there is no push.
function K.keep_bearings(m, v)
  local kept = m[K.HEAD_KEPT]
  for stick = m[K.HEAD_STICKS], m[K.HEAD_STICKS_END] - 1, K.STICK_SIZE do
    if v[m[stick + K.STICK_PUSH]] == 0.0 then v[m[stick + K.STICK_BEARING]] = v[kept] end
    kept = kept + 1
  end
end

-- Nothing has been asked of the body on this tick yet; for games that move it by their own rules.
function K.forget_asked(m, v)
  local place = m[K.HEAD_PLACE]
  v[place + K.FIELDS_TRAVEL] = 0.0
  v[place + K.FIELDS_TRAVEL_UP] = 0.0
  v[place + K.FIELDS_TRAVELS] = 0.0
  v[place + K.FIELDS_MODE] = 0.0
  v[place + K.FIELDS_PUSH] = 0.0
  v[place + K.FIELDS_PUSH_UP] = 0.0
end

-- What a program comes to: its number, or 1 for true and 0 for false.
function K.worth(m, r, z, v, program, number)
  local holds = K.run(m, r, z, v, program)
  if number then return v[m[K.HEAD_STACK]] end
  return holds and 1.0 or 0.0
end

-- Bring the parameters that are computed from others up to date.
function K.compute_formulas(m, r, z, v)
  for formula = m[K.HEAD_FORMULAS], m[K.HEAD_FORMULAS_END] - 1, K.FORMULA_SIZE do
    local parameter = m[formula + K.FORMULA_PARAMETER]
    local number = m[m[K.HEAD_PARAMETERS] + parameter * K.PARAMETER_SIZE + K.PARAMETER_KIND] <= K.BEARING
    v[parameter] = K.worth(m, r, z, v, m[formula + K.FORMULA_PROGRAM], number)
  end
end

-- Crossfades run on by one tick.
function K.fade_on(m, z)
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    local player = K.FIRST_PLAYER + layer * K.PLAYER_SIZE
    local left = z[player + K.PLAYER_FADE_LEFT] - 1
    if left < -1 then goto continue end
    z[player + K.PLAYER_FADE_LEFT] = left
    if left < 0 then
      z[player + K.PLAYER_FADE_STATE] = 0
      z[player + K.PLAYER_FADE_PICK] = 0
      z[player + K.PLAYER_FADE_HEAD] = 0
      z[player + K.PLAYER_FADE_BLOCKS] = 0
      goto continue
    end
    local state = m[K.HEAD_STATES] + z[player + K.PLAYER_FADE_STATE] * K.STATE_SIZE
    if m[state + K.STATE_SAMPLES] < m[state + K.STATE_SAMPLES_END] then
      local sample = m[state + K.STATE_SAMPLES] + z[player + K.PLAYER_FADE_PICK] * K.SAMPLE_SIZE
      z[player + K.PLAYER_FADE_HEAD] = K.folded(m, m[sample + K.SAMPLE_CLIP], z[player + K.PLAYER_FADE_HEAD] + K.TICK)
    end
    ::continue::
  end
end

-- Write the parameters that spans of every layer but one hold from place held on, and from spans on (-1: nowhere) which are on.
function K.look(m, z, held, spans, but)
  for one = m[K.HEAD_HOLDS], m[K.HEAD_HOLDS_END] - 1 do
    z[held + m[one]] = 0
  end
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    local clip = K.clip_of(m, z, layer)
    if clip < 0 or layer == but then goto continue end
    local head = z[K.FIRST_PLAYER + layer * K.PLAYER_SIZE + K.PLAYER_HEAD]
    for window = m[clip + K.CLIP_WINDOWS], m[clip + K.CLIP_WINDOWS_END] - 1, K.WINDOW_SIZE do
      if m[window + K.WINDOW_START] <= head and head < m[window + K.WINDOW_END] then
        if m[window + K.WINDOW_HOLD] >= 0 then z[held + m[window + K.WINDOW_HOLD]] = 1 end
        if spans >= 0 then z[spans + m[window + K.WINDOW_SPAN]] = 1 end
      end
    end
    ::continue::
  end
end

-- Work out which spans are on; flags they hold go on, and off again where they were held before.
function K.see_spans(m, r, z, v, before)
  if m[K.HEAD_WINDOWS] == m[K.HEAD_WINDOWS_END] then return end
  local held_now, held_before = m[K.HEAD_HELD_NOW], m[K.HEAD_HELD_BEFORE]
  for span = m[K.HEAD_SPANS], m[K.HEAD_SPANS_END] - 1 do
    z[span] = 0
  end
  K.look(m, z, held_now, m[K.HEAD_SPANS], -1)
  local changed = false
  for one = m[K.HEAD_HOLDS], m[K.HEAD_HOLDS_END] - 1 do
    local parameter = m[one]
    if z[held_now + parameter] ~= 0 or before and z[held_before + parameter] ~= 0 then
      v[parameter] = (z[held_now + parameter] + 0.0)
      changed = true
    end
  end
  if changed then K.compute_formulas(m, r, z, v) end
end

-- Countdowns go down by one.
function K.count_down(m, r, z, v)
  for countdown = m[K.HEAD_COUNTDOWNS], m[K.HEAD_COUNTDOWNS_END] - 1 do
    v[m[countdown]] = v[m[countdown]] > 1.0 and v[m[countdown]] - 1.0 or 0.0
  end
  if m[K.HEAD_COUNTDOWNS] < m[K.HEAD_COUNTDOWNS_END] then K.compute_formulas(m, r, z, v) end
end

-- Note the parameters that spans hold on, before anything moves.
function K.note_held(m, z)
  if m[K.HEAD_WINDOWS] < m[K.HEAD_WINDOWS_END] and m[K.HEAD_HOLDS] < m[K.HEAD_HOLDS_END] then
    K.look(m, z, m[K.HEAD_HELD_BEFORE], -1, -1)
  end
end

-- The way of moving in a state: the first whose choice it is, counted from 1; 0: none of them.
function K.way_of(m, r, v, state)
  local number = 0
  for way = m[state + K.STATE_MOVED], m[state + K.STATE_MOVED_END] - 1, K.MOVED_SIZE do
    number = number + 1
    if v[m[way + K.MOVED_PARAMETER]] == r[way + K.MOVED_VALUE] then return number end
  end
  return 0
end

-- How far the value an axis reads is from a place on it, in rulings.
function K.rulings_to(m, r, v, axis, at)
  local value = K.value_on(m, r, v, axis)
  if m[axis + K.AXIS_ROUND] ~= 0 then return K.turn(at, value) / r[axis + K.AXIS_STEP] end
  return (value - at) / r[axis + K.AXIS_STEP]
end

-- The sample a state would show now, after the one picked before (-1: none was).
function K.picked(m, r, v, state, before)
  local way = K.way_of(m, r, v, state)
  if m[state + K.STATE_BLENDS] == 0 then return way end
  local block = K.samples_each(m, state)
  local number = way * block
  if before >= 0 then before = number + before % block end
  local best, first = number, m[state + K.STATE_SAMPLES] + number * K.SAMPLE_SIZE
  local nearest, distance = -1.0, -1.0
  for sample = first, first + block * K.SAMPLE_SIZE - 1, K.SAMPLE_SIZE do
    local total = 0.0
    local place = m[K.HEAD_PLACES] + m[sample + K.SAMPLE_PLACES]
    for axis = m[state + K.STATE_AXES], m[state + K.STATE_AXES_END] - 1, K.AXIS_SIZE do
      local at = r[place]
      place = place + 1
      if at == at then
        local away = K.rulings_to(m, r, v, axis, at)
        total = total + away * away
      end
    end
    if number == before then distance = total end
    if nearest < 0.0 or total < nearest then
      best = number
      nearest = total
    end
    number = number + 1
  end
  local sticky = r[state + K.STATE_STICKY]
  if sticky > 0.0 and before >= 0 then return math.sqrt(nearest) < math.sqrt(distance) - sticky and best or before end
  return best
end

-- How far a path goes while the playhead steps from head by amount, in a clip of length that goes back to there from its end (-1:
-- it stays there).
function K.gone(r, begin, finish, length, back, head, amount, which)
  local moved = head + amount
  if moved < length or back < 0 then
    return K.place(r, begin, finish, math.min(moved, length), which) - K.place(r, begin, finish, math.min(head, length), which)
  end
  local lap, over = length - back, moved - length
  local whole = K.place(r, begin, finish, length, which) - K.place(r, begin, finish, back, which)
  local first = K.place(r, begin, finish, length, which) - K.place(r, begin, finish, head, which)
  local rest = K.place(r, begin, finish, back + over % lap, which) - K.place(r, begin, finish, back, which)
  return first + (over // lap) * whole + rest
end

-- How often an instant lies in (head, head + amount]; the end of a clip that repeats from its start is its start.
function K.passed(m, clip, at, head, amount)
  local length, back = m[clip + K.CLIP_LENGTH], m[clip + K.CLIP_BEGIN]
  if at < back or back < 0 then return (head < at and at <= math.min(head + amount, length)) and 1 or 0 end
  if at > length then return 0 end
  if at == length and back == 0 then at = 0 end
  if amount < length - head then return (head < at and at <= head + amount) and 1 or 0 end
  local since, before = head + amount - at, head - at
  local laps = since >= 0 and (since // (length - back)) + 1 or 0
  return laps - (before >= 0 and (before // (length - back)) + 1 or 0)
end

-- Note that a mark fires, where there is room.
function K.tell(m, z, k, layer, cue)
  if k[0] < k[1] then
    local at = K.TOLD + k[0] * K.TOLD_SIZE
    k[at] = z[K.NOW_TICK]
    k[at + 1] = layer
    k[at + 2] = m[cue + K.CUE_MARK]
    k[at + 3] = ((cue - m[K.HEAD_CUES]) // K.CUE_SIZE)
    k[at + 4] = z[K.FIRST_PLAYER + layer * K.PLAYER_SIZE + K.PLAYER_STATE]
    k[at + 5] = z[K.FIRST_PLAYER + layer * K.PLAYER_SIZE + K.PLAYER_PICK]
  end
  k[0] = k[0] + 1
end

-- Effects; a pulse raised at_once is true for the rest of this tick, else throughout the next.
function K.apply(m, r, z, v, begin, finish, at_once)
  for act = begin, finish - 1, K.ACT_SIZE do
    local does, target = m[act + K.ACT_DO], m[act + K.ACT_TARGET]
    local value = r[act + K.ACT_VALUE]
    if does == K.SET then
      v[target] = value
    elseif does == K.ADD then
      v[target] = K.fitted(m, r, target, v[target] + value)
    elseif does == K.RAISE then
      if at_once then
        v[target] = 1.0
      else
        z[m[K.HEAD_RAISED] + target] = 1
      end
    elseif does == K.LOCK then
      z[m[K.HEAD_LOCKS] + target] = 1
    elseif does == K.UNLOCK then
      z[m[K.HEAD_LOCKS] + target] = 0
    elseif does == K.FREEZE then
      z[K.NOW_FREEZE] = math.max(z[K.NOW_FREEZE], math.floor(value))
    elseif does == K.MODE then
      v[m[K.HEAD_PLACE] + K.FIELDS_MODE] = value
    elseif does == K.PUSH then
      v[m[K.HEAD_PLACE] + K.FIELDS_PUSH] = v[m[K.HEAD_PLACE] + K.FIELDS_PUSH] + value
    elseif does == K.PUSH_UP then
      v[m[K.HEAD_PLACE] + K.FIELDS_PUSH_UP] = v[m[K.HEAD_PLACE] + K.FIELDS_PUSH_UP] + value
    end
    K.compute_formulas(m, r, z, v)
  end
end

-- The marks in (head, head + amount], in time order: again and again the next one.
function K.fire(m, r, z, v, k, layer, clip, head, amount)
  local length, back = m[clip + K.CLIP_LENGTH], m[clip + K.CLIP_BEGIN]
  local last, last_cue = -1, -1
  while true do
    local best, best_cue = -1, -1
    for cue = m[clip + K.CLIP_CUES], m[clip + K.CLIP_CUES_END] - 1, K.CUE_SIZE do
      local at = m[cue + K.CUE_AT]
      local laps = K.passed(m, clip, at, head, amount)
      if laps <= 0 then goto continue end
      if at == length and back == 0 then at = 0 end
      local time = (back < 0 or at > head) and at - head or at - head + length - back
      for again = 0, laps - 1 do
        if (time > last or time == last and cue > last_cue) and (best < 0 or time < best) then
          best = time
          best_cue = cue
          break
        end
        time = time + (length - back)
      end
      ::continue::
    end
    if best < 0 then return end
    last = best
    last_cue = best_cue
    K.tell(m, z, k, layer, best_cue)
    K.apply(m, r, z, v, m[best_cue + K.CUE_ACTS], m[best_cue + K.CUE_ACTS_END], true)
  end
end

-- A layer's stay goes up, its playhead steps, and the marks passed fire.
function K.play_on(m, r, z, v, k, layer)
  local player, state = K.FIRST_PLAYER + layer * K.PLAYER_SIZE, K.state_of(m, z, layer)
  z[player + K.PLAYER_STAY] = z[player + K.PLAYER_STAY] + 1
  local first = m[state + K.STATE_SAMPLES]
  if first == m[state + K.STATE_SAMPLES_END] then return end
  local before, head = z[player + K.PLAYER_PICK], z[player + K.PLAYER_HEAD]
  local pick = K.picked(m, r, v, state, before)
  local clip = m[first + pick * K.SAMPLE_SIZE + K.SAMPLE_CLIP]
  local length, back = m[clip + K.CLIP_LENGTH], m[clip + K.CLIP_BEGIN]
  if pick ~= before then
    head = K.taken_over(m, state, before, pick, head)
    z[player + K.PLAYER_PICK] = pick
  end
  local amount = K.pace_of(m, r, v, clip)
  if head + amount >= length and back >= 0 then z[player + K.PLAYER_OVER] = 1 end
  z[player + K.PLAYER_HEAD] = K.folded(m, clip, head + amount)
  if m[clip + K.CLIP_GOES] ~= 0 then
    local begin, finish, place = m[clip + K.CLIP_KEYS], m[clip + K.CLIP_KEYS_END], m[K.HEAD_PLACE]
    v[place + K.FIELDS_TRAVEL] = v[place + K.FIELDS_TRAVEL] + K.gone(r, begin, finish, length, back, head, amount, K.X)
    v[place + K.FIELDS_TRAVEL_UP] = v[place + K.FIELDS_TRAVEL_UP] + K.gone(r, begin, finish, length, back, head, amount, K.Y)
    v[place + K.FIELDS_TRAVELS] = ((math.floor(v[place + K.FIELDS_TRAVELS]) | m[clip + K.CLIP_GOES]) + 0.0)
  end
  if m[clip + K.CLIP_CUES] < m[clip + K.CLIP_CUES_END] then K.fire(m, r, z, v, k, layer, clip, head, amount) end
end

-- A press or a leaving a tick ago more; one that is too old for any condition to ask is forgotten.
function K.older(z, age, most)
  if z[age] >= 0 then z[age] = z[age] + 1 < most and z[age] + 1 or -1 end
end

-- A memory's counter after a tick on which its operand was true or not (holds).
function K.counted(kind, counter, ticks, holds)
  if kind == K.HELD_FOR then return holds and math.min(counter + 1, ticks) or 0 end
  return holds and ticks or math.max(counter - 1, 0)
end

-- Step 5: a press begins its age, other ages grow, and memories count; where nothing has changed, an operand that lasts is what it
-- was, which the counters tell.
function K.remember(m, r, z, v, changed)
  local age = m[K.HEAD_AGES]
  for buffer = m[K.HEAD_BUFFERS], m[K.HEAD_BUFFERS_END] - 1, K.BUFFER_SIZE do
    local parameter = m[buffer + K.BUFFER_PARAMETER]
    if v[parameter] ~= 0.0 and z[m[K.HEAD_HELD] + parameter] == 0 then
      z[age] = 0
    else
      K.older(z, age, m[buffer + K.BUFFER_MOST])
    end
    age = age + 1
  end
  age = m[K.HEAD_SINCE]
  for clock = m[K.HEAD_CLOCKS], m[K.HEAD_CLOCKS_END] - 1 do
    K.older(z, age, m[clock])
    age = age + 1
  end
  local at = 0
  for memory = m[K.HEAD_MEMORIES], m[K.HEAD_MEMORIES_END] - 1, K.MEMORY_SIZE do
    local counter, ticks = z[m[K.HEAD_COUNTERS] + at], m[memory + K.MEMORY_TICKS]
    local kind = m[memory + K.MEMORY_WITHIN]
    local holds = false
    if changed or m[memory + K.MEMORY_LASTS] == 0 then
      holds = K.run(m, r, z, v, m[memory + K.MEMORY_PROGRAM])
    else
      holds = (kind == K.HELD_FOR and counter > 0) or (not (kind == K.HELD_FOR) and counter >= ticks)
    end
    counter = K.counted(kind, counter, ticks, holds)
    z[m[K.HEAD_REMEMBERED] + at] = ((kind == K.SEEN_WITHIN and counter > 0) or (not (kind == K.SEEN_WITHIN) and counter >= ticks)) and 1 or 0
    z[m[K.HEAD_COUNTERS] + at] = counter
    at = at + 1
  end
end

-- Whether anything locks movement: a state that holds still, a span, or a named lock.
function K.locked(m, z)
  for at = m[K.HEAD_LOCKS], m[K.HEAD_SPANS] - 1 do
    if z[at] ~= 0 then return true end
  end
  local spanned = m[K.HEAD_WINDOWS] < m[K.HEAD_WINDOWS_END]
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    if m[K.state_of(m, z, layer) + K.STATE_STILL] ~= 0 then return true end
    if not spanned then goto continue end
    local clip = K.clip_of(m, z, layer)
    if clip < 0 then goto continue end
    local head = z[K.FIRST_PLAYER + layer * K.PLAYER_SIZE + K.PLAYER_HEAD]
    for window = m[clip + K.CLIP_WINDOWS], m[clip + K.CLIP_WINDOWS_END] - 1, K.WINDOW_SIZE do
      if m[window + K.WINDOW_LOCK] ~= 0 and (m[window + K.WINDOW_START] <= head and head < m[window + K.WINDOW_END]) then
        return true
      end
    end
    ::continue::
  end
  return false
end

-- The spans of a layer's state that is left are over: flags that only they held go off.
function K.end_spans(m, r, z, v, layer)
  if m[K.HEAD_HOLDS] >= m[K.HEAD_HOLDS_END] then return end
  K.look(m, z, m[K.HEAD_HELD_NOW], -1, layer)
  local ended = false
  for one = m[K.HEAD_HOLDS], m[K.HEAD_HOLDS_END] - 1 do
    if z[m[K.HEAD_HELD_BEFORE] + m[one]] ~= 0 and z[m[K.HEAD_HELD_NOW] + m[one]] == 0 then
      v[m[one]] = 0.0
      ended = true
    end
  end
  if ended then K.compute_formulas(m, r, z, v) end
end

-- The number of the first axis of a state's that reads a parameter; -1: none.
function K.axis_like(m, state, parameter)
  local number = 0
  for axis = m[state + K.STATE_AXES], m[state + K.STATE_AXES_END] - 1, K.AXIS_SIZE do
    if parameter >= 0 and m[axis + K.AXIS_PARAMETER] == parameter then return number end
    number = number + 1
  end
  return -1
end

-- The sample of a state that counts as picked before, when the sample pick was shown in the state left; -1: none.
function K.kept_from(m, r, left, pick, state)
  if left < 0 or pick < 0 or m[left + K.STATE_BLENDS] == 0 or m[state + K.STATE_BLENDS] == 0 then return -1 end
  local shown = m[K.HEAD_PLACES] + m[m[left + K.STATE_SAMPLES] + pick * K.SAMPLE_SIZE + K.SAMPLE_PLACES]
  local number = 0
  for sample = m[state + K.STATE_SAMPLES], m[state + K.STATE_SAMPLES_END] - 1, K.SAMPLE_SIZE do
    local place = m[K.HEAD_PLACES] + m[sample + K.SAMPLE_PLACES]
    local both, same = false, true
    for axis = m[state + K.STATE_AXES], m[state + K.STATE_AXES_END] - 1, K.AXIS_SIZE do
      local old = K.axis_like(m, left, m[axis + K.AXIS_PARAMETER])
      if old >= 0 then
        local one, two = r[shown + old], r[place]
        both = true
        same = same and (one == two or one ~= one and two ~= two)
      end
      place = place + 1
    end
    if not both then return -1 end
    if same then return number end
    number = number + 1
  end
  return -1
end

-- The marks at the very start of a clip that is entered there.
function K.fire_first(m, r, z, v, k, layer, clip)
  local length, back = m[clip + K.CLIP_LENGTH], m[clip + K.CLIP_BEGIN]
  for cue = m[clip + K.CLIP_CUES], m[clip + K.CLIP_CUES_END] - 1, K.CUE_SIZE do
    if m[cue + K.CUE_AT] == 0 or back == 0 and m[cue + K.CUE_AT] == length then
      K.tell(m, z, k, layer, cue)
      K.apply(m, r, z, v, m[cue + K.CUE_ACTS], m[cue + K.CUE_ACTS_END], false)
    end
  end
end

-- The layer's new state begins, at the same share of its clip as a head in a clip of old_length; left is the state before (-1:
-- none), which showed the sample shown (-1: none).
function K.enter(m, r, z, v, k, layer, head, old_length, left, shown)
  local player, state = K.FIRST_PLAYER + layer * K.PLAYER_SIZE, K.state_of(m, z, layer)
  z[player + K.PLAYER_HEAD] = 0
  z[player + K.PLAYER_PICK] = 0
  z[player + K.PLAYER_OVER] = 0
  K.apply(m, r, z, v, m[state + K.STATE_ENTRY], m[state + K.STATE_ENTRY_END], false)
  local first = m[state + K.STATE_SAMPLES]
  if first == m[state + K.STATE_SAMPLES_END] then return end
  local pick = K.picked(m, r, v, state, K.kept_from(m, r, left, shown, state))
  z[player + K.PLAYER_PICK] = pick
  local clip = m[first + pick * K.SAMPLE_SIZE + K.SAMPLE_CLIP]
  if head ~= 0 and old_length ~= 0 then
    z[player + K.PLAYER_HEAD] = K.folded(m, clip, (head * m[clip + K.CLIP_LENGTH] // old_length))
  end
  if z[player + K.PLAYER_HEAD] == 0 then K.fire_first(m, r, z, v, k, layer, clip) end
end

-- Take a transition: leave, change over, enter.
function K.take(m, r, z, v, k, layer, way)
  K.note_held(m, z)
  local player, state = K.FIRST_PLAYER + layer * K.PLAYER_SIZE, K.state_of(m, z, layer)
  local old, target = z[player + K.PLAYER_STATE], m[way + K.WAY_TARGET]
  local pick, head, length = z[player + K.PLAYER_PICK], z[player + K.PLAYER_HEAD], 0
  for use = m[way + K.WAY_USES], m[way + K.WAY_USES_END] - 1, K.USE_SIZE do
    local age = m[K.HEAD_AGES] + m[use + K.USE_BUFFER]
    if z[age] < m[use + K.USE_TICKS] then z[age] = -1 end
  end
  local shown = m[state + K.STATE_SAMPLES] < m[state + K.STATE_SAMPLES_END]
  if shown then length = m[m[m[state + K.STATE_SAMPLES] + pick * K.SAMPLE_SIZE + K.SAMPLE_CLIP] + K.CLIP_LENGTH] end
  K.apply(m, r, z, v, m[state + K.STATE_LEAVE], m[state + K.STATE_LEAVE_END], false)
  K.end_spans(m, r, z, v, layer)
  if target ~= old and m[state + K.STATE_CLOCK] >= 0 then z[m[K.HEAD_SINCE] + m[state + K.STATE_CLOCK]] = 0 end
  local fading = m[way + K.WAY_FADE] > 0
  z[player + K.PLAYER_FADE_STATE] = fading and old or 0
  z[player + K.PLAYER_FADE_PICK] = fading and pick or 0
  z[player + K.PLAYER_FADE_HEAD] = fading and head or 0
  z[player + K.PLAYER_FADE_LEFT] = fading and m[way + K.WAY_FADE] or -1
  z[player + K.PLAYER_FADE_BLOCKS] = fading and m[way + K.WAY_BLOCKS] or 0
  z[player + K.PLAYER_STATE] = target
  z[player + K.PLAYER_STAY] = 0
  K.enter(m, r, z, v, k, layer, m[way + K.WAY_KEEP] ~= 0 and head or 0, length, state, shown and pick or -1)
  K.see_spans(m, r, z, v, false)
end

-- One tick, after inputs and body have been set; taken is told each layer's transition from place at on (-1: none). changed: values
-- from outside are not all what they were on the tick before.
function K.tick(m, r, z, v, k, changed, taken, at)
  local frozen = z[K.NOW_FREEZE] > 0
  K.compute_formulas(m, r, z, v)
  for pulse = m[K.HEAD_PULSES], m[K.HEAD_PULSES_END] - 1, K.PULSE_SIZE do
    z[m[K.HEAD_RAISED] + m[pulse]] = 0
  end
  K.fade_on(m, z)
  if frozen then
    z[K.NOW_FREEZE] = z[K.NOW_FREEZE] - 1
    K.see_spans(m, r, z, v, false)
  else
    K.count_down(m, r, z, v)
    K.note_held(m, z)
    for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
      K.play_on(m, r, z, v, k, layer)
    end
    K.see_spans(m, r, z, v, true)
  end
  K.remember(m, r, z, v, changed)
  local still, moved = K.locked(m, z), false
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    taken[at + layer] = -1
    local player = K.FIRST_PLAYER + layer * K.PLAYER_SIZE
    if not frozen and (z[player + K.PLAYER_FADE_LEFT] < 0 or z[player + K.PLAYER_FADE_BLOCKS] == 0) then
      local state = K.state_of(m, z, layer)
      for way = m[state + K.STATE_WAYS], m[state + K.STATE_WAYS_END] - 1, K.WAY_SIZE do
        if K.run(m, r, z, v, m[way + K.WAY_PROGRAM]) then
          taken[at + layer] = m[way + K.WAY_NUMBER]
          K.take(m, r, z, v, k, layer, way)
          moved = true
          break
        end
      end
    end
  end
  for button = m[K.HEAD_BUTTONS], m[K.HEAD_BUTTONS_END] - 1 do
    z[m[K.HEAD_HELD] + m[button]] = v[m[button]] ~= 0.0 and 1 or 0
  end
  z[K.NOW_LOCKED] = (still or moved and K.locked(m, z)) and 1 or 0
  z[K.NOW_TICK] = z[K.NOW_TICK] + 1
end

-- Enter every layer's start state, just before tick 0, in a situation of zeros.
function K.enter_start(m, r, z, v, k)
  for parameter = 0, m[K.HEAD_PLACE] - 1 do
    v[parameter] = r[m[K.HEAD_PARAMETERS] + parameter * K.PARAMETER_SIZE + K.PARAMETER_FIRST]
  end
  for age = m[K.HEAD_AGES], m[K.HEAD_HELD] - 1 do
    z[age] = -1
  end
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    local player = K.FIRST_PLAYER + layer * K.PLAYER_SIZE
    z[player + K.PLAYER_FADE_LEFT] = -1
    z[player + K.PLAYER_STATE] = m[m[K.HEAD_LAYERS] + layer * K.LAYER_SIZE + K.LAYER_START]
  end
  K.compute_formulas(m, r, z, v)
  for layer = 0, m[K.HEAD_LAYER_COUNT] - 1 do
    K.enter(m, r, z, v, k, layer, 0, 0, -1, -1)
  end
  K.see_spans(m, r, z, v, false)
  z[K.NOW_LOCKED] = K.locked(m, z) and 1 or 0
end
-- -- printed until here --

local M = { VERSION = K.VERSION }
local SECTIONS, NULL = {}, {}
for at, section in ipairs(K.COLUMNS) do
  local columns = {}
  for column in section[2]:gmatch("%S+") do columns[#columns + 1] = column end
  SECTIONS[at] = { name = section[1], columns = columns }
end

-- -- reading JSON, strictly ------------------------------------------------------------------------------------------------

local function refuse(sentence) error(sentence, 0) end

local function damaged(what) refuse("the table is damaged (" .. what .. "): export it again") end

local function decode(text)
  local at, value = 1, nil
  local function broken() refuse("this is no table: it is no JSON (character " .. at .. ")") end
  local function space() at = text:find("[^ \n\t\r]", at) or #text + 1 end
  local function next_is(mark)
    space()
    if text:sub(at, at) ~= mark then return false end
    at = at + 1
    return true
  end
  local function want(mark) if not next_is(mark) then broken() end end
  local escaped = { n = "\n", r = "\r", t = "\t", b = "\b", f = "\f", ['"'] = '"', ["\\"] = "\\", ["/"] = "/" }
  local function unit()
    local digits = text:match("^%x%x%x%x", at)
    if not digits then broken() end
    at = at + 4
    return tonumber(digits, 16)
  end
  local function string()
    local parts = {}
    want('"')
    while true do
      local plain = text:match('^[^%c"\\]+', at) or ""
      at = at + #plain
      parts[#parts + 1] = plain
      local letter = text:sub(at, at)
      if letter == '"' then
        at = at + 1
        return table.concat(parts)
      elseif letter == "\127" then
        parts[#parts + 1], at = letter, at + 1
      elseif letter ~= "\\" then
        broken()
      else
        local which = text:sub(at + 1, at + 1)
        at = at + 2
        if which == "u" then
          local code = unit()
          if code >= 0xD800 and code < 0xDC00 and text:sub(at, at + 1) == "\\u" then
            local before = at
            at = at + 2
            local low = unit()
            if low >= 0xDC00 and low < 0xE000 then code = 0x10000 + ((code - 0xD800) << 10) + (low - 0xDC00) else at = before end
          end
          parts[#parts + 1] = utf8.char(code)
        elseif escaped[which] then
          parts[#parts + 1] = escaped[which]
        else
          broken()
        end
      end
    end
  end
  local function number()
    local whole = text:match("^%-?0", at) or text:match("^%-?[1-9]%d*", at)
    if not whole then broken() end
    local finish = at + #whole
    local fraction = text:match("^%.%d+", finish) or ""
    finish = finish + #fraction
    finish = finish + #(text:match("^[eE][-+]?%d+", finish) or "")
    local found = tonumber(text:sub(at, finish - 1))
    at = finish
    return found + 0.0
  end
  local function word(letters, meant)
    if text:sub(at, at + #letters - 1) ~= letters then broken() end
    at = at + #letters
    return meant
  end
  function value(depth)
    space()
    if depth > 150 then broken() end
    local letter = text:sub(at, at)
    if letter == '"' then return string() end
    if letter == "t" then return word("true", true) end
    if letter == "f" then return word("false", false) end
    if letter == "n" then return word("null", NULL) end
    if letter ~= "{" and letter ~= "[" then return number() end
    at = at + 1
    local made, is_list = { kind = letter, items = {} }, letter == "["
    local close = is_list and "]" or "}"
    if next_is(close) then return made end
    repeat
      if is_list then
        made.items[#made.items + 1] = value(depth + 1)
      else
        space()
        local key = string()
        want(":")
        made.items[key] = value(depth + 1)
      end
    until not next_is(",")
    want(close)
    return made
  end
  local made = value(0)
  space()
  if at <= #text then broken() end
  return made
end

local function items(value, kind, what)
  if type(value) ~= "table" or value.kind ~= kind then damaged(what) end
  return value.items
end

-- what stands in a value of "says", as tables of Lua
local function plain(value)
  if type(value) ~= "table" then return value end
  local made = {}
  for key, one in pairs(value.items or {}) do made[key] = plain(one) end
  return made
end

local function array(length, value)
  local made = {}
  for at = 0, length - 1 do made[at] = value end
  return made
end

-- what a cell holds as a number: null is none, and what cannot stand there is infinite
local function cell(value)
  if value == NULL then return 0.0 / 0.0 end
  return type(value) == "number" and value or math.huge
end

-- -- a table --------------------------------------------------------------------------------------------------------------

local function sections_of(made, version)
  local columns, sections = items(made.columns, "{", "columns"), items(made.sections, "{", "sections")
  local cells, counts, to = {}, {}, 0
  for at, section in ipairs(SECTIONS) do
    local older = K.OLDER_WIDTHS[math.tointeger(version)]
    local width = older and older[at] or #section.columns
    local there = columns[section.name]
    local known = width == 0 or type(there) == "table" and there.kind == "[" and #there.items == width
    for column = 1, known and width or 0 do known = known and there.items[column] == section.columns[column] end
    if not known then
      refuse("the table's " .. section.name .. " have other columns than this player reads: take the player beside it")
    end
    local rows = width > 0 and items(sections[section.name], "[", section.name) or {}
    counts[at - 1] = #rows
    for _, row in ipairs(rows) do
      local some = items(row, "[", section.name)
      if #some ~= width then damaged(section.name) end
      for column = 1, #section.columns do
        cells[to] = column <= width and cell(some[column]) or 0.0
        to = to + 1
      end
    end
  end
  return cells, counts
end

-- A character's table from the text of its file; m and r are its rows as the functions above read them.
function M.table(text)
  local whole = decode(text)
  local made = type(whole) == "table" and whole.kind == "{" and whole.items or {}
  local version = made.leanstep_table
  if type(version) ~= "number" or version < 1 or version % 1 ~= 0 then
    refuse("this is no table of Lean Step: export one with  lean-step export FILE --to table")
  end
  if version > K.VERSION then
    local told = string.format("the table has version %.0f, and this player knows %d", version, K.VERSION)
    refuse(told .. ": take the player beside it")
  end
  local cells, counts = sections_of(made, version)
  local names, numbers, name_counts = {}, {}, {}
  local named = items(made.names, "{", "names")
  for at, kind in ipairs(K.NAMED) do
    local some = items(named[kind], "[", "names of " .. kind)
    names[kind], numbers[kind], name_counts[at - 1] = some, {}, #some
    for number, name in ipairs(some) do
      if type(name) ~= "string" then damaged("names of " .. kind) end
      numbers[kind][name] = numbers[kind][name] or number - 1
    end
  end
  local said, says = {}, items(made.says, "{", "says")
  for _, part in ipairs({ "cues", "windows" }) do
    said[part] = {}
    for row, one in pairs(items(says[part], "{", "says of " .. part)) do
      items(one, "{", "says of " .. part)
      said[part][row] = plain(one)
    end
  end
  if type(made.name) ~= "string" then damaged("name") end
  local rate = cell(made.rate)
  if not (rate > 0.0 and rate < math.huge) then damaged("rate") end
  local rows = {}
  K.rows_of(counts, rows)
  if K.wrong_cell(cells, counts, name_counts) >= 0 then damaged("cell " .. K.wrong_cell(cells, counts, name_counts)) end
  if not K.agrees(cells, counts, name_counts, rows, {}) then damaged("rows that lead to each other") end
  local size = K.laid_size(counts)
  local self = { name = made.name, rate = rate, version = version, names = names, numbers = numbers, says = said }
  self.m, self.r, self.windows = array(size, 0), array(size, 0.0), counts[K.WINDOWS]
  K.lay(cells, counts, name_counts, self.m, self.r)
  return self
end

-- Read a table's file.
function M.load(path)
  local file = assert(io.open(path, "rb"))
  local text = file:read("a")
  file:close()
  return M.table(text)
end

local function index(of, kind, name)
  local at = of.numbers[kind][name]
  if not at then refuse(of.name .. " has no " .. kind:gsub("s$", "") .. " called " .. tostring(name)) end
  return at
end

-- -- a figure -------------------------------------------------------------------------------------------------------------

local Player = {}
Player.__index = Player

-- A figure that plays a table, just before tick 0.
function M.player(of)
  local self = setmetatable({ table = of, m = of.m, r = of.r, given = {} }, Player)
  self:restart()
  return self
end

-- Begin again, just before tick 0.
function Player:restart()
  local m = self.m
  self.z, self.v, self.k = array(m[K.HEAD_COUNTS], 0), array(m[K.HEAD_VALUES], 0.0), { [0] = 0, m[K.HEAD_MOST_TOLD] }
  self.taken, self.given, self.layers = array(m[K.HEAD_LAYER_COUNT], -1), {}, m[K.HEAD_LAYER_COUNT]
  self.s = array(K.DRAWN_SIZE + self.layers, 0.0)
  K.enter_start(m, self.r, self.z, self.v, self.k)
  K.begin_shape(m, self.r, self.z, self.s)
end

local function parameter(self, at, what) return self.m[self.m[K.HEAD_PARAMETERS] + at * K.PARAMETER_SIZE + what] end

-- Set a parameter that the game, the controls or the body sets: a number, a truth, or the word of a choice; it is kept until it is set again.
function Player:set(name, value)
  local at = index(self.table, "parameters", name)
  if parameter(self, at, K.PARAMETER_OWNER) >= K.GRAPH then
    refuse(name .. " is set by effects or formulas, not by the game")
  end
  if type(value) == "string" then value = index(self.table, "words", value) end
  if type(value) == "boolean" then value = value and 1 or 0 end
  self.given[at] = K.fitted(self.m, self.r, at, value + 0.0)
end

function Player:hold(button, held) self:set(button, held) end

function Player:pulse(name) self:set(name, true) end

-- A stick is pushed so far right and up, each from -1 to 1.
function Player:push(stick, x, y)
  x, y = x + 0.0, y + 0.0
  self:set(stick .. ".x", x)
  self:set(stick .. ".y", y)
  self:set(stick .. ".push", K.push_of(x, y))
  self:set(stick .. ".bearing", K.bearing_of(x, y))
end

-- One tick with what has been set.
function Player:step()
  local m, z, v, k = self.m, self.z, self.v, self.k
  K.open_tick(m, z, v)
  for at, value in pairs(self.given) do v[at] = value end
  self.given = {}
  k[0] = 0
  K.keep_bearings(m, v)
  K.forget_asked(m, v)
  K.tick(m, self.r, z, v, k, true, self.taken, 0)
end

local function shape(self)
  local s = self.s
  return { wide = s[K.DRAWN_WIDE], high = s[K.DRAWN_HIGH], tilt = s[K.DRAWN_TILT], whole = s[K.DRAWN_WHOLE] ~= 0.0 }
end

-- How the figure is drawn: so many times as wide and high, about its foot, then tilted by so many degrees clockwise; whole: its height is a
-- whole number of pixels.  Called once after each step, with what the body does: its velocity to the right (seen from above: its speed) and
-- up, in units a second, where it looks, as a bearing (90 is right, 270 left), and whether it stands.
function Player:shape(velocity, up, facing, grounded)
  local looks = K.reduced((facing or 90.0) + 0.0)
  K.follow_shape(self.m, self.r, self.z, self.k, self.taken, self.s, velocity + 0.0, (up or 0.0) + 0.0, looks, grounded ~= false)
  return shape(self)
end

-- -- what the game is told ------------------------------------------------------------------------------------------------

local function each(self, layer, what) return self.z[K.FIRST_PLAYER + layer * K.PLAYER_SIZE + what] end

-- The value of a parameter: a number, a truth, or the word of a choice.
function Player:value(name)
  local at = index(self.table, "parameters", name)
  local kind, value = parameter(self, at, K.PARAMETER_KIND), self.v[at]
  if kind == K.CHOICE then return self.table.names.words[math.floor(value) + 1] end
  if kind > K.BEARING then return value ~= 0.0 end
  return value
end

-- The name of a layer's state.
function Player:state(layer)
  return self.table.names.states[each(self, index(self.table, "layers", layer), K.PLAYER_STATE) + 1]
end

-- The number of the cel a layer shows, by the layer's number from 0 on; -1: none.
function Player:cel(layer) return K.cel_of(self.m, self.r, self.z, self.v, layer) end

local function shown(self, layer, left)
  local m, z, names, cel = self.m, self.z, self.table.names, self:cel(layer)
  if cel < 0 then return nil end
  local x = K.aside(m, self.r, z, layer, 1)
  return {
    clip = names.clips[(K.clip_of(m, z, layer) - m[K.HEAD_CLIPS]) // K.CLIP_SIZE + 1], cel = cel, layer = layer,
    frame = names.frames[K.frame_of(m, self.r, z, self.v, layer, cel) + 1], mirrored = K.is_mirrored(m, z, layer, cel, left),
    turns = K.quarter_turns(m, z, layer, cel, left), x = left and -x or x, y = K.aside(m, self.r, z, layer, 2),
  }
end

-- What a layer shows of a figure that looks right, or left; nil: nothing.
function Player:frame(layer, left) return shown(self, index(self.table, "layers", layer), left or false) end

-- What is seen of a figure that looks right, or left, from the back to the front.
function Player:frames(left)
  local found, lowest = {}, K.lowest_seen(self.m, self.r, self.z, self.v)
  for layer = lowest, lowest >= 0 and self.layers - 1 or -2 do found[#found + 1] = shown(self, layer, left or false) end
  return found
end

local function size(self) return self.s[K.DRAWN_WIDE], self.s[K.DRAWN_HIGH], self.s[K.DRAWN_TILT] end

local function pins(self, out, count)
  local found = {}
  for at = 0, count * K.PLACED_SIZE - 1, K.PLACED_SIZE do
    found[#found + 1] = {
      name = self.table.names.words[math.floor(out[at + K.PLACED_PIN]) + 1], number = math.floor(out[at + K.PLACED_NUMBER]),
      x = out[at + K.PLACED_X], y = out[at + K.PLACED_Y], angle = out[at + K.PLACED_ANGLE], behind = out[at + K.PLACED_BEHIND] ~= 0.0,
    }
  end
  return found
end

-- The pin points of what is seen of a figure that looks right, or left, as it is drawn since shape was called last: pixels of the drawing
-- from its foot, and the bearing in which they point; number: of the layer.
function Player:pins(left)
  local out, wide, high, tilt = {}, size(self)
  return pins(self, out, K.list_pins(self.m, self.r, self.z, self.v, left or false, wide, high, tilt, out))
end

-- The same where marks fired that name a pin point; number: of the mark among those that fired, from 0 on.
function Player:mark_pins(left)
  local out, wide, high, tilt = {}, size(self)
  return pins(self, out, K.list_places(self.m, self.r, self.k, left or false, wide, high, tilt, out))
end

-- How the parts are moved of what is seen and drawn from parts, layer by layer from the back to the front, parents first, and mixed where
-- samples of a blend space mix: in the parent, in pixels of the drawing to the right and up, then turned about the joint (degrees
-- clockwise), and so many times as wide and high, which comes first of all.
function Player:parts(left)
  local found, out, words = {}, {}, self.table.names.words
  for at = 0, K.list_parts(self.m, self.r, self.z, self.v, left or false, {}, out) * K.PARTED_SIZE - 1, K.PARTED_SIZE do
    found[#found + 1] = {
      name = words[math.floor(out[at + K.PARTED_PART]) + 1], layer = math.floor(out[at + K.PARTED_LAYER]), x = out[at + K.PARTED_X],
      y = out[at + K.PARTED_Y], turn = out[at + K.PARTED_TURN], wide = out[at + K.PARTED_WIDE], high = out[at + K.PARTED_HIGH],
    }
  end
  return found
end

-- The accessories that are seen: their frames, mirrored, and then turned (degrees clockwise) about their own foot, which lies at x, y from
-- the figure's; behind: drawn before the layer with which they are, else after it.
function Player:pinned(left)
  local found, out, wide, high, tilt = {}, {}, size(self)
  local names, count = self.table.names, K.list_pinned(self.m, self.r, self.z, self.v, left or false, wide, high, tilt, out)
  for at = 0, count * K.PINNED_SIZE - 1, K.PINNED_SIZE do
    found[#found + 1] = {
      name = names.words[math.floor(out[at + K.PINNED_NAME]) + 1], layer = math.floor(out[at + K.PINNED_LAYER]),
      behind = out[at + K.PINNED_BEHIND] ~= 0.0, frame = names.frames[math.floor(out[at + K.PINNED_FRAME]) + 1],
      mirrored = out[at + K.PINNED_MIRRORED] ~= 0.0, turn = out[at + K.PINNED_TURN], x = out[at + K.PINNED_X], y = out[at + K.PINNED_Y],
    }
  end
  return found
end

-- The marks that fired on this tick, in order, with what they say.
function Player:marks()
  local found, k = {}, self.k
  for at = K.TOLD, K.TOLD + K.TOLD_SIZE * k[0] - 1, K.TOLD_SIZE do
    found[#found + 1] = { mark = self.table.names.marks[k[at + 2] + 1], says = self.table.says.cues[tostring(k[at + 3])] or {} }
  end
  return found
end

-- The spans that are on, with what they say.
function Player:spans()
  local found, out = {}, {}
  for at = 0, K.list_spans(self.m, self.z, out) - 1 do
    local says = self.table.says.windows[tostring(out[2 * at + 1])] or {}
    found[#found + 1] = { span = self.table.names.spans[out[2 * at] + 1], says = says }
  end
  return found
end

-- Whether movement is locked.
function Player:locked() return self.z[K.NOW_LOCKED] ~= 0 end

-- What clips and effects ask of the body on this tick.
function Player:asked()
  local v, place = self.v, self.m[K.HEAD_PLACE]
  return {
    ahead = v[place + K.FIELDS_TRAVEL], up = v[place + K.FIELDS_TRAVEL_UP], travels = math.floor(v[place + K.FIELDS_TRAVELS]),
    mode = v[place + K.FIELDS_MODE], push_ahead = v[place + K.FIELDS_PUSH], push_up = v[place + K.FIELDS_PUSH_UP],
  }
end

-- What the active states ask of the body; 0: nothing.
function Player:requests()
  local m, r, z = self.m, self.r, self.z
  return {
    mode = K.requested_mode(m, z), backward = K.goes_backward(m, z), face = K.requested(m, r, z, K.STATE_FACE),
    cap = K.requested(m, r, z, K.STATE_CAP), fall = K.requested(m, r, z, K.STATE_FALL),
    wide = K.requested(m, r, z, K.STATE_WIDE), high = K.requested(m, r, z, K.STATE_HIGH),
  }
end

-- -- golden traces ---------------------------------------------------------------------------------------------------------

local function bits(value)
  if value ~= value then return "7ff8000000000000" end
  return string.format("%016x", string.unpack(">I8", string.pack(">d", value)))
end

local function from_bits(text) return (string.unpack(">d", string.pack(">I8", tonumber(text, 16)))) end

local function told(self)
  local m, z, k, fields = self.m, self.z, self.k, {}
  local function field(name, list) fields[#fields + 1] = name .. "=" .. table.concat(list, ",") end
  local function of_layers(name, what)
    local list = {}
    for layer = 0, self.layers - 1 do list[#list + 1] = what(layer) end
    field(name, list)
  end
  for _, one in ipairs({ { "states", K.PLAYER_STATE }, { "stays", K.PLAYER_STAY }, { "heads", K.PLAYER_HEAD }, { "picks", K.PLAYER_PICK } }) do
    of_layers(one[1], function(layer) return each(self, layer, one[2]) end)
  end
  of_layers("cels", function(layer) return self:cel(layer) end)
  of_layers("taken", function(layer) return self.taken[layer] end)
  local marks, spans, values, asked = {}, {}, {}, self:asked()
  for at = K.TOLD, K.TOLD + K.TOLD_SIZE * k[0] - 1, K.TOLD_SIZE do marks[#marks + 1] = k[at + 1] .. ":" .. k[at + 2] end
  for at = m[K.HEAD_SPANS], m[K.HEAD_SPANS_END] - 1 do if z[at] ~= 0 then spans[#spans + 1] = at - m[K.HEAD_SPANS] end end
  for at = 0, m[K.HEAD_PLACE] - 1 do
    if parameter(self, at, K.PARAMETER_OWNER) >= K.GRAPH then values[#values + 1] = bits(self.v[at]) end
  end
  field("marks", marks)
  field("spans", spans)
  field("locked", { z[K.NOW_LOCKED] })
  field("freeze", { z[K.NOW_FREEZE] })
  field("travel", { bits(asked.ahead), bits(asked.up), asked.travels })
  field("asked", { bits(asked.mode), bits(asked.push_ahead), bits(asked.push_up) })
  field("values", values)
  if self.table.version > 1 then
    local one, draws = self:requests(), {}
    field("requests", { one.mode, one.backward and 1 or 0, bits(one.face), bits(one.cap), bits(one.fall), bits(one.wide), bits(one.high) })
    for _, each_one in ipairs(self:frames()) do
      local frame = self.table.numbers.frames[each_one.frame]
      local parts = { each_one.layer, frame, each_one.mirrored and 1 or 0, each_one.turns, bits(each_one.x), bits(each_one.y) }
      draws[#draws + 1] = table.concat(parts, ":")
    end
    field("draws", draws)
  end
  if self.table.version > 5 then
    local left, numbers = self.s[K.DRAWN_FACING] > 180.0, self.table.numbers
    local lists = { pins = {}, pinned = {}, places = {} }
    local function place(one) return bits(one.x) .. ":" .. bits(one.y) .. ":" .. bits(one.angle) end
    for _, one in ipairs(self:pins(left)) do
      local parts = { one.number, numbers.words[one.name], place(one), one.behind and 1 or 0 }
      lists.pins[#lists.pins + 1] = table.concat(parts, ":")
    end
    for _, one in ipairs(self:pinned(left)) do
      local parts = { numbers.words[one.name], one.layer, one.behind and 1 or 0, numbers.frames[one.frame], one.mirrored and 1 or 0 }
      lists.pinned[#lists.pinned + 1] = table.concat(parts, ":") .. ":" .. bits(one.x) .. ":" .. bits(one.y) .. ":" .. bits(one.turn)
    end
    for _, one in ipairs(self:mark_pins(left)) do
      lists.places[#lists.places + 1] = table.concat({ one.number, numbers.words[one.name], place(one) }, ":")
    end
    for _, name in ipairs({ "pins", "pinned", "places" }) do field(name, lists[name]) end
  end
  if self.table.version > 6 then
    local parts = {}
    for at, one in ipairs(self:parts(self.s[K.DRAWN_FACING] > 180.0)) do
      local moved = { bits(one.x), bits(one.y), bits(one.turn), bits(one.wide), bits(one.high) }
      parts[at] = one.layer .. ":" .. self.table.numbers.words[one.name] .. ":" .. table.concat(moved, ":")
    end
    field("parts", parts)
  end
  if self.table.version > 2 then
    local one = shape(self)
    field("shape", { bits(one.wide), bits(one.high), bits(one.tilt), one.whole and 1 or 0 })
  end
  return "out " .. table.concat(fields, " ")
end

-- Play what a golden trace sets, and write down what comes out in the same format.
function M.replay(of, golden)
  local player, lines = M.player(of), {}
  for line in golden:gmatch("([^\n]*)\n") do
    if line:sub(1, 3) ~= "out" then
      lines[#lines + 1] = line
      if line:sub(1, 2) == "in" then
        for at, value in line:gmatch("(%d+)=(%x+)") do
          at = math.tointeger(tonumber(at))
          if at < player.m[K.HEAD_PLACE] then player.given[at] = from_bits(value) end
        end
        player:step()
        local body = {}
        for value in (line:match("body=(%S+)") or ""):gmatch("%x+") do body[#body + 1] = from_bits(value) end
        player:shape(body[1] or 0.0, body[2], body[3], body[4] ~= 0.0)
      end
      if line:sub(1, 2) == "in" or line == "begin" then lines[#lines + 1] = told(player) end
    end
  end
  return table.concat(lines, "\n") .. "\n"
end

if arg and arg[0] and arg[0]:find("leanstep_player.lua", 1, true) then
  for at = 1, #arg, 2 do
    local fine, made = pcall(function()
      local file = assert(io.open(arg[at + 1], "rb"))
      return M.replay(M.load(arg[at]), file:read("a"))
    end)
    if not fine then
      io.stderr:write(tostring(made), "\n")
      os.exit(1)
    end
    io.write(made)
  end
end

return M
