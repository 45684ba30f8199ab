import { type PaintedTriangles, paintedTriangles, type Repainted, repainted } from "../../images/painted-triangles";
import { type Codecs, imageKind } from "../../images/pixels";
import {
  type Asset,
  type Channel,
  fileKey,
  type Image,
  laidImages,
  type Material,
  shapesOf,
  type UvSetId,
  withLaid,
} from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import { spread } from "../../tasks/spread";
import type { TaskInput } from "../../tasks/task-runner";
import type { Context, EditContext, EditResult, Note, Scope } from "../operation";
import { targetSet } from "../scope";
import { BLEED } from "../sets/bleed";
import { otherSet } from "../sets/set-tools";
import { count } from "../words";

export async function run(
  asset: Asset,
  scope: Scope,
  { other, bleed }: { readonly other: string; readonly bleed: number },
  context: EditContext,
): Promise<EditResult> {
  const set = targetSet(asset, scope);
  const from = otherSet(asset, set.id, other);
  const shapes = repainted(shapesOf(asset), (s) => s.layouts.get(from.id), set.id);
  const drawn = await drawnAnew(asset, shapes, { from: from.id, to: set.id, bleed, all: true }, context);
  if (!drawn) throw new UserError(`No image is laid by ${from.name}.`);
  const words = `Redraw ${count(drawn.count, "image")} for ${set.name}`;
  return { asset: drawn.asset, words, notes: drawn.notes, files: drawn.files };
}

/**
 * The outcome of an edit with the images of a set drawn anew for what it moved.
 *
 * @param before the asset as it was edited: what its images were painted for
 * @throws UserError where an image cannot serve the new layout; nothing should be moved then
 */
export async function withImagesMoved(
  before: Asset,
  result: EditResult,
  set: UvSetId,
  context: Context,
): Promise<EditResult> {
  const { asset } = result;
  // What was stopped and kept has its images drawn all the same, here, where the signal to stop is not looked for.
  const calm = result.stopped ? withoutStop(context) : context;
  const was = (s: { readonly id: string; readonly mesh: unknown }) => {
    const old = before.shapes.get(s.id);
    return old?.mesh === s.mesh ? old?.layouts.get(set) : undefined;
  };
  const shapes = repainted(shapesOf(asset), was, set);
  const drawn = await drawnAnew(asset, shapes, { from: set, to: set, bleed: BLEED, all: false }, calm);
  if (!drawn) return result;
  return {
    ...result,
    asset: drawn.asset,
    notes: [...result.notes, ...drawn.notes],
    files: { ...result.files, ...drawn.files },
  };
}

function withoutStop({ pool: _, check: _check, ...context }: Context): Context {
  return { ...context, progress: () => {} };
}

interface Asked {
  /** The set that images are laid by, and the one they are to be laid by. */
  readonly from: UvSetId;
  readonly to: UvSetId;
  readonly bleed: number;
  /** Images of which nothing moved as well. */
  readonly all: boolean;
}

interface Use {
  readonly materials: Set<number>;
  readonly channels: Set<Channel | "color">;
}

/** Which materials lay each image by a set, and as what. */
function usesOf(materials: readonly Material[], set: UvSetId): Map<string, Use> {
  const uses = new Map<string, Use>();
  materials.forEach(({ texture, maps = [] }, m) => {
    const laid = [...(texture ? [{ ...texture, channel: "color" as const }] : []), ...maps];
    for (const { image, set: by, channel } of laid) {
      if (by !== set) continue;
      const use = uses.get(image) ?? { materials: new Set(), channels: new Set() };
      use.materials.add(m);
      use.channels.add(channel);
      uses.set(image, use);
    }
  });
  return uses;
}

