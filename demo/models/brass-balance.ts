import type { Asset } from "../../src/core/layout/asset";
import { assemble, bar, box, lathe, placed, type Vec } from "../kit";

/** Foot, column, beam; two pans and six chains that share meshes, one pan mirrored and one with unapplied scale. */
export function brassBalance(): Asset {
  const foot: [number, number][] = [
    [7, 0],
    [7, 0.8],
    [6.2, 1.2],
    [3, 1.8],
    [1.2, 2.6],
  ];
  const column: [number, number][] = [
    [0.9, 0],
    [0.9, 4],
    [1.3, 4.4],
    [0.8, 4.9],
    [0.7, 14],
    [1.1, 14.5],
    [0.6, 15.2],
    [0, 15.6],
  ];
  const pan: [number, number][] = [
    [0, 0],
    [1.6, 0.1],
    [3, 0.5],
    [4, 1.2],
    [4.4, 1.9],
    [4.3, 2],
    [3.85, 1.35],
    [2.9, 0.68],
    [1.5, 0.28],
    [0, 0.2],
  ];
  const beam: Vec[] = Array.from({ length: 13 }, (_, i) => {
    const x = -9 + (18 * i) / 12;
    return [x, 16.4 - (x * x) / 90, 0];
  });
  const chain: Vec[] = Array.from({ length: 9 }, (_, i) => [
    (4.2 * i) / 8,
    -(8.2 * i) / 8 + 0.25 * Math.sin((Math.PI * i) / 8),
    0,
  ]);
  const hang = (side: number) =>
    [0, 120, 240].map((a, k) => ({
      name: `Chain ${side < 0 ? "left" : "right"} ${k + 1}`,
      same: "Chain",
      transform: placed([9 * side, 15.4, 0], a),
    }));
  return assemble(
    "Brass balance",
    "cm",
    [
      { name: "Brass", color: [0.66, 0.45, 0.13] },
      { name: "Iron", color: [0.12, 0.13, 0.15] },
      { name: "Slate", color: [0.16, 0.18, 0.2] },
    ],
    [
      { name: "Foot", shape: lathe(foot, 40, 1) },
      { name: "Column", shape: lathe(column, 24, 0), transform: placed([0, 2.4, 0]) },
      { name: "Beam", shape: bar(beam, (t) => 0.55 - 0.6 * Math.abs(t - 0.5), 12, 0) },
      { name: "Pan", shape: lathe(pan, 36, 0), transform: placed([-9, 5.4, 0]) },
      { name: "Pan right", same: "Pan", transform: placed([9, 5.4, 0], 0, [-1, 1, 1]) },
      { name: "Chain", shape: bar(chain, 0.12, 8, 1), transform: placed([-9, 15.4, 0], 60) },
      ...hang(-1).slice(1),
      ...hang(1),
      { name: "Weight tray", shape: box([6, 0.6, 3.2], [4, 1, 2], 2), transform: placed([-3, 0, 8.4], 0, [1, 1, 0.8]) },
    ],
  );
}
