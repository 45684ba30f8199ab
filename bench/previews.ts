import { layoutFromCorners } from "../src/core/layout/layout";
import { newAsset } from "../src/core/layout/new-asset";
import type { PolyMesh } from "../src/core/mesh/poly-mesh";
import { withOpened } from "./browser";
import { clothMesh } from "./cloth";

// How many previews a second a shell of 10,000 triangles gets in a browser while it follows the pointer, beside another
// of which all is measured meanwhile. Counted are the answers of the document's worker. Needs a build (npx next build).

const SECONDS = 4;

/** A cloth laid out in a square of the tile. */
function laid(mesh: PolyMesh, u: number, v: number, size: number) {
  const uv = new Float64Array(2 * mesh.cornerVertex.length);
  mesh.cornerVertex.forEach((vertex, c) => {
    uv[2 * c] = u + size * mesh.positions[3 * vertex]!;
    uv[2 * c + 1] = v + size * mesh.positions[3 * vertex + 1]!;
  });
  return { mesh, layouts: [layoutFromCorners(mesh, uv)] };
}

async function previews(side: number): Promise<string> {
  const asset = newAsset({ id: "cloths", name: "cloths", source: { name: "cloths.made", format: "made" } }, [
    { id: "p1", name: "Moved", ...laid(clothMesh(70, 3), 0.02, 0.5, 0.2) },
    { id: "p2", name: "Measured", ...laid(clothMesh(side, 3), 0.3, 0.02, 0.68) },
  ]);
  let line = "";
  await withOpened(asset, async (page, address) => {
    // Calls of the worker go with the name of what is called, and are answered under their number.
    await page.addInitScript(() => {
      const counts = { asked: 0, answered: 0, measuring: 0 };
      Object.assign(globalThis, { previewCounts: counts });
      const open = new Set<unknown>();
      const post = Worker.prototype.postMessage as (...args: unknown[]) => void;
      const heard = new WeakSet<Worker>();
      Worker.prototype.postMessage = function (this: Worker, ...args: unknown[]) {
        const message = args[0] as { id?: unknown; path?: string[]; task?: string };
        if (message?.path?.at(-1) === "update") {
          counts.asked++;
          open.add(message.id);
        }
        if (!heard.has(this)) {
          heard.add(this);
          this.addEventListener("message", ({ data }) => {
            if (open.delete((data as { id?: unknown })?.id)) counts.answered++;
          });
        }
        post.apply(this, args);
      } as typeof Worker.prototype.postMessage;
    });
    await page.goto(address);
    await page.getByText("Moved", { exact: true }).click();
    await page.keyboard.press("4");
    const grip = page.locator('[data-grip="move"]');
    await grip.waitFor();
    const box = (await grip.boundingBox())!;
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + 4, y + 4, { steps: 4 });
    // The pointer is moved from within the page: without a graphics card the browser hands out a few moves a second.
    const { answered, seconds, measured } = await page.evaluate(
      async ({ x, y, most }) => {
        const counts = (globalThis as unknown as { previewCounts: { answered: number } }).previewCounts;
        const grip = document.querySelector('[data-grip="move"]')!;
        const began = performance.now();
        const before = counts.answered;
        let measured = 0;
        for (let k = 0; performance.now() - began < 1000 * most; k++) {
          const at = { clientX: x + 30 * Math.sin(k / 20), clientY: y + 20 * Math.cos(k / 20) };
          grip.dispatchEvent(new PointerEvent("pointermove", { ...at, bubbles: true, pointerId: 1, buttons: 1 }));
          if (document.body.textContent?.includes("measuring…")) measured = performance.now() - began;
          await new Promise((resolve) => setTimeout(resolve, 2));
        }
        return { answered: counts.answered - before, seconds: (performance.now() - began) / 1000, measured };
      },
      { x, y, most: SECONDS },
    );
    await page.mouse.up();
    line = `${2 * side * side} triangles beside: ${(answered / seconds).toFixed(0)} previews a second, of ${seconds.toFixed(1)} s measured for ${(measured / 1000).toFixed(1)}`;
  });
  return line;
}

for (const side of [70, 224, 500]) console.log(await previews(side));
process.exit(0);
