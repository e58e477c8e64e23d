/* Plays the witnesses of a page: each on its canvas, with the player that games use. */
const data = JSON.parse(document.getElementById("data").textContent);
const table = new Table(data.table);
const atlas = new Image();
const frames = new Map(data.frames.map((one) => [one.name, one]));
const INK = "#2a2620";
const GROUND = 24;

class Witness {
  constructor(section, what) {
    this.what = what;
    this.canvas = section.querySelector("canvas");
    [this.button, this.back, this.on] = section.querySelectorAll("button");
    this.slider = section.querySelector("input[type=range]");
    this.again = section.querySelector("input[type=checkbox]");
    this.speed = section.querySelector("select");
    this.words = section.querySelector("output");
    this.line = section.querySelector("line");
    this.player = new Player(table);
    this.tick = -1;
    this.timer = 0;
    this.button.addEventListener("click", () => this.toggle());
    this.back.addEventListener("click", () => this.look(this.tick - 1));
    this.on.addEventListener("click", () => this.look(this.tick + 1));
    this.slider.addEventListener("input", () => this.look(Number(this.slider.value)));
    this.speed.addEventListener("change", () => this.timer && (this.stop(), this.toggle()));
    this.seek(0);
  }

  toggle() {
    if (this.timer) return this.stop();
    const last = this.what.inputs.length - 1;
    if (this.tick >= last) this.seek(0);
    this.button.textContent = "Stop";
    this.timer = setInterval(() => {
      if (this.tick < last) this.seek(this.tick + 1);
      else if (this.again.checked) this.seek(0);
      else this.stop();
    }, 1000 / table.rate / Number(this.speed.value));
  }

  /** Stop, and look at one tick. */
  look(tick) {
    this.stop();
    this.seek(Math.max(0, Math.min(tick, this.what.inputs.length - 1)));
  }

  stop() {
    clearInterval(this.timer);
    this.timer = 0;
    this.button.textContent = "Play";
  }

  seek(tick) {
    if (tick < this.tick || this.tick < 0) {
      this.player.restart();
      this.shape = undefined;
      this.tick = -1;
    }
    while (this.tick < tick && this.tick < this.what.inputs.length - 1) {
      this.tick++;
      for (const [at, value] of this.what.inputs[this.tick]) this.player.given.set(at, value);
      this.player.step();
      if (this.what.moves) this.shape = this.player.shape(...this.what.moves[this.tick]);
      const wanted = this.what.states[this.tick];
      if (String(this.player.states) !== String(wanted)) document.body.dataset.differs = `tick ${this.tick}`;
    }
    this.slider.value = this.tick;
    this.draw();
  }

  // A frame that is drawn with the picture of a layer, or is that; it lies at x, y from the picture's foot, in pixels of its sheet.
  picture(pen, of, one, lift) {
    const { width, height } = this.canvas;
    const frame = frames.get(one.frame);
    if (frame === undefined) return;
    const scale = this.what.scale;
    const by = data.scales[of.frame.slice(0, of.frame.lastIndexOf("/"))] ?? [1, 1];
    pen.save();
    pen.translate(Math.round(width / 2), Math.round(height - GROUND - lift));
    pen.scale(scale, scale);
    pen.translate(of.x + one.x * by[0], -of.y - one.y * by[1]);
    if (this.shape) {
      const { wide, high, tilt, whole } = this.shape;
      const above = frame.foot[1];
      pen.rotate((tilt * Math.PI) / 180);
      pen.scale(wide, whole && above > 0 ? Math.max(1, Math.round(above * high)) / above : high);
    }
    pen.rotate((one.turn * Math.PI) / 180);
    if (one.mirrored) pen.scale(-1, 1);
    const [trimX, trimY, wide, high] = frame.trim;
    pen.drawImage(atlas, frame.x, frame.y, wide, high, trimX - frame.foot[0], trimY - frame.foot[1], wide, high);
    pen.restore();
  }

  draw() {
    const pen = this.canvas.getContext("2d");
    const { width, height } = this.canvas;
    const [x, y, left] = this.what.bodies[Math.max(0, this.tick)];
    const [startX, startY] = this.what.bodies[0];
    const scale = this.what.scale;
    pen.clearRect(0, 0, width, height);
    pen.imageSmoothingEnabled = false;
    pen.strokeStyle = "#8a7f68";
    pen.beginPath();
    const ground = height - GROUND;
    const lift = Math.max(-GROUND, Math.min(height / 2, (y - startY) * scale));
    pen.moveTo(0, ground + 0.5);
    pen.lineTo(width, ground + 0.5);
    // the ground passes by below the figure
    const step = 32 * scale;
    const begin = (width / 2 - (x - startX) * scale) % step;
    for (let at = (begin + step) % step; at < width; at += step) {
      pen.moveTo(at, ground);
      pen.lineTo(at - 4, ground + 6);
    }
    pen.stroke();
    const pinned = this.player.pinned(left !== 0);
    for (const one of this.player.frames(left !== 0)) {
      const there = pinned.filter((each) => each.layer === one.layer);
      for (const each of there) if (each.behind) this.picture(pen, one, each, lift);
      this.picture(pen, one, { frame: one.frame, mirrored: one.mirrored, turn: one.turns * 90, x: 0, y: 0 }, lift);
      for (const each of there) if (!each.behind) this.picture(pen, one, each, lift);
    }
    const states = table.names.layers.map((layer) => this.player.state(layer)).join(" · ");
    const given = this.what.words[Math.max(0, this.tick)];
    this.words.textContent = `tick ${this.tick}: ${states}${given ? ` – ${given}` : ""}`;
    pen.fillStyle = INK;
    const place = ((this.tick + 0.5) / this.what.inputs.length) * Number(this.line.ownerSVGElement.viewBox.baseVal.width);
    this.line.setAttribute("x1", place);
    this.line.setAttribute("x2", place);
  }
}

function begin() {
  document.querySelectorAll("section[data-witness]").forEach((section) => {
    new Witness(section, data.witnesses[Number(section.dataset.witness)]);
  });
  document.body.dataset.ready = "yes";
}

if (data.image) {
  atlas.onload = begin;
  atlas.src = data.image;
} else begin();
