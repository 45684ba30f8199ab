import { readFile } from "node:fs/promises";
import { join } from "node:path";
import { UserError } from "@/core/layout/user-error";
import { binary, respond } from "@/server/respond";

/** Decoders that compressed files need, out of their packages. */
const DECODERS: Record<string, string> = { draco: "draco3dgltf/draco_decoder_gltf.wasm" };

export const GET = (_: Request, { params }: { params: Promise<{ name: string }> }) =>
  respond(async () => {
    const path = DECODERS[(await params).name];
    if (!path) throw new UserError("There is no such decoder.");
    const bytes = await readFile(join(process.cwd(), "node_modules", path));
    return binary(new Uint8Array(bytes), "application/wasm");
  });
