/* What keeps time: stays, playheads, marks, spans, memories and effects.  The states and transitions stand outside, as SCXML.
   p: parameters by name; s: each layer's state; m: memories; on: spans. */
var TICK = 65536, NEVER = Infinity;
var p = {}, s = [], stay = [], head = [], picked = [], wrapped = [], fades = [], via = [];
var counters = [], m = [], pressed = [], left = [], held = {}, raised = {}, on = {}, before = [];
var freeze = 0, frozen = false, started = false, told = {};

function least() { return best(arguments, function (one, other) { return one < other; }); }
function most() { return best(arguments, function (one, other) { return one > other; }); }
function best(numbers, better) {
  var found = numbers[0], at;
  for (at = 1; at < numbers.length; at++) if (better(numbers[at], found)) found = numbers[at];
  return found;
}
function div(one, other) { return other ? one / other : 0; }
function reduced(value) {
  if (!(-1e15 < value && value < 1e15)) return 0;
  var turned = value - 360 * Math.floor(value / 360);
  return turned > 0 && turned < 360 ? turned : 0;
}
function turn(start, end) {
  var way = end - start;
  return way > 180 ? way - 360 : way <= -180 ? way + 360 : way;
}
/* floor(one * factor / by) for whole numbers, exact beyond 2^53: one is split where the product would be too great */
function share(one, factor, by) {
  var whole = Math.floor(factor / by), rest = factor % by, found = one * whole, high, low, product;
  if (Math.abs(one) * rest <= 9007199254740991) return found + Math.floor(exactly(one * rest, by));
  high = Math.floor(one / 65536);
  low = one - high * 65536;
  product = wholes(high * rest, by);
  found += product[0] * 65536;
  product = wholes(product[1] * 65536 + low * rest, by);
  return found + product[0];
}
function wholes(value, by) { var rest = ((value % by) + by) % by; return [(value - rest) / by, rest]; }
function exactly(value, by) { return wholes(value, by)[0]; }
function fitted(name, value) {
  var one = kinds[name], rounded;
  if (one.kind === "bearing") return reduced(value);
  if (one.low > value) value = one.low;
  if (one.high < value) value = one.high;
  if (one.kind !== "whole") return value;
  rounded = Math.floor(value);
  return value - rounded > 0.5 || (value - rounded === 0.5 && rounded % 2 !== 0) ? rounded + 1 : rounded + 0;
}

/* effects */
function set(name, value) { p[name] = value; formulas(); }
function add(name, value) { p[name] = fitted(name, p[name] + value); formulas(); }
function raise(name) { raised[name] = true; formulas(); }
function raiseNow(name) { p[name] = true; formulas(); }
function stopFor(ticks) { freeze = Math.max(freeze, ticks); formulas(); }
function ask() { formulas(); }

