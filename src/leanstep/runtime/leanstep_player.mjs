// Plays a character from its table (NAME.table.json), tick for tick and bit for bit as Lean Step does.
//
// One ES module without dependencies, for browsers and everything else that runs JavaScript:
//
//     const player = new Player(new Table(JSON.parse(text)));
//     player.hold("jump", true);           // buttons; player.push("stick", 1, 0) for sticks
//     player.set("speed", 3.5);            // what your game and your physics set; player.pulse("hurt")
//     player.step();                       // once a tick
//     player.frame("base");                // what to draw: clip, cel, frame
//     player.marks; player.spans; player.locked; player.travelled;

/** What is wrong with a table, or with what a player is asked, in a sentence. */
export class TableError extends Error {}

function isObject(value) {
  return value !== null && typeof value === "object" && !Array.isArray(value);
}

function damaged(what) {
  return new TableError(`the table is damaged (${what}): export it again`);
}

/** What a cell holds as a number: null is none, and what cannot stand there is infinite. */
function cellOf(value) {
  return value === null ? NaN : typeof value === "number" ? value : Infinity;
}

/** A character's table, from what JSON.parse makes of it; m and r are the same as the functions below read them. */
export class Table {
  constructor(made) {
    const version = made === null || typeof made !== "object" ? undefined : made.leanstep_table;
    if (!Number.isInteger(version) || version < 1) {
      throw new TableError("this is no table of Lean Step: export one with  lean-step export FILE --to table");
    }
    if (version > VERSION) {
      throw new TableError(`the table has version ${version}, and this player knows ${VERSION}: take the player beside it`);
    }
    for (const part of ["columns", "sections", "names", "says"]) if (!isObject(made[part])) throw damaged(part);
    if (typeof made.name !== "string") throw damaged("name");
    this.version = version;
    this.widths = Object.fromEntries(Object.entries(COLUMNS).map(([section, columns]) => [section, columns.split(" ").length]));
    Object.assign(this.widths, OLDER_WIDTHS[version]);
    for (const [section, columns] of Object.entries(COLUMNS)) {
      const there = made.columns[section];
      const known = columns.split(" ").slice(0, this.widths[section]);
      if (known.length === 0) continue;
      if (!Array.isArray(there) || JSON.stringify(there) !== JSON.stringify(known)) {
        throw new TableError(`the table's ${section} have other columns than this player reads: take the player beside it`);
      }
    }
    this.name = made.name;
    this.rate = made.rate;
    this.names = made.names;
    this.says = made.says;
    const own = ([section, width]) => [section, width ? made.sections[section] : []];
    this.sections = Object.fromEntries(Object.entries(this.widths).map(own));
    this.checkWords();
    this.layOut();
    this.numbers = Object.fromEntries(NAMED.map((kind) => [kind, new Map(this.names[kind].map((name, at) => [name, at]))]));
  }

  checkWords() {
    const isNames = (one) => Array.isArray(one) && one.every((name) => typeof name === "string");
    for (const kind of NAMED) if (!isNames(this.names[kind])) throw damaged(`names of ${kind}`);
    for (const part of ["cues", "windows"]) {
      const said = this.says[part];
      if (!isObject(said) || !Object.values(said).every(isObject)) throw damaged(`says of ${part}`);
    }
    if (!Number.isFinite(this.rate) || this.rate <= 0) throw damaged("rate");
    for (const [section, width] of Object.entries(this.widths)) {
      const rows = this.sections[section];
      if (!Array.isArray(rows) || !rows.every((row) => Array.isArray(row) && row.length === width)) throw damaged(section);
    }
  }

  /** The arrays of the table, checked once, so that playing needs no checks. */
  layOut() {
    const sections = Object.keys(COLUMNS).map((section) => this.sections[section]);
    const missing = Object.entries(COLUMNS).map(([section, columns]) => columns.split(" ").length - this.widths[section]);
    const padded = sections.flatMap((rows, at) => rows.flatMap((row) => [...row, ...Array(missing[at]).fill(0)]));
    const cells = Float64Array.from(padded, cellOf);
    const counts = sections.map((rows) => rows.length);
    const names = NAMED.map((kind) => this.names[kind].length);
    const wrong = wrongCell(cells, counts, names);
    if (wrong >= 0) throw damaged(this.place(wrong));
    const rows = counts.map(() => 0);
    rowsOf(counts, rows);
    const room = new Float64Array(4 * this.sections.programs.length + 1);
    if (!agrees(cells, counts, names, rows, room)) throw damaged("rows that lead to each other");
    this.m = new Float64Array(laidSize(counts));
    this.r = new Float64Array(this.m.length);
    lay(cells, counts, names, this.m, this.r);
  }

  place(cell) {
    for (const [section, columns] of Object.entries(COLUMNS)) {
      const width = columns.split(" ").length;
      const size = this.sections[section].length * width;
      if (cell < size) return `${section}, row ${Math.floor(cell / width) + 1}, ${columns.split(" ")[cell % width]}`;
      cell -= size;
    }
    return "a cell";
  }

  /** The number of a name. */
  index(kind, name) {
    const at = this.numbers[kind].get(name);
    if (at === undefined) throw new TableError(`${this.name} has no ${kind.slice(0, -1)} called ${name}`);
    return at;
  }
}

/** A figure that plays a table.  After each step: states (rows of the table, layer by layer), stays in ticks, heads in 1/65536
 *  tick, picks, taken (each layer's transition, -1: none), fired (layer, mark, cue), on (the spans), locked, freeze, values (of every
 *  parameter), and what is asked of the body: travelled (ahead, up, what counts), mode, pushed (ahead, up). */
export class Player {
  constructor(table) {
    this.table = table;
    this.rows = table.sections.parameters;
    this.given = new Map();
    this.restart();
  }

  /** Begin again, just before tick 0. */
  restart() {
    const { m, r } = this.table;
    this.z = new Float64Array(m[HEAD_COUNTS]);
    this.v = new Float64Array(m[HEAD_VALUES]);
    this.k = new Float64Array(TOLD + TOLD_SIZE * m[HEAD_MOST_TOLD]);
    this.k[1] = m[HEAD_MOST_TOLD];
    this.taken = new Array(m[HEAD_LAYER_COUNT]).fill(-1);
    this.s = new Float64Array(DRAWN_SIZE + m[HEAD_LAYER_COUNT]);
    this.due = new Float64Array(DUE_SIZE);
    this.given.clear();
    enterStart(m, r, this.z, this.v, this.k);
    beginShape(m, r, this.z, this.s);
  }

  // -- what the game says ----------------------------------------------------------------------------------------------

  /** Set a parameter that the game, the controls or the body sets; it is kept until it is set again. */
  set(name, value) {
    const at = this.table.index("parameters", name);
    if (this.rows[at][1] >= GRAPH) throw new TableError(`${name} is set by effects or formulas, not by the game`);
    const number = typeof value === "string" ? this.table.index("words", value) : Number(value);
    this.given.set(at, fitted(this.table.m, this.table.r, at, number));
  }

  hold(button, held) {
    this.set(button, held);
  }

  pulse(name) {
    this.set(name, true);
  }

  /** A stick is pushed so far right and up, each from -1 to 1. */
  push(stick, x, y) {
    this.set(`${stick}.x`, x);
    this.set(`${stick}.y`, y);
    this.set(`${stick}.push`, pushOf(x, y));
    this.set(`${stick}.bearing`, bearingOf(x, y));
  }

  /** One tick with what has been set. */
  step() {
    const { z, v, k } = this;
    const { m, r } = this.table;
    openTick(m, z, v);
    raiseDue(m, r, v, this.due);
    for (const [at, value] of this.given) v[at] = value;
    this.given.clear();
    k[0] = 0;
    keepBearings(m, v);
    forgetAsked(m, v);
    tick(m, r, z, v, k, true, this.taken, 0);
    settle(m, z, v, this.due);
  }

  /** How the figure is drawn: so many times as wide and high, about its foot, then tilted by so many degrees clockwise; whole: its height
   *  is a whole number of pixels.  Called once after each step, with what the body does: its velocity to the right (seen from above: its
   *  speed) and up, in units a second, where it looks, as a bearing (90 is right, 270 left), and whether it stands. */
  shape(velocity, up = 0, facing = 90, grounded = true) {
    followShape(this.table.m, this.table.r, this.z, this.k, this.taken, this.s, velocity, up, reduced(facing), grounded);
    return this.shaped();
  }

  shaped() {
    const { s } = this;
    return { wide: s[DRAWN_WIDE], high: s[DRAWN_HIGH], tilt: s[DRAWN_TILT], whole: s[DRAWN_WHOLE] !== 0 };
  }

  // -- what the game is told -------------------------------------------------------------------------------------------

  value(name) {
    const at = this.table.index("parameters", name);
    const [kind] = this.rows[at];
    const value = this.v[at];
    return kind === CHOICE ? this.table.names.words[value] : kind > BEARING ? value !== 0 : value;
  }

  state(layer) {
    return this.table.names.states[this.states[this.table.index("layers", layer)]];
  }

  /** What a layer shows of a figure that looks right, or left; null: nothing. */
  frame(layer, left = false) {
    return this.shown(this.table.index("layers", layer), left);
  }

  /** What is seen of a figure that looks right, or left, from the back to the front. */
  frames(left = false) {
    const lowest = lowestSeen(this.table.m, this.table.r, this.z, this.v);
    return this.taken.map((_, layer) => (lowest >= 0 && layer >= lowest ? this.shown(layer, left) : null)).filter((one) => one);
  }

  shown(layer, left) {
    const { table: { m, r, names }, z, v } = this;
    const cel = this.cel(layer);
    if (cel < 0) return null;
    const clip = names.clips[(clipOf(m, z, layer) - m[HEAD_CLIPS]) / CLIP_SIZE];
    const frame = names.frames[frameOf(m, r, z, v, layer, cel)];
    const [mirrored, turns] = [isMirrored(m, z, layer, cel, left), quarterTurns(m, z, layer, cel, left)];
    const [x, y] = [aside(m, r, z, layer, 1), aside(m, r, z, layer, 2)];
    return { clip, cel, frame, mirrored, turns, x: left ? -x : x, y, layer };
  }

  /** The pin points of what is seen, as the figure is drawn since shape was called last, from the back to the front: pixels of the drawing
   *  from the figure's foot, and the bearing in which they point. */
  pins(left = false) {
    const { table: { m, r, sections }, z, v } = this;
    const out = new Float64Array(this.taken.length * sections.spots.length * PLACED_SIZE);
    return rowsFound(out, listPins(m, r, z, v, left, ...this.size(), out), PLACED_SIZE).map((row) => this.pin(row, row[PLACED_NUMBER]));
  }

  /** The accessories that are seen: their frames, mirrored, and then turned (degrees clockwise) about their own foot, which lies at x, y
   *  from the figure's; behind: drawn before the layer with which they are, else after it. */
  pinned(left = false) {
    const { table: { m, r, names, sections }, z, v } = this;
    const out = new Float64Array(this.taken.length * sections.accessories.length * PINNED_SIZE);
    return rowsFound(out, listPinned(m, r, z, v, left, ...this.size(), out), PINNED_SIZE).map((row) => ({
      name: names.words[row[PINNED_NAME]], layer: row[PINNED_LAYER], behind: row[PINNED_BEHIND] !== 0, frame: names.frames[row[PINNED_FRAME]],
      mirrored: row[PINNED_MIRRORED] !== 0, turn: row[PINNED_TURN], x: row[PINNED_X], y: row[PINNED_Y],
    }));
  }

  /** How the parts are moved of what is seen and drawn from parts, layer by layer from the back to the front, parents first, and mixed where
   *  samples of a blend space mix: in the parent, in pixels of the drawing to the right and up, then turned about the joint (degrees
   *  clockwise), and so many times as wide and high, which comes first of all. */
  parts(left = false) {
    const { table: { m, r, names, sections }, z, v } = this;
    const [w, out] = [new Float64Array(2 * sections.samples.length), new Float64Array(mostParts(m) * PARTED_SIZE)];
    return rowsFound(out, listParts(m, r, z, v, left, w, out), PARTED_SIZE).map((row) => ({
      name: names.words[row[PARTED_PART]], layer: row[PARTED_LAYER], x: row[PARTED_X], y: row[PARTED_Y], turn: row[PARTED_TURN],
      wide: row[PARTED_WIDE], high: row[PARTED_HIGH],
    }));
  }

  /** Where the marks that fired on this tick did, of those that name a pin point; fired: the number of the mark in fired. */
  markPins(left = false) {
    const { table: { m, r }, k } = this;
    const out = new Float64Array(k[1] * PLACED_SIZE);
    const rows = rowsFound(out, listPlaces(m, r, k, left, ...this.size(), out), PLACED_SIZE);
    return rows.map((row) => ({ fired: row[PLACED_NUMBER], ...this.pin(row, this.fired[row[PLACED_NUMBER]][0]) }));
  }

  pin(row, layer) {
    const name = this.table.names.words[row[PLACED_PIN]];
    return { name, layer, x: row[PLACED_X], y: row[PLACED_Y], angle: row[PLACED_ANGLE], behind: row[PLACED_BEHIND] !== 0 };
  }

  size() {
    const { wide, high, tilt } = this.shaped();
    return [wide, high, tilt];
  }

  /** What the active states ask of the body; 0: nothing. */
  get requests() {
    const { table: { m, r }, z } = this;
    const [face, cap, fall, wide, high] = [STATE_FACE, STATE_CAP, STATE_FALL, STATE_WIDE, STATE_HIGH].map((one) => requested(m, r, z, one));
    return { mode: requestedMode(m, z), backward: goesBackward(m, z), face, cap, fall, wide, high };
  }

  /** The number of the cel a layer shows; -1: none. */
  cel(layer) {
    return celOf(this.table.m, this.table.r, this.z, this.v, layer);
  }

  /** The marks that fired on this tick, in order, with what they say. */
  get marks() {
    return this.fired.map(([, mark, cue]) => ({ mark: this.table.names.marks[mark], ...this.table.says.cues[cue] }));
  }

  /** The spans that are on, with what they say. */
  get spans() {
    const out = new Float64Array(2 * this.table.sections.windows.length * this.taken.length);
    const count = listSpans(this.table.m, this.z, out);
    return Array.from({ length: count }, (_, at) => ({
      span: this.table.names.spans[out[2 * at]],
      ...this.table.says.windows[out[2 * at + 1]],
    }));
  }

  each(what) {
    return this.taken.map((_, layer) => this.z[FIRST_PLAYER + layer * PLAYER_SIZE + what]);
  }

  get states() {
    return this.each(PLAYER_STATE);
  }

  get stays() {
    return this.each(PLAYER_STAY);
  }

  get heads() {
    return this.each(PLAYER_HEAD);
  }

  get picks() {
    return this.each(PLAYER_PICK);
  }

  get locked() {
    return this.z[NOW_LOCKED] !== 0;
  }

  get freeze() {
    return this.z[NOW_FREEZE];
  }

  get values() {
    return this.v.subarray(0, this.rows.length);
  }

  get fired() {
    const { k } = this;
    return Array.from({ length: k[0] }, (_, at) => [1, 2, 3].map((what) => k[TOLD + at * TOLD_SIZE + what]));
  }

  get on() {
    return this.z.subarray(this.table.m[HEAD_SPANS], this.table.m[HEAD_SPANS_END]);
  }

  asked(what) {
    return this.v[this.table.m[HEAD_PLACE] + what];
  }

  get travelled() {
    return [this.asked(FIELDS_TRAVEL), this.asked(FIELDS_TRAVEL_UP), this.asked(FIELDS_TRAVELS)];
  }

  get pushed() {
    return [this.asked(FIELDS_PUSH), this.asked(FIELDS_PUSH_UP)];
  }

  get mode() {
    return this.asked(FIELDS_MODE);
  }
}

// -- numbers ---------------------------------------------------------------------------------------------------------------

/** The whole part of one * factor / by, towards minus infinity, however great the product is. */
function shareOf(one, factor, by) {
  const product = one * factor;
  if (Math.abs(product) <= Number.MAX_SAFE_INTEGER) {
    const rest = ((product % by) + by) % by;
    return (product - rest) / by;
  }
  const [whole, wide] = [BigInt(one) * BigInt(factor), BigInt(by)];
  const rest = ((whole % wide) + wide) % wide;
  return Number((whole - rest) / wide);
}

/** The whole part of one / by for numbers from 0 on. */
function floorDiv(one, by) {
  return (one - (one % by)) / by;
}

/** To the nearest whole number, halves to the even one. */
function rounded(value) {
  const below = Math.floor(value);
  const over = value - below;
  return over > 0.5 || (over === 0.5 && below % 2 !== 0) ? below + 1 : below + 0;
}

