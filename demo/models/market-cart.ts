import type { Asset } from "../../src/core/layout/asset";
import { add, assemble, bar, box, lathe, type PartPlan, placed, shape, type Vec } from "../kit";

/** A hand cart of many parts: planks, spoked wheels, an awning on poles, crates and a row of jars. */
export function marketCart(): Asset {
  const plank = box([120, 2, 11], [8, 1, 1], 0);
  const wheel = shape();
  add(
    wheel,
    lathe(
      [
        [26, -2],
        [30, -2],
        [30, 2],
        [26, 2],
        [26, -2],
      ],
      40,
      1,
      false,
    ),
  );
  add(
    wheel,
    lathe(
      [
        [0, -4],
        [4, -4],
        [4, 4],
        [0, 4],
      ],
      20,
      1,
    ),
  );
  for (let k = 0; k < 8; k++) {
    const a = (Math.PI * k) / 4;
    add(
      wheel,
      bar(
        [
          [3.5, 0, 0],
          [14, 0, 0],
          [26.5, 0, 0],
        ],
        1.2,
        8,
        0,
      ),
      ([x, y, z]: Vec): Vec => [x * Math.cos(a) - z * Math.sin(a), y, x * Math.sin(a) + z * Math.cos(a)],
    );
  }
  const upright = (s: Vec): Vec => [s[0], s[2], s[1]];
  const standing = add(shape(), wheel, upright);
  for (const f of standing.faces) f.reverse();
  const awning = shape();
  const [nu, nv] = [24, 10];
  for (let j = 0; j <= nv; j++)
    for (let i = 0; i <= nu; i++) {
      const [u, v] = [i / nu, j / nv];
      awning.points.push([
        130 * u - 65,
        150 + 14 * Math.sin(Math.PI * v) - 2 * Math.abs(Math.sin(6 * Math.PI * u)) * v,
        90 * v - 45,
      ]);
    }
  for (let j = 0; j < nv; j++)
    for (let i = 0; i < nu; i++) {
      const a = j * (nu + 1) + i;
      awning.faces.push([a, a + nu + 1, a + nu + 2, a + 1]);
      awning.material.push(2 + (Math.floor(i / 2) % 2));
    }
  const jar: [number, number][] = [
    [0, 0],
    [5, 0],
    [5.6, 0.6],
    [5.8, 5],
    [5.4, 9],
    [4, 11],
    [4, 12.4],
    [4.5, 12.8],
    [4.5, 13.6],
    [3.4, 13.9],
    [0, 14.2],
  ];
  const plans: PartPlan[] = [{ name: "Plank 1", shape: plank, transform: placed([-60, 60, -40]), path: ["Bed"] }];
  for (let k = 1; k < 7; k++)
    plans.push({
      name: `Plank ${k + 1}`,
      same: "Plank 1",
      transform: placed([-60, 60, -40 + 11.5 * k]),
      path: ["Bed"],
    });
  plans.push(
    { name: "Wheel left", shape: standing, transform: placed([0, 30, -46]), path: ["Wheels"] },
    { name: "Wheel right", same: "Wheel left", transform: placed([0, 30, 46], 0, [1, 1, -1]), path: ["Wheels"] },
    {
      name: "Axle",
      shape: bar(
        [
          [0, 30, -44],
          [0, 30, 0],
          [0, 30, 44],
        ],
        2,
        12,
        1,
      ),
      path: ["Wheels"],
    },
    {
      name: "Pole 1",
      shape: bar(
        [
          [0, 62, 0],
          [0, 106, 0],
          [0, 150, 0],
        ],
        1.6,
        12,
        0,
      ),
      transform: placed([-58, 0, -40]),
      path: ["Awning"],
    },
    { name: "Pole 2", same: "Pole 1", transform: placed([58, 0, -40]), path: ["Awning"] },
    { name: "Pole 3", same: "Pole 1", transform: placed([-58, 0, 40]), path: ["Awning"] },
    { name: "Pole 4", same: "Pole 1", transform: placed([58, 0, 40]), path: ["Awning"] },
    { name: "Awning cloth", shape: awning, path: ["Awning"] },
    { name: "Crate", shape: box([30, 18, 24], [3, 2, 2], 0), transform: placed([-52, 62, -34]), path: ["Goods"] },
    { name: "Crate low", same: "Crate", transform: placed([-52, 62, 0], 0, [1, 0.6, 1]), path: ["Goods"] },
    {
      name: "Jar 1",
      shape: lathe(jar, 28, [4, 4, 4, 4, 4, 4, 4, 1, 1, 1]),
      transform: placed([0, 62, -28]),
      path: ["Goods"],
    },
  );
  for (let k = 1; k < 6; k++)
    plans.push({
      name: `Jar ${k + 1}`,
      same: "Jar 1",
      transform: placed([13 * (k % 3), 62, -28 + 15 * Math.floor(k / 3)]),
      path: ["Goods"],
    });
  return assemble(
    "Market cart",
    "cm",
    [
      { name: "Ash planks", color: [0.42, 0.28, 0.15] },
      { name: "Iron", color: [0.12, 0.13, 0.15] },
      { name: "Awning red", color: [0.5, 0.08, 0.09] },
      { name: "Awning cream", color: [0.8, 0.72, 0.55] },
      { name: "Glazed clay", color: [0.16, 0.26, 0.34] },
    ],
    plans,
  );
}
