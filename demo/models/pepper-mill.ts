import type { Asset } from "../../src/core/layout/asset";
import { assemble, bar, lathe, placed, type Vec } from "../kit";

/** Turned walnut body, brass collar, a bent crank with a knob. The two rings share one mesh. */
export function pepperMill(): Asset {
  const body: [number, number][] = [
    [2.9, 0],
    [3.0, 0.25],
    [3.0, 0.9],
    [2.7, 1.3],
    [2.2, 2.4],
    [1.85, 3.8],
    [1.8, 5.0],
    [2.1, 6.4],
    [2.45, 7.6],
    [2.5, 8.4],
    [2.2, 8.8],
  ];
  const lid: [number, number][] = [
    [2.35, 0],
    [2.4, 0.2],
    [2.2, 0.75],
    [1.6, 1.35],
    [0.9, 1.65],
    [0.55, 1.72],
  ];
  const bend = Array.from({ length: 9 }, (_, i): Vec => {
    const a = Math.PI / 2 - (i / 8) * (Math.PI / 2);
    return [1 - Math.sin(a) * 1, 12.2 + Math.cos(a) * 1, 0];
  });
  const crank: Vec[] = [
    [0, 10.4, 0],
    [0, 11, 0],
    [0, 11.6, 0],
    ...bend,
    [2, 13.25, 0],
    [3, 13.35, 0],
    [4, 13.45, 0],
    [4.6, 13.5, 0],
  ];
  const knob: [number, number][] = [
    [0, 0],
    [0.45, 0.05],
    [0.8, 0.35],
    [0.95, 0.8],
    [0.85, 1.25],
    [0.5, 1.55],
    [0, 1.65],
  ];
  const ring: [number, number][] = [
    [2.28, 0],
    [2.42, 0.1],
    [2.42, 0.3],
    [2.28, 0.4],
  ];
  return assemble(
    "Pepper mill",
    "cm",
    [
      { name: "Walnut", color: [0.28, 0.13, 0.06] },
      { name: "Brass", color: [0.66, 0.45, 0.13] },
      { name: "Olive wood", color: [0.5, 0.34, 0.14] },
    ],
    [
      { name: "Body", shape: lathe(body, 32, 0) },
      { name: "Lid", shape: lathe(lid, 32, [2]), transform: placed([0, 9.0, 0]) },
      { name: "Ring", shape: lathe(ring, 32, 1), transform: placed([0, 8.55, 0]) },
      { name: "Ring below", same: "Ring", transform: placed([0, 0.85, 0], 0, [1.27, 1, 1.27]) },
      { name: "Crank", shape: bar(crank, (t) => 0.34 - 0.06 * t, 16, 1) },
      { name: "Knob", shape: lathe(knob, 20, 2), transform: placed([4.6, 13.5, 0]) },
    ],
  );
}