// -- printed from the kernels of the tick --
const COLUMNS = {
  parameters: "kind owner first low high",
  sticks: "x y push bearing",
  layers: "start states states_end",
  states: "ways ways_end entry entry_end leave leave_end samples samples_end axes axes_end blends sticky clock still clear turned mode backward face cap fall wide high shapes shapes_end last_shapes last_shapes_end worn worn_end moved moved_end mix_cells mix_cells_end mix_edges mix_edges_end",
  ways: "number target program program_end fade blocks keep uses uses_end shapes shapes_end",
  uses: "buffer ticks",
  acts: "do target value",
  samples: "clip phase places mirrored",
  axes: "parameter round low high step",
  places: "value",
  clips: "length begin vanishes pace at low high cues cues_end windows windows_end pieces pieces_end cels cels_end resting goes keys keys_end actives actives_end reach stun guard_stun freeze strength push",
  cues: "at mark acts acts_end shapes shapes_end cel spots spots_end",
  windows: "start end hold lock span",
  pieces: "start cel",
  cels: "frame mirrored turns looks rects rects_end spots spots_end",
  keys: "at x y ease",
  memories: "within ticks program program_end",
  buffers: "parameter most",
  clocks: "most",
  formulas: "parameter program program_end",
  holds: "parameter",
  programs: "op a b value",
  squashes: "high wide over hold back every by_fall recent whole",
  leans: "speeding turning most share dt signed",
  shapes: "do which",
  countdowns: "parameter",
  actives: "start end window",
  rects: "kind left bottom width height",
  contact: "guards guards_end hit guarded stun strength lands stopped",
  costumes: "parameter value dressed dressed_end",
  dressed: "frame by",
  spots: "pin x y angle behind",
  accessories: "name pin shown shown_end clip clip_end frame angle order",
  moved: "parameter value",
  mix_places: "x y mix_shares mix_shares_end",
  mix_shares: "sample share",
  mix_cells: "first second third",
  mix_edges: "first second",
  posed: "frame figure poses poses_end",
  poses: "part x y turn wide high",
};
const NAMED = ["parameters", "words", "layers", "states", "clips", "frames", "marks", "spans", "locks", "modes"];
const OLDER_WIDTHS = {"1": {"states": 14, "samples": 3, "cels": 3, "ways": 9, "cues": 4, "squashes": 0, "leans": 0, "shapes": 0, "clips": 19, "countdowns": 0, "actives": 0, "rects": 0, "contact": 0, "costumes": 0, "dressed": 0, "spots": 0, "accessories": 0, "moved": 0, "mix_places": 0, "mix_shares": 0, "mix_cells": 0, "mix_edges": 0, "posed": 0, "poses": 0}, "2": {"states": 23, "cels": 4, "ways": 9, "cues": 4, "squashes": 0, "leans": 0, "shapes": 0, "clips": 19, "countdowns": 0, "actives": 0, "rects": 0, "contact": 0, "costumes": 0, "dressed": 0, "spots": 0, "accessories": 0, "moved": 0, "mix_places": 0, "mix_shares": 0, "mix_cells": 0, "mix_edges": 0, "posed": 0, "poses": 0}, "3": {"states": 27, "cels": 4, "cues": 6, "clips": 19, "countdowns": 0, "actives": 0, "rects": 0, "contact": 0, "costumes": 0, "dressed": 0, "spots": 0, "accessories": 0, "moved": 0, "mix_places": 0, "mix_shares": 0, "mix_cells": 0, "mix_edges": 0, "posed": 0, "poses": 0}, "4": {"states": 27, "cels": 6, "cues": 6, "costumes": 0, "dressed": 0, "spots": 0, "accessories": 0, "moved": 0, "mix_places": 0, "mix_shares": 0, "mix_cells": 0, "mix_edges": 0, "posed": 0, "poses": 0}, "5": {"states": 29, "cels": 6, "cues": 6, "spots": 0, "accessories": 0, "moved": 0, "mix_places": 0, "mix_shares": 0, "mix_cells": 0, "mix_edges": 0, "posed": 0, "poses": 0}, "6": {"states": 31, "mix_places": 0, "mix_shares": 0, "mix_cells": 0, "mix_edges": 0, "posed": 0, "poses": 0}};
const
  ACCESSORY_NAME = 0, ACCESSORY_PIN = 1, ACCESSORY_SHOWN = 2, ACCESSORY_SHOWN_END = 3, ACCESSORY_CLIP = 4, ACCESSORY_CLIP_END = 5,
  ACCESSORY_FRAME = 6, ACCESSORY_ANGLE = 7, ACCESSORY_ORDER = 8, ACCESSORY_SIZE = 9, ACT_DO = 0, ACT_TARGET = 1, ACT_VALUE = 2,
  ACT_SIZE = 3, ACTIVE_START = 0, ACTIVE_END = 1, ACTIVE_WINDOW = 2, ACTIVE_SIZE = 3, AXIS_PARAMETER = 0, AXIS_ROUND = 1,
  AXIS_LOW = 2, AXIS_HIGH = 3, AXIS_STEP = 4, AXIS_SIZE = 5, BUFFER_PARAMETER = 0, BUFFER_MOST = 1, BUFFER_SIZE = 2,
  CEL_FRAME = 0, CEL_MIRRORED = 1, CEL_TURNS = 2, CEL_LOOKS = 3, CEL_RECTS = 4, CEL_RECTS_END = 5, CEL_SPOTS = 6,
  CEL_SPOTS_END = 7, CEL_SIZE = 8, CLIP_LENGTH = 0, CLIP_BEGIN = 1, CLIP_VANISHES = 2, CLIP_PACE = 3, CLIP_AT = 4, CLIP_LOW = 5,
  CLIP_HIGH = 6, CLIP_CUES = 7, CLIP_CUES_END = 8, CLIP_WINDOWS = 9, CLIP_WINDOWS_END = 10, CLIP_PIECES = 11,
  CLIP_PIECES_END = 12, CLIP_CELS = 13, CLIP_CELS_END = 14, CLIP_RESTING = 15, CLIP_GOES = 16, CLIP_KEYS = 17, CLIP_KEYS_END = 18,
  CLIP_ACTIVES = 19, CLIP_ACTIVES_END = 20, CLIP_REACH = 21, CLIP_STUN = 22, CLIP_GUARD_STUN = 23, CLIP_FREEZE = 24,
  CLIP_STRENGTH = 25, CLIP_PUSH = 26, CLIP_SIZE = 27, COMPARE_STACK = 19, CONTACT_GUARDS = 0, CONTACT_GUARDS_END = 1,
  CONTACT_HIT = 2, CONTACT_GUARDED = 3, CONTACT_STUN = 4, CONTACT_STRENGTH = 5, CONTACT_LANDS = 6, CONTACT_STOPPED = 7,
  CONTACT_SIZE = 8, COSTUME_PARAMETER = 0, COSTUME_VALUE = 1, COSTUME_DRESSED = 2, COSTUME_DRESSED_END = 3, COSTUME_SIZE = 4,
  CUE_AT = 0, CUE_MARK = 1, CUE_ACTS = 2, CUE_ACTS_END = 3, CUE_SHAPES = 4, CUE_SHAPES_END = 5, CUE_CEL = 6, CUE_SPOTS = 7,
  CUE_SPOTS_END = 8, CUE_SIZE = 9, DRAWN_WIDE = 0, DRAWN_HIGH = 1, DRAWN_TILT = 2, DRAWN_WHOLE = 3, DRAWN_SQUASH = 4,
  DRAWN_HOLDER = 5, DRAWN_AMOUNT = 6, DRAWN_SINCE = 7, DRAWN_FREED = 8, DRAWN_FROM_WIDE = 9, DRAWN_FROM_HIGH = 10,
  DRAWN_LEANING = 11, DRAWN_FALL = 12, DRAWN_LANDED = 13, DRAWN_VELOCITY = 14, DRAWN_UP = 15, DRAWN_FACING = 16,
  DRAWN_GROUNDED = 17, DRAWN_FREEZE = 18, DRAWN_SIZE = 19, DRESSED_FRAME = 0, DRESSED_BY = 1, DRESSED_SIZE = 2, DUE_ANY = 0,
  DUE_FREEZE = 1, DUE_PUSH = 2, DUE_HIT = 3, DUE_GUARDED = 4, DUE_STUN = 5, DUE_STRENGTH = 6, DUE_LANDS = 7, DUE_STOPPED = 8,
  DUE_SIZE = 9, FIELDS_MODE = 22, FIELDS_PUSH = 23, FIELDS_PUSH_UP = 24, FIELDS_TRAVEL = 30, FIELDS_TRAVEL_UP = 31,
  FIELDS_TRAVELS = 32, FIRST_PLAYER = 3, FORMULA_PARAMETER = 0, FORMULA_PROGRAM = 1, FORMULA_PROGRAM_END = 2, FORMULA_SIZE = 3,
  FROM_TO = 4, GUARD_BOX = 2, HEAD_PARAMETERS = 0, HEAD_STICKS = 2, HEAD_STICKS_END = 3, HEAD_LAYERS = 4, HEAD_LAYERS_END = 5,
  HEAD_STATES = 6, HEAD_WAYS = 8, HEAD_WAYS_END = 9, HEAD_PLACES = 18, HEAD_CLIPS = 20, HEAD_CUES = 22, HEAD_WINDOWS = 24,
  HEAD_WINDOWS_END = 25, HEAD_MEMORIES = 32, HEAD_MEMORIES_END = 33, HEAD_BUFFERS = 34, HEAD_BUFFERS_END = 35, HEAD_CLOCKS = 36,
  HEAD_CLOCKS_END = 37, HEAD_FORMULAS = 38, HEAD_FORMULAS_END = 39, HEAD_HOLDS = 40, HEAD_HOLDS_END = 41, HEAD_SQUASHES = 44,
  HEAD_SQUASHES_END = 45, HEAD_LEANS = 46, HEAD_LEANS_END = 47, HEAD_COUNTDOWNS = 50, HEAD_COUNTDOWNS_END = 51, HEAD_CONTACT = 56,
  HEAD_CONTACT_END = 57, HEAD_COSTUMES = 58, HEAD_COSTUMES_END = 59, HEAD_SPOTS = 62, HEAD_SPOTS_END = 63, HEAD_ACCESSORIES = 64,
  HEAD_ACCESSORIES_END = 65, HEAD_POSED = 76, HEAD_POSED_END = 77, HEAD_PULSES = 80, HEAD_PULSES_END = 81, HEAD_BUTTONS = 82,
  HEAD_BUTTONS_END = 83, HEAD_LAYER_COUNT = 84, HEAD_COUNTERS = 85, HEAD_AGES = 86, HEAD_SINCE = 87, HEAD_HELD = 88,
  HEAD_RAISED = 89, HEAD_LOCKS = 90, HEAD_SPANS = 91, HEAD_SPANS_END = 92, HEAD_REMEMBERED = 93, HEAD_HELD_NOW = 94,
  HEAD_HELD_BEFORE = 95, HEAD_CHANGED = 96, HEAD_COUNTS = 97, HEAD_PLACE = 98, HEAD_KEPT = 99, HEAD_STACK = 100,
  HEAD_VALUES = 101, HEAD_MOST_TOLD = 102, HEAD_SIZE = 104, HELD_FOR = 0, HELD_SQUASH = 1, HELD_LEAN = 4, KEY_AT = 0,
  KEY_SIZE = 4, LAYER_START = 0, LAYER_STATES = 1, LAYER_STATES_END = 2, LAYER_SIZE = 3, LEAN_SPEEDING = 0, LEAN_TURNING = 1,
  LEAN_MOST = 2, LEAN_SHARE = 3, LEAN_DT = 4, LEAN_SIGNED = 5, LEAN_SIZE = 6, LET_GO = 2, MEMORY_WITHIN = 0, MEMORY_TICKS = 1,
  MEMORY_PROGRAM = 2, MEMORY_PROGRAM_END = 3, MEMORY_LASTS = 4, MEMORY_SIZE = 5, MIX_SHARE_SAMPLE = 0, MIX_CELL_FIRST = 0,
  MIX_PLACE_X = 0, MIX_EDGE_FIRST = 0, MIX_SHARE_SHARE = 1, MIX_CELL_SECOND = 1, MIX_PLACE_Y = 1, MIX_EDGE_SECOND = 1,
  MIX_PLACE_MIX_SHARES = 2, MIX_SHARE_SIZE = 2, MIX_CELL_THIRD = 2, MIX_EDGE_SIZE = 2, MIX_PLACE_MIX_SHARES_END = 3,
  MIX_CELL_SIZE = 3, MOVED_PARAMETER = 0, MOVED_VALUE = 1, MOVED_SIZE = 2, NAMED_PARAMETERS = 0, NAMED_WORDS = 1,
  NAMED_LAYERS = 2, NAMED_STATES = 3, NAMED_CLIPS = 4, NAMED_SPANS = 7, NAMED_LOCKS = 8, NOW_TICK = 0, NOW_LOCKED = 1,
  NOW_FREEZE = 2, OP_NUMBER = 0, OP_PARAMETER = 1, OP_PRESSED = 2, OP_RELEASED = 3, OP_STAY = 4, OP_SINCE = 5, OP_BUFFERED = 6,
  OP_SPAN = 9, OP_MEMORY = 11, OP_NOT = 12, OP_COMPARE = 13, OP_COMPUTE = 14, OP_SKIP_FALSE = 15, OP_SKIP_TRUE = 16,
  OPERATOR_COUNT = 10, OVER_BY = 3, PARAMETER_KIND = 0, PARAMETER_OWNER = 1, PARAMETER_FIRST = 2, PARAMETER_LOW = 3,
  PARAMETER_HIGH = 4, PARAMETER_SIZE = 5, PART_POSE_PART = 0, PART_POSE_X = 1, PART_POSE_Y = 2, PART_POSE_TURN = 3,
  PART_POSE_WIDE = 4, PART_POSE_HIGH = 5, PART_POSE_SIZE = 6, PARTED_LAYER = 0, PARTED_PART = 1, PARTED_X = 2, PARTED_Y = 3,
  PARTED_TURN = 4, PARTED_WIDE = 5, PARTED_HIGH = 6, PARTED_SIZE = 7, PIECE_START = 0, PIECE_CEL = 1, PIECE_SIZE = 2,
  PINNED_NAME = 0, PINNED_LAYER = 1, PINNED_BEHIND = 2, PINNED_FRAME = 3, PINNED_MIRRORED = 4, PINNED_X = 5, PINNED_Y = 6,
  PINNED_TURN = 7, PINNED_SIZE = 8, PLACED_NUMBER = 0, PLACED_PIN = 1, PLACED_X = 2, PLACED_Y = 3, PLACED_ANGLE = 4,
  PLACED_BEHIND = 5, PLACED_SIZE = 6, PLAYER_STATE = 0, PLAYER_STAY = 1, PLAYER_HEAD = 2, PLAYER_PICK = 3, PLAYER_OVER = 4,
  PLAYER_FADE_STATE = 5, PLAYER_FADE_PICK = 6, PLAYER_FADE_HEAD = 7, PLAYER_FADE_LEFT = 8, PLAYER_FADE_BLOCKS = 9,
  PLAYER_SIZE = 10, POSED_FRAME = 0, POSED_FIGURE = 1, POSED_POSES = 2, POSED_POSES_END = 3, POSED_SIZE = 4, PULSE_SIZE = 2,
  PUSH_UP = 8, PUSH_NUMBER = 14, PUSH_VALUE = 15, PUSH_STAY = 16, PUSH_SINCE = 17, RECT_KIND = 0, RECT_LEFT = 1, RECT_BOTTOM = 2,
  RECT_WIDTH = 3, RECT_HEIGHT = 4, RECT_SIZE = 5, ROW_OR_NONE = 6, SAMPLE_CLIP = 0, SAMPLE_PHASE = 1, SAMPLE_PLACES = 2,
  SAMPLE_MIRRORED = 3, SAMPLE_SIZE = 4, SECTION_COUNT = 40, SEEN_WITHIN = 1, SHAPE_DO = 0, SHAPE_WHICH = 1, SHAPE_SIZE = 2,
  SIGN_COUNT = 6, SPOT_PIN = 0, SPOT_X = 1, SPOT_Y = 2, SPOT_ANGLE = 3, SPOT_BEHIND = 4, SPOT_SIZE = 5, SQUASH_HIGH = 0,
  SQUASH_WIDE = 1, SQUASH_OVER = 2, SQUASH_HOLD = 3, SQUASH_BACK = 4, SQUASH_EVERY = 5, SQUASH_BY_FALL = 6, SQUASH_RECENT = 7,
  SQUASH_WHOLE = 8, SQUASH_SIZE = 9, STATE_WAYS = 0, STATE_WAYS_END = 1, STATE_ENTRY = 2, STATE_ENTRY_END = 3, STATE_LEAVE = 4,
  STATE_LEAVE_END = 5, STATE_SAMPLES = 6, STATE_SAMPLES_END = 7, STATE_AXES = 8, STATE_AXES_END = 9, STATE_BLENDS = 10,
  STATE_STICKY = 11, STATE_CLOCK = 12, STATE_STILL = 13, STATE_CLEAR = 14, STATE_TURNED = 15, STATE_MODE = 16,
  STATE_BACKWARD = 17, STATE_FACE = 18, STATE_CAP = 19, STATE_FALL = 20, STATE_WIDE = 21, STATE_HIGH = 22, STATE_SHAPES = 23,
  STATE_SHAPES_END = 24, STATE_LAST_SHAPES = 25, STATE_LAST_SHAPES_END = 26, STATE_WORN = 27, STATE_WORN_END = 28,
  STATE_MOVED = 29, STATE_MOVED_END = 30, STATE_MIX_CELLS = 31, STATE_MIX_CELLS_END = 32, STATE_MIX_EDGES = 33,
  STATE_MIX_EDGES_END = 34, STATE_SIZE = 35, STEP_OP = 0, STEP_A = 1, STEP_B = 2, STEP_VALUE = 3, STEP_YES = 4, STEP_NO = 5,
  STEP_SIZE = 6, STICK_PUSH = 2, STICK_BEARING = 3, STICK_SIZE = 4, STRIKE_BOX = 0, TOLD_SIZE = 6, USE_BUFFER = 0, USE_TICKS = 1,
  USE_SIZE = 2, VULNERABLE_BOX = 1, WAY_NUMBER = 0, WAY_TARGET = 1, WAY_PROGRAM = 2, WAY_PROGRAM_END = 3, WAY_FADE = 4,
  WAY_BLOCKS = 5, WAY_KEEP = 6, WAY_USES = 7, WAY_USES_END = 8, WAY_SHAPES = 9, WAY_SHAPES_END = 10, WAY_SIZE = 11,
  WINDOW_START = 0, WINDOW_END = 1, WINDOW_HOLD = 2, WINDOW_LOCK = 3, WINDOW_SPAN = 4, WINDOW_SIZE = 5;
const
  BEARING = 2, CHOICE = 4, WHOLE = 1, TICK = 65536, AT = 0, EASE = 3, IN = 1, OUT = 2, BOTH = 3, LESS = 1, EQUAL = 2, GREATER = 4,
  NEITHER = 8, PLUS = 0, MINUS = 1, TIMES = 2, ABSOLUTE = 4, NEGATIVE = 5, TURN = 8, DIRECTION = 9, LEAST = 6, COMPARED = 4,
  ON = 1, STAYED = 6, PRESSED = 2, RELEASED = 3, REMEMBERED = 13, BUFFERED = 7, SINCE = 8, NEVER = 1152921504606846976, DONE = 9,
  SHARE = 10, SPAN = 11, ACTIVE = 12, PAIR = 5, CONSTANT = 0, COMPUTE = 18, TRUE = -1, TOLD = 2, LEANED = 3, WITHIN = 11,
  FINITE = 1, INTEGER = 2, EXACT = 9007199254740992, TIME = 3, ROW = 5, ADDRESS = 7, NAME = 8, FIRST = 9, END = 10, RAISE = 2,
  PARAMETERS = 0, LOCK = 3, UNLOCK = 4, FREEZE = 5, LONGEST = 2147483648, MOST_MARKS = 10000, CUES = 11, PIECES = 13, KEYS = 15,
  SAMPLES = 7, CLIPS = 10, PLACES = 9, SQUASHES = 22, LEANS = 23, SHAPES = 24, SQUASHED = 0, CLOCKS = 18, BUFFERS = 17,
  MEMORIES = 16, LAYERS = 2, PROGRAMS = 21, AMOUNT = 1, TRUTH = 2, EITHER = 0, WAYS = 4, FORMULAS = 19, CONTACTS = 28,
  ACCESSORIES = 32, STATES = 3, AXES = 8, ACTS = 6, PULSE = 5, GRAPH = 3, BUTTON = 6, PLAYED = 35, STICKS = 1, FALSE = -2,
  SET = 0, ADD = 1, MODE = 6, PUSH = 7, X = 1, Y = 2, VERSION = 7;
const
  RADIAN = 0.017453292519943295, FARTHEST = 1e+308, FASTEST = 1000;
