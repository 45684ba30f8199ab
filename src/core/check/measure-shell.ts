import { facesOfShell, type Layout, type Structure } from "../layout/layout";
import type { Shell } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import type { Triangles } from "../mesh/triangulate";
import type { Measuring } from "./shape-figures";

export interface Work {
  readonly s: Structure;
  readonly mesh: PolyMesh;
  readonly layout: Layout;
  readonly world: Float64Array;
  readonly t: Triangles;
  readonly scratch: Scratch;
}

/** What is known of the triangles of one shell before the scale of the whole shell is; made once for all shells. */
export class Scratch {
  /** Singular values, two a triangle; zero without an area in 3D and in UV. */
  values = new Float64Array(0);
  area = new Float64Array(0);
  sign = new Int8Array(0);
  solid = new Uint8Array(0);

  /** Makes room for some triangles. */
  reserve(triangles: number): void {
    if (this.area.length >= triangles) return;
    const room = 2 * triangles;
    this.values = new Float64Array(2 * room);
    this.area = new Float64Array(room);
    this.sign = new Int8Array(room);
    this.solid = new Uint8Array(room);
  }
}

/** Measures one shell into the figures of its shape. */
// biome-ignore lint/complexity/noExcessiveLinesPerFunction: one loop over triangles whose thirty locals would have to be handed on
export function measureShell(f: Measuring, shell: Shell, work: Work): void {
  const { s, mesh, layout, world: p, t } = work;
  const faces = facesOfShell(s, shell);
  let room = 0;
  for (let n = 0; n < faces.length; n++) room += t.faceStart[faces[n]! + 1]! - t.faceStart[faces[n]!]!;
  work.scratch.reserve(room);
  const { values, area: areas, sign: signs, solid: solids } = work.scratch;
  const { uv } = layout;
  const { cornerVertex } = mesh;
  const { cornerWedge } = s;
  const { corners } = t;
  let [area, uvArea, lean, votes, good, grow, shrink, product] = [0, 0, 0, 0, 0, 0, 0, 0];
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
  let [count, collapsed, flat] = [0, 0, 0];
  let [xu, xv, yu, yv, zu, zv] = [0, 0, 0, 0, 0, 0];
  let [faceX, faceY, faceZ] = [0, 0, 0];
  for (let n = 0; n < faces.length; n++) {
    for (let k = t.faceStart[faces[n]!]!; k < t.faceStart[faces[n]! + 1]!; k++) {
      const c0 = corners[3 * k]!;
      const c1 = corners[3 * k + 1]!;
      const c2 = corners[3 * k + 2]!;
      const i = 3 * cornerVertex[c0]!;
      const j = 3 * cornerVertex[c1]!;
      const l = 3 * cornerVertex[c2]!;
      const ex = p[j]! - p[i]!;
      const ey = p[j + 1]! - p[i + 1]!;
      const ez = p[j + 2]! - p[i + 2]!;
      const fx = p[l]! - p[i]!;
      const fy = p[l + 1]! - p[i + 1]!;
      const fz = p[l + 2]! - p[i + 2]!;
      const nx = ey * fz - ez * fy;
      const ny = ez * fx - ex * fz;
      const nz = ex * fy - ey * fx;
      const twice = Math.sqrt(nx * nx + ny * ny + nz * nz);
      const e2 = ex * ex + ey * ey + ez * ez;
      const f2 = fx * fx + fy * fy + fz * fz;
      const ef = ex * fx + ey * fy + ez * fz;
      const g2 = square(fx - ex) + square(fy - ey) + square(fz - ez);
      const solid = twice / 2 > 1e-10 * Math.max(e2, Math.max(f2, g2));
      const a = 2 * cornerWedge[c0]!;
      const b = 2 * cornerWedge[c1]!;
      const c = 2 * cornerWedge[c2]!;
      const ua = uv[a]!;
      const va = uv[a + 1]!;
      const ub = uv[b]!;
      const vb = uv[b + 1]!;
      const uc = uv[c]!;
      const vc = uv[c + 1]!;
      const au = ub - ua;
      const av = vb - va;
      const bu = uc - ua;
      const bv = vc - va;
      const signed = (au * bv - av * bu) / 2;
      const lowU = Math.min(ua, Math.min(ub, uc));
      const highU = Math.max(ua, Math.max(ub, uc));
      const lowV = Math.min(va, Math.min(vb, vc));
      const highV = Math.max(va, Math.max(vb, vc));
      const extent = Math.max(Math.max(-lowU, highU), Math.max(-lowV, highV));
      const longest = Math.max(au * au + av * av, Math.max(bu * bu + bv * bv, square(bu - au) + square(bv - av)));
      const rounding = 4 * 2.220446049250313e-16 * extent * Math.sqrt(longest);
      const sign = signed > rounding ? 1 : signed < -rounding ? -1 : 0;
      if (lowU < u0) u0 = lowU;
      if (highU > u1) u1 = highU;
      if (lowV < v0) v0 = lowV;
      if (highV > v1) v1 = highV;
      area += twice / 2;
      uvArea += Math.abs(signed);
      lean += signed;
      votes += sign;
      areas[count] = twice / 2;
      signs[count] = sign;
      solids[count] = solid ? 1 : 0;
      values[2 * count] = 0;
      values[2 * count + 1] = 0;
      count++;
      if (!solid) flat++;
      else if (sign === 0) collapsed++;
      if (!solid || sign === 0) continue;
      const x1 = Math.sqrt(e2);
      const x2 = ef / x1;
      const y2 = twice / x1;
      const a0 = au / x1;
      const a1 = av / x1;
      const b0 = (bu - a0 * x2) / y2;
      const b1 = (bv - a1 * x2) / y2;
      const s1 = (Math.sqrt(square(a0 + b1) + square(a1 - b0)) + Math.sqrt(square(a0 - b1) + square(a1 + b0))) / 2;
      const s2 = s1 > 0 ? Math.abs(a0 * b1 - a1 * b0) / s1 : 0;
      values[2 * count - 2] = s1;
      values[2 * count - 1] = s2;
      const w = twice / 2;
      good += w;
      grow += w * (s1 * s1 + s2 * s2);
      shrink += w * (1 / (s1 * s1) + 1 / (s2 * s2));
      product += w * s1 * s2;
      // Axes on the triangle, along its first side and across it, mapped to UV with it.
      const xx = ex / x1;
      const xy = (ny * ez - nz * ey) / (twice * x1);
      const yx = ey / x1;
      const yy = (nz * ex - nx * ez) / (twice * x1);
      const zx = ez / x1;
      const zy = (nx * ey - ny * ex) / (twice * x1);
      xu += w * (a0 * xx + b0 * xy);
      xv += w * (a1 * xx + b1 * xy);
      yu += w * (a0 * yx + b0 * yy);
      yv += w * (a1 * yx + b1 * yy);
      zu += w * (a0 * zx + b0 * zy);
      zv += w * (a1 * zx + b1 * zy);
      faceX += nx / 2;
      faceY += ny / 2;
      faceZ += nz / 2;
    }
  }
  f.triangles[shell] = count;
  f.area[shell] = area;
  f.uvArea[shell] = uvArea;
  f.signedArea[shell] = lean;
  f.majority[shell] = (votes || lean) < 0 ? -1 : 1;
  f.collapsed[shell] = collapsed;
  f.flat[shell] = flat;
  f.goodArea[shell] = good;
  f.energy[shell] = Math.sqrt(grow * shrink) / (2 * good);
  f.box.set([u0, v0, u1, v1], 4 * shell);
  f.rise.set([xu, xv, yu, yv, zu, zv], 6 * shell);
  f.facing.set([faceX, faceY, faceZ], 3 * shell);
  f.stretch2[shell] = (shrink * product) / good / 2;
  const best2 = Math.sqrt(shrink / grow); // c^4 = sum(s^-2) / sum(s^2), here c^2
  relateToShell(f, shell, work, best2, good / product);
  lieInTiles(f, shell, work);
}

