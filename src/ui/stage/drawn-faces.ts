import type { PartId } from "@/core/layout/asset";

/** A part as it is drawn, and the number of its first face among all drawn faces. */
export interface Drawn {
  readonly part: PartId;
  readonly firstFace: number;
  readonly faces: number;
}

export interface DrawnFace {
  readonly part: PartId;
  readonly face: number;
}

/** The drawn part and the face that a number among all drawn faces stands for. */
export function faceNumbered(drawn: readonly Drawn[], number: number): DrawnFace | null {
  let [low, high] = [0, drawn.length - 1];
  if (number < 0 || high < 0) return null;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (drawn[middle]!.firstFace <= number) low = middle;
    else high = middle - 1;
  }
  const own = drawn[low]!;
  const face = number - own.firstFace;
  return face < own.faces ? { part: own.part, face } : null;
}
