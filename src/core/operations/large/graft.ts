import { type Asset, type PlacedShape, withLayouts } from "../../layout/asset";
import { type Bits, getBit } from "../../layout/bits";
import { facesOfShell, type Layout, shellName, shellNamed, structureOf } from "../../layout/layout";
import { lockedEdges } from "../../layout/seam-locks";
import { UserError } from "../../layout/user-error";
import type { Edge, Shell } from "../../mesh/indices";
import { edgeFaceCount, topologyOf } from "../../mesh/topology";
import { worldPositions } from "../../mesh/transform";
import { edgeLengths } from "../../seams/edge-cost";
import { groupsOf } from "../../select/groups";
import { flagsAt } from "../../select/grow";
import type { EditResult, Scope } from "../operation";
import { shellsInScope } from "../scope";
import { count } from "../words";
import { joinEdges } from "./join";

/** Of the longest border: from how long on another one makes it unclear which is meant. */
const UNCLEAR = 0.8;

/** Joins each picked shell to the neighbour with which it has the longest border in one piece; the picked one moves. */
export function run(asset: Asset, scope: Scope, { longest }: { readonly longest: boolean }): EditResult {
  let total = 0;
  const changes = shellsInScope(asset, scope).flatMap(({ shape, layout, shells }) => {
    const s = structureOf(shape.mesh, layout);
    const locked = lockedEdges(asset, scope.set, shape);
    const names = Array.from(shells, (shell) => shellName(s, shell as Shell));
    let now = layout;
    for (const name of names) {
      const shell = shellNamed(structureOf(shape.mesh, now), name);
      // Another one was grafted onto it meanwhile.
      if (shell === null) continue;
      const edges = sharedBorder(shape, now, shell, longest, locked);
      if (!edges.length) continue;
      now = grafted(shape, now, shell, edges);
      total++;
    }
    return now === layout ? [] : [{ shape: shape.id, set: scope.set, layout: now }];
  });
  if (!total) throw new UserError("None of these shells shares a seam with another that is not locked.");
  return { asset: withLayouts(asset, changes), words: `Graft ${count(total, "shell")}`, notes: [] };
}

/** Joined along a whole border, or, where that cannot lie flat, as with a cap on its tube, hinged at the longest edge. */
function grafted(shape: PlacedShape, layout: Layout, shell: Shell, edges: readonly number[]): Layout {
  try {
    return joinEdges(shape, layout, Uint32Array.from(edges), shell);
  } catch (error) {
    if (!(error instanceof UserError) || edges.length < 2) throw error;
    const lengths = edgeLengths(shape.mesh, worldPositions(shape.mesh, shape.metric));
    const hinge = edges.reduce((a, b) => (lengths[b]! > lengths[a]! ? b : a));
    return joinEdges(shape, layout, Uint32Array.of(hinge), shell);
  }
}

/** A border in one piece that a shell shares with another. */
export interface Border {
  readonly other: Shell;
  readonly edges: readonly number[];
  readonly length: number;
}

/** The longest border in one piece that a shell shares with another. @throws UserError where two are about as long */
function sharedBorder(
  shape: PlacedShape,
  layout: Layout,
  shell: Shell,
  longest: boolean,
  locked: Bits | null,
): readonly number[] {
  const borders = bordersOf(shape, layout, shell, locked).sort((a, b) => b.length - a.length);
  const [best] = borders;
  if (!best) return [];
  const rival = borders.find((b) => b.other !== best.other);
  if (!longest && rival && rival.length > UNCLEAR * best.length)
    throw new UserError(
      `Shell ${shell + 1} of ${shape.name} touches shells ${best.other + 1} and ${rival.other + 1} about alike: pick the edges of one side and Join, or let the longest side be taken.`,
    );
  return best.edges;
}

/** Every border in one piece that a shell shares with another one. */
export function bordersOf(shape: PlacedShape, layout: Layout, shell: Shell, locked: Bits | null): Border[] {
  const { mesh } = shape;
  const t = topologyOf(mesh);
  const s = structureOf(mesh, layout);
  const lengths = edgeLengths(mesh, worldPositions(mesh, shape.metric));
  const byOther = new Map<Shell, number[]>();
  for (const f of facesOfShell(s, shell))
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const e: Edge = t.cornerEdge[c]!;
      if (edgeFaceCount(t, e) !== 2 || !getBit(layout.cut, e) || (locked && getBit(locked, e))) continue;
      const k = t.edgeCornerStart[e]!;
      const sides = [0, 1].map((side) => s.faceShell[t.cornerFace[t.edgeCorners[k + side]!]!]!);
      const other = sides.find((x) => x !== shell);
      if (other === undefined) continue;
      const list = byOther.get(other);
      if (list) list.push(e);
      else byOther.set(other, [e]);
    }
  return [...byOther].flatMap(([other, edges]) =>
    groupsOf(mesh, "edges", flagsAt(Uint32Array.from(edges), t.edgeCount)).map((run) => ({
      other,
      edges: Array.from(run),
      length: run.reduce((sum, e) => sum + lengths[e]!, 0),
    })),
  );
}
