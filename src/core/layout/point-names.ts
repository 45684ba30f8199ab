import { Derived } from "../mesh/derived";
import type { Structure } from "./layout";

const known = new Derived<Structure, Uint32Array>("names of UV points");

/**
 * The name of every wedge as a UV point that is picked: its least corner. As with the least face of a shell, it outlives
 * edits elsewhere; any corner leads to its point. In linear time, kept with the structure.
 */
export function pointNames(s: Structure): Uint32Array {
  const found = known.get(s);
  if (found) return found;
  const out = new Uint32Array(s.wedgeCount);
  for (let c = s.cornerWedge.length - 1; c >= 0; c--) out[s.cornerWedge[c]!] = c;
  known.set(s, out);
  return out;
}

/** The name of the UV point that each corner is part of. */
export function cornerPoints(s: Structure): Uint32Array {
  const names = pointNames(s);
  const out = new Uint32Array(s.cornerWedge.length);
  for (let c = 0; c < out.length; c++) out[c] = names[s.cornerWedge[c]!]!;
  return out;
}
