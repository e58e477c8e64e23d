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

export const VERSION = 1;
const TICK = 65536;
const NEVER = 2 ** 60;
const [, WHOLE, BEARING, , CHOICE, PULSE, BUTTON] = [0, 1, 2, 3, 4, 5, 6];
const GRAPH = 3;
const COLUMNS = {
  parameters: "kind owner first low high",
  sticks: "x y push bearing",
  layers: "start states states_end",
  states: "ways ways_end entry entry_end leave leave_end samples samples_end axes axes_end blends sticky clock still",
  ways: "number target program program_end fade blocks keep uses uses_end",
  uses: "buffer ticks",
  acts: "do target value",
  samples: "clip phase places",
  axes: "parameter round low high step",
  places: "value",
  clips:
    "length begin vanishes pace at low high cues cues_end windows windows_end pieces pieces_end cels cels_end " +
    "resting goes keys keys_end",
  cues: "at mark acts acts_end",
  windows: "start end hold lock span",
  pieces: "start cel",
  cels: "frame mirrored turns",
  keys: "at x y ease",
  memories: "within ticks program program_end",
  buffers: "parameter most",
  clocks: "most",
  formulas: "parameter program program_end",
  holds: "parameter",
  programs: "op a b value",
};

/* What each column may hold: # a finite number, ? one or null, i a whole number, t a time, a..b from a to b, @ the row of a section, with ?
   or -1, % the number of a name, < and > the beginning and end of rows of a section. */
const RULES = {
  parameters: "0..6 0..4 # # #",
  sticks: "@parameters @parameters @parameters @parameters",
  layers: "@states <states >",
  states: "<ways > <acts > <acts > <samples > <axes > 0..1 # @clocks? 0..1",
  ways: "i @states <programs > t 0..1 0..1 <uses >",
  uses: "@buffers t",
  acts: "0..8 i #",
  samples: "@clips t t",
  axes: "@parameters? 0..1 # # #",
  places: "?",
  clips: "t i 0..1 @parameters? # # # <cues > <windows > <pieces > <cels > i 0..7 <keys >",
  cues: "t %marks <acts >",
  windows: "i i @parameters? 0..1 %spans",
  pieces: "t t",
  cels: "%frames 0..1 0..3",
  keys: "# # # 0..3",
  memories: "0..1 t <programs >",
  buffers: "@parameters t",
  clocks: "t",
  formulas: "@parameters <programs >",
  holds: "@parameters",
  programs: "0..16 i i #",
};
const KINDS = ["parameters", "words", "layers", "states", "clips", "frames", "marks", "spans", "locks", "modes"];
const EXACT = 2 ** 53;
const LONGEST = 2 ** 31;
const MOST_MARKS = 10000; // of a clip in a tick
const TAKEN = [2, 2, 2, 2, 1, 1, 0, 0, 2, 1]; // how many numbers each sum takes; 0: as many as it is told

/** What is wrong with a table, or with what a player is asked, in a sentence. */
export class TableError extends Error {}

/** Degrees as a bearing from 0 to below 360; what is no finite number is 0. */
export function reduced(value) {
  if (!(-1e15 < value && value < 1e15)) return 0;
  const turned = value - 360 * Math.floor(value / 360);
  return turned > 0 && turned < 360 ? turned : 0;
}

/** The shorter way from one bearing to another; clockwise is positive. */
export function turn(start, end) {
  const way = end - start;
  return way > 180 ? way - 360 : way <= -180 ? way + 360 : way;
}

const SERIES = Array.from({ length: 21 }, (_, at) => ((20 - at) % 2 ? -1 : 1) * (180 / Math.PI) / (2 * (20 - at) + 1));

/** The bearing of a vector with y up: 0 is up, 90 right.  Gregory's series; the same bits on every machine. */
export function bearingOf(x, y) {
  const wide = Math.abs(x);
  const high = Math.abs(y);
  if (!(wide > 0 || high > 0)) return 0;
  const share = wide <= high ? wide / high : high / wide;
  const near = share > 0.41421356237309503;
  const rest = near ? (share - 1) / (share + 1) : share;
  const square = rest * rest;
  let total = 0;
  for (const factor of SERIES) total = total * square + factor;
  let angle = total * rest;
  if (near) angle = 45 + angle;
  if (wide > high) angle = 90 - angle;
  if (y < 0) angle = 180 - angle;
  if (x < 0) angle = 360 - angle;
  return angle < 360 ? angle : 0;
}

/** How far a stick is pushed, from 0 to 1. */
export function pushOf(x, y) {
  return Math.min(Math.sqrt(x * x + y * y), 1);
}

