import { assemble } from "../demo/kit";
import { nodePool } from "../src/compute/node-pool";
import { runEdit } from "../src/core/operations/run";
import { everything } from "../src/core/operations/scope";
import { signedArea } from "../src/core/unfold/area";
import { liveUnfold } from "../src/core/unfold/guided-unfold";
import { RelaxBrush } from "../src/core/unfold/relax-brush";
import type { ShellMesh } from "../src/core/unfold/shell-mesh";
import { unfoldShell } from "../src/core/unfold/unfold-shell";
import { quiet } from "../src/testing/assets";

// Pins that are dragged, many shells at once, and a whole layout: what is felt while one works.

function cloth(triangles: number): ShellMesh {
  const n = Math.round(Math.sqrt(triangles / 2));
  const positions: number[] = [];
  const list: number[] = [];
  for (let j = 0; j <= n; j++)
    for (let i = 0; i <= n; i++)
      positions.push(i / n, j / n, 0.08 * Math.sin((11 * i + 3 * j) / n) + 0.05 * Math.sin((17 * j) / n));
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++) {
      const a = j * (n + 1) + i;
      list.push(a, a + 1, a + n + 2, a, a + n + 2, a + n + 1);
    }
  return {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(list),
    wedges: new Uint32Array((n + 1) ** 2),
  };
}

/** Steps a second while a corner is drawn about, two others pinned; how far behind it is in the end, and flips on the way. */
function pinsDragged(triangles: number) {
  const shell = cloth(triangles);
  const first = unfoldShell(shell, { passes: 20 });
  if (!first.ok) throw new Error(first.reason);
  const { uv } = first;
  const n = Math.sqrt(uv.length / 2) - 1;
  const held = new Uint8Array(uv.length / 2);
  held[0] = held[n * (n + 1)] = 1;
  const corner = (n + 1) ** 2 - 1;
  const at = [uv[2 * corner]!, uv[2 * corner + 1]!] as const;
  const begun = performance.now();
  const live = liveUnfold(shell, uv, {
    held,
    pulled: { points: Uint32Array.of(corner), places: Float64Array.from(at) },
  });
  const setUp = performance.now() - begun;
  let [frames, flips, behind] = [0, 0, 0];
  const from = performance.now();
  while (performance.now() - from < 2000) {
    const t = (performance.now() - from) / 2000;
    const place = Float64Array.of(at[0] + 0.15 * Math.sin(6 * t), at[1] + 0.15 * Math.sin(4 * t));
    // What a frame of 60 a second leaves beside drawing; a single step where that takes longer.
    live.follow(place, 10);
    frames++;
    const now = live.uv(uv, held);
    behind = Math.hypot(now[2 * corner]! - place[0]!, now[2 * corner + 1]! - place[1]!);
    if (frames % 20 === 0)
      for (let k = 0; k < shell.triangles.length; k += 3) if (!(signedArea(now, shell.triangles, k) > 0)) flips++;
  }
  const seconds = (performance.now() - from) / 1000;
  return {
    "set up, ms": setUp.toFixed(0),
    "a second": (frames / seconds).toFixed(0),
    flips,
    "behind at the end": behind.toExponential(1),
  };
}

console.table(Object.fromEntries([10_000, 100_000].map((n) => [`pins dragged, ${n} triangles`, pinsDragged(n)])));

/** Dabs a second of the relax brush, of a twentieth of the sheet, with what is read after each of them; and flips. */
function brushed(triangles: number) {
  const shell = cloth(triangles);
  const first = unfoldShell(shell, { passes: 20 });
  if (!first.ok) throw new Error(first.reason);
  const { uv } = first;
  const begun = performance.now();
  const brush = new RelaxBrush(shell, uv, new Uint8Array(uv.length / 2).fill(1));
  const setUp = performance.now() - begun;
  let [dabs, flips] = [0, 0];
  const from = performance.now();
  while (performance.now() - from < 2000) {
    const t = (performance.now() - from) / 2000;
    brush.dab({ u: 0.5 * Math.sin(5 * t), v: 0.5 * Math.cos(3 * t), radius: 0.05 }, 0.5, dabs % 2 ? "even" : "smooth");
    brush.uv(uv);
    dabs++;
  }
  const seconds = (performance.now() - from) / 1000;
  const after = brush.uv(uv);
  for (let k = 0; k < shell.triangles.length; k += 3) if (!(signedArea(after, shell.triangles, k) > 0)) flips++;
  return { "set up, ms": setUp.toFixed(0), "a second": (dabs / seconds).toFixed(0), flips };
}
console.table(Object.fromEntries([10_000, 100_000, 1_000_000].map((n) => [`relax brush, ${n} triangles`, brushed(n)])));

/** The longest time between two looks at the signal to stop, from the beginning to the end of unfolding. */
function longestWithoutLooking(triangles: number): string {
  const shell = cloth(triangles);
  let [last, longest] = [performance.now(), 0];
  const look = () => {
    const now = performance.now();
    longest = Math.max(longest, now - last);
    last = now;
    return false;
  };
  unfoldShell(shell, { passes: 20, isOver: look });
  look();
  return `${longest.toFixed(0)} ms`;
}
console.table(
  Object.fromEntries(
    [100_000, 1_000_000].map((n) => [
      `unfolding ${n} triangles`,
      { "longest without a look at the signal to stop": longestWithoutLooking(n) },
    ]),
  ),
);

/** So many sheets of 98 triangles, each a part. */
async function manyShells(count: number, width: number) {
  const part = (k: number) => {
    const points: Array<[number, number, number]> = [];
    const faces: number[][] = [];
    for (let j = 0; j <= 7; j++)
      for (let i = 0; i <= 7; i++)
        points.push([i / 7 + 2 * (k % 40), j / 7 + 2 * Math.floor(k / 40), 0.2 * Math.sin(i + k) * Math.cos(j)]);
    for (let j = 0; j < 7; j++)
      for (let i = 0; i < 7; i++) faces.push([8 * j + i, 8 * j + i + 1, 8 * j + i + 9, 8 * j + i + 8]);
    return { name: `Sheet ${k}`, shape: { points, faces } };
  };
  const asset = assemble("Sheets", "cm", [], Array.from({ length: count }, (_, k) => part(k)) as never);
  const pool = width > 1 ? nodePool(width) : null;
  const context = { ...quiet, ...(pool ? { pool: pool.runner(undefined) } : {}) };
  // Threads are started before they are waited for.
  await runEdit(asset, "unfold", {}, everything(asset), context);
  const from = performance.now();
  await runEdit(asset, "unfold", {}, everything(asset), context);
  const ms = performance.now() - from;
  pool?.dispose();
  return ms;
}
for (const width of [1, 2])
  console.log(
    `1,000 shells of 98 triangles, ${width} worker${width > 1 ? "s" : ""}: ${(await manyShells(1000, width)).toFixed(0)} ms`,
  );