const SERIES = [
  1.397458036904447, -1.4691225516174955, 1.5485345814346574, -1.6370222718023522, 1.7362357428206765, -1.8482509520349137,
  1.9757165349338732, -2.1220659078919377, 2.291831180523293, -2.4911208483948837, 2.72837045300392, -3.0155673427938066,
  3.3703399713577835, -3.819718634205488, 4.407367654852487, -5.208707228462029, 6.366197723675814, -8.18511135901176,
  11.459155902616464, -19.098593171027442, 57.29577951308232
];
const SINES = [
  -8.22063524662433e-18, 2.8114572543455206e-15, -7.647163731819816e-13, 1.6059043836821613e-10, -2.505210838544172e-08,
  2.7557319223985893e-06, -0.0001984126984126984, 0.008333333333333333, -0.16666666666666666, 1.0
];
const COSINES = [
  -1.5619206968586225e-16, 4.779477332387385e-14, -1.1470745597729725e-11, 2.08767569878681e-09, -2.755731922398589e-07,
  2.48015873015873e-05, -0.001388888888888889, 0.041666666666666664, -0.5, 1.0
];
const WIDTHS = [
  5, 4, 3, 35, 11, 2, 3, 4, 5, 1, 27, 9, 5, 2, 8, 4, 4, 2, 1, 3, 1, 4, 9, 6, 2, 1, 3, 5, 8, 4, 2, 5, 9, 2, 4, 2, 3, 2, 4, 6
];
const SIZES = [
  5, 4, 3, 35, 11, 2, 3, 4, 5, 1, 27, 9, 5, 2, 8, 4, 5, 2, 1, 3, 1, 6, 9, 6, 2, 1, 3, 5, 8, 4, 2, 5, 9, 2, 4, 2, 3, 2, 4, 6
];
const RULE = [
  4, 4, 1, 1, 1, 5, 5, 5, 5, 5, 9, 10, 9, 10, 9, 10, 9, 10, 9, 10, 9, 10, 4, 1, 6, 4, 4, 4, 4, 4, 1, 1, 1, 1, 1, 9, 10, 9, 10, 9,
  10, 9, 10, 9, 10, 9, 10, 2, 5, 9, 10, 3, 4, 4, 9, 10, 9, 10, 5, 3, 4, 2, 1, 7, 3, 3, 4, 6, 4, 1, 1, 1, 0, 3, 2, 4, 6, 1, 1, 1,
  9, 10, 9, 10, 9, 10, 9, 10, 2, 4, 9, 10, 9, 10, 4, 3, 3, 3, 1, 1, 3, 8, 9, 10, 9, 10, 3, 9, 10, 2, 2, 6, 4, 8, 3, 3, 8, 4, 4, 4,
  9, 10, 9, 10, 1, 1, 1, 4, 4, 3, 9, 10, 11, 5, 3, 3, 5, 9, 10, 5, 4, 2, 2, 1, 11, 11, 1, 0, 1, 0, 1, 1, 1, 1, 4, 1, 1, 1, 1, 1,
  4, 4, 2, 5, 2, 2, 3, 4, 1, 1, 1, 1, 9, 10, 6, 6, 6, 6, 6, 6, 6, 1, 9, 10, 8, 8, 8, 1, 1, 1, 4, 8, 8, 9, 10, 9, 10, 8, 1, 4, 5,
  1, 1, 1, 9, 10, 3, 1, 7, 7, 7, 7, 7, 8, 3, 9, 10, 8, 1, 1, 1, 1, 1
];
const ABOUT = [
  6, 4, 0, 0, 0, 0, 0, 0, 0, 3, 3, 0, 4, 0, 6, 0, 6, 0, 7, 0, 8, 0, 1, 0, 18, 1, 1, 1, 4, 1, 0, 0, 0, 0, 0, 24, 0, 24, 0, 29, 0,
  33, 0, 36, 0, 37, 0, 0, 3, 21, 0, 0, 1, 1, 5, 0, 24, 0, 17, 0, 8, 0, 0, 10, 0, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 11,
  0, 12, 0, 13, 0, 14, 0, 0, 7, 15, 0, 26, 0, 1, 0, 0, 0, 0, 0, 0, 6, 6, 0, 24, 0, 0, 31, 0, 0, 0, 0, 1, 7, 0, 0, 5, 1, 3, 2, 27,
  0, 31, 0, 0, 0, 0, 3, 1, 0, 21, 0, 0, 0, 0, 0, 0, 21, 0, 0, 16, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1, 4,
  0, 0, 0, 0, 0, 2, 0, 0, 0, 0, 21, 0, 0, 0, 0, 0, 0, 0, 0, 0, 30, 0, 5, 5, 1, 0, 0, 0, 1, 1, 1, 21, 0, 10, 0, 5, 0, 2, 0, 0, 0,
  0, 35, 0, 0, 0, 34, 34, 34, 34, 34, 5, 0, 39, 0, 1, 0, 0, 0, 0, 0
];
const TAKES = [
  2, 2, 2, 2, 1, 1, 0, 0, 2, 1
];
const STANDS = [
  1, 3, 2, 13, 4, 6
];
const LAID = [
  0, 1, 2, 3, 16, 17, 7, 9, 10, 11, 12, 13
];
const REAL = [
  0, 0, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0,
  0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 0, 0, 0, 0, 1, 1, 1, 0, 0, 0, 0, 0, 0,
  0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 0,
  0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 1, 1, 1, 1, 1, 1, 1, 1, 0, 1, 1, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1,
  0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 1, 1, 1, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0,
  0, 0, 0, 1, 1, 1, 1, 1
];

// The bearing of a vector with y up; exact for the eight main directions, within 1e-12 degrees else; 0 for no vector.
function bearingOf(x, y) {
  let wide = Math.abs(x), high = Math.abs(y);
  if (!(wide > 0 || high > 0)) return 0;
  let share = wide <= high ? wide / high : high / wide;
  let isNear = share > 0.41421356237309503;
  let rest = isNear ? (share - 1) / (share + 1) : share;
  let square = rest * rest, total = 0;
  for (let number = 0; number < 21; number++) {
    let factor = SERIES[number];
    total = total * square + factor;
  }
  let angle = total * rest;
  if (isNear) angle = 45 + angle;
  if (wide > high) angle = 90 - angle;
  if (y < 0) angle = 180 - angle;
  if (x < 0) angle = 360 - angle;
  return angle < 360 ? angle : 0;
}

// How far a stick is pushed, from 0 to 1.
function pushOf(x, y) {
  let length = Math.sqrt(x * x + y * y);
  return (1 < length ? 1 : length);
}

// Where a layer's active state begins.
function stateOf(m, z, layer) {
  return m[HEAD_STATES] + z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_STATE] * STATE_SIZE;
}

// Where the clip begins that a layer shows; -1 when it shows none.
function clipOf(m, z, layer) {
  let state = stateOf(m, z, layer);
  let first = m[state + STATE_SAMPLES];
  if (first === m[state + STATE_SAMPLES_END]) return -1;
  return m[first + z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_PICK] * SAMPLE_SIZE + SAMPLE_CLIP];
}

// Whether a layer's clip is done: it repeats and has wrapped since entry, or stands at its length.
function isDone(m, z, layer) {
  let clip = clipOf(m, z, layer);
  if (clip < 0) return false;
  let player = FIRST_PLAYER + layer * PLAYER_SIZE;
  if (m[clip + CLIP_BEGIN] < 0) return z[player + PLAYER_HEAD] >= m[clip + CLIP_LENGTH];
  return z[player + PLAYER_OVER] !== 0;
}

// Whether a layer's playhead is at or past a share of its clip.
function isAt(m, z, layer, share) {
  let clip = clipOf(m, z, layer);
  return clip >= 0 && z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD] >= share * m[clip + CLIP_LENGTH];
}

// A number of degrees as a bearing, from 0 to below 360; what is no finite number is 0.
function reduced(value) {
  if (!(-1000000000000000.0 < value && value < 1000000000000000.0)) return 0;
  let turned = value - 360 * Math.floor(value / 360);
  return 0 < turned && turned < 360 ? turned : 0;
}

// A value brought into a parameter's kind and range; a choice stays what it is.
function fitted(m, r, parameter, value) {
  let one = m[HEAD_PARAMETERS] + parameter * PARAMETER_SIZE;
  let kind = m[one + PARAMETER_KIND];
  if (kind > BEARING) {
    if (kind === CHOICE) return value;
    return value !== 0 ? 1 : 0;
  }
  if (kind === BEARING) return reduced(value);
  if (r[one + PARAMETER_LOW] > value) value = r[one + PARAMETER_LOW];
  if (r[one + PARAMETER_HIGH] < value) value = r[one + PARAMETER_HIGH];
  return kind === WHOLE ? rounded(value) + 0 : value;
}

// The playhead units that one tick adds.
function paceOf(m, r, v, clip) {
  if (m[clip + CLIP_PACE] < 0) return TICK;
  let rate = v[m[clip + CLIP_PACE]] / r[clip + CLIP_AT];
  if (!(rate >= r[clip + CLIP_LOW])) rate = r[clip + CLIP_LOW];
  else if (rate > r[clip + CLIP_HIGH]) rate = r[clip + CLIP_HIGH];
  return Math.floor(rate * TICK + 0.5);
}

// A playhead brought into its clip: past the length it is somewhere in what repeats, or at the length.
function folded(m, clip, head) {
  let length = m[clip + CLIP_LENGTH], back = m[clip + CLIP_BEGIN];
  if (head < length) return head;
  return back < 0 ? length : back + (head - back) % (length - back);
}

// The number of the cel a clip shows at a playhead; -1: none.
function celAt(m, clip, head) {
  let piece = m[clip + CLIP_PIECES], end = m[clip + CLIP_PIECES_END], length = m[clip + CLIP_LENGTH];
  if (piece === end || (m[clip + CLIP_VANISHES] !== 0 && head >= length)) return -1;
  head = folded(m, clip, head);
  head = (length - 1 < head ? length - 1 : head);
  while (piece + PIECE_SIZE < end && m[piece + PIECE_SIZE + PIECE_START] <= head) piece += PIECE_SIZE;
  return m[piece + PIECE_CEL];
}

// The number of the cel a clip shows at a playhead, its resting one while it stands; -1: none.
function celShown(m, r, v, clip, head) {
  if (m[clip + CLIP_RESTING] >= 0 && paceOf(m, r, v, clip) === 0) return m[clip + CLIP_RESTING];
  return celAt(m, clip, head);
}

// The number of the cel a layer shows, counted from its clip's first; -1: none.
function celOf(m, r, z, v, layer) {
  let clip = clipOf(m, z, layer);
  return clip >= 0 ? celShown(m, r, v, clip, z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD]) : -1;
}

// Where a cel of the clip begins that a layer shows.
function celRow(m, z, layer, cel) {
  return m[clipOf(m, z, layer) + CLIP_CELS] + cel * CEL_SIZE;
}

// How fast to turn, to be at most or to fall, or how wide or high to be, as what (a column of states) says; 0: nothing is asked.
function requested(m, r, z, what) {
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
    let asked = r[stateOf(m, z, layer) + what];
    if (asked > 0) return asked;
  }
  return 0;
}

// How to move, as the number of a mode; 0: nothing is asked.
function requestedMode(m, z) {
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
    let mode = m[stateOf(m, z, layer) + STATE_MODE];
    if (mode !== 0) return mode;
  }
  return 0;
}

// Whether the body may move against its facing.
function goesBackward(m, z) {
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
    if (m[stateOf(m, z, layer) + STATE_BACKWARD] !== 0) return true;
  }
  return false;
}

// The layer to begin to draw with: from it on each that shows a cel is drawn, the last in front; -1: nothing is shown.
function lowestSeen(m, r, z, v) {
  let seen = -1;
  for (let back = 0; back < m[HEAD_LAYER_COUNT]; back++) {
    let layer = m[HEAD_LAYER_COUNT] - 1 - back;
    if (celOf(m, r, z, v, layer) >= 0) {
      seen = layer;
      if (m[stateOf(m, z, layer) + STATE_CLEAR] === 0) return seen;
    }
  }
  return seen;
}

// Whether a state turns a cel (its row) to where the figure looks, which may be left.
function turnsRound(m, state, row, left) {
  let looks = m[row + CEL_LOOKS];
  if (looks === 0) return false;
  if (m[state + STATE_TURNED] === 0) return looks === 2;
  return left !== (looks === 2);
}

// Whether a cel (its row) of a state's sample is drawn the other way round.
function isFlipped(m, state, sample, row, left) {
  let mirrored = m[row + CEL_MIRRORED] !== m[sample + SAMPLE_MIRRORED];
  return mirrored !== turnsRound(m, state, row, left);
}

// Whether a cel of the clip that a layer shows is drawn the other way round.
function isMirrored(m, z, layer, cel, left) {
  let sample = m[stateOf(m, z, layer) + STATE_SAMPLES] + z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_PICK] * SAMPLE_SIZE;
  return isFlipped(m, stateOf(m, z, layer), sample, celRow(m, z, layer, cel), left);
}

// Whether a cel of the clip that a layer shows is turned to where the figure looks, which may be left.
function isTurned(m, z, layer, cel, left) {
  return turnsRound(m, stateOf(m, z, layer), celRow(m, z, layer, cel), left);
}

// By how many quarter turns clockwise it is turned, after it has been mirrored.
function quarterTurns(m, z, layer, cel, left) {
  let turns = m[celRow(m, z, layer, cel) + CEL_TURNS];
  return isTurned(m, z, layer, cel, left) ? (4 - turns) % 4 : turns;
}

// The costume that a layer wears; -1: none.
function worn(m, r, z, v, layer) {
  let state = stateOf(m, z, layer);
  if (m[state + STATE_WORN] < m[state + STATE_WORN_END]) return m[state + STATE_WORN];
  for (let costume = m[HEAD_COSTUMES]; costume < m[HEAD_COSTUMES_END]; costume += COSTUME_SIZE) {
    let parameter = m[costume + COSTUME_PARAMETER];
    if (parameter >= 0 && v[parameter] === r[costume + COSTUME_VALUE]) return costume;
  }
  return -1;
}

// The frame that is drawn in place of one in the costume that a layer wears.
function dressed(m, r, z, v, layer, frame) {
  let costume = worn(m, r, z, v, layer);
  if (costume >= 0) {
    for (let row = m[costume + COSTUME_DRESSED]; row < m[costume + COSTUME_DRESSED_END]; row += DRESSED_SIZE) {
      if (m[row + DRESSED_FRAME] === frame) return m[row + DRESSED_BY];
    }
  }
  return frame;
}

// The frame that a cel of the clip which a layer shows is drawn as: its own, or that of the costume worn.
function frameOf(m, r, z, v, layer, cel) {
  return dressed(m, r, z, v, layer, m[celRow(m, z, layer, cel) + CEL_FRAME]);
}

// Where a path laid out in r is at a playhead, ahead (X) or up (Y).
function place(r, begin, end, head, which) {
  let key = begin;
  while (key + KEY_SIZE < end && r[key + KEY_SIZE + AT] <= head) key += KEY_SIZE;
  let after = key + KEY_SIZE;
  if (after >= end || head <= r[key + AT]) return r[key + which];
  let t = (head - r[key + AT]) / (r[after + AT] - r[key + AT]);
  let ease = Math.trunc(r[after + EASE]);
  if (ease === IN) t = t * t;
  else if (ease === OUT) t = t * (2 - t);
  else if (ease === BOTH) t = t * t * (3 - 2 * t);
  return r[key + which] + (r[after + which] - r[key + which]) * t;
}

// How far a path that moves only the drawing has taken it, ahead (1) or up (2).
function aside(m, r, z, layer, which) {
  let clip = clipOf(m, z, layer);
  if (clip < 0 || m[clip + CLIP_GOES] !== 0 || m[clip + CLIP_KEYS] === m[clip + CLIP_KEYS_END]) return 0;
  let head = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD];
  return place(r, m[clip + CLIP_KEYS], m[clip + CLIP_KEYS_END], head, which);
}

// How far right a step of length 1 along a bearing goes; exact along the axes.
function across(bearing) {
  let folded = bearing <= 90 ? bearing : bearing <= 270 ? 180 - bearing : bearing - 360;
  if (folded === 90) return 1;
  if (folded === -90) return -1;
  let flat = -45 <= folded && folded <= 45 ? folded : folded > 0 ? 90 - folded : -90 - folded;
  let angle = flat * RADIAN;
  let square = angle * angle, total = 0;
  if (flat === folded) {
    for (let number = 0; number < 10; number++) {
      let factor = SINES[number];
      total = total * square + factor;
    }
    return total * angle;
  }
  for (let number = 0; number < 10; number++) {
    let factor = COSINES[number];
    total = total * square + factor;
  }
  return folded > 0 ? total : -total;
}

// How far up a step of length 1 along a bearing goes; exact along the axes.
function along(bearing) {
  let shifted = bearing + 90;
  return across(shifted < 360 ? shifted : shifted - 360);
}

// Write from place at on where a pin point comes to lie: across, up, and a bearing.
function placeSpot(r, spot, mirrored, turns, wide, high, tilt, b, at) {
  let x = r[spot + SPOT_X], y = r[spot + SPOT_Y], angle = r[spot + SPOT_ANGLE];
  if (mirrored) {
    x = 0 - x;
    angle = reduced(360 - angle);
  }
  for (let again = 0; again < turns; again++) {
    let back = 0 - x;
    x = y;
    y = back;
    angle = reduced(angle + 90);
  }
  if (wide !== high) angle = bearingOf(across(angle) * wide, along(angle) * high);
  x = x * wide;
  y = y * high;
  if (tilt !== 0) {
    let leaned = reduced(tilt);
    let right = across(leaned), up = along(leaned);
    let to = x * up + y * right;
    y = y * up - x * right;
    x = to;
    angle = reduced(angle + tilt);
  }
  b[at] = x;
  b[at + 1] = y;
  b[at + 2] = angle;
}

// Write down the pin points of the layers that are seen, from the back to the front, in rows of b; how many there are.
function listPins(m, r, z, v, left, wide, high, tilt, b) {
  let count = 0, lowest = lowestSeen(m, r, z, v);
  if (lowest < 0 || m[HEAD_SPOTS] === m[HEAD_SPOTS_END]) return 0;
  for (let layer = lowest; layer < m[HEAD_LAYER_COUNT]; layer++) {
    let cel = celOf(m, r, z, v, layer);
    if (cel < 0) continue;
    let row = celRow(m, z, layer, cel);
    let mirrored = isMirrored(m, z, layer, cel, left);
    let turns = quarterTurns(m, z, layer, cel, left);
    for (let spot = m[row + CEL_SPOTS]; spot < m[row + CEL_SPOTS_END]; spot += SPOT_SIZE) {
      let at = count * PLACED_SIZE;
      b[at + PLACED_NUMBER] = (layer);
      b[at + PLACED_PIN] = (m[spot + SPOT_PIN]);
      placeSpot(r, spot, mirrored, turns, wide, high, tilt, b, at + PLACED_X);
      b[at + PLACED_BEHIND] = (m[spot + SPOT_BEHIND]);
      count += 1;
    }
  }
  return count;
}

// The pin point of a cel (its row) to which an accessory is pinned; -1: none.
function pinnedAt(m, row, accessory) {
  for (let spot = m[row + CEL_SPOTS]; spot < m[row + CEL_SPOTS_END]; spot += SPOT_SIZE) {
    if (m[spot + SPOT_PIN] === m[accessory + ACCESSORY_PIN]) return spot;
  }
  return -1;
}

// Whether an accessory is drawn behind the figure at a pin point.
function liesBehind(m, accessory, spot) {
  let order = m[accessory + ACCESSORY_ORDER];
  return order === 2 || (order === 0 && m[spot + SPOT_BEHIND] !== 0);
}

// Whether two numbers stand to each other in one of the ways of sign; without a branch that could be guessed wrong.
function compared(sign, left, right) {
  let less = left < right, equal = left === right, greater = left > right;
  let stands = less * LESS | equal * EQUAL | greater * GREATER | !(less | equal | greater) * NEITHER;
  return (stands & sign) !== 0;
}

// The shorter way from one bearing to another, in degrees, above -180 to 180; clockwise is positive.
function turn(start, end) {
  let way = end - start;
  if (way > 180) return way - 360;
  if (way <= -180) return way + 360;
  return way;
}

