import { type Bits, setBit } from "../layout/bits";
import { formOf } from "../unfold/shell-mesh";
import { openUp } from "./open-up";
import { extractPiece, joinedFaces, pieceShell, type Source } from "./piece";

/** Cuts may leave several pieces, each of which is looked at again: so often at most. */
const ROUNDS = 6;

/**
 * Cuts some faces until every piece of them is a disk, as far as that can be had.
 *
 * @param cut seams of the part; those that are needed are set in it
 * @param tips seams also lead to far ends that could not lie flat otherwise
 * @returns whether any were needed
 */
export function openFaces(source: Source, faces: Uint32Array, cut: Bits, tips: boolean): boolean {
  let isOpened = false;
  let waiting = joinedFaces(source, faces, cut);
  for (let round = 0; round < ROUNDS && waiting.length; round++) {
    const next: Uint32Array[] = [];
    for (const own of waiting) {
      const piece = extractPiece(source, own, cut);
      if (formOf(pieceShell(source, piece)).isDisk) continue;
      const edges = openUp(source, piece, tips);
      if (!edges.length) continue;
      isOpened = true;
      for (const e of edges) setBit(cut, e);
      next.push(...joinedFaces(source, own, cut));
    }
    waiting = next;
  }
  return isOpened;
}