/** The whole part of one * factor / by, towards minus infinity, however great the product is. */
function share(one, factor, by) {
  const product = one * factor;
  if (Math.abs(product) <= Number.MAX_SAFE_INTEGER) {
    const rest = ((product % by) + by) % by;
    return (product - rest) / by;
  }
  const [whole, wide] = [BigInt(one) * BigInt(factor), BigInt(by)];
  const rest = ((whole % wide) + wide) % wide;
  return Number((whole - rest) / wide);
}

function whole(one, by) {
  return (one - (one % by)) / by;
}

/** To the nearest whole number, halves to the even one. */
function rounded(value) {
  const below = Math.floor(value);
  const over = value - below;
  return over > 0.5 || (over === 0.5 && below % 2 !== 0) ? below + 1 : below + 0;
}

/** A clip of the table, laid out for playing. */
class Clip {
  constructor(table, row) {
    const one = table.row("clips", row);
    this.name = table.names.clips[row];
    this.length = one.length;
    this.begin = one.begin;
    this.vanishes = one.vanishes !== 0;
    this.pace = one.pace;
    this.at = one.at;
    this.low = one.low;
    this.high = one.high;
    this.cues = table.rows("cues", one, "cues").map(([at, mark, begin, end], number) => ({
      at,
      mark,
      row: one.cues + number,
      acts: table.acts(begin, end),
    }));
    this.windows = table.rows("windows", one, "windows").map(([start, end, hold, lock, span], number) => ({
      start,
      end,
      hold,
      lock,
      span,
      row: one.windows + number,
    }));
    this.pieces = table.rows("pieces", one, "pieces");
    this.cels = table.rows("cels", one, "cels");
    this.resting = one.resting;
    this.goes = one.goes;
    this.keys = table.rows("keys", one, "keys");
  }

  folded(head) {
    if (head < this.length) return head;
    return this.begin < 0 ? this.length : this.begin + ((head - this.begin) % (this.length - this.begin));
  }

  /** Playhead units one tick adds. */
  amount(values) {
    if (this.pace < 0) return TICK;
    const asked = values[this.pace] / this.at;
    const rate = !(asked >= this.low) ? this.low : asked > this.high ? this.high : asked;
    return Math.floor(rate * TICK + 0.5);
  }

  /** The cues in (head, head + amount], in time order. */
  fired(head, amount) {
    const times = [];
    const lap = this.length - this.begin;
    for (const cue of this.cues) {
      let at = cue.at;
      if (this.begin < 0 || at < this.begin) {
        if (head < at && at <= Math.min(head + amount, this.length)) times.push({ time: at - head, cue });
        continue;
      }
      if (at > this.length) continue;
      if (at === this.length && this.begin === 0) at = 0;
      const since = head + amount - at;
      const before = head - at;
      const laps = (since >= 0 ? whole(since, lap) + 1 : 0) - (before >= 0 ? whole(before, lap) + 1 : 0);
      const first = at > head ? at - head : at - head + lap;
      for (let number = 0; number < laps; number++) times.push({ time: first + number * lap, cue });
    }
    return times.sort((one, other) => one.time - other.time || one.cue.row - other.cue.row);
  }

  atStart(cue) {
    return cue.at === 0 || (this.begin === 0 && cue.at === this.length);
  }

  /** The cel shown at a playhead; -1: none. */
  celAt(head) {
    if (!this.pieces.length || (this.vanishes && head >= this.length)) return -1;
    const place = Math.min(this.folded(head), this.length - 1);
    let at = 0;
    while (at + 1 < this.pieces.length && this.pieces[at + 1][0] <= place) at++;
    return this.pieces[at][1];
  }

  /** Where its path is at a playhead, ahead (1) or up (2). */
  place(head, which) {
    const keys = this.keys;
    let at = 0;
    while (at + 1 < keys.length && keys[at + 1][0] <= head) at++;
    if (at + 1 >= keys.length || head <= keys[at][0]) return keys[at][which];
    const [one, two] = [keys[at], keys[at + 1]];
    let t = (head - one[0]) / (two[0] - one[0]);
    if (two[3] === 1) t = t * t;
    else if (two[3] === 2) t = t * (2 - t);
    else if (two[3] === 3) t = t * t * (3 - 2 * t);
    return one[which] + (two[which] - one[which]) * t;
  }

  /** How far its path goes in a step of the playhead. */
  gone(head, amount, which) {
    const { length, begin } = this;
    const moved = head + amount;
    if (moved < length || begin < 0) {
      return this.place(Math.min(moved, length), which) - this.place(Math.min(head, length), which);
    }
    const lap = length - begin;
    const over = moved - length;
    const all = this.place(length, which) - this.place(begin, which);
    const first = this.place(length, which) - this.place(head, which);
    const rest = this.place(begin + (over % lap), which) - this.place(begin, which);
    return first + whole(over, lap) * all + rest;
  }
}

