import type { Item } from "../src/core/pack/raster";

// Shells made by seeds, to pack.

/** The same numbers each time (Marsaglia's xorshift, 2003). */
function random(seed: number): () => number {
  let x = seed * 2654435761 || 1;
  return () => {
    x ^= x << 13;
    x ^= x >>> 17;
    x ^= x << 5;
    return (x >>> 0) / 2 ** 32;
  };
}

type Point = readonly [number, number];

/** A shell of a closed line, and of the triangles that it is made of. */
const shell = (triangles: readonly Point[][], outline: readonly Point[]): Item => ({
  triangles: Float64Array.from(triangles.flat(2)),
  outline: Float64Array.from(outline.flatMap((p, i) => [...p, ...outline[(i + 1) % outline.length]!])),
});

function blob(next: () => number): Item {
  const size = 0.3 + next() ** 2;
  const [a, b, c] = [next() * 6, next() * 6, 0.1 + 0.25 * next()];
  const rim = Array.from({ length: 40 }, (_, i): Point => {
    const t = (i / 40) * 2 * Math.PI;
    const r = size * (1 + c * Math.sin(2 * t + a) + 0.12 * Math.sin(3 * t + b));
    return [r * Math.cos(t), r * Math.sin(t)];
  });
  return shell(
    rim.map((p, i) => [[0, 0], p, rim[(i + 1) % rim.length]!]),
    rim,
  );
}

function strip(next: () => number): Item {
  const [radius, width, bend] = [0.5 + next(), 0.08 + 0.15 * next(), 0.6 + 2.4 * next()];
  const at = (r: number, i: number): Point => [r * Math.cos((bend * i) / 24), r * Math.sin((bend * i) / 24)];
  const outer = Array.from({ length: 25 }, (_, i) => at(radius + width, i));
  const inner = Array.from({ length: 25 }, (_, i) => at(radius, i));
  const quads = outer.slice(1).flatMap((_, i): Point[][] => [
    [inner[i]!, outer[i]!, outer[i + 1]!],
    [inner[i]!, outer[i + 1]!, inner[i + 1]!],
  ]);
  return shell(quads, [...outer, ...inner.reverse()]);
}

function plate(next: () => number): Item {
  const [w, h, n] = [0.2 + next(), 0.2 + next(), 0.1 + 0.3 * next()];
  const rim: Point[] = [
    [0, 0],
    [w, 0],
    [w, h * (1 - n)],
    [w * (1 - n), h * (1 - n)],
    [w * (1 - n), h],
    [0, h],
  ];
  const [a, b, c, d, e, f] = rim as [Point, Point, Point, Point, Point, Point];
  return shell(
    [
      [a, b, c],
      [a, c, d],
      [a, d, e],
      [a, e, f],
    ],
    rim,
  );
}

/** A ring with a hole through which smaller ones go. */
function frame(next: () => number): Item {
  const [w, h, wide] = [0.4 + next(), 0.4 + next(), 0.06 + 0.1 * next()];
  const outer: Point[] = [
    [0, 0],
    [w, 0],
    [w, h],
    [0, h],
  ];
  const inner: Point[] = [
    [wide, wide],
    [w - wide, wide],
    [w - wide, h - wide],
    [wide, h - wide],
  ];
  const quads = outer.flatMap((_, i): Point[][] => {
    const k = (i + 1) % 4;
    return [
      [outer[i]!, outer[k]!, inner[k]!],
      [outer[i]!, inner[k]!, inner[i]!],
    ];
  });
  const one = shell(quads, outer);
  const hole = shell([], [...inner].reverse());
  return { triangles: one.triangles, outline: Float64Array.of(...one.outline, ...hole.outline) };
}

/** A form with arms, as limbs and leaves have. */
function organic(next: () => number): Item {
  const [size, arms] = [0.3 + next() ** 2, 3 + Math.floor(3 * next())];
  const [a, b, deep] = [next() * 6, next() * 6, 0.3 + 0.35 * next()];
  const rim = Array.from({ length: 64 }, (_, i): Point => {
    const t = (i / 64) * 2 * Math.PI;
    const r = size * (1 + deep * Math.sin(arms * t + a) + 0.15 * Math.sin(2 * t + b) + 0.05 * Math.sin(7 * t));
    return [r * Math.cos(t), r * Math.sin(t)];
  });
  return shell(
    rim.map((p, i) => [[0, 0], p, rim[(i + 1) % rim.length]!]),
    rim,
  );
}

export const KINDS = {
  blobs: [blob],
  "bent strips": [strip],
  plates: [plate],
  frames: [frame, blob],
  organic: [organic],
  mixed: [blob, strip, plate, frame, organic],
} as const;

export type Kind = keyof typeof KINDS;

export function setOf(kind: Kind, count: number, seed: number): Item[] {
  const next = random(seed);
  const makers = KINDS[kind];
  return Array.from({ length: count }, (_, i) => makers[i % makers.length]!(next));
}
