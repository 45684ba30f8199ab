import { measure } from "@/core/check/measure";
import { triangleStretch } from "@/core/check/triangle-stretch";
import { decodeAsset, encodeAsset } from "@/core/formats/asset-bundle";
import { readAssets, readBrought } from "@/core/formats/read-asset";
import type { Asset } from "@/core/layout/asset";
import { deltaBetween, withDelta } from "@/core/layout/delta";
import { UserError } from "@/core/layout/user-error";
import { runEdit, runExport, runSelect } from "@/core/operations/run";
import { findFaults } from "@/core/prepare/faults";
import { derive } from "./derived";
import { describeRead } from "./describe-read";
import type { Answer, Request } from "./protocol";

// Keeps a copy of the document. An edit's result is held until the page says that it has been saved.
let asset: Asset | null = null;
let brought: readonly Asset[] = [];
let held: { run: number; asset: Asset } | null = null;

const send = (answer: Answer) => postMessage(answer);

/** Decoders are fetched from the own server when a file needs them. */
async function fetchWasm(name: string): Promise<Uint8Array> {
  const response = await fetch(`/api/decoders/${name}`);
  if (!response.ok) throw new Error(`The decoder ${name} cannot be fetched.`);
  return new Uint8Array(await response.arrayBuffer());
}

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

async function work(
  request: Extract<Request, { type: "edit" | "select" | "measure" | "export" | "read" | "faults" | "encode" | "open" }>,
): Promise<unknown> {
  if (request.type === "read") {
    brought = await readAssets(request.files, { wasm: fetchWasm, progress: reporter(request.run).progress });
    return brought.map(describeRead);
  }
  if (request.type === "encode") {
    const wanted = brought[request.index];
    if (!wanted) throw new Error("No file has been read.");
    return encodeAsset({ ...wanted, unit: request.unit });
  }
  if (request.type === "open") {
    asset = decodeAsset(new Uint8Array(request.bytes), "own");
    return { asset, derived: derive(asset, [0]) };
  }
  if (!asset) throw new Error("No asset is loaded.");
  switch (request.type) {
    case "edit": {
      const files = request.files && (await readBrought(request.files, { wasm: fetchWasm }));
      const context = { ...reporter(request.run), ...(files ? { brought: files } : {}) };
      const { result } = await runEdit(asset, request.operation, request.options, request.scope, context);
      held = { run: request.run, asset: result.asset };
      const { asset: edited, ...told } = result;
      const delta = deltaBetween(asset, edited);
      const touched = new Set([...delta.parts.map((p) => p.record.id), ...delta.layouts.map((l) => l.part)]);
      return { ...told, delta, derived: derive(edited, [...new Set(delta.layouts.map((l) => l.set))], touched) };
    }
    case "faults":
      return findFaults(asset);
    case "select":
      return runSelect(asset, request.operation, request.options, request.scope, reporter(request.run));
    case "measure":
      return {
        measures: measure(asset, request.resolution, request.set),
        stretch: triangleStretch(asset, request.set),
      };
    case "export": {
      const whole = { ...asset, name: request.name, files: request.files };
      const context = { ...reporter(request.run), wasm: fetchWasm };
      return runExport(whole, request.operation, request.options, request.scope, context);
    }
  }
}

addEventListener("message", async ({ data }: MessageEvent<Request>) => {
  if (data.type === "load") asset = data.asset;
  else if (data.type === "apply") asset = asset && withDelta(asset, data.delta);
  else if (data.type === "keep") {
    if (held?.run === data.run) asset = held.asset;
    held = null;
  } else {
    try {
      const value = await work(data);
      const moved = value instanceof Uint8Array ? [value.buffer as ArrayBuffer] : [];
      postMessage({ run: data.run, type: "done", value } satisfies Answer, { transfer: moved });
    } catch (error) {
      const message = error instanceof Error ? error.message : String(error);
      send({ run: data.run, type: "failed", message, refused: error instanceof UserError });
    }
  }
});