/** A state of the table, ready to be entered. */
class State {
  constructor(table, row) {
    const one = table.row("states", row);
    this.row = row;
    this.ways = table.rows("ways", one, "ways").map(([number, target, begin, end, fade, blocks, keep, uses, usesEnd]) => ({
      number,
      target,
      begin,
      end,
      fade,
      blocks: blocks !== 0,
      keep: keep !== 0,
      uses: table.sections.uses.slice(uses, usesEnd),
    }));
    this.entry = table.acts(one.entry, one.entry_end);
    this.leave = table.acts(one.leave, one.leave_end);
    this.axes = table.rows("axes", one, "axes");
    const samples = table.rows("samples", one, "samples");
    this.clips = samples.map(([clip]) => table.clips[clip]);
    this.phases = samples.map(([, phase]) => phase);
    this.places = samples.map(([, , first]) => this.axes.map((_, at) => table.sections.places[first + at][0]));
    this.blends = one.blends !== 0;
    this.sticky = one.sticky;
    this.clock = one.clock;
    this.still = one.still !== 0;
  }

  /** Which of its clips is shown, after the one picked before (-1: none was). */
  pick(values, before) {
    if (!this.blends) return 0;
    let best = 0;
    let nearest = Infinity;
    let distance = 0;
    for (let number = 0; number < this.places.length; number++) {
      let total = 0;
      for (let at = 0; at < this.axes.length; at++) {
        const place = this.places[number][at];
        if (place === null) continue;
        const [parameter, round, low, high, step] = this.axes[at];
        let value = parameter >= 0 ? values[parameter] : 0;
        if (round) value = reduced(value);
        else {
          if (low > value) value = low;
          if (high < value) value = high;
        }
        const away = (round ? turn(place, value) : value - place) / step;
        total = total + away * away;
      }
      if (number === before) distance = total;
      if (number === 0 || total < nearest) [best, nearest] = [number, total];
    }
    if (this.sticky > 0 && before >= 0) return Math.sqrt(nearest) < Math.sqrt(distance) - this.sticky ? best : before;
    return best;
  }

  /** What counts as picked before when this is entered from another state; -1: nothing. */
  keptFrom(left, picked) {
    if (!this.blends || !left.blends || picked < 0) return -1;
    const read = left.axes.map(([parameter]) => parameter);
    const both = this.axes
      .map(([parameter], at) => [parameter >= 0 ? read.indexOf(parameter) : -1, at])
      .filter(([one]) => one >= 0);
    if (!both.length) return -1;
    return this.places.findIndex((place) => both.every(([one, other]) => left.places[picked][one] === place[other]));
  }
}

function isObject(value) {
  return value !== null && typeof value === "object" && !Array.isArray(value);
}

function damaged(what) {
  return new TableError(`the table is damaged (${what}): export it again`);
}

