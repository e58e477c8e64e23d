// Runs SCXML documents of others in an interpreter that is not ours, by a clock that goes a sixtieth of a second a tick: the active
// states after every tick, one line each, which begins with “several” where several events came on one tick.
const fs = require("fs");
const scxml = require("@scion-scxml/scxml");

console.log = () => {}; // what charts log is not asked here
let now = 0;
let waiting = [];
let number = 0;
const begin = global.setTimeout;
const end = global.clearTimeout;

function ours(call, delay) {
  waiting.push({ call, at: now + delay, number: ++number });
  return number;
}

function until(time) {
  let done = 0;
  for (;;) {
    waiting.sort((one, other) => one.at - other.at || one.number - other.number);
    if (!waiting.length || waiting[0].at > time + 1e-6) break;
    const next = waiting.shift();
    now = next.at;
    next.call();
    done += 1;
  }
  now = time;
  return done;
}

function run(document, events) {
  return new Promise((resolve, reject) => {
    scxml.pathToModel(document, (error, model) => {
      if (error) return reject(error);
      model.prepare((failed, prepared) => {
        if (failed) return reject(failed);
        now = 0;
        waiting = [];
        global.setTimeout = ours;
        global.clearTimeout = (which) => { waiting = waiting.filter((one) => one.number !== which); };
        const lines = [];
        const chart = new scxml.core.Statechart(prepared);
        chart.start();
        JSON.parse(fs.readFileSync(events, "utf8")).forEach((event, tick) => {
          const came = until((tick * 1000) / 60) + (event ? 1 : 0);
          if (event) chart.gen({ name: event });
          lines.push((came > 1 ? "several " : "") + chart.getConfiguration().sort().join(" "));
        });
        global.setTimeout = begin;
        global.clearTimeout = end;
        resolve(lines);
      });
    });
  });
}

(async () => {
  const paths = process.argv.slice(2);
  for (let at = 0; at < paths.length; at += 2) process.stdout.write(`${(await run(paths[at], paths[at + 1])).join("\n")}\n`);
})();
