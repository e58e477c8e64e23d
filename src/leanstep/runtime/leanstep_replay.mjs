// Plays what golden traces set, and writes down what comes out in the same format: a player that does as Lean Step does gives the
// same bytes.   node leanstep_replay.mjs NAME.table.json TAKE.golden.txt ...

import { readFileSync } from "node:fs";
import { Table, TableError, replay } from "./leanstep_player.mjs";

const paths = process.argv.slice(2);
if (!paths.length || paths.length % 2) {
  console.error("usage: leanstep_replay.mjs NAME.table.json TAKE.golden.txt ...");
  process.exit(2);
}
for (let at = 0; at < paths.length; at += 2) {
  try {
    const table = new Table(JSON.parse(readFileSync(paths[at], "utf8")));
    process.stdout.write(replay(table, readFileSync(paths[at + 1], "utf8")));
  } catch (error) {
    if (!(error instanceof TableError || error instanceof SyntaxError)) throw error;
    console.error(`${paths[at]}: ${error.message}`);
    process.exit(1);
  }
}