/* clips */
function clipOf(layer) { var shown = shows[s[layer]]; return shown ? clips[shown.samples[picked[layer]].clip] : null; }
function folded(clip, at) {
  if (at < clip.length) return at;
  return clip.begin < 0 ? clip.length : clip.begin + ((at - clip.begin) % (clip.length - clip.begin));
}
function amountOf(clip) {
  if (!clip.pace) return TICK;
  var rate = p[clip.pace] / clip.at;
  rate = !(rate >= clip.low) ? clip.low : rate > clip.high ? clip.high : rate;
  return Math.floor(rate * TICK + 0.5);
}
function wayOf(shown) {
  for (var at = 0; at < shown.moved.length; at++) if (p[shown.moved[at][0]] === shown.moved[at][1]) return at + 1;
  return 0;
}
function pickOf(shown, last) {
  var each = shown.samples.length / (1 + shown.moved.length), first = wayOf(shown) * each;
  if (!shown.axes) return first;
  var number, at, total, place, axis, value, away, found = first, nearest = Infinity, distance = 0;
  if (last >= 0) last = first + last % each;
  for (number = first; number < first + each; number++) {
    total = 0;
    for (at = 0; at < shown.axes.length; at++) {
      place = shown.samples[number].places[at];
      if (place === null) continue;
      axis = shown.axes[at];
      value = axis.parameter ? p[axis.parameter] : 0;
      if (axis.round) value = reduced(value);
      else value = value < axis.low ? axis.low : value > axis.high ? axis.high : value;
      away = (axis.round ? turn(place, value) : value - place) / axis.step;
      total = total + away * away;
    }
    if (number === last) distance = total;
    if (number === first || total < nearest) { found = number; nearest = total; }
  }
  if (shown.sticky > 0 && last >= 0) return Math.sqrt(nearest) < Math.sqrt(distance) - shown.sticky ? found : last;
  return found;
}
function keptFrom(shown, old, last) {
  if (!shown.axes || !old || !old.axes || last < 0) return -1;
  var pairs = [], at, other, number, same;
  for (at = 0; at < shown.axes.length; at++)
    for (other = 0; other < old.axes.length; other++)
      if (shown.axes[at].parameter && shown.axes[at].parameter === old.axes[other].parameter) { pairs.push([other, at]); break; }
  for (number = 0; pairs.length && number < shown.samples.length; number++) {
    same = true;
    for (at = 0; at < pairs.length; at++)
      same = same && old.samples[last].places[pairs[at][0]] === shown.samples[number].places[pairs[at][1]];
    if (same) return number;
  }
  return -1;
}
function isDone(layer) {
  var clip = clipOf(layer);
  return clip !== null && (clip.begin >= 0 ? wrapped[layer] : head[layer] >= clip.length);
}
function isAt(layer, part) { var clip = clipOf(layer); return clip !== null && head[layer] >= part * clip.length; }
function fire(clip, from, amount) {
  var times = [], order, lap = clip.length - clip.begin, at, since, ago, laps, first, number;
  for (order = 0; order < clip.marks.length; order++) {
    at = clip.marks[order].at;
    if (clip.begin < 0 || at < clip.begin) {
      if (from < at && at <= Math.min(from + amount, clip.length)) times.push([at - from, order]);
      continue;
    }
    if (at > clip.length) continue;
    if (at === clip.length && clip.begin === 0) at = 0;
    since = from + amount - at;
    ago = from - at;
    laps = (since >= 0 ? exactly(since, lap) + 1 : 0) - (ago >= 0 ? exactly(ago, lap) + 1 : 0);
    first = at > from ? at - from : at - from + lap;
    for (number = 0; number < laps; number++) times.push([first + number * lap, order]);
  }
  times.sort(function (one, other) { return one[0] - other[0] || one[1] - other[1]; });
  for (number = 0; number < times.length; number++) clip.marks[times[number][1]].act(true);
}
function windows(but) {
  var found = [], layer, clip, at;
  for (layer = 0; layer < s.length; layer++) {
    clip = layer === but ? null : clipOf(layer);
    for (at = 0; clip !== null && at < clip.spans.length; at++)
      if (clip.spans[at].start <= head[layer] && head[layer] < clip.spans[at].end) found.push(clip.spans[at]);
  }
  return found;
}
function holding(but) {
  var found = {}, all = windows(but), at;
  for (at = 0; at < all.length; at++) if (all[at].hold) found[all[at].hold] = true;
  return found;
}
function seeSpans(last) {
  var all = windows(), now = holding(), at, name, changed = false;
  for (name in last) if (last.hasOwnProperty(name) && !now[name]) { p[name] = false; changed = true; }
  for (name in now) if (now.hasOwnProperty(name)) { p[name] = true; changed = true; }
  on = {};
  for (at = 0; at < all.length; at++) on[all[at].name] = true;
  if (changed) formulas();
}

/* the spans of a layer's state that is left are over: flags that only they held go off */
function endSpans(last, layer) {
  var still = holding(layer), name, ended = false;
  for (name in last) if (last.hasOwnProperty(name) && !still[name]) { p[name] = false; ended = true; }
  if (ended) formulas();
}

