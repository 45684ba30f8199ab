import { readFile } from "node:fs/promises";
import { join } from "node:path";
import { Missing } from "@/server/refusals";
import { binary, respond } from "@/server/respond";

/** Decoders that compressed files need, out of their packages. */
const DECODERS = new Map([["draco", "draco3dgltf/draco_decoder_gltf.wasm"]]);

export const GET = (request: Request, { params }: { params: Promise<{ name: string }> }) =>
  respond(request, async () => {
    const path = DECODERS.get((await params).name);
    if (!path) throw new Missing("There is no such decoder.");
    const bytes = await readFile(join(process.cwd(), "node_modules", path));
    return binary(new Uint8Array(bytes), "application/wasm");
  });
