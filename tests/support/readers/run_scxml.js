// Runs SCXML documents in an interpreter that is not ours: after every tick the active states, one line each.
const fs = require("fs");
const scxml = require("@scion-scxml/scxml");

function run(document, inputs) {
  return new Promise((resolve, reject) => {
    scxml.pathToModel(document, (error, model) => {
      if (error) return reject(error);
      model.prepare((failed, prepared) => {
        if (failed) return reject(failed);
        const chart = new scxml.core.Statechart(prepared);
        const lines = [];
        chart.start();
        for (const data of JSON.parse(fs.readFileSync(inputs, "utf8"))) {
          chart.gen({ name: "tick", data });
          lines.push(chart.getConfiguration().sort().join(" "));
        }
        resolve(lines);
      });
    });
  });
}

(async () => {
  const paths = process.argv.slice(2);
  for (let at = 0; at < paths.length; at += 2) process.stdout.write(`${(await run(paths[at], paths[at + 1])).join("\n")}\n`);
})();
