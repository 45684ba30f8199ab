import type { Asset } from "../../layout/asset";
import type { GlbBuilder } from "./builder";
import type { GltfJson } from "./document";
import { laidInSlots, slotOf, type TextureSlot } from "./texture-slots";

/** A slot of a material of the file, with the image that it names there and the one that it is to name. */
export interface NamedImage {
  readonly material: number;
  readonly slot: TextureSlot;
  readonly source: number;
  readonly redrawn: Uint8Array | undefined;
}

export function namedImages(asset: Asset, json: GltfJson): NamedImage[] {
  const redrawn = new Set(asset.images.flatMap((x) => (x.redrawn ? [x.key] : [])));
  return (json.materials ?? []).flatMap((m, material) => {
    const own = asset.materials[material];
    return own
      ? laidInSlots(own).flatMap(([slot, { image }]) => {
          const source = json.textures?.[slotOf(m, slot)?.index ?? -1]?.source;
          const bytes = redrawn.has(image) ? asset.files?.[image] : undefined;
          return source === undefined ? [] : [{ material, slot, source, redrawn: bytes }];
        })
      : [];
  });
}

/** Bytes of the file's images that were drawn anew for all that names them, by number: they go into their places. */
export function replacedImages(named: readonly NamedImage[]): Map<number, Uint8Array> {
  const out = new Map(named.flatMap(({ source, redrawn }) => (redrawn ? [[source, redrawn] as const] : [])));
  for (const { source, redrawn } of named) if (redrawn !== out.get(source)) out.delete(source);
  return out;
}

/** Where an image was drawn anew for some of what names it, and not for all, those name one beside it. */
export function nameBeside(
  builder: GlbBuilder,
  named: readonly NamedImage[],
  replaced: ReadonlyMap<number, Uint8Array>,
): void {
  const { json } = builder;
  const textures = new Map<Uint8Array, number>();
  for (const { material, slot, source, redrawn } of named) {
    if (!redrawn || replaced.has(source)) continue;
    const info = slotOf(json.materials![material]!, slot)!;
    let texture = textures.get(redrawn);
    if (texture === undefined) {
      const image = { name: json.images![source]!.name ?? "image", mimeType: "image/png" };
      const at = json.images!.push({ ...image, bufferView: builder.view(redrawn) }) - 1;
      texture = json.textures!.push({ ...json.textures![info.index]!, source: at }) - 1;
      textures.set(redrawn, texture);
    }
    info.index = texture;
  }
}
