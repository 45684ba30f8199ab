import { getBit, sameBits } from "../layout/bits";
import { facesOfShell, isBarrier, type Layout, type Structure, shellName, structureOf } from "../layout/layout";
import type { PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { type Mat4, worldPositions } from "../mesh/transform";
import { type Triangles, trianglesOf } from "../mesh/triangulate";

/** What the map from 3D to UV does to every triangle of a shape; zero for triangles without coordinates. */
export interface TriangleFigures {
  /** Singular values, s1 >= s2 >= 0, UV per world length. */
  readonly s1: Float64Array;
  readonly s2: Float64Array;
  /** World area. */
  readonly area: Float64Array;
  /** 1 or -1 by the side that shows; 0 where the UV area is within rounding of zero. */
  readonly sign: Int8Array;
  /** 1 where the triangle has an area in 3D. */
  readonly solid: Uint8Array;
}

/** Figures of all shells of one shape in one UV set; arrays by shell, in the order of the shells' least faces. */
export interface ShapeFigures {
  readonly count: number;
  /** Names of the shells: their least faces. */
  readonly face: Uint32Array;
  readonly mapped: Uint8Array;
  readonly faces: Uint32Array;
  readonly triangles: Uint32Array;
  readonly corners: Uint32Array;
  /** World area; UV area, unsigned and signed. */
  readonly area: Float64Array;
  readonly uvArea: Float64Array;
  readonly signedArea: Float64Array;
  /** 1 or -1: which side most of its triangles show. */
  readonly majority: Int8Array;
  readonly flipped: Uint32Array;
  readonly collapsed: Uint32Array;
  /** Triangles without area in 3D. */
  readonly flat: Uint32Array;
  /** World area of the triangles that have an area in 3D and in UV: means are taken over those. */
  readonly goodArea: Float64Array;
  /** Squares of the scale of least energy, and of the scale that makes UV area equal to world area. */
  readonly bestScale2: Float64Array;
  readonly equalArea2: Float64Array;
  /** Mean symmetric Dirichlet energy at the best scale; 1 is isometric. */
  readonly energy: Float64Array;
  /** UV box: u0, v0, u1, v1 of every shell. */
  readonly box: Float64Array;
  /** World lengths: edges that are cut, shared half and half by their sides; seams between mapped faces; open borders. */
  readonly cutLength: Float64Array;
  readonly seamLength: Float64Array;
  readonly borderLength: Float64Array;
  readonly triangle: TriangleFigures;
}

export interface MeasureInput {
  readonly mesh: PolyMesh;
  readonly layout: Layout;
  /** The transform lengths are taken with. */
  readonly metric: Mat4;
  /** Figures of a layout with the same cuts, of which only the shells that moved need be measured anew. */
  readonly before?: { readonly layout: Layout; readonly figures: ShapeFigures } | undefined;
}

/**
 * Measures every shell of a shape, in time linear in its corners.
 *
 * Singular values of the linear maps taking the 3D triangles to their UV triangles: Sander, Snyder, Gortler, Hoppe,
 * Texture mapping progressive meshes (2001). Symmetric Dirichlet energy: Smith and Schaefer, Bijective parameterization
 * with free boundaries (2015).
 */
export function measureShape({ mesh, layout, metric, before }: MeasureInput): ShapeFigures {
  const s = structureOf(mesh, layout);
  const keep =
    before && sameBits(before.layout.cut, layout.cut) && sameBits(before.layout.mapped, layout.mapped)
      ? before
      : undefined;
  const figures = keep ? copied(keep.figures) : emptyFigures(s.shellCount, trianglesOf(mesh).face.length);
  const world = worldPositions(mesh, metric);
  const shells = keep ? movedShells(s, mesh, keep.layout.uv, layout.uv) : null;
  if (!keep) countShells(figures, s, mesh, layout, world);
  const t = trianglesOf(mesh);
  for (let i = 0; i < (shells?.length ?? s.shellCount); i++) {
    const shell = shells ? shells[i]! : i;
    if (figures.mapped[shell]) measureShell(figures, shell, { s, mesh, layout, world, t });
  }
  return figures;
}

/** Shells some of whose points are elsewhere, ascending. */
function movedShells(s: Structure, mesh: PolyMesh, old: Float64Array, now: Float64Array): Uint32Array {
  if (old === now) return new Uint32Array(0);
  const moved = new Uint8Array(s.wedgeCount);
  for (let w = 0; w < moved.length; w++)
    moved[w] = old[2 * w] !== now[2 * w] || old[2 * w + 1] !== now[2 * w + 1] ? 1 : 0;
  const { cornerFace } = topologyOf(mesh);
  const touched = new Uint8Array(s.shellCount);
  for (let c = 0; c < s.cornerWedge.length; c++)
    if (moved[s.cornerWedge[c]!]) touched[s.faceShell[cornerFace[c]!]!] = 1;
  const out: number[] = [];
  for (let k = 0; k < touched.length; k++) if (touched[k]) out.push(k);
  return Uint32Array.from(out);
}

function emptyFigures(count: number, triangles: number): ShapeFigures {
  const f64 = (n = count) => new Float64Array(n);
  const u32 = () => new Uint32Array(count);
  return {
    count,
    face: u32(),
    mapped: new Uint8Array(count),
    faces: u32(),
    triangles: u32(),
    corners: u32(),
    area: f64(),
    uvArea: f64(),
    signedArea: f64(),
    majority: new Int8Array(count),
    flipped: u32(),
    collapsed: u32(),
    flat: u32(),
    goodArea: f64(),
    bestScale2: f64(),
    equalArea2: f64(),
    energy: f64(),
    box: f64(4 * count),
    cutLength: f64(),
    seamLength: f64(),
    borderLength: f64(),
    triangle: {
      s1: f64(triangles),
      s2: f64(triangles),
      area: f64(triangles),
      sign: new Int8Array(triangles),
      solid: new Uint8Array(triangles),
    },
  };
}

/** A copy whose arrays may be written to; what moving points does not change is shared. */
function copied(f: ShapeFigures): ShapeFigures {
  return {
    ...f,
    uvArea: f.uvArea.slice(),
    signedArea: f.signedArea.slice(),
    area: f.area.slice(),
    majority: f.majority.slice(),
    flipped: f.flipped.slice(),
    collapsed: f.collapsed.slice(),
    flat: f.flat.slice(),
    goodArea: f.goodArea.slice(),
    bestScale2: f.bestScale2.slice(),
    equalArea2: f.equalArea2.slice(),
    energy: f.energy.slice(),
    box: f.box.slice(),
    triangle: {
      s1: f.triangle.s1.slice(),
      s2: f.triangle.s2.slice(),
      area: f.triangle.area.slice(),
      sign: f.triangle.sign.slice(),
      solid: f.triangle.solid.slice(),
    },
  };
}

/** Names, counts and seam lengths: what does not depend on where the points lie. */
function countShells(f: ShapeFigures, s: Structure, mesh: PolyMesh, layout: Layout, world: Float64Array): void {
  const topology = topologyOf(mesh);
  for (let k = 0; k < s.shellCount; k++) {
    f.face[k] = shellName(s, k);
    f.mapped[k] = getBit(layout.mapped, f.face[k]!) ? 1 : 0;
    f.faces[k] = s.shellStart[k + 1]! - s.shellStart[k]!;
  }
  for (let g = 0; g < s.faceShell.length; g++)
    f.corners[s.faceShell[g]!]! += mesh.faceStart[g + 1]! - mesh.faceStart[g]!;
  for (let e = 0; e < topology.edgeCount; e++) {
    if (!isBarrier(topology, layout, e)) continue;
    const a = 3 * topology.edgeVertices[2 * e]!;
    const b = 3 * topology.edgeVertices[2 * e + 1]!;
    const [x, y, z] = [world[a]! - world[b]!, world[a + 1]! - world[b + 1]!, world[a + 2]! - world[b + 2]!];
    const length = Math.sqrt(x * x + y * y + z * z);
    const [from, to] = [topology.edgeCornerStart[e]!, topology.edgeCornerStart[e + 1]!];
    const isCut = getBit(layout.cut, e);
    let sides = 0;
    for (let k = from; k < to; k++) {
      const shell = s.faceShell[topology.cornerFace[topology.edgeCorners[k]!]!]!;
      sides += f.mapped[shell]!;
      if (isCut) f.cutLength[shell]! += length / (to - from);
    }
    for (let k = from; k < to; k++) {
      const shell = s.faceShell[topology.cornerFace[topology.edgeCorners[k]!]!]!;
      if (!f.mapped[shell]) continue;
      if (sides === 1) f.borderLength[shell]! += length;
      else f.seamLength[shell]! += length / sides;
    }
  }
}

interface Work {
  readonly s: Structure;
  readonly mesh: PolyMesh;
  readonly layout: Layout;
  readonly world: Float64Array;
  readonly t: Triangles;
}

function measureShell(f: ShapeFigures, shell: number, { s, mesh, layout, world: p, t }: Work): void {
  const { uv } = layout;
  const { triangle: out } = f;
  const [cornerVertex, cornerWedge, corners] = [mesh.cornerVertex, s.cornerWedge, t.corners];
  let [area, uvArea, lean, votes, good, grow, shrink, product] = [0, 0, 0, 0, 0, 0, 0, 0];
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
  let [count, collapsed, flat] = [0, 0, 0];
  const faces = facesOfShell(s, shell);
  for (let n = 0; n < faces.length; n++) {
    for (let k = t.faceStart[faces[n]!]!; k < t.faceStart[faces[n]! + 1]!; k++) {
      const [c0, c1, c2] = [corners[3 * k]!, corners[3 * k + 1]!, corners[3 * k + 2]!];
      const [i, j, l] = [3 * cornerVertex[c0]!, 3 * cornerVertex[c1]!, 3 * cornerVertex[c2]!];
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
      const g2 = (fx - ex) ** 2 + (fy - ey) ** 2 + (fz - ez) ** 2;
      const longest = Math.max(e2, fx * fx + fy * fy + fz * fz, g2);
      const solid = twice / 2 > 1e-10 * longest;
      const [a, b, c] = [2 * cornerWedge[c0]!, 2 * cornerWedge[c1]!, 2 * cornerWedge[c2]!];
      const [au, av] = [uv[b]! - uv[a]!, uv[b + 1]! - uv[a + 1]!];
      const [bu, bv] = [uv[c]! - uv[a]!, uv[c + 1]! - uv[a + 1]!];
      const signed = (au * bv - av * bu) / 2;
      const lowU = Math.min(uv[a]!, uv[b]!, uv[c]!);
      const highU = Math.max(uv[a]!, uv[b]!, uv[c]!);
      const lowV = Math.min(uv[a + 1]!, uv[b + 1]!, uv[c + 1]!);
      const highV = Math.max(uv[a + 1]!, uv[b + 1]!, uv[c + 1]!);
      const extent = Math.max(-lowU, highU, -lowV, highV);
      const side = Math.sqrt(Math.max(au * au + av * av, bu * bu + bv * bv, (bu - au) ** 2 + (bv - av) ** 2));
      const sign = Math.abs(signed) <= 4 * 2.220446049250313e-16 * extent * side ? 0 : Math.sign(signed);
      count++;
      if (lowU < u0) u0 = lowU;
      if (highU > u1) u1 = highU;
      if (lowV < v0) v0 = lowV;
      if (highV > v1) v1 = highV;
      area += twice / 2;
      uvArea += Math.abs(signed);
      lean += signed;
      votes += sign;
      out.area[k] = twice / 2;
      out.sign[k] = sign;
      out.solid[k] = solid ? 1 : 0;
      out.s1[k] = 0;
      out.s2[k] = 0;
      if (!solid) {
        flat++;
        continue;
      }
      if (sign === 0) collapsed++;
      const x1 = Math.sqrt(e2);
      const x2 = (ex * fx + ey * fy + ez * fz) / x1;
      const y2 = twice / x1;
      const a0 = au / x1;
      const a1 = av / x1;
      const b0 = (bu - a0 * x2) / y2;
      const b1 = (bv - a1 * x2) / y2;
      const s1 = (Math.sqrt((a0 + b1) ** 2 + (a1 - b0) ** 2) + Math.sqrt((a0 - b1) ** 2 + (a1 + b0) ** 2)) / 2;
      const s2 = s1 > 0 ? Math.abs(a0 * b1 - a1 * b0) / s1 : 0;
      out.s1[k] = s1;
      out.s2[k] = s2;
      if (sign === 0) continue;
      const w = twice / 2;
      good += w;
      grow += w * (s1 * s1 + s2 * s2);
      shrink += w * (1 / (s1 * s1) + 1 / (s2 * s2));
      product += w * s1 * s2;
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
  f.bestScale2[shell] = Math.sqrt(shrink / grow); // c^4 = sum(s^-2) / sum(s^2)
  f.equalArea2[shell] = good / product;
  f.energy[shell] = Math.sqrt(grow * shrink) / (2 * good);
  f.box.set([u0, v0, u1, v1], 4 * shell);
  let flipped = 0;
  for (let n = 0; n < faces.length; n++)
    for (let k = t.faceStart[faces[n]!]!; k < t.faceStart[faces[n]! + 1]!; k++)
      if (out.sign[k]! * f.majority[shell]! < 0) flipped++;
  f.flipped[shell] = flipped;
}

/** Whether a triangle counts for means: it has an area in 3D and in UV. */
export const isGood = (t: TriangleFigures, k: number): boolean => t.solid[k] === 1 && t.sign[k] !== 0;