/** A character's table, from what JSON.parse makes of it. */
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
    for (const [section, columns] of Object.entries(COLUMNS)) {
      const there = made.columns[section];
      if (!Array.isArray(there) || JSON.stringify(there) !== JSON.stringify(columns.split(" "))) {
        throw new TableError(`the table's ${section} have other columns than this player reads: take the player beside it`);
      }
    }
    this.name = made.name;
    this.rate = made.rate;
    this.names = made.names;
    this.says = made.says;
    this.sections = made.sections;
    this.check();
    this.program = Float64Array.from(made.sections.programs.flat());
    this.clips = made.sections.clips.map((_, row) => new Clip(this, row));
    this.states = made.sections.states.map((_, row) => new State(this, row));
    this.spanned = this.clips.some((clip) => clip.windows.length > 0);
    this.numbers = Object.fromEntries(
      KINDS.map((kind) => [kind, new Map(this.names[kind].map((name, at) => [name, at]))]),
    );
  }

  /** Check a table once, so that playing needs no checks. */
  check() {
    const { sections, names } = this;
    const isNames = (one) => Array.isArray(one) && one.every((name) => typeof name === "string");
    for (const kind of KINDS) if (!isNames(names[kind])) throw damaged(`names of ${kind}`);
    for (const part of ["cues", "windows"]) {
      const said = this.says[part];
      if (!isObject(said) || !Object.values(said).every(isObject)) throw damaged(`says of ${part}`);
    }
    if (!Number.isFinite(this.rate) || this.rate <= 0) throw damaged("rate");
    for (const [section, columns] of Object.entries(COLUMNS)) {
      const width = columns.split(" ").length;
      const rows = sections[section];
      if (!Array.isArray(rows) || !rows.every((row) => Array.isArray(row) && row.length === width)) throw damaged(section);
    }
    for (const [section, columns] of Object.entries(COLUMNS)) {
      const rules = RULES[section].split(" ");
      sections[section].forEach((row, at) =>
        rules.forEach((rule, place) => {
          if (this.fits(rule, row[place], row[place - 1], rules[place - 1])) return;
          throw damaged(`${section}, row ${at + 1}, ${columns.split(" ")[place]}`);
        }),
      );
    }
    if (!this.agrees()) throw damaged("rows that lead to each other");
    for (const [section, begin] of [["ways", 2], ["memories", 2], ["formulas", 1]]) {
      if (!sections[section].every((row) => this.isProgram(row[begin], row[begin + 1]))) throw damaged("programs");
    }
  }

  fits(rule, value, before, ruleBefore) {
    if (rule === "?") return value === null || Number.isFinite(value);
    if (rule === "#") return Number.isFinite(value);
    if (!Number.isInteger(value) || Math.abs(value) > NEVER) return false;
    const name = rule.slice(1).replace("?", "");
    if (rule === "i") return -EXACT <= value && value <= EXACT;
    if (rule === "t") return (0 <= value && value <= EXACT) || value === NEVER;
    if (rule[0] === "@") return (rule.endsWith("?") ? -1 : 0) <= value && value < this.sections[name].length;
    if (rule[0] === "%") return 0 <= value && value < this.names[name].length;
    if (rule[0] === "<") return value >= 0;
    if (rule === ">") return before <= value && value <= this.sections[ruleBefore.slice(1)].length;
    const [low, high] = rule.split("..");
    return Number(low) <= value && value <= Number(high);
  }

  /** Whether what stands in several rows goes together. */
  agrees() {
    const { sections: s, names } = this;
    const within = (value, end) => 0 <= value && value < end;
    return (
      ["parameters", "layers", "states", "clips"].every((kind) => names[kind].length === s[kind].length) &&
      s.parameters.every(([kind, , first, low, high]) => {
        if (kind <= WHOLE) return low <= high;
        return kind !== CHOICE || (Number.isInteger(first) && within(first, names.words.length));
      }) &&
      s.layers.every(([start, begin, end]) => begin <= start && start < end) &&
      s.axes.every(([, , low, high, step]) => low <= high && step > 0) &&
      s.acts.every(([act, target, value]) => {
        if (act <= 2) return within(target, s.parameters.length);
        if (act <= 4) return within(target, names.locks.length);
        return act !== 5 || (value >= 0 && value <= 1e15 && Number.isInteger(value));
      }) &&
      s.clips.every((_, at) => this.clipAgrees(this.row("clips", at))) &&
      s.states.every((_, at) => this.stateAgrees(this.row("states", at)))
    );
  }

  clipAgrees(one) {
    const cels = one.cels_end - one.cels;
    const rate = one.pace < 0 ? 1 : one.high;
    if (!(1 <= one.length && one.length <= LONGEST && -1 <= one.begin && one.begin < one.length)) return false;
    if (!(-1 <= one.resting && one.resting < cels)) return false;
    if (one.pace >= 0 && (one.at === 0 || one.low < 0 || one.low > rate || rate > 1000)) return false;
    if (one.goes && one.keys === one.keys_end) return false;
    const laps = whole(Math.floor(rate * TICK), one.length - Math.max(one.begin, 0)) + 2;
    if ((one.cues_end - one.cues) * laps > MOST_MARKS) return false;
    const [pieces, keys] = [this.rows("pieces", one, "pieces"), this.rows("keys", one, "keys")];
    const ordered = (rows) => rows.every((row, at) => at === 0 || rows[at - 1][0] < row[0]);
    if (!ordered(pieces) || !ordered(keys)) return false;
    return pieces.every(([start, cel], at) => (at > 0 || start === 0) && cel < cels);
  }

  stateAgrees(one) {
    const samples = this.rows("samples", one, "samples");
    if (one.sticky < 0 || (one.blends && !samples.length)) return false;
    const axes = one.axes_end - one.axes;
    const { clips, places } = this.sections;
    return samples.every(([clip, phase, first]) => phase <= clips[clip][0] && first + axes <= places.length);
  }

  /** Whether a postfix program leaves one number, whichever way its skips go. */
  isProgram(begin, end) {
    const { sections: s, names } = this;
    const [all, layers] = [s.parameters.length, s.layers.length];
    const most = { 1: all, 2: all, 3: all, 4: layers, 5: s.clocks.length, 6: s.buffers.length, 7: layers, 8: layers };
    Object.assign(most, { 9: names.spans.length, 10: layers, 11: s.memories.length });
    const waiting = [[end, 0]];
    let depth = 0;
    for (let at = begin; ; ) {
      while (waiting.length > 1 && at === waiting[waiting.length - 1][0]) {
        if (depth !== waiting.pop()[1] + 1) return false;
      }
      if (at === end) return depth === 1;
      const [limit, base] = waiting[waiting.length - 1];
      const [op, a, b] = s.programs[at++];
      if (op >= 15) {
        if (depth < base + 1 || a < 1 || a > limit - at) return false;
        waiting.push([at + a, --depth]);
        continue;
      }
      if (op in most && !(0 <= a && a < most[op])) return false;
      if (op === 13 && !(0 <= a && a <= 5)) return false;
      if (op === 14 && (!(0 <= a && a < TAKEN.length) || b < 1 || (TAKEN[a] && b !== TAKEN[a]))) return false;
      const taken = op === 12 ? 1 : op === 13 ? 2 : op === 14 ? b : 0;
      if (depth - base < taken) return false;
      depth += 1 - taken;
    }
  }

  row(section, at) {
    return Object.fromEntries(COLUMNS[section].split(" ").map((column, place) => [column, this.sections[section][at][place]]));
  }

  rows(section, of, column) {
    return this.sections[section].slice(of[column], of[`${column}_end`]);
  }

  acts(begin, end) {
    return this.sections.acts.slice(begin, end);
  }

  /** The number of a name. */
  index(kind, name) {
    const at = this.numbers[kind].get(name);
    if (at === undefined) throw new TableError(`${this.name} has no ${kind.slice(0, -1)} called ${name}`);
    return at;
  }
}

