import { execFileSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { areaOf } from "../src/core/pack/page";
import type { Item } from "../src/core/pack/raster";
import { KINDS, setOf } from "./pack-sets";

// Coverage and seconds of packing shells made by seeds: padding 8 and border 4 at 2048, quarter turns, one thread. A program
// to compare with is named by TAVLIN_PACK_PEER (it takes in.obj, prints a line of JSON with its coverage): without it that
// column is empty.

const peer = process.env.TAVLIN_PACK_PEER;
const OPTIONS = { resolution: 2048, padding: 8, margin: 4, turns: "quarter", keepScale: false, effort: 2.5 } as const;

/** What another program covers with them. */
function peerCovers(items: readonly Item[]): number | null {
  if (!peer) return null;
  const lines: string[] = [];
  let count = 0;
  for (const { triangles: q } of items) {
    const known = new Map<string, number>();
    const numberOf = (i: number): number => {
      const key = `${q[i]} ${q[i + 1]}`;
      if (!known.has(key)) {
        lines.push(`v ${key} 0`, `vt ${key}`);
        known.set(key, ++count);
      }
      return known.get(key)!;
    };
    for (let i = 0; i < q.length; i += 6) {
      const corners = [0, 2, 4].map((k) => numberOf(i + k));
      lines.push(`f ${corners.map((k) => `${k}/${k}`).join(" ")}`);
    }
  }
  const file = join(mkdtempSync(join(tmpdir(), "tavlin-bench-")), "in.obj");
  writeFileSync(file, lines.join("\n"));
  const said = execFileSync(peer, [file], { encoding: "utf8" });
  return (JSON.parse(said.trim().split("\n").at(-1)!) as { coverage: number }).coverage;
}

const sizes = process.argv.slice(2).map(Number);
for (const kind of Object.keys(KINDS) as Array<keyof typeof KINDS>)
  for (const count of sizes.length ? sizes : [12, 30, 100, 300]) {
    const items = setOf(kind, count, 7);
    const begun = performance.now();
    const { scale } = packItems(items, OPTIONS)[0]!;
    const seconds = (performance.now() - begun) / 1000;
    const covers = areaOf(items) * scale ** 2;
    const other = peerCovers(items);
    process.stdout.write(
      `${kind.padEnd(12)} ${String(count).padStart(5)}  ${covers.toFixed(3)}  ${seconds.toFixed(1).padStart(6)} s${other ? `  x ${(covers / other).toFixed(3)}` : ""}\n`,
    );
  }
