import { measure } from "@/core/check/measure";
import { triangleStretch } from "@/core/check/triangle-stretch";
import { readAsset } from "@/core/formats/read-asset";
import { type Asset, type LayoutChange, withLayouts } from "@/core/layout/asset";
import { UserError } from "@/core/layout/user-error";
import { runEdit, runExport } from "@/core/operations/run";
import type { Answer, Request } from "./protocol";

// Keeps a copy of the document. An edit's result is held until the page says that it has been saved.
let asset: Asset | null = null;
let held: { run: number; changes: readonly LayoutChange[] } | null = null;

const send = (answer: Answer) => postMessage(answer);

/** Progress at most every 40 ms, so that reporting costs nothing. */
function reporter(run: number) {
  let last = 0;
  return {
    progress(share: number) {
      const now = performance.now();
      if (now - last < 40) return;
      last = now;
      send({ run, type: "progress", share });
    },
  };
}

async function work(request: Extract<Request, { type: "edit" | "measure" | "export" | "read" }>): Promise<unknown> {
  if (request.type === "read") return readAsset(request.bytes, { name: request.name });
  if (!asset) throw new Error("No asset is loaded.");
  switch (request.type) {
    case "edit": {
      const { result } = await runEdit(asset, request.operation, request.options, request.scope, reporter(request.run));
      held = { run: request.run, changes: result.changes };
      return result;
    }
    case "measure":
      return {
        measures: measure(asset, request.resolution, request.set),
        stretch: triangleStretch(asset, request.set),
      };
    case "export": {
      const whole = request.source ? { ...asset, source: { ...asset.source, bytes: request.source } } : asset;
      return runExport(whole, request.operation, request.options, request.scope, reporter(request.run));
    }
  }
}

addEventListener("message", async ({ data }: MessageEvent<Request>) => {
  if (data.type === "load") asset = data.asset;
  else if (data.type === "apply") asset = asset && withLayouts(asset, data.changes);
  else if (data.type === "keep") {
    if (asset && held?.run === data.run) asset = withLayouts(asset, held.changes);
    held = null;
  } else {
    try {
      send({ run: data.run, type: "done", value: await work(data) });
    } catch (error) {
      const message = error instanceof Error ? error.message : String(error);
      send({ run: data.run, type: "failed", message, refused: error instanceof UserError });
    }
  }
});
