import { z } from "zod";
import { Derived } from "../mesh/derived";
import type { PolyMesh } from "../mesh/poly-mesh";
import { SELECTION_KINDS, type SelectionKind } from "./selection-kind";

/** Named selections that an asset may hold. */
export const MOST_NAMED = 200;

const Own = z.object({
  shape: z.string().min(1).max(200),
  /** Of the mesh that the elements are of: on another the same numbers mean others. */
  print: z.string().max(40),
  runs: z.string().max(20_000_000),
});

/** Elements that were picked once, kept under a name. */
export const NamedSelection = z.object({
  name: z.string().min(1).max(100),
  kind: z.enum(SELECTION_KINDS),
  shapes: z.array(Own),
});
export interface NamedSelection {
  readonly name: string;
  readonly kind: SelectionKind;
  readonly shapes: ReadonlyArray<z.infer<typeof Own>>;
}

const prints = new Derived<PolyMesh, { value: string }>("prints of meshes");

/** What tells meshes apart by how their faces are joined (FNV-1a over corners and faces). */
export function facesPrint(mesh: PolyMesh): string {
  const known = prints.get(mesh);
  if (known) return known.value;
  let [a, b] = [0x811c9dc5, 0x01000193];
  for (const list of [mesh.cornerVertex, mesh.faceStart])
    for (let i = 0; i < list.length; i++) {
      a = Math.imul(a ^ list[i]!, 0x01000193);
      b = Math.imul(b + list[i]!, 0x85ebca6b) ^ (b >>> 13);
    }
  const value = `${mesh.cornerVertex.length.toString(36)}-${(a >>> 0).toString(36)}-${(b >>> 0).toString(36)}`;
  prints.set(mesh, { value });
  return value;
}

/** Numbers as runs: how many are left out, then how many follow one another, again and again, in base 36. @param items ascending */
export function runsOf(items: Uint32Array): string {
  const out: string[] = [];
  let next = 0;
  for (let i = 0; i < items.length; ) {
    const from = items[i]!;
    let to = from + 1;
    for (i++; i < items.length && items[i] === to; i++) to++;
    out.push((from - next).toString(36), (to - from).toString(36));
    next = to;
  }
  return out.join(" ");
}

/** The numbers of some runs. @param below none is as large as this; what is not fit ends the list */
export function itemsOfRuns(runs: string, below: number): Uint32Array {
  const out: number[] = [];
  const parts = runs ? runs.split(" ").map((x) => Number.parseInt(x, 36)) : [];
  let at = 0;
  for (let k = 0; k + 1 < parts.length; k += 2) {
    at += parts[k]!;
    for (let n = parts[k + 1]!; n > 0 && at < below; n--) out.push(at++);
  }
  return Uint32Array.from(out);
}
