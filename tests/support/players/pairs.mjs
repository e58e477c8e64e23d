// Plays two figures from their tables and a list of what is set and where they stand, and writes down what comes out.
import { readFileSync } from "node:fs";
const { Pair, Player, Table } = await import(process.argv[2]);

const view = new DataView(new ArrayBuffer(8));
function bits(value) {
  view.setFloat64(0, value);
  return view.getBigUint64(0).toString(16).padStart(16, "0");
}
function fromBits(text) {
  view.setBigUint64(0, BigInt(`0x${text}`));
  return view.getFloat64(0);
}
function told(player) {
  return `${player.states}/${player.heads}/${player.freeze}/${Array.from(player.values, bits)}/${bits(player.pushed[0])}`;
}
for (let at = 3; at < process.argv.length; at += 3) {
  const figures = process.argv.slice(at, at + 2).map((path) => new Player(new Table(JSON.parse(readFileSync(path, "utf-8")))));
  const pair = new Pair(...figures);
  for (const line of readFileSync(process.argv[at + 2], "utf-8").trimEnd().split("\n")) {
    const parts = line.split("|").map((part) => part.split(" ").filter((word) => word));
    const places = [2, 3].map((side) => {
      const [x, y, wide, high, along, left] = parts[side].map(fromBits);
      return { x, y, wide, high, along, left: left !== 0 };
    });
    figures.forEach((player, side) => {
      for (const word of parts[side]) player.given.set(Number(word.split("=")[0]), fromBits(word.split("=")[1]));
      player.step();
    });
    const met = pair.meet(...places).map((one) => `${one.who}:${one.layer}:${one.guarded ? 2 : 1}:${one.stun}:${one.freeze}:${bits(one.push)}`);
    console.log(`${told(figures[0])} ${told(figures[1])} ${met}`);
  }
}
