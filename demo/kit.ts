import type { Asset, Material, Unit } from "../src/core/layout/asset";
import { emptyLayout } from "../src/core/layout/layout";
import { type NewPart, newAsset } from "../src/core/layout/new-asset";
import { meshFromPolygons } from "../src/core/mesh/poly-mesh";
import { IDENTITY, type Mat4 } from "../src/core/mesh/transform";

export type Vec = readonly [number, number, number];

/** Polygons while they are modelled. */
export interface Shape {
  readonly points: Vec[];
  readonly faces: number[][];
  /** Material index per face. */
  readonly material: number[];
}

export const shape = (): Shape => ({ points: [], faces: [], material: [] });

/** Adds b to a, its points moved by a map. */
export function add(a: Shape, b: Shape, map: (p: Vec) => Vec = (p) => p): Shape {
  const base = a.points.length;
  for (const p of b.points) a.points.push(map(p));
  for (const f of b.faces) a.faces.push(f.map((i) => i + base));
  a.material.push(...b.material);
  return a;
}

/**
 * A turned body about the y axis: quads between rings, a fan-free n-gon or a pole at either end.
 *
 * @param profile (radius, height) from bottom to top; a radius of 0 is a pole
 * @param materials one per span of the profile, or one for all
 */
export function lathe(
  profile: ReadonlyArray<readonly [number, number]>,
  segments: number,
  materials: number | readonly number[] = 0,
  closed = true,
): Shape {
  const s = shape();
  const material = (i: number) =>
    typeof materials === "number" ? materials : materials[Math.min(i, materials.length - 1)]!;
  const rings = profile.map(([r, y]) => {
    if (r === 0) return [s.points.push([0, y, 0]) - 1];
    return Array.from({ length: segments }, (_, k) => {
      const a = (2 * Math.PI * k) / segments;
      return s.points.push([r * Math.cos(a), y, r * Math.sin(a)]) - 1;
    });
  });
  for (let i = 0; i + 1 < rings.length; i++) {
    const [low, high] = [rings[i]!, rings[i + 1]!];
    for (let k = 0; k < segments; k++) {
      const n = (k + 1) % segments;
      if (low.length === 1) s.faces.push([low[0]!, high[k]!, high[n]!]);
      else if (high.length === 1) s.faces.push([low[k]!, high[0]!, low[n]!]);
      else s.faces.push([low[k]!, high[k]!, high[n]!, low[n]!]);
      s.material.push(material(i));
    }
  }
  const [bottom, top] = [rings[0]!, rings[rings.length - 1]!];
  if (closed && bottom.length > 1) {
    s.faces.push([...bottom]);
    s.material.push(material(0));
  }
  if (closed && top.length > 1) {
    s.faces.push([...top].reverse());
    s.material.push(material(rings.length - 2));
  }
  return s;
}

/** A round bar along a path, capped by n-gons. */
export function bar(
  path: readonly Vec[],
  radius: number | ((t: number) => number),
  segments: number,
  material = 0,
): Shape {
  const s = shape();
  const rings: number[][] = [];
  let side: Vec = [0, 0, 1];
  path.forEach((p, i) => {
    const a = path[Math.max(0, i - 1)]!;
    const b = path[Math.min(path.length - 1, i + 1)]!;
    const d = unit([b[0] - a[0], b[1] - a[1], b[2] - a[2]]);
    if (Math.abs(dot(side, d)) > 0.95) side = [1, 0, 0];
    const x = unit(cross(d, side));
    const y = cross(x, d); // carried along, so that the bar does not twist
    side = y;
    const r = typeof radius === "number" ? radius : radius(i / (path.length - 1));
    rings.push(
      Array.from({ length: segments }, (_, k) => {
        const t = (2 * Math.PI * k) / segments;
        const [c, e] = [r * Math.cos(t), r * Math.sin(t)];
        return s.points.push([p[0] + c * x[0] + e * y[0], p[1] + c * x[1] + e * y[1], p[2] + c * x[2] + e * y[2]]) - 1;
      }),
    );
  });
  for (let i = 0; i + 1 < rings.length; i++)
    for (let k = 0; k < segments; k++) {
      const n = (k + 1) % segments;
      s.faces.push([rings[i]![k]!, rings[i]![n]!, rings[i + 1]![n]!, rings[i + 1]![k]!]);
      s.material.push(material);
    }
  s.faces.push([...rings[0]!].reverse(), [...rings[rings.length - 1]!]);
  s.material.push(material, material);
  return facingOut(s);
}

