import type { Asset } from "../../src/core/layout/asset";
import { assemble, bar, lathe, placed, type Vec } from "../kit";

/** A ribbed paper shade between two wooden rims, a wire handle and a tassel. */
export function paperLantern(): Asset {
  const ribs = 12;
  const shade: [number, number][] = [];
  for (let i = 0; i <= 2 * ribs; i++) {
    const t = i / (2 * ribs);
    const belly = 3 + 6.2 * Math.sin(Math.PI * (0.08 + 0.84 * t));
    shade.push([belly + (i % 2 ? 0.22 : -0.1), 16 * t]);
  }
  const rim: [number, number][] = [
    [3.9, 0],
    [4.9, 0],
    [4.9, 0.9],
    [3.9, 0.9],
    [3.9, 0],
  ];
  const handle: Vec[] = Array.from({ length: 21 }, (_, i) => {
    const a = (Math.PI * i) / 20;
    return [4.4 * Math.cos(a), 17 + 6 * Math.sin(a), 0];
  });
  const tassel: [number, number][] = [
    [0.9, 0],
    [0.75, 2.6],
    [0.4, 4],
    [0.5, 4.4],
    [0.3, 4.8],
  ];
  return assemble(
    "Paper lantern",
    "cm",
    [
      { name: "Paper", color: [0.72, 0.2, 0.09] },
      { name: "Cedar", color: [0.2, 0.09, 0.05] },
      { name: "Silk", color: [0.6, 0.4, 0.08] },
    ],
    [
      { name: "Shade", shape: lathe(shade, 36, 0, false) },
      { name: "Rim", shape: lathe(rim, 36, 1, false), transform: placed([0, -0.6, 0]) },
      { name: "Rim above", same: "Rim", transform: placed([0, 15.7, 0]) },
      { name: "Handle", shape: bar(handle, 0.2, 10, 1) },
      { name: "Tassel", shape: lathe(tassel, 16, 2), transform: placed([0, -5.6, 0]) },
    ],
  );
}