const square = (x: number): number => x * x;

/**
 * What needs the scale of the whole shell: energy and change of area of its triangles, and which of them are flipped.
 * A shell that was only moved leaves the triangles as they are.
 */
function relateToShell(f: Measuring, shell: Shell, { s, t, scratch }: Work, best2: number, equal2: number): void {
  const { values, area, sign, solid } = scratch;
  const side = f.majority[shell]!;
  const faces = facesOfShell(s, shell);
  let out = f.triangle;
  let [n, flipped, conformal, ratio, most] = [0, 0, 0, 0, 0];
  for (let i = 0; i < faces.length; i++)
    for (let k = t.faceStart[faces[i]!]!; k < t.faceStart[faces[i]! + 1]!; k++, n++) {
      if (sign[n]! * side < 0) flipped++;
      const s1 = values[2 * n]!;
      const s2 = values[2 * n + 1]!;
      let [energy, angle, areaRatio] = [0, 0, 0];
      if (s1 > 0) {
        const a2 = s1 * s1;
        const b2 = s2 * s2;
        energy = Math.fround(((a2 + b2) * best2 + (1 / a2 + 1 / b2) / best2) / 4);
        angle = Math.fround(s1 / s2);
        const scale = s1 * s2 * equal2;
        areaRatio = Math.fround(scale > 1 ? scale : -1 / scale);
        conformal += area[n]! * (s1 / s2);
        ratio += area[n]! * Math.abs(areaRatio);
        if (1 / s2 > most) most = 1 / s2;
      }
      const same =
        out.energy[k] === energy &&
        out.conformal[k] === angle &&
        out.areaRatio[k] === areaRatio &&
        out.area[k] === Math.fround(area[n]!) &&
        out.sign[k] === sign[n] &&
        out.solid[k] === solid[n];
      if (same) continue;
      out = f.ownTriangles();
      out.energy[k] = energy;
      out.conformal[k] = angle;
      out.areaRatio[k] = areaRatio;
      out.area[k] = area[n]!;
      out.sign[k] = sign[n]!;
      out.solid[k] = solid[n]!;
    }
  f.flipped[shell] = flipped;
  f.conformal[shell] = conformal;
  f.areaRatio[shell] = ratio;
  f.stretchMost[shell] = most / Math.sqrt(equal2);
}

