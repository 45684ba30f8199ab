import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { unfoldGuided } from "../src/core/unfold/guided-unfold";
import type { ShellMesh } from "../src/core/unfold/shell-mesh";
import { unfoldShell } from "../src/core/unfold/unfold-shell";
import { energyOf, FORMS, type Judged, sheet } from "./forms";

// Unfolding single disks of growing size, easy ones and hard ones, angles only and with the least stretch. TAVLIN_PEER names
// a native program that is run on the same disks in the same run, as: PEER lscm|arap in.obj out.obj, answering in JSON.
// TAVLIN_BENCH_TRIANGLES lists sizes.

const SIZES = (process.env.TAVLIN_BENCH_TRIANGLES ?? "10000,50000,200000").split(",").map(Number);
const PEER = process.env.TAVLIN_PEER;
/** A native program is not waited for longer than this, ms. */
const PATIENCE = 300_000;

function native(shell: ShellMesh, method: string): (Judged & { ms: number }) | string {
  const folder = mkdtempSync(join(tmpdir(), "tavlin-bench-"));
  try {
    const rows: string[] = [];
    for (let i = 0; i < shell.positions.length; i += 3) rows.push(`v ${shell.positions.subarray(i, i + 3).join(" ")}`);
    for (let t = 0; t < shell.triangles.length; t += 3)
      rows.push(`f ${Array.from(shell.triangles.subarray(t, t + 3), (v) => v + 1).join(" ")}`);
    const [from, to] = [join(folder, "in.obj"), join(folder, "out.obj")];
    writeFileSync(from, rows.join("\n"));
    const said = JSON.parse(
      execFileSync(PEER!, [method, from, to], { timeout: PATIENCE, stdio: ["ignore", "pipe", "ignore"] }).toString(),
    );
    const uv = new Float64Array((2 * shell.positions.length) / 3);
    let at = 0;
    const texture: number[] = [];
    for (const line of readFileSync(to, "utf8").split("\n")) {
      if (line.startsWith("vt ")) texture.push(...line.slice(3).trim().split(/\s+/).slice(0, 2).map(Number));
      if (line.startsWith("f "))
        for (const corner of line.slice(2).trim().split(/\s+/)) {
          const k = Number(corner.split("/")[1]) - 1;
          const v = shell.triangles[at++]!;
          uv[2 * v] = texture[2 * k]!;
          uv[2 * v + 1] = texture[2 * k + 1]!;
        }
    }
    return { ms: said.ms ?? said.milliseconds ?? said.seconds * 1000, ...energyOf(shell, uv) };
  } catch (error) {
    return (error as { killed?: boolean }).killed ? `not done in ${PATIENCE / 1000} s` : "failed";
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** A shell that is no other's: nothing is known of it from a run before. */
const another = (shell: ShellMesh, run: number): ShellMesh => ({
  ...shell,
  positions: shell.positions.map((x) => x * (1 + run / 1024)),
});

/** The best of some runs, ms. */
function best(act: (run: number) => void, runs: number): number {
  let least = Infinity;
  for (let k = 0; k < runs; k++) {
    const from = performance.now();
    act(k);
    least = Math.min(least, performance.now() - from);
  }
  return least;
}

/** Per cent by which an energy is above our own least: what passes come to that go on until one promises 0.001 %. */
function aboveLeast(shell: ShellMesh, uv: Float64Array, energy: number): string {
  const least = unfoldGuided(shell, uv, {}, { passes: 200 });
  return least.ok ? `${(100 * (energy / least.energy - 1)).toFixed(2)} %` : "none";
}

for (const [name, lift] of Object.entries(FORMS)) {
  /** Time and triangles of the size before, by how they are unfolded. */
  const last = new Map<string, readonly [ms: number, triangles: number]>();
  const table: Record<string, Record<string, string>> = {};
  for (const size of SIZES) {
    const shell = sheet(size, lift);
    // Small ones so often that what is compiled while it runs is compiled by then.
    const runs = size > 100_000 ? 1 : size > 20_000 ? 3 : 15;
    for (const [how, passes, method] of [
      ["angles", 0, "lscm"],
      ["stretch", 20, "arap"],
    ] as const) {
      let uv: Float64Array | null = null;
      const shells = Array.from({ length: runs }, (_, k) => another(shell, 2 * k + (passes ? 1 : 0)));
      const ms = best((run) => {
        const result = unfoldShell(shells[run]!, { passes });
        uv = result.ok ? result.uv : null;
      }, runs);
      const own = uv ? energyOf(shell, uv) : null;
      const count = shell.triangles.length / 3;
      const [before, fewer] = last.get(how) ?? [0, 0];
      last.set(how, [ms, count]);
      const peer = PEER ? native(shell, method) : null;
      table[`${how}, ${(shell.triangles.length / 3).toLocaleString("en")}`] = {
        ms: ms.toFixed(0),
        energy: own ? own.energy.toFixed(4) : "none",
        angles: own ? own.angles.toFixed(4) : "none",
        flips: String(own?.flips ?? "-"),
        growth: before ? `n^${(Math.log(ms / before) / Math.log(count / fewer)).toFixed(2)}` : "",
        "above our least": own && passes && count < 100_000 ? aboveLeast(shell, uv!, own.energy) : "",
        ...(peer && typeof peer !== "string"
          ? {
              native: peer.ms.toFixed(0),
              ratio: (ms / peer.ms).toFixed(3),
              "its energy": peer.energy.toFixed(4),
              "its angles": peer.angles.toFixed(4),
              "its flips": String(peer.flips),
            }
          : peer
            ? { native: peer }
            : {}),
      };
    }
  }
  console.log(name);
  console.table(table);
}
