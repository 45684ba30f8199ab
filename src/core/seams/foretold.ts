import { type Asset, shapesOf, type UvSetId } from "../layout/asset";
import { getBit } from "../layout/bits";
import { emptyLayout, facesOfShell, type Layout, shellName, structureOf } from "../layout/layout";
import type { Edge, Shell } from "../mesh/indices";
import { faceCount, type PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { worldPositions } from "../mesh/transform";
import { vertexGraph } from "../mesh/walks";
import { formOf, type ShellForm, shellMesh } from "../unfold/shell-mesh";

const shellWords = (n: number): string => `${n} shell${n === 1 ? "" : "s"}`;

/** What a shell is, as far as laying it flat is concerned. */
const KINDS = ["disk", "ring", "closed", "with several borders", "with handles", "faulty"] as const;
type Kind = (typeof KINDS)[number];

function kindOf(form: ShellForm): Kind {
  if (form.isDisk) return "disk";
  if (form.faults) return "faulty";
  if (!form.loops.length) return "closed";
  if (form.genus) return "with handles";
  return form.loops.length === 2 ? "ring" : "with several borders";
}

/** How many of a kind, in words. */
const words: Readonly<Record<Kind, (n: number) => string>> = {
  disk: (n) => `${n} disk${n === 1 ? "" : "s"}`,
  ring: (n) => `${n > 1 ? `${n} rings or tubes` : "1 ring or tube"}, which ${n > 1 ? "need" : "needs"} one more cut`,
  closed: (n) => `${n} closed, which ${n > 1 ? "need" : "needs"} a cut`,
  "with several borders": (n) => `${n} with three borders or more`,
  "with handles": (n) => `${n} with handles`,
  faulty: (n) => `${n} with faces wound against each other`,
};

/** Names of shells with how many faces they have: what has changed has another one. */
function printsOf(mesh: PolyMesh, layout: Layout): Map<string, Shell> {
  const s = structureOf(mesh, layout);
  return new Map(
    Array.from({ length: s.shellCount }, (_, k) => {
      const shell = k as Shell;
      return [`${shellName(s, shell)} ${facesOfShell(s, shell).length}`, shell] as const;
    }),
  );
}

/**
 * What a change of seams comes to, in a sentence: how many shells there would be in place of how many, and which of them
 * are disks, rings or closed. Seams that part nothing are told as well: what they leave is one shell in a new form.
 */
export function foretold(before: Asset, after: Asset, set: UvSetId): string {
  let [was, now, poles] = [0, 0, 0];
  const kinds = new Map<Kind, number>();
  for (const shape of shapesOf(after)) {
    const [old, layout] = [before.shapes.get(shape.id)?.layouts.get(set), shape.layouts.get(set)];
    if (!layout || old === layout) continue;
    const { mesh } = shape;
    const [left, right] = [printsOf(mesh, old ?? emptyLayout(mesh)), printsOf(mesh, layout)];
    poles += polesPassed(mesh, old ?? emptyLayout(mesh), layout);
    const touched = touchedFaces(mesh, old ?? emptyLayout(mesh), layout);
    const changed = (shell: Shell, of: Layout) =>
      facesOfShell(structureOf(mesh, of), shell).some((f) => touched.has(f));
    const world = worldPositions(mesh, shape.metric);
    for (const [print, shell] of left) if (!right.has(print) || changed(shell, old ?? emptyLayout(mesh))) was++;
    for (const [print, shell] of right) {
      if (left.has(print) && !changed(shell, layout)) continue;
      now++;
      const kind = kindOf(formOf(shellMesh(mesh, world, layout, shell)));
      kinds.set(kind, (kinds.get(kind) ?? 0) + 1);
    }
  }
  const many = poles
    ? ` New seams pass ${poles === 1 ? "a point" : `${poles} points`} where many edges meet: stretch gathers there.`
    : "";
  const list = KINDS.filter((kind) => kinds.has(kind)).map((kind) => words[kind](kinds.get(kind)!));
  const makes = was === now ? `${shellWords(now)} as before` : `${shellWords(now)} of ${was}`;
  return `Would make ${makes}: ${list.join("; ")}.${many}`;
}

/** Faces beside edges whose seams differ. */
function touchedFaces(mesh: PolyMesh, before: Layout, after: Layout): Set<number> {
  const out = new Set<number>();
  const t = topologyOf(mesh);
  for (let e = 0 as Edge; e < t.edgeCount; e++)
    if (getBit(before.cut, e) !== getBit(after.cut, e))
      for (let k = t.edgeCornerStart[e]!; k < t.edgeCornerStart[e + 1]!; k++) out.add(t.cornerFace[t.edgeCorners[k]!]!);
  return out;
}

/** Points in the surface where so many more edges meet than usual that no seam should lead through them. */
const MORE = 2;

/** How many such points new seams pass: four edges meet as a rule where faces are quads, else six. */
function polesPassed(mesh: PolyMesh, before: Layout, after: Layout): number {
  const t = topologyOf(mesh);
  const { start } = vertexGraph(mesh);
  const isQuads = mesh.cornerVertex.length > 3.5 * faceCount(mesh);
  const many = (isQuads ? 4 : 6) + MORE;
  const out = new Set<number>();
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (!getBit(after.cut, e) || getBit(before.cut, e)) continue;
    for (const v of [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!])
      if (start[v + 1]! - start[v]! >= many) out.add(v);
  }
  return out.size;
}
