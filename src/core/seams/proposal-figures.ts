import { type Asset, type ShapeId, shapesOf, type UvSetId } from "../layout/asset";
import { getBit } from "../layout/bits";
import { emptyLayout, facesOfShell, type Layout, structureOf } from "../layout/layout";
import type { Edge, Shell } from "../mesh/indices";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { worldPositions } from "../mesh/transform";
import type { PieceAnswer, PieceAsk } from "./draft-piece";
import { edgeLengths, edgesSeen, seamCosts } from "./edge-cost";
import { type Source, sourceOf } from "./piece";
import { areaOf, seamField } from "./seam-field";

/** What seams would come to, over some shapes. */
export interface ProposalFigures {
  readonly shells: number;
  /** How many of them lie flat in one piece. */
  readonly flat: number;
  /** World length of seams, and the same with each edge by how openly it is seen. */
  readonly length: number;
  readonly visible: number;
  /** Mean stretch of the shells that lie flat, by area, once they are unfolded; null where none does. */
  readonly stretch: number | null;
}

export interface ProposalInput {
  readonly set: UvSetId;
  /** The shapes that are meant. */
  readonly shapes: ReadonlySet<ShapeId>;
  /** How openly faces are seen, by shape, 0 to 1. */
  readonly seen: ReadonlyMap<ShapeId, Float32Array>;
  /** Lays pieces of a source flat. */
  readonly piecesOf: (source: Source) => (ask: PieceAsk) => Promise<PieceAnswer>;
  /** Told the share that is done; throws to stop. */
  readonly onStep: (share: number) => void;
}

const ANY = { limit: Infinity, tail: Infinity };

/** Measures the seams of a layout as they are, and what its shells would come to once they are unfolded. */
export async function proposalFigures(asset: Asset, input: ProposalInput): Promise<ProposalFigures> {
  const out = { shells: 0, flat: 0, length: 0, visible: 0 };
  let [area, stretched, done] = [0, 0, 0];
  const meant = shapesOf(asset).filter((shape) => input.shapes.has(shape.id));
  const all = meant.reduce((sum, { mesh }) => sum + mesh.faceStart.length, 0);
  for (const shape of meant) {
    const { mesh } = shape;
    const layout = shape.layouts.get(input.set) ?? emptyLayout(mesh);
    const world = worldPositions(mesh, shape.metric);
    const source = seamField(sourceOf(mesh, world, seamCosts(mesh, world)));
    const [length, visible] = seamLengths(source, layout, input.seen.get(shape.id)!);
    out.length += length;
    out.visible += visible;
    const s = structureOf(mesh, layout);
    out.shells += s.shellCount;
    const piece = input.piecesOf(source);
    const weigh = async (shell: Shell) => {
      const faces = Uint32Array.from(facesOfShell(s, shell));
      const { cornerUv, energy } = await piece({ what: "weigh", faces, cut: layout.cut, ...ANY });
      done += faces.length;
      input.onStep(done / all);
      if (!cornerUv) return;
      out.flat++;
      area += areaOf(source, faces);
      stretched += areaOf(source, faces) * energy!;
    };
    await Promise.all(Array.from({ length: s.shellCount }, (_, k) => weigh(k as Shell)));
  }
  return { ...out, stretch: area ? stretched / area : null };
}

function seamLengths({ mesh, world, topology: t }: Source, { cut }: Layout, seen: Float32Array): [number, number] {
  const lengths = edgeLengths(mesh, world);
  const openness = edgesSeen(t, seen);
  let [length, visible] = [0, 0];
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (!getBit(cut, e) || edgeFaceCount(t, e) !== 2) continue;
    length += lengths[e]!;
    visible += lengths[e]! * openness[e]!;
  }
  return [length, visible];
}

/** Edges that are seams after and were none before, by shape, ascending. */
export function addedSeams(before: Asset, after: Asset, set: UvSetId): Map<ShapeId, Uint32Array> {
  const out = new Map<ShapeId, Uint32Array>();
  for (const { id, mesh, layouts } of after.shapes.values()) {
    const [was, now] = [before.shapes.get(id)?.layouts.get(set), layouts.get(set)];
    if (!now || was === now) continue;
    const { edgeCount } = topologyOf(mesh);
    const edges: number[] = [];
    for (let e = 0; e < edgeCount; e++) if (getBit(now.cut, e) && !(was && getBit(was.cut, e))) edges.push(e);
    if (edges.length) out.set(id, Uint32Array.from(edges));
  }
  return out;
}