/** A figure that plays a table.  After each step: states (rows of the table, layer by layer), stays in ticks, heads in 1/65536
 *  tick, picks, taken (each layer's transition, -1: none), fired (layer, mark, cue), on (the spans), locked, freeze, and what is
 *  asked of the body: travelled (ahead, up, what counts), mode, pushed (ahead, up). */
export class Player {
  constructor(table) {
    this.table = table;
    this.rows = table.sections.parameters;
    const where = (wanted) => this.rows.map((_, at) => at).filter((at) => wanted(this.rows[at][0], this.rows[at][1]));
    this.pulses = where((kind, owner) => kind === PULSE && owner < GRAPH);
    this.raisable = where((kind, owner) => kind === PULSE && owner === GRAPH);
    this.buttons = where((kind) => kind === BUTTON);
    this.stack = new Float64Array(table.program.length / 4 + 1);
    this.restart();
  }

  /** Begin again, just before tick 0. */
  restart() {
    const { table } = this;
    const { layers, buffers, clocks, memories } = table.sections;
    this.values = Float64Array.from(this.rows, (one) => one[2]);
    this.given = new Map();
    this.held = new Uint8Array(this.rows.length);
    this.states = layers.map(([start]) => start);
    [this.stays, this.heads, this.picks] = [0, 1, 2].map(() => layers.map(() => 0));
    this.over = layers.map(() => 0);
    this.fades = layers.map(() => null);
    this.counters = memories.map(() => 0);
    this.memories = new Uint8Array(memories.length);
    this.ages = buffers.map(() => NEVER);
    this.since = clocks.map(() => NEVER);
    this.raised = new Set();
    this.locks = new Set();
    this.freeze = 0;
    this.on = new Uint8Array(table.names.spans.length);
    this.begin();
    this.compute();
    layers.forEach((_, layer) => this.enter(layer, 0, 0, null, -1));
    this.seeSpans(new Set());
    this.locked = this.isLocked();
    this.kept = table.sections.sticks.map((stick) => this.values[stick[3]]);
  }

  begin() {
    this.taken = this.states.map(() => -1);
    this.fired = [];
    this.travelled = [0, 0, 0];
    this.pushed = [0, 0];
    this.mode = 0;
  }

  // -- what the game says ----------------------------------------------------------------------------------------------

