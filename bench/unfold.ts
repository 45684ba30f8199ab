import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { signedArea } from "../src/core/unfold/area";
import type { ShellMesh } from "../src/core/unfold/shell-mesh";
import { unfoldShell } from "../src/core/unfold/unfold-shell";

// Unfolding single disks of growing size, easy ones and hard ones, angles only and with the least stretch. TAVLIN_PEER names
// a native program that is run on the same disks in the same run, as: PEER lscm|arap in.obj out.obj, answering in JSON.
// TAVLIN_BENCH_TRIANGLES lists sizes.

const SIZES = (process.env.TAVLIN_BENCH_TRIANGLES ?? "10000,50000,200000").split(",").map(Number);
const PEER = process.env.TAVLIN_PEER;
/** A native program is not waited for longer than this, ms. */
const PATIENCE = 300_000;

type Place = readonly [number, number, number];

/** A sheet of so many triangles about, lifted into space. */
function sheet(triangles: number, lift: (u: number, v: number) => Place): ShellMesh {
  const n = Math.round(Math.sqrt(triangles / 2));
  const positions = new Float64Array(3 * (n + 1) * (n + 1));
  const list = new Uint32Array(6 * n * n);
  for (let j = 0; j <= n; j++) for (let i = 0; i <= n; i++) positions.set(lift(i / n, j / n), 3 * (j * (n + 1) + i));
  for (let j = 0, at = 0; j < n; j++)
    for (let i = 0; i < n; i++, at += 6) {
      const a = j * (n + 1) + i;
      list.set([a, a + 1, a + n + 2, a, a + n + 2, a + n + 1], at);
    }
  return { positions, triangles: list, wedges: new Uint32Array((n + 1) * (n + 1)) };
}

/** Ways in which limbs stand out of a round body. */
const LIMBS: readonly Place[] = [
  [0.8, 0.2, 0.56],
  [-0.8, 0.2, 0.56],
  [0.5, -0.7, 0.5],
  [-0.5, -0.7, 0.5],
  [0, 0.95, -0.3],
];
function body(x: number, y: number, z: number, length: number): Place {
  let r = 1 + 0.05 * Math.sin(9 * x) * Math.cos(8 * y + z);
  for (const [a, b, c] of LIMBS) r += length * Math.exp(-14 * (1 - (a * x + b * y + c * z)));
  return [r * x, r * y, r * z];
}

/** A round body on a sheet that closes all but a small hole. */
function closedUp(u: number, v: number, length: number): Place {
  const [p, q] = [2 * u - 1, 2 * v - 1];
  const r = Math.max(Math.abs(p), Math.abs(q));
  const d = Math.hypot(p, q) || 1;
  const polar = r * (Math.PI - 0.35);
  return body((p / d) * Math.sin(polar), (q / d) * Math.sin(polar), Math.cos(polar), length);
}

const FORMS: Readonly<Record<string, (u: number, v: number) => Place>> = {
  cloth: (u, v) => [u, v, 0.08 * Math.sin(11 * u + 3 * v) + 0.05 * Math.sin(17 * v - 4 * u * u)],
  "body, cut open by one path": (u, v) => {
    const [a, b] = [2 * Math.PI * u, 0.06 + (Math.PI - 0.12) * v];
    return body(Math.cos(a) * Math.sin(b), Math.sin(a) * Math.sin(b), Math.cos(b), 0.5);
  },
  "form with limbs": (u, v) => closedUp(u, v, 2.2),
  "head with a short border": (u, v) => closedUp(u, v, 0.25),
};

interface Judged {
  readonly energy: number;
  /** Mean of (s1 / s2 + s2 / s1) / 2, 1 where angles are kept. */
  readonly angles: number;
  readonly flips: number;
}

function energyOf({ triangles, positions }: ShellMesh, uv: Float64Array): Judged {
  // Its own sum, so that nobody's result is judged by the code that made it.
  let [sum, angles, space, flat, flips] = [0, 0, 0, 0, 0];
  const areas: number[][] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!];
    const edge = (p: number, q: number) => [0, 1, 2].map((d) => positions[3 * q + d]! - positions[3 * p + d]!);
    const [e, f] = [edge(a, b), edge(a, c)];
    const l = Math.hypot(...e);
    const x = (e[0]! * f[0]! + e[1]! * f[1]! + e[2]! * f[2]!) / l;
    const y = Math.sqrt(Math.max(0, f.reduce((s, w) => s + w * w, 0) - x * x));
    const area = (l * y) / 2;
    const own = signedArea(uv, triangles, t);
    if (!(own > 0)) flips++;
    space += area;
    flat += own;
    const [u1, v1] = [uv[2 * b]! - uv[2 * a]!, uv[2 * b + 1]! - uv[2 * a + 1]!];
    const [u2, v2] = [uv[2 * c]! - uv[2 * a]!, uv[2 * c + 1]! - uv[2 * a + 1]!];
    areas.push([area, u1 / l, v1 / l, (u2 - (x * u1) / l) / y, (v2 - (x * v1) / l) / y]);
  }
  const k = space / flat;
  for (const [area, a, b, c, d] of areas) {
    const det = (a! * d! - b! * c!) * k;
    const square = (a! * a! + b! * b! + c! * c! + d! * d!) * k;
    sum += area! * square * (1 + 1 / (det * det));
    angles += (area! * square) / (2 * Math.abs(det));
  }
  return { energy: sum / 4 / space, angles: angles / space, flips };
}

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

for (const [name, lift] of Object.entries(FORMS)) {
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
      const peer = PEER ? native(shell, method) : null;
      table[`${how}, ${(shell.triangles.length / 3).toLocaleString("en")}`] = {
        ms: ms.toFixed(0),
        energy: own ? own.energy.toFixed(4) : "none",
        angles: own ? own.angles.toFixed(4) : "none",
        flips: String(own?.flips ?? "-"),
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