// One arithmetic step in IEEE doubles, on numbers that lie on the stack; a division by zero gives 0.
function computed(sign, v, begin, end) {
  let first = v[begin];
  if (sign === PLUS) return first + v[begin + 1];
  if (sign === MINUS) return first - v[begin + 1];
  if (sign === TIMES) return first * v[begin + 1];
  if (sign === OVER_BY) return v[begin + 1] !== 0 ? first / v[begin + 1] : 0;
  if (sign === ABSOLUTE) return Math.abs(first);
  if (sign === NEGATIVE) return -first;
  if (sign === TURN) return turn(first, v[begin + 1]);
  if (sign === DIRECTION) return reduced(first);
  for (let at = begin + 1; at < end; at++) {
    if (sign === LEAST ? v[at] < first : v[at] > first) first = v[at];
  }
  return first;
}

// Run a program from an instruction on.
function run(m, r, z, v, at) {
  let top = m[HEAD_STACK];
  while (at >= 0) {
    let op = m[at + STEP_OP], a = m[at + STEP_A], b = m[at + STEP_B];
    let holds = true;
    if (op === COMPARED) holds = compared(b, v[a], r[at + STEP_VALUE]);
    else if (op === ON) holds = v[a] !== 0;
    else if (op === STAYED) holds = compared(b, z[FIRST_PLAYER + a * PLAYER_SIZE + PLAYER_STAY], r[at + STEP_VALUE]);
    else if (op === PRESSED) holds = v[a] !== 0 && z[m[HEAD_HELD] + a] === 0;
    else if (op === RELEASED) holds = v[a] === 0 && z[m[HEAD_HELD] + a] !== 0;
    else if (op === REMEMBERED) holds = z[m[HEAD_REMEMBERED] + a] !== 0;
    else if (op === BUFFERED) {
      let age = z[m[HEAD_AGES] + a];
      holds = age >= 0 && age < r[at + STEP_VALUE];
    } else if (op === SINCE) {
      let age = z[m[HEAD_SINCE] + a];
      holds = compared(b, age >= 0 ? age : NEVER, r[at + STEP_VALUE]);
    } else if (op === DONE) holds = isDone(m, z, a);
    else if (op === SHARE) holds = isAt(m, z, a, r[at + STEP_VALUE]);
    else if (op === SPAN) holds = z[m[HEAD_SPANS] + a] !== 0;
    else if (op === ACTIVE) holds = z[FIRST_PLAYER + a * PLAYER_SIZE + PLAYER_STATE] === b;
    else if (op === PAIR) holds = compared(b, v[a], v[m[at + STEP_SIZE + STEP_A]]);
    else if (op === CONSTANT) holds = r[at + STEP_VALUE] !== 0;
    else if (op === PUSH_VALUE) {
      v[top] = v[a];
      top += 1;
    } else if (op === PUSH_NUMBER) {
      v[top] = r[at + STEP_VALUE];
      top += 1;
    } else if (op === PUSH_STAY) {
      v[top] = z[FIRST_PLAYER + a * PLAYER_SIZE + PLAYER_STAY];
      top += 1;
    } else if (op === PUSH_SINCE) {
      let age = z[m[HEAD_SINCE] + a];
      v[top] = age >= 0 ? age : NEVER;
      top += 1;
    } else if (op === COMPUTE) {
      top -= b - 1;
      v[top - 1] = computed(a, v, top - 1, top - 1 + b);
    } else if (op === COMPARE_STACK) {
      top -= 2;
      holds = compared(b, v[top], v[top + 1]);
    }
    at = holds ? m[at + STEP_YES] : m[at + STEP_NO];
  }
  return at === TRUE;
}

// The row of the cel that an accessory shows beside a layer, of one that shows a clip; -1: none.
function accessoryCel(m, z, accessory, layer) {
  let clip = m[accessory + ACCESSORY_CLIP];
  let stay = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_STAY];
  let cel = celAt(m, clip, folded(m, clip, stay * TICK));
  return cel >= 0 ? m[clip + CLIP_CELS] + cel * CEL_SIZE : -1;
}

// Write down the accessories that are seen, from the back to the front, in rows of b; how many there are.
function listPinned(m, r, z, v, left, wide, high, tilt, b) {
  let count = 0, lowest = lowestSeen(m, r, z, v);
  if (lowest < 0 || m[HEAD_ACCESSORIES] === m[HEAD_ACCESSORIES_END]) return 0;
  for (let layer = lowest; layer < m[HEAD_LAYER_COUNT]; layer++) {
    let cel = celOf(m, r, z, v, layer);
    if (cel < 0) continue;
    let row = celRow(m, z, layer, cel);
    let mirrored = isMirrored(m, z, layer, cel, left);
    let turns = quarterTurns(m, z, layer, cel, left);
    for (let before = 0; before < 2; before++) {
      for (let accessory = m[HEAD_ACCESSORIES]; accessory < m[HEAD_ACCESSORIES_END]; accessory += ACCESSORY_SIZE) {
        let spot = pinnedAt(m, row, accessory);
        if (spot < 0 || liesBehind(m, accessory, spot) === (before === 1)) continue;
        if (!run(m, r, z, v, m[accessory + ACCESSORY_SHOWN])) continue;
        let shown = m[accessory + ACCESSORY_FRAME];
        let flips = false;
        let quarters = 0;
        if (m[accessory + ACCESSORY_CLIP] < m[accessory + ACCESSORY_CLIP_END]) {
          let own = accessoryCel(m, z, accessory, layer);
          if (own < 0) continue;
          shown = m[own + CEL_FRAME];
          flips = m[own + CEL_MIRRORED] !== 0;
          quarters = m[own + CEL_TURNS];
        }
        let at = count * PINNED_SIZE;
        placeSpot(r, spot, mirrored, turns, wide, high, tilt, b, at + PINNED_X);
        let turn = reduced(r[spot + SPOT_ANGLE] - r[accessory + ACCESSORY_ANGLE]) + 90 * quarters;
        b[at + PINNED_TURN] = reduced(90 * turns + (mirrored ? 0 - turn : turn));
        b[at + PINNED_NAME] = (m[accessory + ACCESSORY_NAME]);
        b[at + PINNED_LAYER] = (layer);
        b[at + PINNED_BEHIND] = 1 - (before);
        b[at + PINNED_FRAME] = (dressed(m, r, z, v, layer, shown));
        b[at + PINNED_MIRRORED] = mirrored !== flips ? 1 : 0;
        count += 1;
      }
    }
  }
  return count;
}

// Write down where the marks that fired and name pin points did, in rows of b; how many there are.
function listPlaces(m, r, k, left, wide, high, tilt, b) {
  let count = 0;
  for (let mark = 0; mark < (k[1] < k[0] ? k[1] : k[0]); mark++) {
    let told = TOLD + mark * TOLD_SIZE;
    let cue = m[HEAD_CUES] + k[told + 3] * CUE_SIZE;
    let state = m[HEAD_STATES] + k[told + 4] * STATE_SIZE;
    let sample = m[state + STATE_SAMPLES] + k[told + 5] * SAMPLE_SIZE;
    let row = m[m[sample + SAMPLE_CLIP] + CLIP_CELS] + m[cue + CUE_CEL] * CEL_SIZE;
    for (let spot = m[cue + CUE_SPOTS]; spot < m[cue + CUE_SPOTS_END]; spot += SPOT_SIZE) {
      let mirrored = isFlipped(m, state, sample, row, left);
      let turns = m[row + CEL_TURNS];
      if (turnsRound(m, state, row, left)) turns = (4 - turns) % 4;
      let at = count * PLACED_SIZE;
      b[at + PLACED_NUMBER] = (mark);
      b[at + PLACED_PIN] = (m[spot + SPOT_PIN]);
      placeSpot(r, spot, mirrored, turns, wide, high, tilt, b, at + PLACED_X);
      b[at + PLACED_BEHIND] = (m[spot + SPOT_BEHIND]);
      count += 1;
    }
  }
  return count;
}

// The row that says how a frame moves parts; -1: it is not drawn from any.
function posedRow(m, frame) {
  let low = m[HEAD_POSED], high = m[HEAD_POSED_END];
  while (low < high) {
    let middle = low + floorDiv(floorDiv(high - low, POSED_SIZE), 2) * POSED_SIZE;
    if (m[middle + POSED_FRAME] < frame) low = middle + POSED_SIZE;
    else high = middle;
  }
  return low < m[HEAD_POSED_END] && m[low + POSED_FRAME] === frame ? low : -1;
}

// How many samples a state has for each way of moving.
function samplesEach(m, state) {
  let ways = 1 + floorDiv(m[state + STATE_MOVED_END] - m[state + STATE_MOVED], MOVED_SIZE);
  return floorDiv(floorDiv(m[state + STATE_SAMPLES_END] - m[state + STATE_SAMPLES], SAMPLE_SIZE), ways);
}

// The value an axis reads, brought into its range.
function valueOn(m, r, v, axis) {
  let value = m[axis + AXIS_PARAMETER] >= 0 ? v[m[axis + AXIS_PARAMETER]] : 0;
  if (m[axis + AXIS_ROUND] !== 0) return value;
  if (r[axis + AXIS_LOW] > value) value = r[axis + AXIS_LOW];
  if (r[axis + AXIS_HIGH] < value) value = r[axis + AXIS_HIGH];
  return value;
}

// Add the share of a place to the samples that stand there.
function giveShare(m, r, place, share, each, w) {
  for (let row = m[place + MIX_PLACE_MIX_SHARES]; row < m[place + MIX_PLACE_MIX_SHARES_END]; row += MIX_SHARE_SIZE) {
    let number = m[row + MIX_SHARE_SAMPLE];
    if (number < each) w[number] = w[number] + share * r[row + MIX_SHARE_SHARE];
  }
}

// Write down how much of every sample of a state's blend space is in the mix (:mod:`leanstep.core.blends.mixing`).
function weigh(m, r, v, state, w) {
  let a, b;
  let ax, ay, wide, high;
  let each = samplesEach(m, state);
  for (let number = 0; number < each; number++) w[number] = 0;
  let axis = m[state + STATE_AXES];
  let x = 0, y = 0;
  if (axis < m[state + STATE_AXES_END]) {
    x = valueOn(m, r, v, axis) / r[axis + AXIS_STEP];
    axis += AXIS_SIZE;
  }
  if (axis < m[state + STATE_AXES_END]) y = valueOn(m, r, v, axis) / r[axis + AXIS_STEP];
  for (let cell = m[state + STATE_MIX_CELLS]; cell < m[state + STATE_MIX_CELLS_END]; cell += MIX_CELL_SIZE) {
    a = m[cell + MIX_CELL_FIRST];
    b = m[cell + MIX_CELL_SECOND];
    let c = m[cell + MIX_CELL_THIRD];
    ax = r[a + MIX_PLACE_X];
    ay = r[a + MIX_PLACE_Y];
    wide = r[b + MIX_PLACE_X] - ax;
    high = r[b + MIX_PLACE_Y] - ay;
    let farWide = r[c + MIX_PLACE_X] - ax, farHigh = r[c + MIX_PLACE_Y] - ay;
    let whole = wide * farHigh - high * farWide;
    if (whole === 0) continue;
    let second = ((x - ax) * farHigh - (y - ay) * farWide) / whole;
    let third = (wide * (y - ay) - high * (x - ax)) / whole;
    let first = 1 - second - third;
    if (first >= 0 && second >= 0 && third >= 0) {
      giveShare(m, r, a, first, each, w);
      giveShare(m, r, b, second, each, w);
      giveShare(m, r, c, third, each, w);
      return;
    }
  }
  let nearest = FARTHEST;
  let one = -1, other = -1;
  let along = 0;
  for (let edge = m[state + STATE_MIX_EDGES]; edge < m[state + STATE_MIX_EDGES_END]; edge += MIX_EDGE_SIZE) {
    a = m[edge + MIX_EDGE_FIRST];
    b = m[edge + MIX_EDGE_SECOND];
    ax = r[a + MIX_PLACE_X];
    ay = r[a + MIX_PLACE_Y];
    wide = r[b + MIX_PLACE_X] - ax;
    high = r[b + MIX_PLACE_Y] - ay;
    let length = wide * wide + high * high, share = 0;
    if (length !== 0) {
      share = ((x - ax) * wide + (y - ay) * high) / length;
      share = share < 0 ? 0 : share > 1 ? 1 : share;
    }
    let right = x - ax - share * wide, up = y - ay - share * high;
    let away = right * right + up * up;
    if (one < 0 || away < nearest) {
      nearest = away;
      one = a;
      other = b;
      along = share;
    }
  }
  giveShare(m, r, one, 1 - along, each, w);
  giveShare(m, r, other, along, each, w);
}

// The playhead when a state's pick changes: at the same share of the other clip, counted from where each cycle begins.
function takenOver(m, state, before, pick, head) {
  let old = m[state + STATE_SAMPLES] + before * SAMPLE_SIZE;
  let shown = m[state + STATE_SAMPLES] + pick * SAMPLE_SIZE;
  let clip = m[shown + SAMPLE_CLIP];
  let length = m[clip + CLIP_LENGTH];
  head = shareOf(head - m[old + SAMPLE_PHASE], length, m[m[old + SAMPLE_CLIP] + CLIP_LENGTH]) + m[shown + SAMPLE_PHASE];
  if (head < 0) head = m[clip + CLIP_BEGIN] >= 0 ? head + length : 0;
  return folded(m, clip, head);
}

// The row of the cel that a layer would show if a sample of its state were picked now; -1: none.
function celIfPicked(m, r, z, v, layer, number) {
  let player = FIRST_PLAYER + layer * PLAYER_SIZE, state = stateOf(m, z, layer);
  let pick = z[player + PLAYER_PICK], head = z[player + PLAYER_HEAD];
  if (number !== pick) head = takenOver(m, state, pick, number, head);
  let clip = m[m[state + STATE_SAMPLES] + number * SAMPLE_SIZE + SAMPLE_CLIP];
  let cel = celShown(m, r, v, clip, head);
  return cel >= 0 ? m[clip + CLIP_CELS] + cel * CEL_SIZE : -1;
}

// Whether what a layer shows mixes: all samples that count show frames drawn from the parts of the one that is picked (its row is
// posed), the same way round and not turned. How much of each there is and where its poses begin are written in w.
function mixesParts(m, r, z, v, layer, posed, left, w) {
  let state = stateOf(m, z, layer);
  if (m[state + STATE_MIX_EDGES] === m[state + STATE_MIX_EDGES_END]) return false;
  let each = samplesEach(m, state), pick = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_PICK];
  let cel = celOf(m, r, z, v, layer);
  let mirrored = isMirrored(m, z, layer, cel, left);
  let way = floorDiv(pick, each);
  if (m[celRow(m, z, layer, cel) + CEL_TURNS] !== 0) return false;
  weigh(m, r, v, state, w);
  for (let number = 0; number < each; number++) {
    if (w[number] > 0) {
      let sample = m[state + STATE_SAMPLES] + (way * each + number) * SAMPLE_SIZE;
      let row = celIfPicked(m, r, z, v, layer, way * each + number);
      if (row < 0 || m[row + CEL_TURNS] !== 0 || isFlipped(m, state, sample, row, left) !== mirrored) return false;
      let other = posedRow(m, dressed(m, r, z, v, layer, m[row + CEL_FRAME]));
      if (other < 0 || m[other + POSED_FIGURE] !== m[posed + POSED_FIGURE]) return false;
      let parts = m[other + POSED_POSES_END] - m[other + POSED_POSES];
      if (parts !== m[posed + POSED_POSES_END] - m[posed + POSED_POSES]) return false;
      w[each + number] = (m[other + POSED_POSES]);
    }
  }
  return true;
}

// Write from place at on how a part is moved in the mix (:func:`leanstep.core.cut_outs.poses.mixed`); part is how far behind the
// first part of its frame its pose stands.
function mixPart(r, w, each, part, b, at) {
  let x = 0, y = 0, way = 0, wide = 0, high = 0;
  let start = 0;
  let begun = false, rests = true;
  for (let number = 0; number < each; number++) {
    let weight = w[number];
    if (weight > 0) {
      let pose = Math.trunc(w[each + number]) + part;
      let angle = reduced(r[pose + PART_POSE_TURN]);
      if (!begun) {
        start = angle;
        begun = true;
      }
      x = x + r[pose + PART_POSE_X] * weight;
      y = y + r[pose + PART_POSE_Y] * weight;
      wide = wide + r[pose + PART_POSE_WIDE] * weight;
      high = high + r[pose + PART_POSE_HIGH] * weight;
      way = way + turn(start, angle) * weight;
      let moves = r[pose + PART_POSE_X] !== 0 || r[pose + PART_POSE_Y] !== 0 || r[pose + PART_POSE_TURN] !== 0;
      let scales = r[pose + PART_POSE_WIDE] !== 1 || r[pose + PART_POSE_HIGH] !== 1;
      rests = rests && !moves && !scales;
    }
  }
  b[at + PARTED_X] = rests ? 0 : x;
  b[at + PARTED_Y] = rests ? 0 : y;
  b[at + PARTED_TURN] = rests ? 0 : start + way;
  b[at + PARTED_WIDE] = rests ? 1 : wide;
  b[at + PARTED_HIGH] = rests ? 1 : high;
}

// Write down how the parts of what is seen are moved, layer by layer from the back to the front, in rows of b; how many there are.
function listParts(m, r, z, v, left, w, b) {
  let count = 0, lowest = lowestSeen(m, r, z, v);
  if (lowest < 0 || m[HEAD_POSED] === m[HEAD_POSED_END]) return 0;
  for (let layer = lowest; layer < m[HEAD_LAYER_COUNT]; layer++) {
    let cel = celOf(m, r, z, v, layer);
    if (cel < 0) continue;
    let posed = posedRow(m, frameOf(m, r, z, v, layer, cel));
    if (posed < 0) continue;
    let first = m[posed + POSED_POSES];
    let mixes = mixesParts(m, r, z, v, layer, posed, left, w);
    for (let pose = first; pose < m[posed + POSED_POSES_END]; pose += PART_POSE_SIZE) {
      let at = count * PARTED_SIZE;
      b[at + PARTED_LAYER] = (layer);
      b[at + PARTED_PART] = (m[pose + PART_POSE_PART]);
      if (mixes) mixPart(r, w, samplesEach(m, stateOf(m, z, layer)), pose - first, b, at);
      else {
        b[at + PARTED_X] = r[pose + PART_POSE_X];
        b[at + PARTED_Y] = r[pose + PART_POSE_Y];
        b[at + PARTED_TURN] = r[pose + PART_POSE_TURN];
        b[at + PARTED_WIDE] = r[pose + PART_POSE_WIDE];
        b[at + PARTED_HIGH] = r[pose + PART_POSE_HIGH];
      }
      count += 1;
    }
  }
  return count;
}

// How many parts can be listed at most.
function mostParts(m) {
  let most = 0;
  for (let posed = m[HEAD_POSED]; posed < m[HEAD_POSED_END]; posed += POSED_SIZE) {
    most = (floorDiv(m[posed + POSED_POSES_END] - m[posed + POSED_POSES], PART_POSE_SIZE) > most ? floorDiv(m[posed + POSED_POSES_END] - m[posed + POSED_POSES], PART_POSE_SIZE) : most);
  }
  return most * m[HEAD_LAYER_COUNT];
}