/** UV may stick out of its tile by this much without being out of bounds. */
const SLACK = 1e-6;

/** Where a shell lies in its tiles: from its box where that is within one, else from its triangles. */
function lieInTiles(f: Measuring, shell: Shell, { s, layout: { uv }, t }: Work): void {
  const [u0, v0, u1, v1] = f.box.subarray(4 * shell, 4 * shell + 4) as unknown as [number, number, number, number];
  const [u, v] = [Math.floor(u0), Math.floor(v0)];
  f.outside[shell] = 0;
  if (u >= 0 && v >= 0 && u1 <= u + 1 && v1 <= v + 1 && u1 > u0 && v1 > v0) {
    f.borderGap[shell] = Math.min(u0 - u, v0 - v, u + 1 - u1, v + 1 - v1);
    return;
  }
  let [outside, gap] = [0, Infinity];
  const faces = facesOfShell(s, shell);
  for (let n = 0; n < faces.length; n++)
    for (let k = t.faceStart[faces[n]!]!; k < t.faceStart[faces[n]! + 1]!; k++) {
      let out = false;
      for (let d = 0; d < 2; d++) {
        const a = uv[2 * s.cornerWedge[t.corners[3 * k]!]! + d]!;
        const b = uv[2 * s.cornerWedge[t.corners[3 * k + 1]!]! + d]!;
        const c = uv[2 * s.cornerWedge[t.corners[3 * k + 2]!]! + d]!;
        const [low, high] = [Math.min(a, b, c), Math.max(a, b, c)];
        out ||= low < -SLACK || Math.floor(low + SLACK) < Math.ceil(high - SLACK) - 1;
        const tile = Math.floor((a + b + c) / 3);
        gap = Math.min(gap, low - tile, tile + 1 - high);
      }
      if (out) outside++;
    }
  f.outside[shell] = outside;
  f.borderGap[shell] = gap;
}
