import { withKernels } from "../src/core/kernels/kernels";
import { areaOf } from "../src/core/pack/page";
import { searchRoughly } from "../src/core/pack/rough-search";
import { Settling } from "../src/core/pack/settle";
import { waysOf } from "../src/core/pack/ways";
import { setOf } from "./pack-sets";

const b = 4 / 2048;
const page = { u0: b, v0: b, w: 1 - 2 * b, h: 1 - 2 * b, texels: 2048 };
const [kinds, counts] = [process.argv[2]!, process.argv[3]!];
for (const kind of kinds.split(","))
  for (const n of counts.split(",").map(Number))
    for (let k = 0; k < 2; k++) {
      const items = setOf(kind as any, n, 7);
      const A = areaOf(items);
      const packing = { page, unit: 1, padding: 8 / 2048, turns: "quarters" as const, effort: 0, work: 0, seed: 0 };
      const ways = items.map((i) => waysOf(i, packing));
      const t3 = performance.now();
      let f1: any;
      searchRoughly(
        items,
        { ...packing, ways },
        () => {},
        (f) => {
          f1 = f;
        },
      );
      const t4 = performance.now();
      const quarters = ways.map((o) => o[0]!.quarters.length);
      const out: string[] = [];
      withKernels((kernels) => {
        const s = new Settling(
          kernels,
          items,
          { ...packing, quarters, free: false, work: 1e9, draft: true },
          f1.placements,
          () => {},
          (sc) => {
            out.push(((performance.now() - t4) / 1000).toFixed(2) + ":" + (A * sc * sc).toFixed(3));
          },
        );
        out.push("setup " + ((performance.now() - t4) / 1000).toFixed(2));
        s.run();
        out.push("work " + kernels.code.settleWork());
      });
      const t5 = performance.now();
      const c = (s: number) => (A * s * s).toFixed(3);
      if (k)
        console.log(
          kind,
          n,
          "rough",
          (t4 - t3).toFixed(0),
          c(f1.scale),
          "settle",
          (t5 - t4).toFixed(0),
          out.slice(0, 6).join(" "),
          "...",
          out.slice(-3).join(" "),
        );
    }