/** A box with its corner at the origin, each side cut into n quads. */
export function box(size: Vec, cuts: readonly [number, number, number] = [1, 1, 1], material = 0): Shape {
  const s = shape();
  const at = new Map<string, number>();
  const point = (x: number, y: number, z: number) => {
    const key = `${x},${y},${z}`;
    if (!at.has(key))
      at.set(key, s.points.push([(size[0] * x) / cuts[0], (size[1] * y) / cuts[1], (size[2] * z) / cuts[2]]) - 1);
    return at.get(key)!;
  };
  for (let axis = 0; axis < 3; axis++) {
    const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
    for (const end of [0, cuts[axis]!]) {
      for (let i = 0; i < cuts[u]!; i++)
        for (let j = 0; j < cuts[v]!; j++) {
          const corner = (a: number, b: number) => {
            const c = [0, 0, 0];
            c[axis] = end;
            c[u] = a;
            c[v] = b;
            return point(c[0]!, c[1]!, c[2]!);
          };
          const quad = [corner(i, j), corner(i + 1, j), corner(i + 1, j + 1), corner(i, j + 1)];
          s.faces.push(end ? quad : quad.reverse());
          s.material.push(material);
        }
    }
  }
  return s;
}

/** The shape with every face turned over if its volume is negative. */
export function facingOut(s: Shape): Shape {
  let volume = 0;
  for (const f of s.faces)
    for (let k = 1; k + 1 < f.length; k++)
      volume += dot(s.points[f[0]!]!, cross(s.points[f[k]!]!, s.points[f[k + 1]!]!));
  if (volume < 0) for (const f of s.faces) f.reverse();
  return s;
}

export const dot = (a: Vec, b: Vec): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross = (a: Vec, b: Vec): Vec => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
export const unit = (a: Vec): Vec => {
  const l = Math.hypot(...a) || 1;
  return [a[0] / l, a[1] / l, a[2] / l];
};

/** Column-major transform from a shift, a turn about y (degrees) and a scale. */
export function placed(shift: Vec, degrees = 0, scale: Vec = [1, 1, 1]): Mat4 {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return [
    scale[0] * c,
    0,
    -scale[0] * s,
    0,
    0,
    scale[1],
    0,
    0,
    scale[2] * s,
    0,
    scale[2] * c,
    0,
    shift[0],
    shift[1],
    shift[2],
    1,
  ].map((x) => x + 0); // never -0, which JSON does not keep
}

export interface PartPlan {
  readonly name: string;
  readonly shape?: Shape;
  /** Name of the part this one repeats. */
  readonly same?: string;
  readonly transform?: Mat4;
  readonly path?: readonly string[];
}

/** An asset from shapes; parts without coordinates and seams. */
export function assemble(
  name: string,
  unitOf: Unit,
  materials: readonly Material[],
  plans: readonly PartPlan[],
): Asset {
  const parts: NewPart[] = [];
  for (const [i, plan] of plans.entries()) {
    const same = parts.find((p) => p.name === plan.same);
    const { name: title, path = [], transform = IDENTITY } = plan;
    const common = { id: `p${i + 1}`, name: title, path, transform };
    if (same) {
      parts.push({ ...common, same: same.same ?? same.id });
      continue;
    }
    const { points, faces, material } = plan.shape!;
    const mesh = meshFromPolygons(points.flat(), faces, materials.length ? { faceMaterial: material } : {});
    parts.push({ ...common, mesh, layouts: [emptyLayout(mesh)] });
  }
  const sets = [{ id: "s1", name: "Unique", purpose: "unique" as const, exportAs: 0 }];
  return newAsset(
    { id: name, name, unit: unitOf, materials, sets, source: { name: `${name}.made`, format: "made" } },
    parts,
  );
}
