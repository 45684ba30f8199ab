import type { PlacedShape } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { type Layout, shellName, structureOf } from "../../layout/layout";
import type { Way } from "../../layout/ways";
import type { Edge } from "../../mesh/indices";
import { edgeCorner, edgeFaceCount, topologyOf } from "../../mesh/topology";
import type { Mat4 } from "../../mesh/transform";
import type { MapErrors } from "../../unfold/map-errors";
import { join } from "../join";
import type { Note, Scope } from "../operation";
import { ownMesh } from "../parts/own-mesh";
import type { ShapeShell } from "./new-layouts";

// Why an unfolding came out other than expected, in words, with the edges that are the reason and an operation that helps.

/** Of picked faces that hang together, though a seam parts them into two shells. */
export function partedNotes(shape: PlacedShape, layout: Layout, { selection }: Scope): Note[] {
  const items = selection?.kind === "faces" ? selection.items.get(shape.id) : undefined;
  if (!items) return [];
  const { mesh } = shape;
  const picked = new Uint8Array(mesh.faceStart.length - 1);
  for (const f of items) picked[f] = 1;
  const t = topologyOf(mesh);
  const s = structureOf(mesh, layout);
  const shells = new Set(Array.from(items, (f) => s.faceShell[f]!));
  if (shells.size !== 2) return [];
  const edges: number[] = [];
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (edgeFaceCount(t, e) !== 2 || !getBit(layout.cut, e)) continue;
    const [a, b] = [t.cornerFace[edgeCorner(t, e)]!, t.cornerFace[edgeCorner(t, e, 1)]!];
    if (picked[a] && picked[b] && s.faceShell[a] !== s.faceShell[b]) edges.push(e);
  }
  if (!edges.length) return [];
  return [
    {
      words: `What is picked of ${shape.name} lies in two shells, each unfolded by itself: the seam that is lit parts them.`,
      shells: [...shells].map((shell) => ({ shape: shape.id, face: shellName(s, shell) })),
      edges: { shape: shape.id, edges: Uint32Array.from(edges) },
      offer: join.id,
    },
  ];
}

/** Errors above which a shell that could open along one axis alone is told of: of corners in radians, of areas as a share. */
const [BENT, UNEVEN] = [0.1, 0.15];

/** Of a shell that is stretched still, since its points went along one axis alone. */
export function onAxisNotes(
  { shape, layout, shell }: ShapeShell,
  along: Way,
  { area, angles, areas }: MapErrors,
): Note[] {
  if (along === "both" || !(angles > BENT * area || areas > UNEVEN * area)) return [];
  const words = `Shell ${shell + 1} of ${shape.name} could open along ${along} alone and is stretched still: set Along to both, and unfold it again.`;
  return [{ words, shells: [{ shape: shape.id, face: shellName(structureOf(shape.mesh, layout), shell) }] }];
}

/** How unlike two transforms may scale to count as alike. */
const ALIKE = 0.01;

/** By how much a transform scales along and between its axes, taken at one size. */
function scaling(m: Mat4): number[] {
  const products = [0, 1, 2].flatMap((a) =>
    [0, 1, 2].map((b) => m[4 * a]! * m[4 * b]! + m[4 * a + 1]! * m[4 * b + 1]! + m[4 * a + 2]! * m[4 * b + 2]!),
  );
  const size = products[0]! + products[4]! + products[8]! || 1;
  return products.map((x) => x / size);
}

/** Of a shape that is seen several times, scaled unlike itself: its lengths can be those of one alone. */
export function unlikeNotes(shape: PlacedShape): Note[] {
  const own = scaling(shape.metric);
  const unlike = shape.parts.filter(({ transform }) =>
    scaling(transform).some((x, i) => Math.abs(x - own[i]!) > ALIKE),
  );
  if (!unlike.length) return [];
  const names = unlike.map((p) => p.name).join(", ");
  const words = `Lengths of ${shape.name} are those of its largest part, and its scale along each axis differs on ${names}: ${ownMesh.title} gives a part a layout of its own.`;
  return [{ words, shells: [] }];
}
