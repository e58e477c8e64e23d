// Plays what golden traces set, and writes down what comes out in the same format: a player that does as Lean Step does gives the
// same bytes.   node leanstep_replay.mjs NAME.table.json [OTHER.table.json] TAKE.golden.txt ...

import { readFileSync } from "node:fs";
import { Table, TableError, replay } from "./leanstep_player.mjs";

const paths = process.argv.slice(2);
if (!paths.length || paths.at(-1).endsWith(".json")) {
  console.error("usage: leanstep_replay.mjs NAME.table.json [OTHER.table.json] TAKE.golden.txt ...");
  process.exit(2);
}
let tables = [];
for (const path of paths) {
  try {
    const text = readFileSync(path, "utf8");
    if (path.endsWith(".json")) {
      tables.push(new Table(JSON.parse(text)));
      continue;
    }
    if (tables.length !== (text.startsWith("leanstep golden pair") ? 2 : 1))
      throw new TableError("a golden trace stands behind its table, one of two figures behind both");
    process.stdout.write(replay(tables[0], text, tables[1]));
    tables = [];
  } catch (error) {
    if (!(error instanceof TableError || error instanceof SyntaxError)) throw error;
    console.error(`${path}: ${error.message}`);
    process.exit(1);
  }
}
