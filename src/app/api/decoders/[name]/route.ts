import { readFile } from "node:fs/promises";
import { join } from "node:path";
import { Missing } from "@/server/refusals";
import { binary, respond } from "@/server/respond";

/** What reads compressed files and images, out of its packages. */
const DECODERS = new Map([
  ["draco", "draco3dgltf/draco_decoder_gltf.wasm"],
  ["png", "@jsquash/png/codec/pkg/squoosh_png_bg.wasm"],
  ["jpeg", "@jsquash/jpeg/codec/dec/mozjpeg_dec.wasm"],
]);

export const GET = (request: Request, { params }: { params: Promise<{ name: string }> }) =>
  respond(request, async () => {
    const path = DECODERS.get((await params).name);
    if (!path) throw new Missing("There is no such decoder.");
    const bytes = await readFile(join(process.cwd(), "node_modules", path));
    return binary(new Uint8Array(bytes), "application/wasm");
  });
