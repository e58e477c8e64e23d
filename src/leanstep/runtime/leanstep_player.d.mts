// What leanstep_player.mjs gives, for TypeScript.

export declare const VERSION: number;

/** What is wrong with a table, or with what a player is asked, in a sentence. */
export declare class TableError extends Error {}

export type Value = number | boolean | string;
export type Kind = "parameters" | "words" | "layers" | "states" | "clips" | "frames" | "marks" | "spans" | "locks" | "modes";

/** A character's table, from what JSON.parse makes of it. */
export declare class Table {
  constructor(made: unknown);
  readonly name: string;
  readonly rate: number;
  readonly version: number;
  readonly names: Record<Kind, string[]>;
  readonly says: Record<"cues" | "windows", Record<string, Record<string, Value>>>;
  readonly sections: Record<string, (number | null)[][]>;
  index(kind: Kind, name: string): number;
}

/** What a layer shows: mirrored, then turned by quarters clockwise; moved ahead (as it looks) and up of the figure's foot. */
export interface Shown {
  clip: string;
  cel: number;
  frame: string;
  mirrored: boolean;
  turns: number;
  x: number;
  y: number;
  layer: number;
}

/** Where a pin point lies in what is drawn: pixels of the drawing from the figure's foot, and the bearing in which it points. */
export interface Pin {
  name: string;
  layer: number;
  x: number;
  y: number;
  angle: number;
  behind: boolean;
}

/** An accessory: a frame, mirrored, then turned by degrees clockwise about its foot, which lies at x, y from the figure's. */
export interface Pinned {
  name: string;
  layer: number;
  behind: boolean;
  frame: string;
  mirrored: boolean;
  turn: number;
  x: number;
  y: number;
}

/** How a part of a figure is moved in its parent, in pixels of the drawing to the right and up, then turned about its joint, in degrees
 *  clockwise, and how many times as wide and high it is, which comes first of all. */
export interface PartPose {
  name: string;
  layer: number;
  x: number;
  y: number;
  turn: number;
  wide: number;
  high: number;
}

/** What the active states ask of the body; 0: nothing. */
export interface Requests {
  mode: number;
  backward: boolean;
  face: number;
  cap: number;
  fall: number;
  wide: number;
  high: number;
}

/** How a figure is drawn: so many times as wide and high, about its foot, then tilted by so many degrees clockwise. */
export interface Shape {
  wide: number;
  high: number;
  tilt: number;
  whole: boolean;
}

/** Where a figure stands for contact, and how large a pixel of its drawings is; along: how much of a push to the right goes along its facing. */
export interface At {
  x: number;
  y?: number;
  left?: boolean;
  wide?: number;
  high?: number;
  along?: number;
}

/** A strike of figure 0 or 1 of a pair has met the other. */
export interface Contact {
  who: number;
  layer: number;
  clip: string;
  guarded: boolean;
  stun: number;
  freeze: number;
  strength: number;
  push: number;
}

/** Two figures that can touch; make one for every two. */
export declare class Pair {
  constructor(one: Player, other: Player);
  meet(at: At, otherAt: At): Contact[];
}

/** A figure that plays a table. */
export declare class Player {
  constructor(table: Table);
  readonly table: Table;
  restart(): void;
  set(name: string, value: Value): void;
  hold(button: string, held: boolean): void;
  pulse(name: string): void;
  push(stick: string, x: number, y: number): void;
  step(): void;
  shape(velocity: number, up?: number, facing?: number, grounded?: boolean): Shape;
  value(name: string): Value;
  state(layer: string): string;
  frame(layer: string, left?: boolean): Shown | null;
  frames(left?: boolean): Shown[];
  cel(layer: number): number;
  pins(left?: boolean): Pin[];
  pinned(left?: boolean): Pinned[];
  parts(left?: boolean): PartPose[];
  markPins(left?: boolean): (Pin & { fired: number })[];
  readonly marks: ({ mark: string } & Record<string, Value>)[];
  readonly spans: ({ span: string } & Record<string, Value>)[];
  readonly requests: Requests;
  readonly states: number[];
  readonly stays: number[];
  readonly heads: number[];
  readonly picks: number[];
  readonly taken: number[];
  readonly fired: number[][];
  readonly on: Float64Array;
  readonly values: Float64Array;
  readonly locked: boolean;
  readonly freeze: number;
  readonly travelled: [number, number, number];
  readonly pushed: [number, number];
  readonly mode: number;
}

export declare function replay(table: Table, golden: string, other?: Table): string;
export declare function reduced(value: number): number;
export declare function turn(start: number, end: number): number;
export declare function bearingOf(x: number, y: number): number;
export declare function pushOf(x: number, y: number): number;
