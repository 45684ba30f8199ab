import { layoutFromCorners } from "../src/core/layout/layout";
import { withOpened } from "./browser";
import { assetOf, clothMesh } from "./cloth";

// Memory of the page and its workers with a million triangles on the table, as the browser measures it, and how long it
// takes until they are there with their figures. Needs a build (npx next build).

const SIDE = Number(process.env.TAVLIN_BENCH_SIDE ?? 707);

const mesh = clothMesh(SIDE, 3);
const uv = new Float64Array(2 * mesh.cornerVertex.length);
mesh.cornerVertex.forEach((v, c) => {
  uv[2 * c] = mesh.positions[3 * v]!;
  uv[2 * c + 1] = mesh.positions[3 * v + 1]!;
});
await withOpened(assetOf(mesh, layoutFromCorners(mesh, uv)), async (page, address) => {
  const start = performance.now();
  await page.goto(address);
  await page
    .getByText(/stretch \d/)
    .first()
    .waitFor();
  const seconds = (performance.now() - start) / 1000;
  const measured = await page.evaluate(async () => {
    type Measured = { bytes: number; breakdown: Array<{ bytes: number; types: string[] }> };
    const measure = (performance as unknown as { measureUserAgentSpecificMemory(): Promise<Measured> })
      .measureUserAgentSpecificMemory;
    return measure.call(performance);
  });
  const mb = (n: number) => `${Math.round(n / 1024 ** 2)} MB`;
  console.log(`${2 * SIDE * SIDE} triangles: on the table with figures after ${seconds.toFixed(1)} s`);
  console.log(`page and workers together ${mb(measured.bytes)}`);
  for (const part of measured.breakdown.filter((b) => b.bytes > 1024 ** 2))
    console.log(`  ${mb(part.bytes)} ${part.types.join(", ")}`);
});
process.exit(0);
