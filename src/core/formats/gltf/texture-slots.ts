import type { Channel, LaidImage, Material } from "../../layout/asset";
import type { GltfJson } from "./document";

type MaterialJson = NonNullable<GltfJson["materials"]>[number];
type Info = NonNullable<NonNullable<MaterialJson["pbrMetallicRoughness"]>["baseColorTexture"]>;

/** Where a material of glTF names images: its base colour, and other channels. Roughness and metal share one. */
export const CHANNEL_SLOTS = ["roughness", "normal", "occlusion", "emission"] as const satisfies readonly Channel[];
export type TextureSlot = (typeof CHANNEL_SLOTS)[number] | "color";

const NAMES = { normal: "normalTexture", occlusion: "occlusionTexture", emission: "emissiveTexture" } as const;

/** The images that a material lays, each with its slot; those of channels that have none are left out. */
export const laidInSlots = ({ texture, maps = [] }: Material): Array<readonly [TextureSlot, LaidImage]> => [
  ...(texture ? [["color", texture] as const] : []),
  ...maps.flatMap((map) => {
    const slot = CHANNEL_SLOTS.find((channel) => channel === map.channel);
    return slot ? [[slot, map] as const] : [];
  }),
];

/** What a material says of an image in a slot. */
export function slotOf(m: MaterialJson, slot: TextureSlot): Info | undefined {
  if (slot === "color") return m.pbrMetallicRoughness?.baseColorTexture;
  return slot === "roughness" ? m.pbrMetallicRoughness?.metallicRoughnessTexture : m[NAMES[slot]];
}

/** Names an image in a slot of a material. */
export function fillSlot(m: MaterialJson, slot: TextureSlot, info: Info): void {
  if (slot === "color") m.pbrMetallicRoughness = { ...m.pbrMetallicRoughness, baseColorTexture: info };
  else if (slot === "roughness") m.pbrMetallicRoughness = { ...m.pbrMetallicRoughness, metallicRoughnessTexture: info };
  else m[NAMES[slot]] = info;
}
