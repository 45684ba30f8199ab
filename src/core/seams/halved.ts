import { type Bits, getBit, setBit } from "../layout/bits";
import type { Edge } from "../mesh/indices";
import { edgeFaceCount } from "../mesh/topology";
import { bisect } from "./bisect";
import type { State } from "./draft-state";
import { straightAt } from "./flow";
import { extractPiece, joinedFaces } from "./piece";
import { areaOf, type SeamField } from "./seam-field";
import type { GraphShell } from "./seam-graph";
import type { Weighed } from "./shorten";

/** Which shells are too long for a tile, in their own units. */
export interface Halving {
  /** Shells are halved that are longer than this, */
  readonly longest: number;
  /** where at least one is longer than this. */
  readonly from: number;
}

/** How often a shell is halved at the most. */
const DEEPEST = 3;
/** Directions between a shell upright and on its side that are tried. */
const DIRECTIONS = 12;

/** The side of the smallest square that coordinates fit in. @param cornerUv 2 per corner */
function sideOf(cornerUv: Float64Array): number {
  const extent = Array.from({ length: 2 * DIRECTIONS }, (_, k) => {
    const [c, s] = [Math.cos((Math.PI * k) / 2 / DIRECTIONS), Math.sin((Math.PI * k) / 2 / DIRECTIONS)];
    let [low, high] = [Infinity, -Infinity];
    for (let i = 0; i < cornerUv.length; i += 2) {
      const x = c * cornerUv[i]! + s * cornerUv[i + 1]!;
      low = Math.min(low, x);
      high = Math.max(high, x);
    }
    return high - low;
  });
  let least = Infinity;
  for (let k = 0; k < DIRECTIONS; k++) least = Math.min(least, Math.max(extent[k]!, extent[k + DIRECTIONS]!));
  return least;
}

/** Lines that are tried, and faces that may be looked at for all of them together. */
const MOST_LINES = 48;
const MOST_TRIED = 500_000;
/** What share of the area the larger part may have. */
const MOST_UNEVEN = 0.7;
/** Of the root of the area: what a unit of weight counts beside how even the parts are. */
const WEIGHS = 0.1;

const crookedHalving = (field: SeamField, faces: Uint32Array, cut: Bits): number[] =>
  Array.from(bisect(field, extractPiece(field, faces, cut)));

/** A line along the flow that parts a shell into two about as large; null where there is none. */
function straightHalving(field: SeamField, faces: Uint32Array, cut: Bits): number[] | null {
  const lines = straightLines(field, faces, cut);
  const area = areaOf(field, faces);
  const tries = Math.min(MOST_LINES, Math.ceil(MOST_TRIED / faces.length));
  const step = Math.max(1, lines.length / tries);
  let best: { line: number[]; worth: number } | null = null;
  for (let k = 0; k < lines.length; k += step) {
    const line = lines[Math.floor(k)]!;
    const tried = cut.slice();
    for (const e of line) setBit(tried, e);
    const parts = joinedFaces(field, faces, tried);
    const share = parts.length === 2 ? Math.max(...parts.map((own) => areaOf(field, own))) / area : 1;
    if (share > MOST_UNEVEN) continue;
    const weight = line.reduce((sum, e) => sum + field.weight[e]!, 0);
    const worth = -(share + (WEIGHS * weight) / Math.sqrt(area));
    if (!best || worth > best.worth) best = { line, worth };
  }
  return best?.line ?? null;
}

/** Lines that go straight on from border to border of a shell, each once. */
function straightLines(field: SeamField, faces: Uint32Array, cut: Bits): number[][] {
  const { mesh, topology: t, straight, graph } = field;
  const inside = new Set(faces);
  const isInner = (e: number): boolean => {
    if (getBit(cut, e) || edgeFaceCount(t, e as Edge) !== 2) return false;
    const k = t.edgeCornerStart[e]!;
    return [0, 1].every((side) => inside.has(t.cornerFace[t.edgeCorners[k + side]!]!));
  };
  const border = new Set<number>();
  for (const f of faces)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const e = t.cornerEdge[c]!;
      if (!isInner(e)) border.add(t.edgeVertices[2 * e]!).add(t.edgeVertices[2 * e + 1]!);
    }
  const known = new Set<string>();
  const out: number[][] = [];
  for (const from of border)
    for (let k = graph.start[from]!; k < graph.start[from + 1]!; k++) {
      const line: number[] = [];
      let [e, v] = [graph.link[k]!, graph.to[k]!];
      while (e >= 0 && isInner(e) && line.length < faces.length) {
        line.push(e);
        if (border.has(v)) break;
        e = straightAt(t, straight, e, v);
        if (e >= 0) v = t.edgeVertices[2 * e]! === v ? t.edgeVertices[2 * e + 1]! : t.edgeVertices[2 * e]!;
      }
      const key = [line[0], line.at(-1)].sort().join();
      if (!line.length || !border.has(v) || e < 0 || !isInner(e) || known.has(key)) continue;
      known.add(key);
      out.push(line);
    }
  return out;
}

/**
 * A state in which shells that are longer than some length are halved, again and again, as a tile is filled better by
 * what is not longer than most of its side; null where none is so long.
 *
 * @param weigh lays faces flat, as they are cut
 */
export async function halvedState(
  field: SeamField,
  { cut: before, shells }: State,
  { longest, from }: Halving,
  weigh: (faces: Uint32Array, cut: Bits) => Promise<Weighed | null>,
): Promise<State | null> {
  if (!shells.some((shell) => sideOf(shell.cornerUv) > from)) return null;
  const cut = before.slice();
  const out: GraphShell[] = [];
  const halve = async (shell: GraphShell, depth: number): Promise<void> => {
    const isLong = depth < DEEPEST && sideOf(shell.cornerUv) > longest;
    const edges = isLong ? (straightHalving(field, shell.faces, cut) ?? crookedHalving(field, shell.faces, cut)) : [];
    const fresh = edges.filter((e) => !getBit(cut, e));
    if (!fresh.length) {
      out.push(shell);
      return;
    }
    const tried = cut.slice();
    for (const e of fresh) setBit(tried, e);
    const halves: GraphShell[] = [];
    for (const faces of joinedFaces(field, shell.faces, tried)) {
      const weighed = await weigh(faces, tried);
      if (!weighed) {
        out.push(shell);
        return;
      }
      halves.push({ faces, area: areaOf(field, faces), ...weighed });
    }
    for (const e of fresh) setBit(cut, e);
    for (const half of halves) await halve(half, depth + 1);
  };
  for (const shell of shells) await halve(shell, 0);
  return out.length > shells.length ? { cut, shells: out } : null;
}
