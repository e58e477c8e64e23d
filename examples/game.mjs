// A game's loop with a character of Lean Step: here the lamplighter of the demo, in text instead of pictures.
//
//     lean-step export demo/lamplighter.leanstep --to table --to players --to interface --out build
//     cp examples/game.mjs build && node build/game.mjs build/lamplighter.table.json

import { readFileSync } from "node:fs";
import { layers, parameters } from "./lamplighter_names.mjs";
import { Player, Table } from "./leanstep_player.mjs";

const [RATE, GRAVITY, JUMP, FASTEST, FASTER] = [60, 900, 260, 80, 500];

/** What a player's hands do; a real game reads a device here. */
function hands(tick) {
  return { x: tick >= 30 && tick < 150 ? 1 : 0, jump: tick >= 90 && tick < 100 };
}

/** The game's own physics: it runs, jumps and falls. */
class Body {
  x = 0;
  y = 0;
  vx = 0;
  vy = 0;

  move(push, jumps, locked) {
    const wanted = locked ? 0 : push * FASTEST;
    const step = FASTER / RATE;
    this.vx = this.vx < wanted ? Math.min(this.vx + step, wanted) : Math.max(this.vx - step, wanted);
    if (jumps && this.y === 0 && !locked) this.vy = JUMP;
    this.x = this.x + this.vx / RATE;
    this.y = this.y + this.vy / RATE;
    this.vy = this.vy - GRAVITY / RATE;
    if (this.y <= 0) [this.y, this.vy] = [0, 0];
  }
}

const hero = new Player(new Table(JSON.parse(readFileSync(process.argv[2], "utf8"))));
const body = new Body();
let jumped = false;
let shown = "";
for (let tick = 0; tick < 240; tick++) {
  const now = hands(tick);
  // 1. the game moves the body; what the character locked on the tick before counts
  body.move(now.x, now.jump && !jumped, hero.locked);
  jumped = now.jump;
  // 2. the character is told about hands and body, and plays a tick
  hero.push("stick", now.x, 0);
  hero.hold(parameters.JUMP, now.jump);
  hero.set(parameters.SPEED, Math.abs(body.vx));
  hero.set(parameters.RISE, body.vy);
  hero.set(parameters.GROUNDED, body.y === 0);
  hero.step();
  // 3. the game draws what is shown, and answers what happened
  if (hero.state(layers.BASE) !== shown) {
    shown = hero.state(layers.BASE);
    const picture = hero.frame(layers.BASE);
    console.log(`tick ${tick}: ${shown}, at ${body.x.toFixed(1)}, shows ${picture ? picture.frame : "nothing"}`);
  }
  for (const { mark } of hero.marks) console.log(`tick ${tick}: ${mark}`);
}
