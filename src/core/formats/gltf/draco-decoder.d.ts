declare module "draco3dgltf/draco_decoder_gltf_nodejs.js" {
  import type { DecoderModule } from "draco3dgltf";
  export default function create(options: { wasmBinary: ArrayBuffer }): Promise<DecoderModule>;
}