// The squash there is begins to spring back, unless it does already.
function letGo(s) {
  if (s[DRAWN_SQUASH] > 0 && s[DRAWN_FREED] < 0) s[DRAWN_FREED] = s[DRAWN_SINCE];
}

// What some rows say begins; state holds what it holds.
function beginAll(m, r, s, begin, end, state) {
  for (let shape = begin; shape < end; shape += SHAPE_SIZE) {
    let does = m[shape + SHAPE_DO], which = m[shape + SHAPE_WHICH];
    if (does === LEANED) s[DRAWN_LEANING] = (which);
    else if (does === LET_GO) letGo(s);
    else if (does !== HELD_LEAN) {
      let wholeAt = r[m[HEAD_SQUASHES] + which * SQUASH_SIZE + SQUASH_BY_FALL];
      s[DRAWN_SQUASH] = which + 1;
      s[DRAWN_HOLDER] = does === HELD_SQUASH ? state + 1 : 0;
      s[DRAWN_AMOUNT] = wholeAt === 0 ? 1 : (1 < s[DRAWN_FALL] / wholeAt ? 1 : s[DRAWN_FALL] / wholeAt);
      s[DRAWN_SINCE] = 0;
      s[DRAWN_FREED] = -1;
      s[DRAWN_FROM_WIDE] = s[DRAWN_WIDE];
      s[DRAWN_FROM_HIGH] = s[DRAWN_HIGH];
    }
  }
}

// Note what the next tick begins with.
function keepSeen(m, z, s) {
  s[DRAWN_FREEZE] = (z[NOW_FREEZE]);
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) s[DRAWN_SIZE + layer] = (stateOf(m, z, layer));
}

// The width of a shape between two; keeps: its area goes evenly, not its width.
function wideBetween(wide, high, toWide, toHigh, share, keeps) {
  if (!keeps) return wide + (toWide - wide) * share;
  let area = wide * high, toArea = toWide * toHigh;
  return (area + (toArea - area) * share) / (high + (toHigh - high) * share);
}

// The figure's width and height now; what has sprung back is over.
function form(m, r, s) {
  if (s[DRAWN_SQUASH] === 0) return;
  let one = m[HEAD_SQUASHES] + (Math.trunc(s[DRAWN_SQUASH]) - 1) * SQUASH_SIZE;
  let over = r[one + SQUASH_OVER], hold = r[one + SQUASH_HOLD], back = r[one + SQUASH_BACK];
  let keeps = r[one + SQUASH_WIDE] !== r[one + SQUASH_WIDE];
  let since = s[DRAWN_SINCE];
  if (s[DRAWN_FREED] < 0 && hold === hold && since >= over + hold) s[DRAWN_FREED] = since;
  let freed = s[DRAWN_FREED];
  let ticks = freed >= 0 ? (freed < since ? freed : since) : since;
  let share = s[DRAWN_AMOUNT], every = r[one + SQUASH_EVERY];
  if (every > 0) {
    let quarter = reduced(360 * ticks / every) + 90;
    share *= (1 - across(quarter < 360 ? quarter : quarter - 360)) / 2;
  }
  let high = 1 + (r[one + SQUASH_HIGH] - 1) * share;
  let wide = keeps ? 1 / high : 1 + (r[one + SQUASH_WIDE] - 1) * share;
  let t = over > 0 ? (1 < ticks / over ? 1 : ticks / over) : 1;
  wide = wideBetween(s[DRAWN_FROM_WIDE], s[DRAWN_FROM_HIGH], wide, high, t * (2 - t), keeps);
  high = s[DRAWN_FROM_HIGH] + (high - s[DRAWN_FROM_HIGH]) * (t * (2 - t));
  if (freed >= 0) {
    let goneBy = back > 0 ? (since - freed) / back : 1;
    if (goneBy >= 1) {
      s[DRAWN_WIDE] = 1;
      s[DRAWN_HIGH] = 1;
      s[DRAWN_WHOLE] = 0;
      s[DRAWN_SQUASH] = 0;
      s[DRAWN_HOLDER] = 0;
      return;
    }
    let left = 1 - goneBy * goneBy * (3 - 2 * goneBy);
    wide = wideBetween(1, 1, wide, high, left, keeps);
    high = 1 + (high - 1) * left;
  }
  s[DRAWN_WIDE] = wide;
  s[DRAWN_HIGH] = high;
  s[DRAWN_WHOLE] = (m[one + SQUASH_WHOLE]);
}

// The figure before tick 0, of a body at rest that looks right; s is an array of zeros.
function beginShape(m, r, z, s) {
  s[DRAWN_WIDE] = 1;
  s[DRAWN_HIGH] = 1;
  s[DRAWN_FREED] = -1;
  s[DRAWN_FACING] = 90;
  s[DRAWN_GROUNDED] = 1;
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
    let state = stateOf(m, z, layer);
    beginAll(m, r, s, m[state + STATE_SHAPES], m[state + STATE_SHAPES_END], state);
  }
  keepSeen(m, z, s);
  form(m, r, s);
}

// Note how fast a fall was.
function noteFall(m, r, s) {
  if (m[HEAD_SQUASHES] === m[HEAD_SQUASHES_END]) return;
  if (s[DRAWN_UP] < 0 && s[DRAWN_GROUNDED] === 0) {
    s[DRAWN_FALL] = -s[DRAWN_UP];
    s[DRAWN_LANDED] = 0;
  } else if (s[DRAWN_LANDED] > r[m[HEAD_SQUASHES] + SQUASH_RECENT]) s[DRAWN_FALL] = 0;
  else s[DRAWN_LANDED] += 1;
}

// The tilt follows how the body speeds up and turns.
function leanOver(m, r, z, s, velocity, facing) {
  if (m[HEAD_LEANS] === m[HEAD_LEANS_END]) return;
  let which = -1;
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
    let state = stateOf(m, z, layer);
    for (let shape = m[state + STATE_SHAPES]; shape < m[state + STATE_SHAPES_END]; shape += SHAPE_SIZE) {
      if (which < 0 && m[shape + SHAPE_DO] === HELD_LEAN) which = m[shape + SHAPE_WHICH];
    }
  }
  if (which < 0) which = Math.trunc(s[DRAWN_LEANING]);
  if (which === 0 && s[DRAWN_TILT] === 0) return;
  let lean = m[HEAD_LEANS] + which * LEAN_SIZE;
  let ahead = facing, gained = velocity - s[DRAWN_VELOCITY], sideways = facing + 90;
  if (m[lean + LEAN_SIGNED] !== 0) {
    ahead = facing < 180 ? 90 : 270;
    gained = facing < 180 ? gained : -gained;
  }
  if (sideways >= 360) sideways -= 360;
  let dt = r[lean + LEAN_DT], most = r[lean + LEAN_MOST];
  let goal = r[lean + LEAN_TURNING] * turn(s[DRAWN_FACING], facing) / dt / 100 * across(sideways);
  goal += r[lean + LEAN_SPEEDING] * (gained / dt) / 100 * across(ahead);
  goal = (most < (-most > goal ? -most : goal) ? most : (-most > goal ? -most : goal));
  let leaned = s[DRAWN_TILT] + (goal - s[DRAWN_TILT]) * r[lean + LEAN_SHARE];
  s[DRAWN_TILT] = Math.abs(leaned) > 0.001 ? leaned : 0;
}

// The figure one tick later; velocity of the body to the right, or of one seen from above along its facing, and up, in units a
// second, facing as a bearing.
function followShape(m, r, z, k, taken, s, velocity, up, facing, grounded) {
  noteFall(m, r, s);
  if (s[DRAWN_SQUASH] > 0 && s[DRAWN_FREEZE] === 0) s[DRAWN_SINCE] += 1;
  for (let mark = 0; mark < (k[1] < k[0] ? k[1] : k[0]); mark++) {
    let cue = m[HEAD_CUES] + k[TOLD + mark * TOLD_SIZE + 3] * CUE_SIZE;
    beginAll(m, r, s, m[cue + CUE_SHAPES], m[cue + CUE_SHAPES_END], -1);
  }
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
    if (taken[layer] < 0) continue;
    let old = Math.trunc(s[DRAWN_SIZE + layer]), state = stateOf(m, z, layer);
    if (s[DRAWN_HOLDER] === old + 1) letGo(s);
    beginAll(m, r, s, m[old + STATE_LAST_SHAPES], m[old + STATE_LAST_SHAPES_END], -1);
    for (let way = m[old + STATE_WAYS]; way < m[old + STATE_WAYS_END]; way += WAY_SIZE) {
      if (m[way + WAY_NUMBER] === taken[layer]) {
        beginAll(m, r, s, m[way + WAY_SHAPES], m[way + WAY_SHAPES_END], -1);
        break;
      }
    }
    beginAll(m, r, s, m[state + STATE_SHAPES], m[state + STATE_SHAPES_END], state);
  }
  leanOver(m, r, z, s, velocity, facing);
  keepSeen(m, z, s);
  s[DRAWN_VELOCITY] = velocity;
  s[DRAWN_UP] = up;
  s[DRAWN_FACING] = facing;
  s[DRAWN_GROUNDED] = grounded ? 1 : 0;
  form(m, r, s);
}

// Write the spans that are on to out, pairs of a name and the row of a window; how many there are.
function listSpans(m, z, out) {
  let count = 0;
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
    let clip = clipOf(m, z, layer);
    if (clip < 0) continue;
    let head = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD];
    for (let window = m[clip + CLIP_WINDOWS]; window < m[clip + CLIP_WINDOWS_END]; window += WINDOW_SIZE) {
      if (m[window + WINDOW_START] <= head && head < m[window + WINDOW_END]) {
        out[2 * count] = m[window + WINDOW_SPAN];
        out[2 * count + 1] = floorDiv(window - m[HEAD_WINDOWS], WINDOW_SIZE);
        count += 1;
      }
    }
  }
  return count;
}

// A pulse comes on, where there is one.
function pulseOn(v, parameter, on) {
  if (parameter >= 0 && on !== 0) v[parameter] = 1;
}

// A number gets a value, where there is one.
function giveValue(m, r, v, parameter, value) {
  if (parameter >= 0) v[parameter] = fitted(m, r, parameter, value);
}

// Set what contact on the tick before raises, once a tick has begun.
function raiseDue(m, r, v, w) {
  let rules = m[HEAD_CONTACT];
  if (w[DUE_ANY] === 0 || rules >= m[HEAD_CONTACT_END]) return;
  pulseOn(v, m[rules + CONTACT_HIT], w[DUE_HIT]);
  pulseOn(v, m[rules + CONTACT_GUARDED], w[DUE_GUARDED]);
  pulseOn(v, m[rules + CONTACT_LANDS], w[DUE_LANDS]);
  pulseOn(v, m[rules + CONTACT_STOPPED], w[DUE_STOPPED]);
  if (w[DUE_HIT] !== 0 || w[DUE_GUARDED] !== 0) {
    giveValue(m, r, v, m[rules + CONTACT_STUN], w[DUE_STUN]);
    giveValue(m, r, v, m[rules + CONTACT_STRENGTH], w[DUE_STRENGTH]);
  }
}

// What contact on the tick before does at the end of this one: time stands, and the body is pushed.
function settle(m, z, v, w) {
  if (w[DUE_ANY] !== 0) {
    z[NOW_FREEZE] = (Math.trunc(w[DUE_FREEZE]) > z[NOW_FREEZE] ? Math.trunc(w[DUE_FREEZE]) : z[NOW_FREEZE]);
    v[m[HEAD_PLACE] + FIELDS_PUSH] += w[DUE_PUSH];
    for (let due = 0; due < DUE_SIZE; due++) w[due] = 0;
  }
}

// A strike whose state is entered anew can hit again.
function forgetSpent(m, taken, spent) {
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
    if (taken[layer] >= 0) spent[layer] = 0;
  }
}

// The number of the active phase a layer stands in, counted from 1 and further for each that hits again; 0: in none.
function windowOf(m, z, layer) {
  let clip = clipOf(m, z, layer);
  if (clip < 0) return 0;
  let head = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD];
  for (let active = m[clip + CLIP_ACTIVES]; active < m[clip + CLIP_ACTIVES_END]; active += ACTIVE_SIZE) {
    if (m[active + ACTIVE_START] <= head && head < m[active + ACTIVE_END]) return m[active + ACTIVE_WINDOW];
  }
  return 0;
}

// Write where a box of a cel is: its edges, from place at on.
function placeBox(m, r, z, layer, cel, rect, left, x, y, wide, high, b, at) {
  let low = r[rect + RECT_LEFT], bottom = r[rect + RECT_BOTTOM];
  let width = r[rect + RECT_WIDTH], height = r[rect + RECT_HEIGHT];
  if (isMirrored(m, z, layer, cel, left)) low = -low - width;
  for (let again = 0; again < quarterTurns(m, z, layer, cel, left); again++) {
    let turned = -low - width;
    low = bottom;
    bottom = turned;
    turned = width;
    width = height;
    height = turned;
  }
  let ahead = aside(m, r, z, layer, 1);
  let across = x + (left && ahead !== 0 ? -ahead : ahead);
  let up = y + aside(m, r, z, layer, 2);
  b[at] = across + low * wide;
  b[at + 1] = up + bottom * high;
  b[at + 2] = across + (low + width) * wide;
  b[at + 3] = up + (bottom + height) * high;
}

// Whether the box that stands first in b overlaps some vulnerable box of a figure in an area.
function meetsAny(m, r, z, v, left, x, y, wide, high, b) {
  let lowest = lowestSeen(m, r, z, v);
  if (lowest < 0) return false;
  for (let layer = lowest; layer < m[HEAD_LAYER_COUNT]; layer++) {
    let cel = celOf(m, r, z, v, layer);
    if (cel < 0) continue;
    let row = celRow(m, z, layer, cel);
    for (let rect = m[row + CEL_RECTS]; rect < m[row + CEL_RECTS_END]; rect += RECT_SIZE) {
      if (m[rect + RECT_KIND] !== VULNERABLE_BOX) continue;
      placeBox(m, r, z, layer, cel, rect, left, x, y, wide, high, b, 4);
      if ((b[6] < b[2] ? b[6] : b[2]) - (b[4] > b[0] ? b[4] : b[0]) > 0 && (b[7] < b[3] ? b[7] : b[3]) - (b[5] > b[1] ? b[5] : b[1]) > 0) {
        return true;
      }
    }
  }
  return false;
}

// Whether a figure guards, after the transitions of a tick.
function isGuarding(m, r, z, v) {
  let rules = m[HEAD_CONTACT];
  return rules < m[HEAD_CONTACT_END] && run(m, r, z, v, m[rules + CONTACT_GUARDS]);
}

// Decide which strikes of a figure meet another: out is told by layer 0 for none, 1 for a hit and 2 for one that is guarded, and
// spent which windows have hit.
function strikes(m, r, z, v, left, x, y, wide, high, otherM, otherR, otherZ, otherV, otherLeft, otherX, otherY, otherWide, otherHigh, spent, out, b) {
  let found = false;
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
    out[layer] = 0;
    let window = windowOf(m, z, layer);
    if (window <= spent[layer]) continue;
    let cel = celOf(m, r, z, v, layer), lowest = lowestSeen(m, r, z, v);
    if (cel < 0 || layer < lowest) continue;
    let row = celRow(m, z, layer, cel);
    let struck = false, reached = m[clipOf(m, z, layer) + CLIP_REACH] === 0;
    for (let rect = m[row + CEL_RECTS]; rect < m[row + CEL_RECTS_END]; rect += RECT_SIZE) {
      let kind = m[rect + RECT_KIND];
      if (kind === VULNERABLE_BOX || (kind === STRIKE_BOX && struck) || (kind === GUARD_BOX && reached)) continue;
      placeBox(m, r, z, layer, cel, rect, left, x, y, wide, high, b, 0);
      if (meetsAny(otherM, otherR, otherZ, otherV, otherLeft, otherX, otherY, otherWide, otherHigh, b)) {
        if (kind === STRIKE_BOX) struck = true;
        else reached = true;
      }
    }
    if (struck) {
      let guarded = reached && isGuarding(otherM, otherR, otherZ, otherV);
      out[layer] = guarded ? 2 : 1;
      spent[layer] = window;
      found = true;
    }
  }
  return found;
}

// Add what strikes raise on who strikes, w, and on the other, along whose facing side of a push goes.
function addDue(m, r, z, out, w, other, side) {
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
    if (out[layer] === 0) continue;
    let clip = clipOf(m, z, layer);
    let hits = out[layer] === 1;
    w[DUE_ANY] = 1;
    other[DUE_ANY] = 1;
    if (hits) {
      w[DUE_LANDS] = 1;
      other[DUE_HIT] = 1;
    } else {
      w[DUE_STOPPED] = 1;
      other[DUE_GUARDED] = 1;
    }
    let stun = (hits ? m[clip + CLIP_STUN] : m[clip + CLIP_GUARD_STUN]), freeze = (m[clip + CLIP_FREEZE]);
    other[DUE_STUN] = (stun > other[DUE_STUN] ? stun : other[DUE_STUN]);
    other[DUE_STRENGTH] = (r[clip + CLIP_STRENGTH] > other[DUE_STRENGTH] ? r[clip + CLIP_STRENGTH] : other[DUE_STRENGTH]);
    w[DUE_FREEZE] = (freeze > w[DUE_FREEZE] ? freeze : w[DUE_FREEZE]);
    other[DUE_FREEZE] = (freeze > other[DUE_FREEZE] ? freeze : other[DUE_FREEZE]);
    let push = r[clip + CLIP_PUSH] * side;
    if (Math.abs(push) > Math.abs(other[DUE_PUSH])) other[DUE_PUSH] = push;
  }
}

// Contact of two figures that have both done a tick: out is told by layer 0 for none, 1 for a hit, 2 for one that is guarded, w
// what that raises on the next tick. along is how much of a push to the right goes along the facing.
function meet(m, r, z, v, taken, left, along, x, y, wide, high, spent, out, w, otherM, otherR, otherZ, otherV, otherTaken, otherLeft, otherAlong, otherX, otherY, otherWide, otherHigh, otherSpent, otherOut, otherW, b) {
  forgetSpent(m, taken, spent);
  forgetSpent(otherM, otherTaken, otherSpent);
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) out[layer] = 0;
  for (let layer = 0; layer < otherM[HEAD_LAYER_COUNT]; layer++) otherOut[layer] = 0;
  if (z[NOW_FREEZE] > 0 || otherZ[NOW_FREEZE] > 0) return false;
  let first = strikes(m, r, z, v, left, x, y, wide, high, otherM, otherR, otherZ, otherV, otherLeft, otherX, otherY, otherWide, otherHigh, spent, out, b);
  let second = strikes(otherM, otherR, otherZ, otherV, otherLeft, otherX, otherY, otherWide, otherHigh, m, r, z, v, left, x, y, wide, high, otherSpent, otherOut, b);
  if (first) addDue(m, r, z, out, w, otherW, otherX >= x ? otherAlong : -otherAlong);
  if (second) addDue(otherM, otherR, otherZ, otherOut, otherW, w, x >= otherX ? along : -along);
  return first || second;
}

// Write where the cells of each section begin; how many cells there are in all.
function rowsOf(counts, rows) {
  let total = 0;
  for (let section = 0; section < SECTION_COUNT; section++) {
    rows[section] = total;
    total += counts[section] * WIDTHS[section];
  }
  return total;
}

// Whether a cell is a whole number from low to high.
function isWhole(value, low, high) {
  return low <= value && value <= high && Math.floor(value) === value;
}