  /** Set a parameter that the game, the controls or the body sets; it is kept until it is set again. */
  set(name, value) {
    const at = this.table.index("parameters", name);
    if (this.rows[at][1] >= GRAPH) throw new TableError(`${name} is set by effects or formulas, not by the game`);
    this.given.set(at, this.fitted(at, typeof value === "string" ? this.table.index("words", value) : Number(value)));
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

  // -- what the game is told -------------------------------------------------------------------------------------------

  value(name) {
    const at = this.table.index("parameters", name);
    const [kind] = this.rows[at];
    const value = this.values[at];
    return kind === CHOICE ? this.table.names.words[value] : kind > BEARING ? value !== 0 : value;
  }

  state(layer) {
    return this.table.names.states[this.states[this.table.index("layers", layer)]];
  }

  /** What a layer shows; null: nothing. */
  frame(layer) {
    const at = this.table.index("layers", layer);
    const cel = this.cel(at);
    if (cel < 0) return null;
    const clip = this.clip(at);
    const [frame, mirrored, turns] = clip.cels[cel];
    return { clip: clip.name, cel, frame: this.table.names.frames[frame], mirrored: mirrored !== 0, turns };
  }

  /** The marks that fired on this tick, in order, with what they say. */
  get marks() {
    return this.fired.map(([, mark, cue]) => ({ mark: this.table.names.marks[mark], ...this.table.says.cues[cue] }));
  }

  /** The spans that are on, with what they say. */
  get spans() {
    return this.windows().map((one) => ({ span: this.table.names.spans[one.span], ...this.table.says.windows[one.row] }));
  }

  /** The number of the cel a layer shows; -1: none. */
  cel(layer) {
    const clip = this.clip(layer);
    if (clip === undefined) return -1;
    return clip.resting >= 0 && clip.amount(this.values) === 0 ? clip.resting : clip.celAt(this.heads[layer]);
  }

  // -- a tick ----------------------------------------------------------------------------------------------------------

  /** One tick with what has been set. */
  step() {
    const { table, values, states, fades } = this;
    const { sticks } = table.sections;
    for (const at of this.pulses) values[at] = 0;
    for (const at of this.raisable) values[at] = this.raised.has(at) ? 1 : 0;
    for (const [at, value] of this.given) values[at] = value;
    this.given.clear();
    for (let at = 0; at < sticks.length; at++) if (values[sticks[at][2]] === 0) values[sticks[at][3]] = this.kept[at];
    this.begin();
    this.compute();
    this.raised.clear();
    this.fadeOn();
    const frozen = this.freeze > 0;
    if (frozen) {
      this.freeze--;
      this.seeSpans(new Set());
    } else this.advance();
    this.remember();
    const locked = this.isLocked();
    for (let layer = 0; layer < states.length && !frozen; layer++) {
      if (fades[layer] !== null && fades[layer].blocks) continue;
      for (const way of table.states[states[layer]].ways) {
        if (this.run(way.begin, way.end)) {
          this.take(layer, way);
          break;
        }
      }
    }
    for (const at of this.buttons) this.held[at] = values[at] !== 0 ? 1 : 0;
    this.locked = locked || this.isLocked();
    for (let at = 0; at < sticks.length; at++) this.kept[at] = values[sticks[at][3]];
  }

  /** What a postfix program comes to. */
  run(begin, end) {
    const { stack, values } = this;
    const code = this.table.program;
    let top = -1;
    for (let row = begin * 4; row < end * 4; row += 4) {
      const a = code[row + 1];
      const value = code[row + 3];
      switch (code[row]) {
        case 0: stack[++top] = value; break;
        case 1: stack[++top] = values[a]; break;
        case 2: stack[++top] = values[a] !== 0 && !this.held[a] ? 1 : 0; break;
        case 3: stack[++top] = values[a] === 0 && this.held[a] ? 1 : 0; break;
        case 4: stack[++top] = this.stays[a]; break;
        case 5: stack[++top] = this.since[a]; break;
        case 6: stack[++top] = this.ages[a] < value ? 1 : 0; break;
        case 7: stack[++top] = this.isDone(a) ? 1 : 0; break;
        case 8: stack[++top] = this.isAt(a, value) ? 1 : 0; break;
        case 9: stack[++top] = this.on[a]; break;
        case 10: stack[++top] = this.states[a] === code[row + 2] ? 1 : 0; break;
        case 11: stack[++top] = this.memories[a]; break;
        case 12: stack[top] = stack[top] === 0 ? 1 : 0; break;
        case 13: top--; stack[top] = stands(a, stack[top], stack[top + 1]) ? 1 : 0; break;
        case 14: top -= code[row + 2] - 1; stack[top] = sum(a, stack, top, code[row + 2]); break;
        case 15: if (stack[top] === 0) row += 4 * a; else top--; break;
        default: if (stack[top] !== 0) row += 4 * a; else top--;
      }
    }
    return stack[top];
  }

  isAt(layer, share) {
    const clip = this.clip(layer);
    return clip !== undefined && this.heads[layer] >= share * clip.length;
  }

  /** Whether the clip of a layer is done: it repeats and has wrapped since entry, or stands at its length. */
  isDone(layer) {
    const clip = this.clip(layer);
    if (clip === undefined) return false;
    return clip.begin >= 0 ? this.over[layer] !== 0 : this.heads[layer] >= clip.length;
  }

  clip(layer) {
    return this.table.states[this.states[layer]].clips[this.picks[layer]];
  }

  advance() {
    const held = this.heldBySpans();
    for (let layer = 0; layer < this.states.length; layer++) {
      this.stays[layer]++;
      const state = this.table.states[this.states[layer]];
      if (!state.clips.length) continue;
      const before = this.picks[layer];
      const pick = state.pick(this.values, before);
      const clip = state.clips[pick];
      let head = this.heads[layer];
      if (pick !== before) {
        const old = state.clips[before];
        head = share(head - state.phases[before], clip.length, old.length) + state.phases[pick];
        if (head < 0) head = clip.begin >= 0 ? head + clip.length : 0;
        head = clip.folded(head);
        this.picks[layer] = pick;
      }
      const amount = clip.amount(this.values);
      if (head + amount >= clip.length && clip.begin >= 0) this.over[layer] = 1;
      this.heads[layer] = clip.folded(head + amount);
      if (clip.goes) {
        this.travelled[0] += clip.gone(head, amount, 1);
        this.travelled[1] += clip.gone(head, amount, 2);
        this.travelled[2] |= clip.goes;
      }
      if (clip.cues.length) {
        for (const { cue } of clip.fired(head, amount)) {
          this.fired.push([layer, cue.mark, cue.row]);
          this.apply(cue.acts, true);
        }
      }
    }
    this.seeSpans(held);
  }

  fadeOn() {
    for (let layer = 0; layer < this.fades.length; layer++) {
      const fade = this.fades[layer];
      if (fade === null) continue;
      const clip = this.table.states[fade.state].clips[fade.pick];
      if (clip !== undefined) fade.head = clip.folded(fade.head + TICK);
      if (fade.left-- <= 0) this.fades[layer] = null;
    }
  }

  remember() {
    const { buffers, clocks, memories } = this.table.sections;
    const older = (age, most) => (age !== NEVER && age + 1 < most ? age + 1 : NEVER);
    for (let slot = 0; slot < buffers.length; slot++) {
      const [at, most] = buffers[slot];
      this.ages[slot] = this.values[at] !== 0 && !this.held[at] ? 0 : older(this.ages[slot], most);
    }
    for (let slot = 0; slot < clocks.length; slot++) this.since[slot] = older(this.since[slot], clocks[slot][0]);
    this.memories.fill(0);
    for (let at = 0; at < memories.length; at++) {
      const [within, ticks, begin, end] = memories[at];
      const now = this.run(begin, end) !== 0;
      if (within) this.counters[at] = now ? ticks : Math.max(this.counters[at] - 1, 0);
      else this.counters[at] = now ? Math.min(this.counters[at] + 1, ticks) : 0;
      this.memories[at] = (within ? this.counters[at] > 0 : this.counters[at] >= ticks) ? 1 : 0;
    }
  }

  take(layer, way) {
    const held = this.heldBySpans();
    const old = this.table.states[this.states[layer]];
    const [pick, head] = [this.picks[layer], this.heads[layer]];
    this.taken[layer] = way.number;
    for (const [slot, ticks] of way.uses) if (this.ages[slot] < ticks) this.ages[slot] = NEVER;
    this.apply(old.leave, false);
    this.endSpans(held, layer);
    if (way.target !== old.row && old.clock >= 0) this.since[old.clock] = 0;
    this.fades[layer] = way.fade ? { state: old.row, pick, head, left: way.fade, blocks: way.blocks } : null;
    this.states[layer] = way.target;
    this.stays[layer] = 0;
    const shown = old.clips[pick];
    this.enter(layer, way.keep ? head : 0, shown === undefined ? 0 : shown.length, old, shown === undefined ? -1 : pick);
    this.seeSpans(new Set());
  }

  /** The spans of a layer's state that is left are over: flags that only they held go off. */
  endSpans(held, layer) {
    const still = this.heldBySpans(layer);
    const ended = [...held].filter((at) => at >= 0 && !still.has(at));
    for (const at of ended) this.values[at] = 0;
    if (ended.length) this.compute();
  }

  enter(layer, head, oldLength, left, picked) {
    const state = this.table.states[this.states[layer]];
    this.heads[layer] = this.picks[layer] = this.over[layer] = 0;
    this.apply(state.entry, false);
    if (!state.clips.length) return;
    this.picks[layer] = state.pick(this.values, left === null ? -1 : state.keptFrom(left, picked));
    const clip = state.clips[this.picks[layer]];
    if (head && oldLength) {
      this.heads[layer] = clip.folded(share(head, clip.length, oldLength));
    }
    if (this.heads[layer]) return;
    for (const cue of clip.cues) {
      if (clip.atStart(cue)) {
        this.fired.push([layer, cue.mark, cue.row]);
        this.apply(cue.acts, false);
      }
    }
  }

  apply(acts, now) {
    for (const [act, target, value] of acts) {
      if (act === 0) this.values[target] = value;
      else if (act === 1) this.values[target] = this.fitted(target, this.values[target] + value);
      else if (act === 2 && now) this.values[target] = 1;
      else if (act === 2) this.raised.add(target);
      else if (act === 3) this.locks.add(target);
      else if (act === 4) this.locks.delete(target);
      else if (act === 5) this.freeze = Math.max(this.freeze, value);
      else if (act === 6) this.mode = value;
      else if (act === 7) this.pushed[0] += value;
      else if (act === 8) this.pushed[1] += value;
      this.compute();
    }
  }

  compute() {
    for (const [at, begin, end] of this.table.sections.formulas) this.values[at] = this.run(begin, end);
  }

  fitted(at, value) {
    const [kind, , , low, high] = this.rows[at];
    if (kind > BEARING) return kind === CHOICE ? value : value !== 0 ? 1 : 0;
    if (kind === BEARING) return reduced(value);
    let inside = low > value ? low : value;
    if (high < inside) inside = high;
    return kind === WHOLE ? rounded(inside) : inside;
  }

  /** The spans that are on, of every layer but one. */
  windows(but = -1) {
    const found = [];
    for (let layer = 0; layer < this.states.length; layer++) {
      const clip = this.clip(layer);
      if (clip === undefined || layer === but) continue;
      const head = this.heads[layer];
      for (const one of clip.windows) if (one.start <= head && head < one.end) found.push(one);
    }
    return found;
  }

  heldBySpans(but = -1) {
    return new Set(this.table.spanned ? this.windows(but).map((one) => one.hold) : []);
  }

  seeSpans(before) {
    if (!this.table.spanned) return;
    const on = this.windows();
    const held = new Set(on.map((one) => one.hold));
    for (const at of new Set([...before, ...held])) if (at >= 0) this.values[at] = held.has(at) ? 1 : 0;
    this.on.fill(0);
    for (const one of on) this.on[one.span] = 1;
    if (before.size || held.size) this.compute();
  }

  isLocked() {
    if (this.locks.size || this.states.some((state) => this.table.states[state].still)) return true;
    return this.table.spanned && this.windows().some((one) => one.lock);
  }
}

function stands(sign, one, other) {
  switch (sign) {
    case 0: return one < other;
    case 1: return one <= other;
    case 2: return one === other;
    case 3: return one !== other;
    case 4: return one > other;
    default: return one >= other;
  }
}

function sum(which, stack, at, count) {
  const [one, other] = [stack[at], stack[at + 1]];
  switch (which) {
    case 0: return one + other;
    case 1: return one - other;
    case 2: return one * other;
    case 3: return other !== 0 ? one / other : 0;
    case 4: return Math.abs(one);
    case 5: return -one;
    case 8: return turn(one, other);
    case 9: return reduced(one);
  }
  let best = one;
  for (let next = at + 1; next < at + count; next++) if (which === 6 ? stack[next] < best : stack[next] > best) best = stack[next];
  return best;
}

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

/** Play what a golden trace sets, and write down what comes out in the same format. */
export function replay(table, golden) {
  const player = new Player(table);
  const told = table.sections.parameters.map((_, at) => at).filter((at) => table.sections.parameters[at][1] >= GRAPH);
  const lines = [];
  for (const line of golden.split("\n")) {
    if (line.startsWith("out") || line === "") continue;
    lines.push(line);
    if (/^in( |$)/.test(line)) {
      for (const word of line.split(" ").slice(1)) {
        const [at, value] = word.split("=");
        if (Number(at) < player.values.length) player.given.set(Number(at), fromBits(value));
      }
      player.step();
    } else if (line !== "begin") continue;
    const cels = player.states.map((_, layer) => player.cel(layer));
    const spans = Array.from(player.on.keys()).filter((span) => player.on[span]);
    lines.push(
      `out states=${player.states} stays=${player.stays} heads=${player.heads} picks=${player.picks} cels=${cels} ` +
        `taken=${player.taken} marks=${player.fired.map(([layer, mark]) => `${layer}:${mark}`)} spans=${spans} ` +
        `locked=${player.locked ? 1 : 0} freeze=${player.freeze} ` +
        `travel=${bits(player.travelled[0])},${bits(player.travelled[1])},${player.travelled[2]} ` +
        `asked=${[player.mode, ...player.pushed].map(bits)} values=${told.map((at) => bits(player.values[at]))}`,
    );
  }
  return `${lines.join("\n")}\n`;
}
