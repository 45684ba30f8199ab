/** The box about points of the sheet. */
export interface SheetBox {
  readonly u0: number;
  readonly v0: number;
  readonly u1: number;
  readonly v1: number;
}

export const EMPTY_BOX: SheetBox = { u0: Infinity, v0: Infinity, u1: -Infinity, v1: -Infinity };

/** @param uv 2 per point */
export function boxOf(uv: ArrayLike<number>): SheetBox {
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < uv.length; i += 2) {
    const u = uv[i]!;
    const v = uv[i + 1]!;
    if (u < u0) u0 = u;
    if (u > u1) u1 = u;
    if (v < v0) v0 = v;
    if (v > v1) v1 = v;
  }
  return { u0, v0, u1, v1 };
}

export const around = (boxes: readonly SheetBox[]): SheetBox =>
  boxes.reduce(
    (a, b) => ({
      u0: Math.min(a.u0, b.u0),
      v0: Math.min(a.v0, b.v0),
      u1: Math.max(a.u1, b.u1),
      v1: Math.max(a.v1, b.v1),
    }),
    EMPTY_BOX,
  );

export const middleOfBox = ({ u0, v0, u1, v1 }: SheetBox): readonly [number, number] => [(u0 + u1) / 2, (v0 + v1) / 2];