// The number of the first cell that is not what its column may hold; -1: none.
function wrongCell(cells, counts, names) {
  let at = 0, first = 0;
  for (let section = 0; section < SECTION_COUNT; section++) {
    for (let again = 0; again < counts[section]; again++) {
      let target = 0;
      for (let column = first; column < first + SIZES[section]; column++) {
        let rule = RULE[column], about = ABOUT[column];
        if (rule === WITHIN) continue;
        let value = cells[at];
        let fine = true;
        if (rule === FINITE) fine = value - value === 0;
        else if (rule === INTEGER) fine = isWhole(value, -EXACT, EXACT);
        else if (rule === TIME) fine = isWhole(value, 0, EXACT) || value === NEVER;
        else if (rule === FROM_TO) fine = isWhole(value, 0, about);
        else if (rule === ROW || rule === ADDRESS) fine = isWhole(value, 0, counts[about] - 1);
        else if (rule === ROW_OR_NONE) fine = isWhole(value, -1, counts[about] - 1);
        else if (rule === NAME) fine = isWhole(value, 0, names[about] - 1);
        else if (rule === FIRST) {
          target = about;
          fine = isWhole(value, 0, counts[about]);
        } else if (rule === END) fine = isWhole(value, cells[at - 1], counts[target]);
        else fine = value !== value || value - value === 0;
        if (!fine) return at;
        at += 1;
      }
    }
    first += SIZES[section];
  }
  return -1;
}

// Whether an act changes what there is.
function actAgrees(cells, counts, names, one) {
  let does = cells[one + ACT_DO], target = cells[one + ACT_TARGET], value = cells[one + ACT_VALUE];
  if (does <= RAISE) return 0 <= target && target < counts[PARAMETERS];
  if (does === LOCK || does === UNLOCK) return 0 <= target && target < names[NAMED_LOCKS];
  return does !== FREEZE || isWhole(value, 0, 1000000000000000.0);
}

// Whether a clip's times can be counted, and its pieces and keys come one after another, and where marks fire.
function clipAgrees(cells, rows, one) {
  let length = cells[one + CLIP_LENGTH], back = cells[one + CLIP_BEGIN];
  let paced = cells[one + CLIP_PACE] >= 0;
  let cels = cells[one + CLIP_CELS_END] - cells[one + CLIP_CELS], cues = cells[one + CLIP_CUES_END] - cells[one + CLIP_CUES];
  let rate = paced ? cells[one + CLIP_HIGH] : 1;
  if (!(1 <= length && length <= LONGEST) || !(-1 <= back && back < length)) return false;
  if (!(-1 <= cells[one + CLIP_RESTING] && cells[one + CLIP_RESTING] < cels)) return false;
  if (paced && (cells[one + CLIP_AT] === 0 || !(0 <= cells[one + CLIP_LOW] && cells[one + CLIP_LOW] <= rate && rate <= FASTEST))) {
    return false;
  }
  if (cells[one + CLIP_GOES] !== 0 && cells[one + CLIP_KEYS] === cells[one + CLIP_KEYS_END]) return false;
  let lap = length - (back > 0 ? back : 0);
  if (cues * (Math.floor(Math.floor(rate * TICK) / lap) + 2) > MOST_MARKS) return false;
  for (let row = Math.trunc(cells[one + CLIP_CUES]); row < Math.trunc(cells[one + CLIP_CUES_END]); row++) {
    let cue = rows[CUES] + row * WIDTHS[CUES];
    let spots = cells[cue + CUE_SPOTS_END] - cells[cue + CUE_SPOTS];
    if (spots > 1 || (spots > 0 && cells[cue + CUE_CEL] >= cels)) return false;
  }
  let before = -1;
  for (let row = Math.trunc(cells[one + CLIP_PIECES]); row < Math.trunc(cells[one + CLIP_PIECES_END]); row++) {
    let piece = rows[PIECES] + row * WIDTHS[PIECES];
    let start = cells[piece + PIECE_START];
    if (start <= before || (before < 0 && start !== 0) || cells[piece + PIECE_CEL] >= cels) return false;
    before = start;
  }
  for (let row = Math.trunc(cells[one + CLIP_KEYS]) + 1; row < Math.trunc(cells[one + CLIP_KEYS_END]); row++) {
    let key = rows[KEYS] + row * WIDTHS[KEYS];
    if (!(cells[key + KEY_AT] > cells[key - WIDTHS[KEYS] + KEY_AT])) return false;
  }
  return true;
}

// Whether a state's samples have their places, begin within their clips, and are as many for each way of moving.
function stateAgrees(cells, counts, rows, one) {
  let samples = Math.trunc(cells[one + STATE_SAMPLES]), samplesEnd = Math.trunc(cells[one + STATE_SAMPLES_END]);
  let axes = cells[one + STATE_AXES_END] - cells[one + STATE_AXES];
  if (cells[one + STATE_STICKY] < 0 || (cells[one + STATE_BLENDS] !== 0 && samples === samplesEnd)) return false;
  let ways = Math.trunc(cells[one + STATE_MOVED_END]) - Math.trunc(cells[one + STATE_MOVED]) + 1;
  if ((samplesEnd - samples) % ways !== 0 || (ways > 1 && samples === samplesEnd)) return false;
  for (let row = samples; row < samplesEnd; row++) {
    let sample = rows[SAMPLES] + row * WIDTHS[SAMPLES];
    let clip = rows[CLIPS] + Math.trunc(cells[sample + SAMPLE_CLIP]) * WIDTHS[CLIPS];
    if (cells[sample + SAMPLE_PHASE] > cells[clip + CLIP_LENGTH]) return false;
    if (cells[sample + SAMPLE_PLACES] + axes > counts[PLACES]) return false;
  }
  return true;
}

// Whether squashes and leans can be followed, and what begins them is there.
function shapesAgree(cells, counts, rows) {
  let one;
  for (let number = 0; number < counts[SQUASHES]; number++) {
    one = rows[SQUASHES] + number * WIDTHS[SQUASHES];
    if (!(cells[one + SQUASH_HIGH] > 0) || cells[one + SQUASH_WIDE] <= 0) return false;
    if (cells[one + SQUASH_OVER] < 0 || cells[one + SQUASH_HOLD] < 0 || cells[one + SQUASH_BACK] < 0) return false;
    if (cells[one + SQUASH_EVERY] < 0 || cells[one + SQUASH_BY_FALL] < 0) return false;
  }
  for (let number = 0; number < counts[LEANS]; number++) {
    one = rows[LEANS] + number * WIDTHS[LEANS];
    if (cells[one + LEAN_MOST] < 0 || !(cells[one + LEAN_DT] > 0)) return false;
  }
  for (let number = 0; number < counts[SHAPES]; number++) {
    one = rows[SHAPES] + number * WIDTHS[SHAPES];
    let does = cells[one + SHAPE_DO], which = cells[one + SHAPE_WHICH];
    if (which < 0 || (which >= counts[LEANS] && (does === LEANED || does === HELD_LEAN))) return false;
    if (which >= counts[SQUASHES] && (does === SQUASHED || does === HELD_SQUASH)) return false;
  }
  return true;
}

// Whether what a row of a program puts on the stack is there.
function leads(counts, names, op, a) {
  if (op === OP_NUMBER) return true;
  if (op === OP_PARAMETER || op === OP_PRESSED || op === OP_RELEASED) return 0 <= a && a < counts[PARAMETERS];
  if (op === OP_SINCE) return 0 <= a && a < counts[CLOCKS];
  if (op === OP_BUFFERED) return 0 <= a && a < counts[BUFFERS];
  if (op === OP_SPAN) return 0 <= a && a < names[NAMED_SPANS];
  if (op === OP_MEMORY) return 0 <= a && a < counts[MEMORIES];
  return 0 <= a && a < counts[LAYERS];
}

// Whether a postfix program leaves one number (an amount) or one truth, whichever way its skips go.
function isProgram(cells, counts, names, rows, room, begin, end, amount) {
  let ends = counts[PROGRAMS], used = 3 * counts[PROGRAMS];
  let depth = 0, base = 0, limit = end, waiting = 0, at = begin;
  while (true) {
    while (waiting > 0 && at === limit) {
      if (depth !== base + 1 || room[depth - 1] === AMOUNT) return false;
      room[depth - 1] = TRUTH;
      waiting -= 1;
      limit = waiting > 0 ? room[ends + 2 * waiting - 2] : end;
      base = waiting > 0 ? room[ends + 2 * waiting - 1] : 0;
    }
    if (at === end) return depth === 1 && room[0] !== (amount ? TRUTH : AMOUNT);
    let row = rows[PROGRAMS] + at * WIDTHS[PROGRAMS];
    let op = Math.trunc(cells[row + STEP_OP]);
    let a = cells[row + STEP_A], b = cells[row + STEP_B];
    if (room[used + at] !== 0) return false;
    room[used + at] = 1;
    at += 1;
    if (op >= OP_SKIP_FALSE) {
      if (depth < base + 1 || room[depth - 1] === AMOUNT || !(1 <= a && a <= limit - at)) return false;
      depth -= 1;
      limit = at + Math.trunc(a);
      base = depth;
      room[ends + 2 * waiting] = limit;
      room[ends + 2 * waiting + 1] = base;
      waiting += 1;
      continue;
    }
    let taken = 0, made = TRUTH;
    if (op === OP_NOT) taken = 1;
    else if (op === OP_COMPARE) {
      taken = 2;
      if (!(0 <= a && a < SIGN_COUNT)) return false;
    } else if (op === OP_COMPUTE) {
      if (!(0 <= a && a < OPERATOR_COUNT) || !(1 <= b && b <= depth - base)) return false;
      taken = Math.trunc(b);
      made = AMOUNT;
      if (TAKES[Math.trunc(a)] !== 0 && TAKES[Math.trunc(a)] !== taken) return false;
    } else {
      if (!leads(counts, names, op, a)) return false;
      if (op === OP_NUMBER || op === OP_PARAMETER) made = EITHER;
      else if (op === OP_STAY || op === OP_SINCE) made = AMOUNT;
    }
    if (depth - base < taken) return false;
    depth -= taken;
    for (let below = depth; below < depth + taken; below++) {
      if (room[below] === (op === OP_NOT ? AMOUNT : TRUTH)) return false;
    }
    room[depth] = made;
    depth += 1;
  }
}

// Whether each program comes to what it is asked for, and no two have a row in common.
function programsAgree(cells, counts, names, rows, room) {
  let one;
  for (let row = 0; row < counts[PROGRAMS]; row++) room[3 * counts[PROGRAMS] + row] = 0;
  for (let number = 0; number < counts[WAYS]; number++) {
    one = rows[WAYS] + number * WIDTHS[WAYS] + WAY_PROGRAM;
    if (!isProgram(cells, counts, names, rows, room, Math.trunc(cells[one]), Math.trunc(cells[one + 1]), false)) return false;
  }
  for (let number = 0; number < counts[MEMORIES]; number++) {
    one = rows[MEMORIES] + number * WIDTHS[MEMORIES] + MEMORY_PROGRAM;
    if (!isProgram(cells, counts, names, rows, room, Math.trunc(cells[one]), Math.trunc(cells[one + 1]), false)) return false;
  }
  for (let number = 0; number < counts[FORMULAS]; number++) {
    one = rows[FORMULAS] + number * WIDTHS[FORMULAS];
    let parameter = rows[PARAMETERS] + Math.trunc(cells[one + FORMULA_PARAMETER]) * WIDTHS[PARAMETERS];
    let amount = cells[parameter + PARAMETER_KIND] <= BEARING;
    let begin = Math.trunc(cells[one + FORMULA_PROGRAM]), end = Math.trunc(cells[one + FORMULA_PROGRAM_END]);
    if (!isProgram(cells, counts, names, rows, room, begin, end, amount)) return false;
  }
  for (let number = 0; number < counts[CONTACTS]; number++) {
    one = rows[CONTACTS] + number * WIDTHS[CONTACTS] + CONTACT_GUARDS;
    if (!isProgram(cells, counts, names, rows, room, Math.trunc(cells[one]), Math.trunc(cells[one + 1]), false)) return false;
  }
  for (let number = 0; number < counts[ACCESSORIES]; number++) {
    one = rows[ACCESSORIES] + number * WIDTHS[ACCESSORIES] + ACCESSORY_SHOWN;
    if (!isProgram(cells, counts, names, rows, room, Math.trunc(cells[one]), Math.trunc(cells[one + 1]), false)) return false;
  }
  return true;
}

// Whether what stands in several rows goes together; room is for four whole numbers a row of a program.
function agrees(cells, counts, names, rows, room) {
  let one;
  if (names[NAMED_PARAMETERS] !== counts[PARAMETERS] || names[NAMED_LAYERS] !== counts[LAYERS]) return false;
  if (names[NAMED_STATES] !== counts[STATES] || names[NAMED_CLIPS] !== counts[CLIPS]) return false;
  for (let number = 0; number < counts[PARAMETERS]; number++) {
    one = rows[PARAMETERS] + number * WIDTHS[PARAMETERS];
    let kind = cells[one + PARAMETER_KIND];
    if (kind <= WHOLE && cells[one + PARAMETER_LOW] > cells[one + PARAMETER_HIGH]) return false;
    if (kind === CHOICE && !isWhole(cells[one + PARAMETER_FIRST], 0, names[NAMED_WORDS] - 1)) return false;
  }
  for (let number = 0; number < counts[LAYERS]; number++) {
    one = rows[LAYERS] + number * WIDTHS[LAYERS];
    let start = cells[one + LAYER_START];
    if (start < cells[one + LAYER_STATES] || start >= cells[one + LAYER_STATES_END]) return false;
  }
  for (let number = 0; number < counts[AXES]; number++) {
    one = rows[AXES] + number * WIDTHS[AXES];
    if (cells[one + AXIS_LOW] > cells[one + AXIS_HIGH] || !(cells[one + AXIS_STEP] > 0)) return false;
  }
  for (let number = 0; number < counts[ACTS]; number++) {
    if (!actAgrees(cells, counts, names, rows[ACTS] + number * WIDTHS[ACTS])) return false;
  }
  for (let number = 0; number < counts[CLIPS]; number++) {
    if (!clipAgrees(cells, rows, rows[CLIPS] + number * WIDTHS[CLIPS])) return false;
  }
  for (let number = 0; number < counts[STATES]; number++) {
    if (!stateAgrees(cells, counts, rows, rows[STATES] + number * WIDTHS[STATES])) return false;
  }
  if (!shapesAgree(cells, counts, rows)) return false;
  return programsAgree(cells, counts, names, rows, room);
}

// How long the arrays of a table are, that has so many rows in each section.
function laidSize(counts) {
  let total = HEAD_SIZE + 3 * counts[PARAMETERS];
  for (let section = 0; section < SECTION_COUNT; section++) total += counts[section] * SIZES[section];
  return total;
}

// List the pulses, with whether they come from outside, and the buttons.
function layKinds(counts, m, to) {
  m[HEAD_PULSES] = to;
  for (let parameter = 0; parameter < counts[PARAMETERS]; parameter++) {
    let one = m[HEAD_PARAMETERS] + parameter * PARAMETER_SIZE;
    if (m[one + PARAMETER_KIND] === PULSE) {
      m[to] = parameter;
      m[to + 1] = m[one + PARAMETER_OWNER] < GRAPH;
      to += 2;
    }
  }
  m[HEAD_PULSES_END] = to;
  m[HEAD_BUTTONS] = to;
  for (let parameter = 0; parameter < counts[PARAMETERS]; parameter++) {
    if (m[m[HEAD_PARAMETERS] + parameter * PARAMETER_SIZE + PARAMETER_KIND] === BUTTON) {
      m[to] = parameter;
      to += 1;
    }
  }
  m[HEAD_BUTTONS_END] = to;
}

// Say where a situation has what.
function laySituation(counts, names, m) {
  let symbols = counts[PARAMETERS];
  m[HEAD_LAYER_COUNT] = counts[LAYERS];
  m[HEAD_COUNTERS] = FIRST_PLAYER + counts[LAYERS] * PLAYER_SIZE;
  m[HEAD_AGES] = m[HEAD_COUNTERS] + counts[MEMORIES];
  m[HEAD_SINCE] = m[HEAD_AGES] + counts[BUFFERS];
  m[HEAD_HELD] = m[HEAD_SINCE] + counts[CLOCKS];
  m[HEAD_RAISED] = m[HEAD_HELD] + symbols;
  m[HEAD_LOCKS] = m[HEAD_RAISED] + symbols;
  m[HEAD_SPANS] = m[HEAD_LOCKS] + names[NAMED_LOCKS];
  m[HEAD_SPANS_END] = m[HEAD_SPANS] + names[NAMED_SPANS];
  m[HEAD_REMEMBERED] = m[HEAD_SPANS_END];
  m[HEAD_HELD_NOW] = m[HEAD_REMEMBERED] + counts[MEMORIES];
  m[HEAD_HELD_BEFORE] = m[HEAD_HELD_NOW] + symbols;
  m[HEAD_CHANGED] = m[HEAD_HELD_BEFORE] + symbols;
  m[HEAD_COUNTS] = m[HEAD_CHANGED] + 1;
  m[HEAD_PLACE] = symbols;
  m[HEAD_KEPT] = symbols + PLAYED;
  m[HEAD_STACK] = m[HEAD_KEPT] + counts[STICKS];
  m[HEAD_VALUES] = m[HEAD_STACK] + counts[PROGRAMS] + 1;
}

// Where a program goes on at a row with a truth on top: the address of the next instruction, or TRUE or FALSE.
function onward(m, at, end, holds) {
  while (at < end) {
    let op = m[at + STEP_OP];
    if (op === OP_NOT) {
      holds = !holds;
      at += STEP_SIZE;
    } else if (op === OP_SKIP_FALSE || op === OP_SKIP_TRUE) {
      if (holds === (op === OP_SKIP_FALSE)) return at + STEP_SIZE;
      at += STEP_SIZE * (1 + m[at + STEP_A]);
    } else return at;
  }
  return holds ? TRUE : FALSE;
}

// Turn a program into instructions, each in the place of the first row it stands for; where it begins. number: it comes to a number
// and not to a truth.
function link(m, r, begin, end, number) {
  let at = begin;
  while (at < end) {
    let op = m[at + STEP_OP], rows = 1;
    let after = at + STEP_SIZE < end ? m[at + STEP_SIZE + STEP_OP] : -1;
    let last = at + 2 * STEP_SIZE < end ? m[at + 2 * STEP_SIZE + STEP_OP] : -1;
    if (op === OP_PARAMETER && after === OP_PARAMETER && last === OP_COMPARE) {
      m[at + STEP_OP] = PAIR;
      rows = 3;
    } else if (op === OP_PARAMETER && after === OP_NUMBER && last === OP_COMPARE) {
      m[at + STEP_OP] = COMPARED;
      rows = 3;
    } else if (op === OP_STAY && after === OP_NUMBER && last === OP_COMPARE) {
      m[at + STEP_OP] = STAYED;
      rows = 3;
    } else if (op === OP_SINCE && after === OP_NUMBER && last === OP_COMPARE) {
      m[at + STEP_OP] = SINCE;
      rows = 3;
    } else if (op === OP_COMPARE) {
      m[at + STEP_OP] = COMPARE_STACK;
      m[at + STEP_B] = STANDS[m[at + STEP_A]];
    } else if (op === OP_COMPUTE) m[at + STEP_OP] = COMPUTE;
    else if (op < OP_NOT) {
      m[at + STEP_OP] = LAID[op];
      if (op === OP_PARAMETER || op === OP_NUMBER) {
        let tested = after === OP_NOT || after === OP_SKIP_FALSE || after === OP_SKIP_TRUE || (after < 0 && !number);
        if (!tested) m[at + STEP_OP] = op === OP_PARAMETER ? PUSH_VALUE : PUSH_NUMBER;
      }
    }
    if (rows === 3) {
      m[at + STEP_B] = STANDS[m[at + 2 * STEP_SIZE + STEP_A]];
      r[at + STEP_VALUE] = r[at + STEP_SIZE + STEP_VALUE];
    }
    let following = at + rows * STEP_SIZE;
    m[at + STEP_YES] = onward(m, following, end, true);
    m[at + STEP_NO] = onward(m, following, end, false);
    at = following;
  }
  return begin;
}

