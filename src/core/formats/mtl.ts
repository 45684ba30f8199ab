import {
  type Asset,
  type Channel,
  fileKey,
  type Image,
  type LaidImage,
  laidImages,
  type Material,
} from "../layout/asset";
import { linearOf, srgbOf } from "../numeric/srgb";
import { materialColor } from "./material-color";
import { baseName, type FileIn, findBeside, imageEnding, imageType } from "./read-options";

interface Found {
  color?: [number, number, number];
  map?: string;
  readonly maps: Map<Channel, string>;
}

/** Statements that name images of other channels, in small letters. */
const STATEMENTS: ReadonlyMap<string, Channel> = new Map([
  ["map_ks", "specular"],
  ["map_d", "opacity"],
  ["map_ke", "emission"],
  ["map_pr", "roughness"],
  ["map_pm", "metal"],
  ["norm", "normal"],
  ["map_kn", "normal"],
  ["map_bump", "bump"],
  ["bump", "bump"],
]);

/** How each channel is written; occlusion has no statement. */
const WRITTEN: Readonly<Partial<Record<Channel, string>>> = {
  specular: "map_Ks",
  opacity: "map_d",
  emission: "map_Ke",
  roughness: "map_Pr",
  metal: "map_Pm",
  normal: "norm",
  bump: "map_Bump",
};

/** Colours and base images of an MTL file, by material; lines it does not know are passed over. */
function parseMtl(text: string): Map<string, Found> {
  const out = new Map<string, Found>();
  let now: Found | undefined;
  for (const line of text.split(/\r\n|\r|\n/)) {
    const [word, ...rest] = line.trim().split(/\s+/);
    if (word === "newmtl") {
      now = { maps: new Map() };
      out.set(line.trim().slice(6).trim(), now);
    } else if (word === "Kd" && now) {
      const rgb = rest.slice(0, 3).map(Number);
      if (rgb.length === 3 && rgb.every((x) => Number.isFinite(x) && x >= 0))
        now.color = rgb.map((x) => linearOf(Math.min(1, x))) as [number, number, number];
    } else if (word === "map_Kd" && now) now.map = mapName(line.trim().slice(6).trim());
    else if (word && now) {
      const channel = STATEMENTS.get(word.toLowerCase());
      if (channel) now.maps.set(channel, mapName(line.trim().slice(word.length).trim()));
    }
  }
  return out;
}

/** The file name of a map statement, its options (-s 1 1 1, -clamp on, ...) left out. */
function mapName(text: string): string {
  const options = /^-(?:[a-z]+)(?:\s+(?:on|off|-?[\d.]+(?:e-?\d+)?))*\s+/i;
  let rest = text;
  while (rest.startsWith("-") && options.test(rest)) rest = rest.replace(options, "");
  return rest;
}

/**
 * Materials of an OBJ file: what its MTL files say of them, where these came along.
 *
 * @param names in the order of first use
 */
export function readMaterials(
  names: readonly string[],
  libraries: readonly string[],
  beside: readonly FileIn[] | undefined,
): { materials: Material[]; images: Image[]; files: Record<string, Uint8Array> } {
  const known = new Map<string, Found>();
  for (const name of libraries) {
    const file = findBeside(beside, name);
    if (file) for (const [k, v] of parseMtl(new TextDecoder().decode(file.bytes))) known.set(k, v);
  }
  const images: Image[] = [];
  const files: Record<string, Uint8Array> = {};
  const materials = names.map((name, i): Material => {
    const found = known.get(name);
    const plain = { name, color: found?.color ?? materialColor(i) };
    const laid = (map: string | undefined): LaidImage[] => {
      const file = map ? findBeside(beside, map) : undefined;
      const type = file && imageType(file.name);
      if (!file || !type) return [];
      const key = fileKey(file.bytes);
      if (!files[key]) images.push({ key, name: baseName(file.name), type });
      files[key] = file.bytes;
      return [{ image: key, set: "s1" }];
    };
    const [texture] = laid(found?.map);
    const maps = [...(found?.maps ?? [])].flatMap(([channel, map]) => laid(map).map((own) => ({ ...own, channel })));
    return { ...plain, ...(texture ? { texture } : {}), ...(maps.length ? { maps } : {}) };
  });
  return { materials, images, files };
}

/** File names of the images that materials use, by key: their own without folders, numbered where two are called alike. */
export function imageNames(asset: Asset): Map<string, string> {
  const used = new Set(asset.materials.flatMap((m) => laidImages(m).map((laid) => laid.image)));
  const out = new Map<string, string>();
  const taken = new Set<string>();
  for (const image of asset.images) {
    if (!used.has(image.key)) continue;
    const ending = imageEnding(image.type);
    // A name of a map statement ends where the line does, so that blanks are in order, but never begins like an option.
    const plain =
      baseName(image.name)
        .replace(/\.[^.]*$/, "")
        .replace(/^-+/, "") || "image";
    let name = plain + ending;
    for (let n = 2; taken.has(name.toLowerCase()); n++) name = `${plain}-${n}${ending}`;
    taken.add(name.toLowerCase());
    out.set(image.key, name);
  }
  return out;
}

/** The MTL text of the materials. @param images names of image files by key */
export function mtlText(asset: Asset, images: ReadonlyMap<string, string>): string {
  return asset.materials
    .map((m) => {
      const map = m.texture && images.get(m.texture.image);
      const color = m.color.map((x) => srgbOf(x).toFixed(4)).join(" ");
      const others = (m.maps ?? []).flatMap(({ channel, image }) => {
        const [statement, name] = [WRITTEN[channel], images.get(image)];
        return statement && name ? [`${statement} ${name}\n`] : [];
      });
      return `newmtl ${m.name}\nKd ${color}\n${map ? `map_Kd ${map}\n` : ""}${others.join("")}`;
    })
    .join("\n");
}