/* a tick */
function tick(data) {
  var at, name, buffer, memory, now;
  data = data || {};
  for (at = 0; at < buttons.length; at++) held[buttons[at]] = p[buttons[at]];
  for (name in kinds) {
    if (!kinds.hasOwnProperty(name)) continue;
    if (kinds[name].kind === "pulse") p[name] = kinds[name].outside ? data[name] === true : raised[name] === true;
    else if (kinds[name].outside && data.hasOwnProperty(name)) p[name] = data[name];
  }
  for (at = 0; at < sticks.length; at++) {
    if (!p[sticks[at] + ".push"]) p[sticks[at] + ".bearing"] = before[at];
    before[at] = p[sticks[at] + ".bearing"];
  }
  formulas();
  raised = {};
  for (at = 0; at < s.length; at++) if (fades[at] && --fades[at].left < 0) fades[at] = null;
  frozen = freeze > 0;
  if (frozen) { freeze--; seeSpans({}); } else advance();
  for (at = 0; at < buffers.length; at++) {
    buffer = buffers[at];
    if (p[buffer.button] && !held[buffer.button]) pressed[at] = 0;
    else pressed[at] = pressed[at] + 1 < buffer.most ? pressed[at] + 1 : NEVER;
  }
  for (at = 0; at < clocks.length; at++) left[at] = left[at] + 1 < clocks[at] ? left[at] + 1 : NEVER;
  for (at = 0; at < memories.length; at++) m[at] = false;
  for (at = 0; at < memories.length; at++) {
    memory = memories[at];
    now = memory.operand();
    if (memory.within) counters[at] = now ? memory.ticks : Math.max(counters[at] - 1, 0);
    else counters[at] = now ? Math.min(counters[at] + 1, memory.ticks) : 0;
    m[at] = memory.within ? counters[at] > 0 : counters[at] >= memory.ticks;
  }
  told = {};
}
function countDown() {
  var name;
  for (name in kinds) if (kinds.hasOwnProperty(name) && kinds[name].counts) p[name] = p[name] > 1 ? p[name] - 1 : 0;
  formulas();
}
function advance() {
  countDown();
  var last = holding(), layer, shown, pick, clip, old, from, amount;
  for (layer = 0; layer < s.length; layer++) {
    stay[layer]++;
    shown = shows[s[layer]];
    if (!shown) continue;
    pick = pickOf(shown, picked[layer]);
    clip = clips[shown.samples[pick].clip];
    from = head[layer];
    if (pick !== picked[layer]) {
      old = shown.samples[picked[layer]];
      from = share(from - old.phase, clip.length, clips[old.clip].length) + shown.samples[pick].phase;
      if (from < 0) from = clip.begin >= 0 ? from + clip.length : 0;
      from = folded(clip, from);
      picked[layer] = pick;
    }
    amount = amountOf(clip);
    if (from + amount >= clip.length && clip.begin >= 0) wrapped[layer] = true;
    head[layer] = folded(clip, from + amount);
    fire(clip, from, amount);
  }
  seeSpans(last);
}

/* whether a layer may take a transition: no other has been taken on this tick, and no crossfade holds it */
function free(layer) { return !told[layer] && !(fades[layer] && fades[layer].blocks); }
function leaving(layer) { via[layer] = { last: holding() }; }
function take(layer, fade, blocks, keep, uses) {
  var at;
  told[layer] = true;
  for (at = 0; at < uses.length; at++) if (pressed[uses[at][0]] < uses[at][1]) pressed[uses[at][0]] = NEVER;
  via[layer].fade = fade;
  via[layer].blocks = blocks;
  via[layer].keep = keep;
}
function arriving(layer, state) {
  var way = via[layer] || { fade: 0, keep: false }, from = s[layer];
  if (from !== undefined && from !== state && leavings.hasOwnProperty(from)) left[leavings[from]] = 0;
  if (way.last) endSpans(way.last, layer);
  way.from = shows[from];
  way.pick = way.from ? picked[layer] : -1;
  way.head = way.keep ? head[layer] : 0;
  way.length = way.from ? clipOf(layer).length : 0;
  fades[layer] = way.fade ? { left: way.fade, blocks: way.blocks } : null;
  via[layer] = way;
  s[layer] = state;
  stay[layer] = head[layer] = picked[layer] = 0;
  wrapped[layer] = false;
}
function arrived(layer) {
  var shown = shows[s[layer]], way = via[layer], clip, at;
  if (shown) {
    picked[layer] = pickOf(shown, keptFrom(shown, way.from, way.pick));
    clip = clipOf(layer);
    if (way.head && way.length) {
      head[layer] = folded(clip, share(way.head, clip.length, way.length));
    }
    for (at = 0; !head[layer] && at < clip.marks.length; at++)
      if (clip.marks[at].at === 0 || (clip.begin === 0 && clip.marks[at].at === clip.length)) clip.marks[at].act(false);
  }
  if (started) seeSpans({});
}
function begun() { started = true; seeSpans({}); }
function formulas() { for (var at = 0; at < computed.length; at++) p[computed[at].name] = computed[at].value(); }