// Turn the program of each transition, memory, formula, guard and accessory into instructions.
function linkAll(m, r) {
  for (let way = m[HEAD_WAYS]; way < m[HEAD_WAYS_END]; way += WAY_SIZE) {
    m[way + WAY_PROGRAM] = link(m, r, m[way + WAY_PROGRAM], m[way + WAY_PROGRAM_END], false);
  }
  for (let memory = m[HEAD_MEMORIES]; memory < m[HEAD_MEMORIES_END]; memory += MEMORY_SIZE) {
    m[memory + MEMORY_PROGRAM] = link(m, r, m[memory + MEMORY_PROGRAM], m[memory + MEMORY_PROGRAM_END], false);
  }
  for (let formula = m[HEAD_FORMULAS]; formula < m[HEAD_FORMULAS_END]; formula += FORMULA_SIZE) {
    let one = m[HEAD_PARAMETERS] + m[formula + FORMULA_PARAMETER] * PARAMETER_SIZE;
    let number = m[one + PARAMETER_KIND] <= BEARING;
    m[formula + FORMULA_PROGRAM] = link(m, r, m[formula + FORMULA_PROGRAM], m[formula + FORMULA_PROGRAM_END], number);
  }
  for (let rules = m[HEAD_CONTACT]; rules < m[HEAD_CONTACT_END]; rules += CONTACT_SIZE) {
    m[rules + CONTACT_GUARDS] = link(m, r, m[rules + CONTACT_GUARDS], m[rules + CONTACT_GUARDS_END], false);
  }
  for (let one = m[HEAD_ACCESSORIES]; one < m[HEAD_ACCESSORIES_END]; one += ACCESSORY_SIZE) {
    m[one + ACCESSORY_SHOWN] = link(m, r, m[one + ACCESSORY_SHOWN], m[one + ACCESSORY_SHOWN_END], false);
  }
}

// How many marks can fire in one tick at most: in each layer those of a step of a clip, and those of one that is entered.
function mostTold(m, r) {
  let total = 0;
  for (let layer = m[HEAD_LAYERS]; layer < m[HEAD_LAYERS_END]; layer += LAYER_SIZE) {
    let most = 0, begun = 0;
    for (let state = m[layer + LAYER_STATES]; state < m[layer + LAYER_STATES_END]; state += STATE_SIZE) {
      for (let sample = m[state + STATE_SAMPLES]; sample < m[state + STATE_SAMPLES_END]; sample += SAMPLE_SIZE) {
        let clip = m[sample + SAMPLE_CLIP];
        let cues = floorDiv(m[clip + CLIP_CUES_END] - m[clip + CLIP_CUES], CUE_SIZE);
        let fastest = m[clip + CLIP_PACE] < 0 ? 1 : r[clip + CLIP_HIGH];
        let lap = m[clip + CLIP_LENGTH] - (0 > m[clip + CLIP_BEGIN] ? 0 : m[clip + CLIP_BEGIN]);
        most = (cues * (floorDiv(Math.trunc(fastest * TICK), lap) + 2) > most ? cues * (floorDiv(Math.trunc(fastest * TICK), lap) + 2) : most);
        begun = (cues > begun ? cues : begun);
      }
    }
    total += most + begun;
  }
  return total;
}

// Lay a table out in m and r, arrays of zeros; names are how many of each kind there are.
function lay(cells, counts, names, m, r) {
  let end = HEAD_SIZE;
  for (let section = 0; section < SECTION_COUNT; section++) {
    m[2 * section] = end;
    end += counts[section] * SIZES[section];
    m[2 * section + 1] = end;
  }
  let cell = 0, to = HEAD_SIZE, first = 0;
  for (let section = 0; section < SECTION_COUNT; section++) {
    for (let again = 0; again < counts[section]; again++) {
      let target = 0;
      for (let column = first; column < first + SIZES[section]; column++) {
        if (RULE[column] !== WITHIN) {
          if (REAL[column] !== 0) r[to] = cells[cell];
          else {
            m[to] = Math.trunc(cells[cell]);
            if (RULE[column] === FIRST || RULE[column] === ADDRESS) target = ABOUT[column];
            if (RULE[column] === FIRST || RULE[column] === END || RULE[column] === ADDRESS) {
              m[to] = m[2 * target] + m[to] * SIZES[target];
            }
          }
          cell += 1;
        }
        to += 1;
      }
    }
    first += SIZES[section];
  }
  layKinds(counts, m, to);
  laySituation(counts, names, m);
  linkAll(m, r);
  m[HEAD_MOST_TOLD] = mostTold(m, r);
}

// Before the inputs are set: pulses go off, or on where one was raised, and the sticks' bearings are kept.
function openTick(m, z, v) {
  for (let pulse = m[HEAD_PULSES]; pulse < m[HEAD_PULSES_END]; pulse += PULSE_SIZE) {
    v[m[pulse]] = m[pulse + 1] !== 0 ? 0 : (z[m[HEAD_RAISED] + m[pulse]]);
  }
  let kept = m[HEAD_KEPT];
  for (let stick = m[HEAD_STICKS]; stick < m[HEAD_STICKS_END]; stick += STICK_SIZE) {
    v[kept] = v[m[stick + STICK_BEARING]];
    kept += 1;
  }
}

// A stick's bearing is what it was while there is no push.
function keepBearings(m, v) {
  let kept = m[HEAD_KEPT];
  for (let stick = m[HEAD_STICKS]; stick < m[HEAD_STICKS_END]; stick += STICK_SIZE) {
    if (v[m[stick + STICK_PUSH]] === 0) v[m[stick + STICK_BEARING]] = v[kept];
    kept += 1;
  }
}

// Nothing has been asked of the body on this tick yet; for games that move it by their own rules.
function forgetAsked(m, v) {
  let place = m[HEAD_PLACE];
  v[place + FIELDS_TRAVEL] = 0;
  v[place + FIELDS_TRAVEL_UP] = 0;
  v[place + FIELDS_TRAVELS] = 0;
  v[place + FIELDS_MODE] = 0;
  v[place + FIELDS_PUSH] = 0;
  v[place + FIELDS_PUSH_UP] = 0;
}

// What a program comes to: its number, or 1 for true and 0 for false.
function worth(m, r, z, v, program, number) {
  let holds = run(m, r, z, v, program);
  if (number) return v[m[HEAD_STACK]];
  return holds ? 1 : 0;
}

// Bring the parameters that are computed from others up to date.
function computeFormulas(m, r, z, v) {
  for (let formula = m[HEAD_FORMULAS]; formula < m[HEAD_FORMULAS_END]; formula += FORMULA_SIZE) {
    let parameter = m[formula + FORMULA_PARAMETER];
    let number = m[m[HEAD_PARAMETERS] + parameter * PARAMETER_SIZE + PARAMETER_KIND] <= BEARING;
    v[parameter] = worth(m, r, z, v, m[formula + FORMULA_PROGRAM], number);
  }
}

// Crossfades run on by one tick.
function fadeOn(m, z) {
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
    let player = FIRST_PLAYER + layer * PLAYER_SIZE;
    let left = z[player + PLAYER_FADE_LEFT] - 1;
    if (left < -1) continue;
    z[player + PLAYER_FADE_LEFT] = left;
    if (left < 0) {
      z[player + PLAYER_FADE_STATE] = 0;
      z[player + PLAYER_FADE_PICK] = 0;
      z[player + PLAYER_FADE_HEAD] = 0;
      z[player + PLAYER_FADE_BLOCKS] = 0;
      continue;
    }
    let state = m[HEAD_STATES] + z[player + PLAYER_FADE_STATE] * STATE_SIZE;
    if (m[state + STATE_SAMPLES] < m[state + STATE_SAMPLES_END]) {
      let sample = m[state + STATE_SAMPLES] + z[player + PLAYER_FADE_PICK] * SAMPLE_SIZE;
      z[player + PLAYER_FADE_HEAD] = folded(m, m[sample + SAMPLE_CLIP], z[player + PLAYER_FADE_HEAD] + TICK);
    }
  }
}

// Write the parameters that spans of every layer but one hold from place held on, and from spans on (-1: nowhere) which are on.
function look(m, z, held, spans, but) {
  for (let one = m[HEAD_HOLDS]; one < m[HEAD_HOLDS_END]; one++) z[held + m[one]] = 0;
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
    let clip = clipOf(m, z, layer);
    if (clip < 0 || layer === but) continue;
    let head = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD];
    for (let window = m[clip + CLIP_WINDOWS]; window < m[clip + CLIP_WINDOWS_END]; window += WINDOW_SIZE) {
      if (m[window + WINDOW_START] <= head && head < m[window + WINDOW_END]) {
        if (m[window + WINDOW_HOLD] >= 0) z[held + m[window + WINDOW_HOLD]] = 1;
        if (spans >= 0) z[spans + m[window + WINDOW_SPAN]] = 1;
      }
    }
  }
}

// Work out which spans are on; flags they hold go on, and off again where they were held before.
function seeSpans(m, r, z, v, before) {
  if (m[HEAD_WINDOWS] === m[HEAD_WINDOWS_END]) return;
  let heldNow = m[HEAD_HELD_NOW], heldBefore = m[HEAD_HELD_BEFORE];
  for (let span = m[HEAD_SPANS]; span < m[HEAD_SPANS_END]; span++) z[span] = 0;
  look(m, z, heldNow, m[HEAD_SPANS], -1);
  let changed = false;
  for (let one = m[HEAD_HOLDS]; one < m[HEAD_HOLDS_END]; one++) {
    let parameter = m[one];
    if (z[heldNow + parameter] !== 0 || (before && z[heldBefore + parameter] !== 0)) {
      v[parameter] = (z[heldNow + parameter]);
      changed = true;
    }
  }
  if (changed) computeFormulas(m, r, z, v);
}

// Countdowns go down by one.
function countDown(m, r, z, v) {
  for (let countdown = m[HEAD_COUNTDOWNS]; countdown < m[HEAD_COUNTDOWNS_END]; countdown++) {
    v[m[countdown]] = v[m[countdown]] > 1 ? v[m[countdown]] - 1 : 0;
  }
  if (m[HEAD_COUNTDOWNS] < m[HEAD_COUNTDOWNS_END]) computeFormulas(m, r, z, v);
}

// Note the parameters that spans hold on, before anything moves.
function noteHeld(m, z) {
  if (m[HEAD_WINDOWS] < m[HEAD_WINDOWS_END] && m[HEAD_HOLDS] < m[HEAD_HOLDS_END]) look(m, z, m[HEAD_HELD_BEFORE], -1, -1);
}

// The way of moving in a state: the first whose choice it is, counted from 1; 0: none of them.
function wayOf(m, r, v, state) {
  let number = 0;
  for (let way = m[state + STATE_MOVED]; way < m[state + STATE_MOVED_END]; way += MOVED_SIZE) {
    number += 1;
    if (v[m[way + MOVED_PARAMETER]] === r[way + MOVED_VALUE]) return number;
  }
  return 0;
}

// How far the value an axis reads is from a place on it, in rulings.
function rulingsTo(m, r, v, axis, at) {
  let value = valueOn(m, r, v, axis);
  if (m[axis + AXIS_ROUND] !== 0) return turn(at, value) / r[axis + AXIS_STEP];
  return (value - at) / r[axis + AXIS_STEP];
}

// The sample a state would show now, after the one picked before (-1: none was).
function picked(m, r, v, state, before) {
  let way = wayOf(m, r, v, state);
  if (m[state + STATE_BLENDS] === 0) return way;
  let block = samplesEach(m, state);
  let number = way * block;
  if (before >= 0) before = number + before % block;
  let best = number, first = m[state + STATE_SAMPLES] + number * SAMPLE_SIZE;
  let nearest = -1, distance = -1;
  for (let sample = first; sample < first + block * SAMPLE_SIZE; sample += SAMPLE_SIZE) {
    let total = 0;
    let place = m[HEAD_PLACES] + m[sample + SAMPLE_PLACES];
    for (let axis = m[state + STATE_AXES]; axis < m[state + STATE_AXES_END]; axis += AXIS_SIZE) {
      let at = r[place];
      place += 1;
      if (at === at) {
        let away = rulingsTo(m, r, v, axis, at);
        total = total + away * away;
      }
    }
    if (number === before) distance = total;
    if (nearest < 0 || total < nearest) {
      best = number;
      nearest = total;
    }
    number += 1;
  }
  let sticky = r[state + STATE_STICKY];
  if (sticky > 0 && before >= 0) return Math.sqrt(nearest) < Math.sqrt(distance) - sticky ? best : before;
  return best;
}

// How far a path goes while the playhead steps from head by amount, in a clip of length that goes back to there from its end (-1:
// it stays there).
function gone(r, begin, end, length, back, head, amount, which) {
  let moved = head + amount;
  if (moved < length || back < 0) {
    return place(r, begin, end, (length < moved ? length : moved), which) - place(r, begin, end, (length < head ? length : head), which);
  }
  let lap = length - back, over = moved - length;
  let whole = place(r, begin, end, length, which) - place(r, begin, end, back, which);
  let first = place(r, begin, end, length, which) - place(r, begin, end, head, which);
  let rest = place(r, begin, end, back + over % lap, which) - place(r, begin, end, back, which);
  return first + floorDiv(over, lap) * whole + rest;
}

// How often an instant lies in (head, head + amount]; the end of a clip that repeats from its start is its start.
function passed(m, clip, at, head, amount) {
  let length = m[clip + CLIP_LENGTH], back = m[clip + CLIP_BEGIN];
  if (at < back || back < 0) return head < at && at <= (length < head + amount ? length : head + amount) ? 1 : 0;
  if (at > length) return 0;
  if (at === length && back === 0) at = 0;
  if (amount < length - head) return head < at && at <= head + amount ? 1 : 0;
  let since = head + amount - at, before = head - at;
  let laps = since >= 0 ? floorDiv(since, length - back) + 1 : 0;
  return laps - (before >= 0 ? floorDiv(before, length - back) + 1 : 0);
}

// Note that a mark fires, where there is room.
function tell(m, z, k, layer, cue) {
  if (k[0] < k[1]) {
    let at = TOLD + k[0] * TOLD_SIZE;
    k[at] = z[NOW_TICK];
    k[at + 1] = layer;
    k[at + 2] = m[cue + CUE_MARK];
    k[at + 3] = floorDiv(cue - m[HEAD_CUES], CUE_SIZE);
    k[at + 4] = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_STATE];
    k[at + 5] = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_PICK];
  }
  k[0] += 1;
}

// Effects; a pulse raised at_once is true for the rest of this tick, else throughout the next.
function apply(m, r, z, v, begin, end, atOnce) {
  for (let act = begin; act < end; act += ACT_SIZE) {
    let does = m[act + ACT_DO], target = m[act + ACT_TARGET];
    let value = r[act + ACT_VALUE];
    if (does === SET) v[target] = value;
    else if (does === ADD) v[target] = fitted(m, r, target, v[target] + value);
    else if (does === RAISE) {
      if (atOnce) v[target] = 1;
      else z[m[HEAD_RAISED] + target] = 1;
    } else if (does === LOCK) z[m[HEAD_LOCKS] + target] = 1;
    else if (does === UNLOCK) z[m[HEAD_LOCKS] + target] = 0;
    else if (does === FREEZE) z[NOW_FREEZE] = (Math.trunc(value) > z[NOW_FREEZE] ? Math.trunc(value) : z[NOW_FREEZE]);
    else if (does === MODE) v[m[HEAD_PLACE] + FIELDS_MODE] = value;
    else if (does === PUSH) v[m[HEAD_PLACE] + FIELDS_PUSH] += value;
    else if (does === PUSH_UP) v[m[HEAD_PLACE] + FIELDS_PUSH_UP] += value;
    computeFormulas(m, r, z, v);
  }
}

// The marks in (head, head + amount], in time order: again and again the next one.
function fire(m, r, z, v, k, layer, clip, head, amount) {
  let length = m[clip + CLIP_LENGTH], back = m[clip + CLIP_BEGIN];
  let last = -1, lastCue = -1;
  while (true) {
    let best = -1, bestCue = -1;
    for (let cue = m[clip + CLIP_CUES]; cue < m[clip + CLIP_CUES_END]; cue += CUE_SIZE) {
      let at = m[cue + CUE_AT];
      let laps = passed(m, clip, at, head, amount);
      if (laps <= 0) continue;
      if (at === length && back === 0) at = 0;
      let time = (back < 0 || at > head) ? at - head : at - head + length - back;
      for (let again = 0; again < laps; again++) {
        if ((time > last || (time === last && cue > lastCue)) && (best < 0 || time < best)) {
          best = time;
          bestCue = cue;
          break;
        }
        time += length - back;
      }
    }
    if (best < 0) return;
    last = best;
    lastCue = bestCue;
    tell(m, z, k, layer, bestCue);
    apply(m, r, z, v, m[bestCue + CUE_ACTS], m[bestCue + CUE_ACTS_END], true);
  }
}

// A layer's stay goes up, its playhead steps, and the marks passed fire.
function playOn(m, r, z, v, k, layer) {
  let player = FIRST_PLAYER + layer * PLAYER_SIZE, state = stateOf(m, z, layer);
  z[player + PLAYER_STAY] += 1;
  let first = m[state + STATE_SAMPLES];
  if (first === m[state + STATE_SAMPLES_END]) return;
  let before = z[player + PLAYER_PICK], head = z[player + PLAYER_HEAD];
  let pick = picked(m, r, v, state, before);
  let clip = m[first + pick * SAMPLE_SIZE + SAMPLE_CLIP];
  let length = m[clip + CLIP_LENGTH], back = m[clip + CLIP_BEGIN];
  if (pick !== before) {
    head = takenOver(m, state, before, pick, head);
    z[player + PLAYER_PICK] = pick;
  }
  let amount = paceOf(m, r, v, clip);
  if (head + amount >= length && back >= 0) z[player + PLAYER_OVER] = 1;
  z[player + PLAYER_HEAD] = folded(m, clip, head + amount);
  if (m[clip + CLIP_GOES] !== 0) {
    let begin = m[clip + CLIP_KEYS], end = m[clip + CLIP_KEYS_END], place = m[HEAD_PLACE];
    v[place + FIELDS_TRAVEL] += gone(r, begin, end, length, back, head, amount, X);
    v[place + FIELDS_TRAVEL_UP] += gone(r, begin, end, length, back, head, amount, Y);
    v[place + FIELDS_TRAVELS] = (Math.trunc(v[place + FIELDS_TRAVELS]) | m[clip + CLIP_GOES]);
  }
  if (m[clip + CLIP_CUES] < m[clip + CLIP_CUES_END]) fire(m, r, z, v, k, layer, clip, head, amount);
}

