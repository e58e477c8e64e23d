// What the page of a check draws, without a browser: for each witness and tick the frames with how they lie on the canvas.
//   draws.mjs PAGE.html  <<<  [[witness, [tick, ...]], ...]
import { readFileSync } from "node:fs";

const text = readFileSync(process.argv[2], "utf8");
const data = /<script type="application\/json" id="data">(.*?)<\/script>/s.exec(text)[1];
const script = /<script type="module">(.*?)<\/script>/s.exec(text)[1];
const calls = [];
let [lie, stack] = [[1, 0, 0, 1, 0, 0], []];

function then([a, b, c, d, e, f]) {
  const [A, B, C, D, E, F] = lie;
  lie = [A * a + C * b, B * a + D * b, A * c + C * d, B * c + D * d, A * e + C * f + E, B * e + D * f + F];
}

const pen = new Proxy(
  {
    save: () => stack.push(lie),
    restore: () => (lie = stack.pop()),
    translate: (x, y) => then([1, 0, 0, 1, x, y]),
    scale: (x, y) => then([x, 0, 0, y, 0, 0]),
    rotate: (angle) => then([Math.cos(angle), Math.sin(angle), -Math.sin(angle), Math.cos(angle), 0, 0]),
    drawImage: (image, x, y, wide, high, left, top) => calls.push({ at: [x, y, wide, high], to: [left, top], lie }),
  },
  { get: (target, name) => target[name] ?? (() => 0), set: () => true },
);
const element = () => ({
  addEventListener: () => 0, setAttribute: () => 0, dataset: {}, value: "0", checked: false, textContent: "",
  width: 760, height: 210, getContext: () => pen, ownerSVGElement: { viewBox: { baseVal: { width: 760 } } },
});
const sections = [...text.matchAll(/data-witness="(\d+)"/g)].map(([, number]) => ({
  dataset: { witness: number },
  parts: {},
  querySelector(which) { return (this.parts[which] ??= element()); },
  querySelectorAll() { return [element(), element(), element()]; },
}));
const body = element();
globalThis.document = { getElementById: () => ({ textContent: data }), body, querySelectorAll: () => sections };
globalThis.Image = class { set src(value) { this.onload(); } };
const seen = [];
globalThis.__witness = (one) => seen.push(one);
const told = script.replace("this.seek(0);\n  }\n", "globalThis.__witness(this);\n    this.seek(0);\n  }\n");
await import(`data:text/javascript;base64,${Buffer.from(told).toString("base64")}`);
const found = JSON.parse(readFileSync(0, "utf8")).map(([witness, ticks]) =>
  ticks.map((tick) => {
    seen[witness].seek(0);
    calls.length = 0;
    seen[witness].seek(tick);
    return calls.slice(-9).filter((one, at, all) => all.slice(at).every((other) => other !== undefined));
  }),
);
console.log(JSON.stringify({ found, differs: body.dataset.differs ?? "" }));
