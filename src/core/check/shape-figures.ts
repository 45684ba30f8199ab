import type { Borders } from "./borders";

/**
 * What the map from 3D to UV does to every triangle of a shape, in single precision; zero for triangles without
 * coordinates, and the first three for those without an area in 3D or in UV too.
 */
export interface TriangleFigures {
  /** Symmetric Dirichlet energy at the best scale of its shell; 1 is isometric. */
  readonly energy: Float32Array;
  /** Ratio of the singular values; 1 keeps angles. */
  readonly conformal: Float32Array;
  /** How many times larger its UV area is than the mean of its shell wants; how many times smaller, as a negative. */
  readonly areaRatio: Float32Array;
  /** World area. */
  readonly area: Float32Array;
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
  /** Sums over those, weighted by world area: ratio of singular values, change of area, square of the stretch L2. */
  readonly conformal: Float64Array;
  readonly areaRatio: Float64Array;
  readonly stretch2: Float64Array;
  /** The worst stretch of any direction in any triangle. */
  readonly stretchMost: Float64Array;
  /** Mean symmetric Dirichlet energy at the best scale; 1 is isometric. */
  readonly energy: Float64Array;
  /** UV box: u0, v0, u1, v1 of every shell. */
  readonly box: Float64Array;
  /** Where x, y and z lead in UV, u and v of each: sums over the good triangles, weighted by world area. */
  readonly rise: Float64Array;
  /** How much of it faces x, y and z, less what faces away from them: sums over the same. */
  readonly facing: Float64Array;
  /** Triangles that lie across a border of tiles. */
  readonly outside: Uint32Array;
  /** Least distance of a corner to the border of the tile that its triangle's middle is in; negative: sticks out. */
  readonly borderGap: Float64Array;
  /** World lengths: edges that are cut, shared half and half by their sides; seams between mapped faces; open borders. */
  readonly cutLength: Float64Array;
  readonly seamLength: Float64Array;
  readonly borderLength: Float64Array;
  readonly border: Borders;
  readonly triangle: TriangleFigures;
  /** Shells that were measured for these figures, the others being as they were before; null for all. */
  readonly fresh: Uint32Array | null;
}

/** Figures while they are measured. */
export interface Measuring extends Omit<ShapeFigures, "border" | "fresh"> {
  triangle: TriangleFigures;
  /** The triangles, as arrays that may be written to: copied the first time, so that what nobody changes is shared. */
  ownTriangles(): TriangleFigures;
}

const copyOf = ({ energy, conformal, areaRatio, area, sign, solid }: TriangleFigures): TriangleFigures => ({
  energy: energy.slice(),
  conformal: conformal.slice(),
  areaRatio: areaRatio.slice(),
  area: area.slice(),
  sign: sign.slice(),
  solid: solid.slice(),
});

export function emptyFigures(count: number, triangles: number): Measuring {
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
    conformal: f64(),
    areaRatio: f64(),
    stretch2: f64(),
    stretchMost: f64(),
    energy: f64(),
    box: f64(4 * count),
    rise: f64(6 * count),
    facing: f64(3 * count),
    outside: u32(),
    borderGap: f64(),
    cutLength: f64(),
    seamLength: f64(),
    borderLength: f64(),
    triangle: {
      energy: new Float32Array(triangles),
      conformal: new Float32Array(triangles),
      areaRatio: new Float32Array(triangles),
      area: new Float32Array(triangles),
      sign: new Int8Array(triangles),
      solid: new Uint8Array(triangles),
    },
    ownTriangles() {
      return this.triangle;
    },
  };
}

/** A copy whose arrays may be written to; what moving points does not change is shared. */
export function copied(f: ShapeFigures): Measuring {
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
    conformal: f.conformal.slice(),
    areaRatio: f.areaRatio.slice(),
    stretch2: f.stretch2.slice(),
    stretchMost: f.stretchMost.slice(),
    energy: f.energy.slice(),
    box: f.box.slice(),
    rise: f.rise.slice(),
    facing: f.facing.slice(),
    outside: f.outside.slice(),
    borderGap: f.borderGap.slice(),
    triangle: f.triangle,
    ownTriangles() {
      if (this.triangle === f.triangle) this.triangle = copyOf(f.triangle);
      return this.triangle;
    },
  };
}
