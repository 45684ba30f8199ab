/** Cloth and spice colours, linear RGB, for materials whose file gives none. */
const DYES: ReadonlyArray<readonly [number, number, number]> = [
  [0.47, 0.3, 0.17],
  [0.26, 0.33, 0.39],
  [0.58, 0.37, 0.06],
  [0.32, 0.06, 0.1],
  [0.18, 0.31, 0.16],
  [0.62, 0.55, 0.42],
  [0.1, 0.13, 0.35],
  [0.5, 0.16, 0.06],
];

export const materialColor = (index: number): readonly [number, number, number] => DYES[index % DYES.length]!;