/** Draws images anew, side by side. @returns null where there is nothing to draw */
async function drawnAnew(asset: Asset, shapes: readonly Repainted[], asked: Asked, context: Context) {
  const uses = usesOf(asset.materials, asked.from);
  // Images of one material are drawn for the same faces, which are looked for once.
  const known = new Map<string, PaintedTriangles>();
  const wanted: Array<{ image: Image; input: Omit<TaskInput<"redrawImage">, "codecs"> }> = [];
  for (const image of asset.images) {
    const use = uses.get(image.key);
    if (!use) continue;
    const key = [...use.materials].join();
    const painted = known.get(key) ?? paintedTriangles(shapes, use.materials);
    known.set(key, painted);
    if (!painted.triangles.length || !(painted.moved || asked.all)) continue;
    checkTiles(image, painted);
    const bytes = asset.files?.[image.key] ?? (await context.file?.(asset.id, image.key));
    if (!bytes) throw new UserError(`The image ${image.name} is not at hand, so it cannot be drawn anew.`);
    wanted.push({
      image,
      input: {
        bytes,
        name: image.name,
        triangles: painted.triangles,
        channels: [...use.channels],
        bleed: asked.bleed,
      },
    });
  }
  if (!wanted.length) return null;
  const codecs = await codecsFor(
    wanted.map((w) => w.input.bytes),
    context,
  );
  const drawn = await spread(
    "redrawImage",
    wanted.map((w) => ({ ...w.input, codecs })),
    wanted.map((w) => w.input.bytes.length),
    context,
    context.progress,
  );
  return relaid(
    asset,
    asked,
    wanted.map((w) => w.image),
    drawn,
  );
}

/** @throws UserError where one image cannot show what lies in several tiles */
function checkTiles(image: Image, { tiles: [before, now] }: PaintedTriangles): void {
  if (before > 1)
    throw new UserError(`The image ${image.name} is repeated over ${count(before, "tile")}, so it is not drawn anew.`);
  if (now > 1)
    throw new UserError(
      `What ${image.name} is painted for would lie in ${count(now, "tile")}, and it is one image: keep it in one tile.`,
    );
}

async function codecsFor(files: readonly Uint8Array[], { wasm }: Context): Promise<Codecs> {
  if (!wasm) throw new Error("Images cannot be read here.");
  const isJpeg = files.some((bytes) => imageKind(bytes) === "jpeg");
  return { png: await wasm("png"), ...(isJpeg ? { jpeg: await wasm("jpeg") } : {}) };
}

/** The asset with what was drawn in place of the images that it was drawn from. */
function relaid(
  asset: Asset,
  { from, to }: Asked,
  images: readonly Image[],
  drawn: ReadonlyArray<{ readonly bytes: Uint8Array; readonly contested: number }>,
) {
  const keys = new Map(images.map((image, i) => [image.key, fileKey(drawn[i]!.bytes)]));
  const materials = asset.materials.map((m) =>
    withLaid(m, (laid) => {
      const key = laid.set === from ? keys.get(laid.image) : undefined;
      return key === undefined ? laid : { image: key, set: to };
    }),
  );
  // One that another set lays as well stays for that.
  const used = new Set(materials.flatMap((m) => laidImages(m).map((laid) => laid.image)));
  const fresh = images.map(
    (image): Image => ({ key: keys.get(image.key)!, name: named(image.name), type: "image/png", redrawn: true }),
  );
  const kept = asset.images.filter((i) => !keys.has(i.key) || used.has(i.key));
  const notes = images.flatMap((image, i): Note[] =>
    drawn[i]!.contested
      ? [{ words: `Shells lie on each other in ${image.name}: there the first one's pixels are kept.`, shells: [] }]
      : [],
  );
  return {
    asset: { ...asset, materials, images: [...kept, ...fresh.filter((f) => !kept.some((k) => k.key === f.key))] },
    files: Object.fromEntries(images.map((image, i) => [keys.get(image.key)!, drawn[i]!.bytes])),
    notes,
    count: images.length,
  };
}

/** The name of an image drawn anew: never that of the one it was drawn from, which is kept. */
function named(name: string): string {
  const plain = name.replace(/\.[^./\\]*$/, "");
  return `${plain.replace(/-moved(-\d+)?$/, "")}-moved.png`;
}
