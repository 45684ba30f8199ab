import { iota } from "../numeric/iota";
/** Index that stands for "none" in Uint32 arrays (no material, no group). */
export const NONE = 0xffffffff;

/** Where the elements of a mesh stood in the file they were read from, for writing back. */
export interface Origin {
  /** File vertex (0-based) of every mesh vertex. */
  readonly vertex: Uint32Array;
  /** File face (0-based, over the whole file; in glTF the triangle within its mesh) of every mesh face. */
  readonly face: Uint32Array;
}

/** A polygon mesh in typed arrays. Never changed after reading; a repair makes a new one. */
export interface PolyMesh {
  /** 3 per vertex, double precision, right-handed, in the part's own space. */
  readonly positions: Float64Array;
  /** faces + 1; corners of face f are faceStart[f] .. faceStart[f + 1] - 1, in file order. */
  readonly faceStart: Uint32Array;
  /** Vertex of every corner. */
  readonly cornerVertex: Uint32Array;
  /** Index into the asset's materials, or NONE, per face. */
  readonly faceMaterial: Uint32Array;
  /** Index into `groups`, or NONE, per face. */
  readonly faceGroup: Uint32Array;
  readonly groups: readonly string[];
  /** 3 per corner, when the file gave normals. */
  readonly cornerNormal?: Float32Array;
  readonly origin: Origin;
}

export const faceCount = (mesh: PolyMesh): number => mesh.faceStart.length - 1;
export const vertexCount = (mesh: PolyMesh): number => mesh.positions.length / 3;
export const cornerCount = (mesh: PolyMesh): number => mesh.cornerVertex.length;

/** Whether a face has a vertex twice. */
export function repeatsVertex({ faceStart, cornerVertex }: PolyMesh, f: number): boolean {
  for (let c = faceStart[f]! + 1; c < faceStart[f + 1]!; c++)
    for (let k = faceStart[f]!; k < c; k++) if (cornerVertex[k] === cornerVertex[c]) return true;
  return false;
}

/**
 * Builds a mesh from positions and polygons given as vertex lists; materials and groups default to none.
 *
 * @param positions 3 per vertex
 * @param faces vertex indices of every polygon
 */
export function meshFromPolygons(
  positions: ArrayLike<number>,
  faces: readonly (readonly number[])[],
  extra: { faceMaterial?: ArrayLike<number>; faceGroup?: ArrayLike<number>; groups?: readonly string[] } = {},
): PolyMesh {
  const faceStart = new Uint32Array(faces.length + 1);
  for (let f = 0; f < faces.length; f++) faceStart[f + 1] = faceStart[f]! + faces[f]!.length;
  const cornerVertex = new Uint32Array(faceStart[faces.length]!);
  for (let f = 0; f < faces.length; f++) cornerVertex.set(faces[f]!, faceStart[f]!);
  return {
    positions: Float64Array.from(positions),
    faceStart,
    cornerVertex,
    faceMaterial: extra.faceMaterial ? Uint32Array.from(extra.faceMaterial) : new Uint32Array(faces.length).fill(NONE),
    faceGroup: extra.faceGroup ? Uint32Array.from(extra.faceGroup) : new Uint32Array(faces.length).fill(NONE),
    groups: extra.groups ?? [],
    origin: {
      vertex: iota(positions.length / 3),
      face: iota(faces.length),
    },
  };
}
