import { z } from "zod";
import type { Asset, ShapeId, UvSetId } from "../layout/asset";
import type { AssetDelta } from "../layout/delta";
import type { Layout } from "../layout/layout";
import { UserError } from "../layout/user-error";
import { patchBetween, patched } from "./array-patch";
import { FilesJson, Id, MOST_PARTS } from "./asset-bundle";
import {
  ArrayRef,
  Arrays,
  BodyJson,
  badJson,
  bodyJson,
  HeadJson,
  PartJson,
  readBody,
  reader,
  readHead,
  readPart,
} from "./asset-json";
import { decodeBundle, encodeBundle, type Numbers } from "./bundle";

/** An array of a layout: whole, or as a patch of what the same layout had in the state that was edited. */
const EditedArray = z.union([ArrayRef, z.strictObject({ runs: ArrayRef, fresh: ArrayRef, sum: z.number().int() })]);
type EditedArray = z.infer<typeof EditedArray>;
const EditedLayout = z.object({ cut: EditedArray, mapped: EditedArray, uv: EditedArray, pinned: EditedArray });
type EditedLayout = z.infer<typeof EditedLayout>;

const DeltaJson = z.object({
  head: HeadJson.optional(),
  parts: z.array(PartJson).max(MOST_PARTS),
  shapes: z.array(z.object({ id: Id, body: BodyJson })).max(MOST_PARTS),
  layouts: z.array(z.object({ shape: Id, set: Id, layout: EditedLayout.nullable() })),
  files: FilesJson,
});

export type Files = Readonly<Record<string, Uint8Array>>;

/**
 * A change with some JSON and files beside it, as one block of bytes.
 *
 * @param base the state that was edited, where the reader has it too: of layouts only what differs is then written
 */
export function encodeDelta(
  delta: AssetDelta,
  beside: Record<string, unknown>,
  files: Files = {},
  base?: Asset,
): Uint8Array<ArrayBuffer> {
  const arrays = new Arrays();
  const reshaped = new Set(delta.shapes.map((s) => s.id));
  const json = {
    ...beside,
    ...(delta.head ? { head: delta.head } : {}),
    parts: delta.parts,
    shapes: delta.shapes.map(({ id, body }) => ({ id, body: bodyJson(body, arrays) })),
    layouts: delta.layouts.map(({ shape, set, layout }) => {
      const old = reshaped.has(shape) ? undefined : base?.shapes.get(shape)?.layouts.get(set);
      return { shape, set, layout: layout && editedLayout(layout, old, arrays) };
    }),
    files: Object.fromEntries(Object.entries(files).map(([key, bytes]) => [key, arrays.add(bytes)])),
  };
  return encodeBundle(json, arrays.list);
}

function editedLayout(layout: Layout, old: Layout | undefined, arrays: Arrays): EditedLayout {
  const edited = (key: keyof Layout): EditedArray => {
    const patch = old && patchBetween(old[key], layout[key]);
    return patch
      ? { runs: arrays.add(patch.runs), fresh: arrays.add(patch.fresh), sum: patch.sum }
      : arrays.add(layout[key]);
  };
  return { cut: edited("cut"), mapped: edited("mapped"), uv: edited("uv"), pinned: edited("pinned") };
}

/** A layout of the state that was edited. */
export interface LayoutPlace {
  readonly shape: ShapeId;
  readonly set: UvSetId;
}

export interface ReadDelta<T> {
  readonly beside: T;
  readonly files: Files;
  /** Layouts of the state before that the change is written against. */
  readonly needs: readonly LayoutPlace[];
  /** The change. @throws UserError when it does not fit those layouts */
  delta(layouts: (place: LayoutPlace) => Layout): AssetDelta;
}

/** Reads a change and what stands beside it; whether it fits an asset is for `withDelta` and the checks to say. */
export function decodeDelta<T>(bytes: Uint8Array, beside: z.ZodType<T>): ReadDelta<T> {
  const { json, arrays } = decodeBundle(bytes);
  const parsed = DeltaJson.safeParse(json);
  const rest = beside.safeParse(json);
  if (!parsed.success) throw badJson("The edit", parsed.error);
  if (!rest.success) throw badJson("The edit", rest.error);
  const { head, parts, shapes, layouts, files } = parsed.data;
  const read = reader(arrays, "the files");
  return {
    beside: rest.data,
    files: Object.fromEntries(Object.entries(files).map(([key, at]) => [key, read(at, Uint8Array)])),
    needs: layouts
      .filter(({ layout }) => layout && Object.values(layout).some((a) => typeof a !== "number"))
      .map(({ shape, set }) => ({ shape, set })),
    delta: (before) => ({
      ...(head ? { head: readHead(head) } : {}),
      parts: parts.map(readPart),
      shapes: shapes.map(({ id, body }) => ({ id, body: readBody(body, arrays, id) })),
      layouts: layouts.map(({ shape, set, layout }) => ({
        shape,
        set,
        layout: layout && readEdited(layout, arrays, shape, () => before({ shape, set })),
      })),
    }),
  };
}

function readEdited(json: EditedLayout, arrays: readonly Numbers[], name: string, before: () => Layout): Layout {
  const read = reader(arrays, name);
  const bytes = (key: "cut" | "mapped" | "pinned"): Uint8Array => {
    const place = json[key];
    return typeof place === "number" ? read(place, Uint8Array) : patchedBy(place, key);
  };
  const patchedBy = ({ runs, fresh, sum }: Exclude<EditedArray, number>, key: keyof Layout) =>
    patched(before()[key], { runs: read(runs, Uint32Array), fresh: read(fresh, Uint8Array), sum });
  const { uv } = json;
  return {
    cut: bytes("cut"),
    mapped: bytes("mapped"),
    uv: typeof uv === "number" ? read(uv, Float64Array) : floats(patchedBy(uv, "uv")),
    pinned: bytes("pinned"),
  };
}

/** @throws UserError when the bytes are no whole numbers of doubles */
function floats(bytes: Uint8Array<ArrayBuffer>): Float64Array {
  if (bytes.length % 8) throw new UserError("The edit does not fit the state that it was made on.");
  return new Float64Array(bytes.buffer);
}
