// Ticks a second of the JavaScript player: plays what a golden trace sets again and again.   players.mjs PLAYER TABLE GOLDEN TICKS

import { readFileSync } from "node:fs";
import { pathToFileURL } from "node:url";

const [, , module, path, golden, ticks] = process.argv;
const { Player, Table } = await import(pathToFileURL(module).href);
const view = new DataView(new ArrayBuffer(8));
const rows = readFileSync(golden, "utf8")
  .split("\n")
  .filter((line) => /^in( |$)/.test(line))
  .map((line) =>
    line.split(" ").slice(1).filter((word) => !word.startsWith("body=")).map((word) => {
      const [at, bits] = word.split("=");
      view.setBigUint64(0, BigInt(`0x${bits}`));
      return [Number(at), view.getFloat64(0)];
    }),
  );
const player = new Player(new Table(JSON.parse(readFileSync(path, "utf8"))));
let done = 0;
const start = process.hrtime.bigint();
while (done < Number(ticks)) {
  player.restart();
  for (const row of rows) {
    for (const [at, value] of row) player.given.set(at, value);
    player.step();
    done++;
  }
}
console.log(Math.round(done / (Number(process.hrtime.bigint() - start) / 1e9)));