// A press or a leaving a tick ago more; one that is too old for any condition to ask is forgotten.
function older(z, age, most) {
  if (z[age] >= 0) z[age] = z[age] + 1 < most ? z[age] + 1 : -1;
}

// A memory's counter after a tick on which its operand was true or not (holds).
function counted(kind, counter, ticks, holds) {
  if (kind === HELD_FOR) return holds ? (ticks < counter + 1 ? ticks : counter + 1) : 0;
  return holds ? ticks : (0 > counter - 1 ? 0 : counter - 1);
}

// Step 5: a press begins its age, other ages grow, and memories count; where nothing has changed, an operand that lasts is what it
// was, which the counters tell.
function remember(m, r, z, v, changed) {
  let age = m[HEAD_AGES];
  for (let buffer = m[HEAD_BUFFERS]; buffer < m[HEAD_BUFFERS_END]; buffer += BUFFER_SIZE) {
    let parameter = m[buffer + BUFFER_PARAMETER];
    if (v[parameter] !== 0 && z[m[HEAD_HELD] + parameter] === 0) z[age] = 0;
    else older(z, age, m[buffer + BUFFER_MOST]);
    age += 1;
  }
  age = m[HEAD_SINCE];
  for (let clock = m[HEAD_CLOCKS]; clock < m[HEAD_CLOCKS_END]; clock++) {
    older(z, age, m[clock]);
    age += 1;
  }
  let at = 0;
  for (let memory = m[HEAD_MEMORIES]; memory < m[HEAD_MEMORIES_END]; memory += MEMORY_SIZE) {
    let counter = z[m[HEAD_COUNTERS] + at], ticks = m[memory + MEMORY_TICKS];
    let kind = m[memory + MEMORY_WITHIN];
    let holds = false;
    if (changed || m[memory + MEMORY_LASTS] === 0) holds = run(m, r, z, v, m[memory + MEMORY_PROGRAM]);
    else holds = kind === HELD_FOR ? counter > 0 : counter >= ticks;
    counter = counted(kind, counter, ticks, holds);
    z[m[HEAD_REMEMBERED] + at] = kind === SEEN_WITHIN ? counter > 0 : counter >= ticks;
    z[m[HEAD_COUNTERS] + at] = counter;
    at += 1;
  }
}

// Whether anything locks movement: a state that holds still, a span, or a named lock.
function locked(m, z) {
  for (let at = m[HEAD_LOCKS]; at < m[HEAD_SPANS]; at++) {
    if (z[at] !== 0) return true;
  }
  let spanned = m[HEAD_WINDOWS] < m[HEAD_WINDOWS_END];
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
    if (m[stateOf(m, z, layer) + STATE_STILL] !== 0) return true;
    if (!spanned) continue;
    let clip = clipOf(m, z, layer);
    if (clip < 0) continue;
    let head = z[FIRST_PLAYER + layer * PLAYER_SIZE + PLAYER_HEAD];
    for (let window = m[clip + CLIP_WINDOWS]; window < m[clip + CLIP_WINDOWS_END]; window += WINDOW_SIZE) {
      if (m[window + WINDOW_LOCK] !== 0 && m[window + WINDOW_START] <= head && head < m[window + WINDOW_END]) return true;
    }
  }
  return false;
}

// The spans of a layer's state that is left are over: flags that only they held go off.
function endSpans(m, r, z, v, layer) {
  if (m[HEAD_HOLDS] >= m[HEAD_HOLDS_END]) return;
  look(m, z, m[HEAD_HELD_NOW], -1, layer);
  let ended = false;
  for (let one = m[HEAD_HOLDS]; one < m[HEAD_HOLDS_END]; one++) {
    if (z[m[HEAD_HELD_BEFORE] + m[one]] !== 0 && z[m[HEAD_HELD_NOW] + m[one]] === 0) {
      v[m[one]] = 0;
      ended = true;
    }
  }
  if (ended) computeFormulas(m, r, z, v);
}

// The number of the first axis of a state's that reads a parameter; -1: none.
function axisLike(m, state, parameter) {
  let number = 0;
  for (let axis = m[state + STATE_AXES]; axis < m[state + STATE_AXES_END]; axis += AXIS_SIZE) {
    if (parameter >= 0 && m[axis + AXIS_PARAMETER] === parameter) return number;
    number += 1;
  }
  return -1;
}

// The sample of a state that counts as picked before, when the sample pick was shown in the state left; -1: none.
function keptFrom(m, r, left, pick, state) {
  if (left < 0 || pick < 0 || m[left + STATE_BLENDS] === 0 || m[state + STATE_BLENDS] === 0) return -1;
  let shown = m[HEAD_PLACES] + m[m[left + STATE_SAMPLES] + pick * SAMPLE_SIZE + SAMPLE_PLACES];
  let number = 0;
  for (let sample = m[state + STATE_SAMPLES]; sample < m[state + STATE_SAMPLES_END]; sample += SAMPLE_SIZE) {
    let place = m[HEAD_PLACES] + m[sample + SAMPLE_PLACES];
    let both = false, same = true;
    for (let axis = m[state + STATE_AXES]; axis < m[state + STATE_AXES_END]; axis += AXIS_SIZE) {
      let old = axisLike(m, left, m[axis + AXIS_PARAMETER]);
      if (old >= 0) {
        let one = r[shown + old], two = r[place];
        both = true;
        same = same && (one === two || (one !== one && two !== two));
      }
      place += 1;
    }
    if (!both) return -1;
    if (same) return number;
    number += 1;
  }
  return -1;
}

// The marks at the very start of a clip that is entered there.
function fireFirst(m, r, z, v, k, layer, clip) {
  let length = m[clip + CLIP_LENGTH], back = m[clip + CLIP_BEGIN];
  for (let cue = m[clip + CLIP_CUES]; cue < m[clip + CLIP_CUES_END]; cue += CUE_SIZE) {
    if (m[cue + CUE_AT] === 0 || (back === 0 && m[cue + CUE_AT] === length)) {
      tell(m, z, k, layer, cue);
      apply(m, r, z, v, m[cue + CUE_ACTS], m[cue + CUE_ACTS_END], false);
    }
  }
}

// The layer's new state begins, at the same share of its clip as a head in a clip of old_length; left is the state before (-1:
// none), which showed the sample shown (-1: none).
function enter(m, r, z, v, k, layer, head, oldLength, left, shown) {
  let player = FIRST_PLAYER + layer * PLAYER_SIZE, state = stateOf(m, z, layer);
  z[player + PLAYER_HEAD] = 0;
  z[player + PLAYER_PICK] = 0;
  z[player + PLAYER_OVER] = 0;
  apply(m, r, z, v, m[state + STATE_ENTRY], m[state + STATE_ENTRY_END], false);
  let first = m[state + STATE_SAMPLES];
  if (first === m[state + STATE_SAMPLES_END]) return;
  let pick = picked(m, r, v, state, keptFrom(m, r, left, shown, state));
  z[player + PLAYER_PICK] = pick;
  let clip = m[first + pick * SAMPLE_SIZE + SAMPLE_CLIP];
  if (head !== 0 && oldLength !== 0) z[player + PLAYER_HEAD] = folded(m, clip, shareOf(head, m[clip + CLIP_LENGTH], oldLength));
  if (z[player + PLAYER_HEAD] === 0) fireFirst(m, r, z, v, k, layer, clip);
}

// Take a transition: leave, change over, enter.
function take(m, r, z, v, k, layer, way) {
  noteHeld(m, z);
  let player = FIRST_PLAYER + layer * PLAYER_SIZE, state = stateOf(m, z, layer);
  let old = z[player + PLAYER_STATE], target = m[way + WAY_TARGET];
  let pick = z[player + PLAYER_PICK], head = z[player + PLAYER_HEAD], length = 0;
  for (let use = m[way + WAY_USES]; use < m[way + WAY_USES_END]; use += USE_SIZE) {
    let age = m[HEAD_AGES] + m[use + USE_BUFFER];
    if (z[age] < m[use + USE_TICKS]) z[age] = -1;
  }
  let shown = m[state + STATE_SAMPLES] < m[state + STATE_SAMPLES_END];
  if (shown) length = m[m[m[state + STATE_SAMPLES] + pick * SAMPLE_SIZE + SAMPLE_CLIP] + CLIP_LENGTH];
  apply(m, r, z, v, m[state + STATE_LEAVE], m[state + STATE_LEAVE_END], false);
  endSpans(m, r, z, v, layer);
  if (target !== old && m[state + STATE_CLOCK] >= 0) z[m[HEAD_SINCE] + m[state + STATE_CLOCK]] = 0;
  let fading = m[way + WAY_FADE] > 0;
  z[player + PLAYER_FADE_STATE] = fading ? old : 0;
  z[player + PLAYER_FADE_PICK] = fading ? pick : 0;
  z[player + PLAYER_FADE_HEAD] = fading ? head : 0;
  z[player + PLAYER_FADE_LEFT] = fading ? m[way + WAY_FADE] : -1;
  z[player + PLAYER_FADE_BLOCKS] = fading ? m[way + WAY_BLOCKS] : 0;
  z[player + PLAYER_STATE] = target;
  z[player + PLAYER_STAY] = 0;
  enter(m, r, z, v, k, layer, m[way + WAY_KEEP] !== 0 ? head : 0, length, state, shown ? pick : -1);
  seeSpans(m, r, z, v, false);
}

// One tick, after inputs and body have been set; taken is told each layer's transition from place at on (-1: none). changed: values
// from outside are not all what they were on the tick before.
function tick(m, r, z, v, k, changed, taken, at) {
  let frozen = z[NOW_FREEZE] > 0;
  computeFormulas(m, r, z, v);
  for (let pulse = m[HEAD_PULSES]; pulse < m[HEAD_PULSES_END]; pulse += PULSE_SIZE) z[m[HEAD_RAISED] + m[pulse]] = 0;
  fadeOn(m, z);
  if (frozen) {
    z[NOW_FREEZE] -= 1;
    seeSpans(m, r, z, v, false);
  } else {
    countDown(m, r, z, v);
    noteHeld(m, z);
    for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) playOn(m, r, z, v, k, layer);
    seeSpans(m, r, z, v, true);
  }
  remember(m, r, z, v, changed);
  let still = locked(m, z), moved = false;
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
    taken[at + layer] = -1;
    let player = FIRST_PLAYER + layer * PLAYER_SIZE;
    if (!frozen && (z[player + PLAYER_FADE_LEFT] < 0 || z[player + PLAYER_FADE_BLOCKS] === 0)) {
      let state = stateOf(m, z, layer);
      for (let way = m[state + STATE_WAYS]; way < m[state + STATE_WAYS_END]; way += WAY_SIZE) {
        if (run(m, r, z, v, m[way + WAY_PROGRAM])) {
          taken[at + layer] = m[way + WAY_NUMBER];
          take(m, r, z, v, k, layer, way);
          moved = true;
          break;
        }
      }
    }
  }
  for (let button = m[HEAD_BUTTONS]; button < m[HEAD_BUTTONS_END]; button++) z[m[HEAD_HELD] + m[button]] = v[m[button]] !== 0;
  z[NOW_LOCKED] = still || (moved && locked(m, z));
  z[NOW_TICK] += 1;
}

// Enter every layer's start state, just before tick 0, in a situation of zeros.
function enterStart(m, r, z, v, k) {
  for (let parameter = 0; parameter < m[HEAD_PLACE]; parameter++) {
    v[parameter] = r[m[HEAD_PARAMETERS] + parameter * PARAMETER_SIZE + PARAMETER_FIRST];
  }
  for (let age = m[HEAD_AGES]; age < m[HEAD_HELD]; age++) z[age] = -1;
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) {
    let player = FIRST_PLAYER + layer * PLAYER_SIZE;
    z[player + PLAYER_FADE_LEFT] = -1;
    z[player + PLAYER_STATE] = m[m[HEAD_LAYERS] + layer * LAYER_SIZE + LAYER_START];
  }
  computeFormulas(m, r, z, v);
  for (let layer = 0; layer < m[HEAD_LAYER_COUNT]; layer++) enter(m, r, z, v, k, layer, 0, 0, -1, -1);
  seeSpans(m, r, z, v, false);
  z[NOW_LOCKED] = locked(m, z);
}
// -- printed until here --

/** Two figures that can touch; what one has spent on the other is kept here, so make one for every two. */
export class Pair {
  constructor(one, other) {
    this.figures = [one, other];
    this.spent = this.figures.map((player) => new Array(player.taken.length).fill(0));
  }

  /** What touches, called once after both have done a tick, with where each stands: x, y, left (whether it looks left), wide and high (how
   *  large a pixel of its drawings is), along (how much of a push to the right goes along its facing).  What that raises on both comes on
   *  their next tick; so does the push, along the facing in pushed. */
  meet(at, otherAt) {
    const hits = this.figures.map((player) => new Array(player.taken.length).fill(0));
    const sides = [at, otherAt].flatMap((place, number) => {
      const { x, y = 0, left = false, wide = 1, high = 1, along = left ? -1 : 1 } = place;
      const { table, z, v, taken, due } = this.figures[number];
      return [table.m, table.r, z, v, taken, left, along, x, y, wide, high, this.spent[number], hits[number], due];
    });
    meet(...sides, new Float64Array(8));
    return hits.flatMap((row, who) => row.flatMap((how, layer) => (how ? [this.contact(who, layer, how)] : [])));
  }

  contact(who, layer, how) {
    const { m, r, names } = this.figures[who].table;
    const clip = clipOf(m, this.figures[who].z, layer);
    const name = names.clips[(clip - m[HEAD_CLIPS]) / CLIP_SIZE];
    const stun = m[clip + (how === 1 ? CLIP_STUN : CLIP_GUARD_STUN)];
    const [freeze, strength, push] = [m[clip + CLIP_FREEZE], r[clip + CLIP_STRENGTH], r[clip + CLIP_PUSH]];
    return { who, layer, clip: name, guarded: how === 2, stun, freeze, strength, push };
  }
}

export { VERSION, bearingOf, pushOf, reduced, turn };

// -- golden traces ---------------------------------------------------------------------------------------------------------

const view = new DataView(new ArrayBuffer(8));

function bits(value) {
  view.setFloat64(0, value === value ? value : NaN);
  return view.getBigUint64(0).toString(16).padStart(16, "0");
}

function fromBits(text) {
  view.setBigUint64(0, BigInt(`0x${text}`));
  return view.getFloat64(0);
}

/** What states ask and what is drawn, as golden traces have it since version 2 of the table. */
function drawn(player) {
  const { mode, backward, ...rest } = player.requests;
  const frames = player.table.numbers.frames;
  const draws = player.frames().map(
    (one) => `${one.layer}:${frames.get(one.frame)}:${one.mirrored ? 1 : 0}:${one.turns}:${bits(one.x)}:${bits(one.y)}`,
  );
  return ` requests=${[mode, backward ? 1 : 0, ...Object.values(rest).map(bits)]} draws=${draws}`;
}

/** Pin points, what is pinned to them and where marks fire, since version 6. */
function placed(player) {
  const { numbers } = player.table;
  const left = player.s[DRAWN_FACING] > 180;
  const place = (one) => [one.x, one.y, one.angle].map(bits).join(":");
  const pins = player.pins(left).map((one) => `${one.layer}:${numbers.words.get(one.name)}:${place(one)}:${one.behind ? 1 : 0}`);
  const pinned = player.pinned(left).map(
    (one) =>
      `${numbers.words.get(one.name)}:${one.layer}:${one.behind ? 1 : 0}:${numbers.frames.get(one.frame)}:${one.mirrored ? 1 : 0}:` +
      [one.x, one.y, one.turn].map(bits).join(":"),
  );
  const places = player.markPins(left).map((one) => `${one.fired}:${numbers.words.get(one.name)}:${place(one)}`);
  return ` pins=${pins} pinned=${pinned} places=${places}`;
}

/** How the parts of what is seen are moved, since version 7. */
function parted(player) {
  const { words } = player.table.numbers;
  const parts = player.parts(player.s[DRAWN_FACING] > 180).map(
    ({ name, layer, ...moved }) => `${layer}:${words.get(name)}:${Object.values(moved).map(bits).join(":")}`,
  );
  return ` parts=${parts}`;
}

function rowsFound(out, count, size) {
  return Array.from({ length: count }, (_, at) => out.subarray(at * size, (at + 1) * size));
}

/** How the figure is drawn, since version 3. */
function shaped(player) {
  const { wide, high, tilt, whole } = player.shaped();
  return ` shape=${[wide, high, tilt].map(bits)},${whole ? 1 : 0}`;
}

/** What there is after a tick. */
function told(player) {
  const { table } = player;
  const cels = player.states.map((_, layer) => player.cel(layer));
  const spans = Array.from(player.on.keys()).filter((span) => player.on[span]);
  const values = table.sections.parameters.flatMap((row, at) => (row[1] >= GRAPH ? [bits(player.values[at])] : []));
  return (
    `out states=${player.states} stays=${player.stays} heads=${player.heads} picks=${player.picks} cels=${cels} ` +
    `taken=${player.taken} marks=${player.fired.map(([layer, mark]) => `${layer}:${mark}`)} spans=${spans} ` +
    `locked=${player.locked ? 1 : 0} freeze=${player.freeze} ` +
    `travel=${bits(player.travelled[0])},${bits(player.travelled[1])},${player.travelled[2]} ` +
    `asked=${[player.mode, ...player.pushed].map(bits)} values=${values}${table.version > 1 ? drawn(player) : ""}${table.version > 5 ? placed(player) : ""}${table.version > 6 ? parted(player) : ""}${table.version > 2 ? shaped(player) : ""}`
  );
}

/** One tick with what a line sets, and with what the body does. */
function setAndStep(player, line) {
  let body = [0, 0, 90, 1];
  for (const word of line.split(" ").slice(1)) {
    const [at, value] = word.split("=");
    if (at === "body") body = value.split(",").map(fromBits);
    else if (Number(at) < player.rows.length) player.given.set(Number(at), fromBits(value));
  }
  player.step();
  player.shape(body[0], body[1], body[2], body[3] !== 0);
}

function standing(text) {
  const [x, y, wide, high, along, left] = text.split(",").map(fromBits);
  return { x, y, wide, high, along, left: left !== 0 };
}

/** Play what a golden trace sets, and write down what comes out in the same format.  Of two figures both tables are given. */
export function replay(table, golden, other) {
  const players = (other ? [table, other] : [table]).map((one) => new Player(one));
  const both = other && new Pair(...players);
  const lines = [];
  let turn = 0;
  for (const line of golden.split("\n")) {
    const [kind, ...words] = line.split(" ");
    if (kind === "out" || kind === "met" || line === "") continue;
    lines.push(line);
    if (kind === "in") {
      setAndStep(players[turn], line);
      turn = (turn + 1) % players.length;
    }
    const met = both && kind === "at" ? both.meet(...words.map(standing)) : [];
    if (kind === "begin" || kind === "at" || (kind === "in" && !both)) lines.push(...players.map(told));
    if (kind === "at") lines.push(["met", ...met.map((one) => `${one.who}:${one.layer}:${one.guarded ? 2 : 1}`)].join(" "));
  }
  return `${lines.join("\n")}\n`;
}
