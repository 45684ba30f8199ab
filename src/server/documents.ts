import { PNG } from "pngjs";
import { decodeAsset } from "../core/formats/asset-bundle";
import { Arrays, bodyJson, checkAsset, checkBody, checkLayout } from "../core/formats/asset-json";
import type { Numbers } from "../core/formats/bundle";
import { decodeDelta, type LayoutPlace, type ReadDelta } from "../core/formats/delta-bundle";
import { writeSheet } from "../core/formats/sheet-svg";
import type { Asset, ShapeBody, ShapeId, UvSetId } from "../core/layout/asset";
import { type AssetDelta, deltaBetween } from "../core/layout/delta";
import type { Layout } from "../core/layout/layout";
import { UserError } from "../core/layout/user-error";
import { drawPicture } from "../core/picture/picture";
import {
  assetOf,
  bodyOf,
  type Contents,
  type LayoutRefs,
  layoutOf,
  type Manifest,
  type ManifestDelta,
  type ShapeRefs,
} from "../wire/manifest";
import { EditRequest } from "../wire/requests";
import { type ArrayRow, type Cut, cutArrays, joinChunks, squeeze } from "./chunks";

// All that the server computes: reading what is sent, checking it, cutting it into chunks and compressing them, drawing
// pictures. It runs in a thread of its own (documents-worker.ts), and knows no database: what it lacks it is given.

/** Bytes of arrays kept at hand. */
const MOST_CACHED = 384 * 1024 * 1024;

const PICTURE = { width: 360, height: 270 };

/** An upload that was read, under a number until it is stored or dropped. */
interface Staged {
  readonly cut: Cut;
  readonly delta: AssetDelta;
}

/** What an upload holds, with arrays named by hash. */
export interface Received {
  readonly stage: number;
  readonly rows: readonly ArrayRow[];
  readonly delta: ManifestDelta;
  /** Hashes of the files that came along, by key. */
  readonly files: Readonly<Record<string, string>>;
}

export class Documents {
  private stages = 0;
  private readonly staged = new Map<number, Staged>();
  private readonly uploads = new Map<number, ReadDelta<EditRequest>>();
  private readonly cache = new Map<string, Uint8Array<ArrayBufferLike>>();
  private readonly bodies = new Map<string, ShapeBody>();
  private cached = 0;

  /** Reads a new asset and checks it as if it came from anywhere. @throws UserError */
  readAsset(bytes: Uint8Array): Received & { name: string } {
    return this.takeAsset(decodeAsset(bytes));
  }

  /** Takes an asset that is at hand. */
  takeAsset(asset: Asset): Received & { name: string } {
    checkAsset(asset);
    const nothing: Asset = { ...asset, sets: [], parts: [], shapes: new Map() };
    return { ...this.stage(deltaBetween(nothing, asset), asset.files ?? {}), name: asset.name };
  }

  /** Opens an edit: what is asked for, and the layouts of the state before that it is written against. @throws UserError */
  openEdit(bytes: Uint8Array): { upload: number; request: EditRequest; needs: readonly LayoutPlace[] } {
    const read = decodeDelta(bytes, EditRequest);
    const upload = ++this.stages;
    this.uploads.set(upload, read);
    return { upload, request: read.beside, needs: read.needs };
  }

  /**
   * Reads an edit that was opened; whether it fits the asset is for `checkEdit` to say.
   *
   * @param layouts those it is written against, in the order in which they were sent; their arrays must be at hand
   * @throws UserError
   */
  readEdit(upload: number, layouts: readonly LayoutRefs[]): Received {
    const { delta, files, needs } = this.uploads.get(upload)!;
    this.uploads.delete(upload);
    const at = new Map(needs.map(({ shape, set }, i) => [`${shape}/${set}`, layouts[i]!]));
    return this.stage(
      delta(({ shape, set }) => layoutOf(at.get(`${shape}/${set}`)!, this.contents)),
      files,
    );
  }

  takeEdit(delta: AssetDelta, files: Readonly<Record<string, Uint8Array>> = {}): Received {
    return this.stage(delta, files);
  }

  private stage(delta: AssetDelta, files: Readonly<Record<string, Uint8Array>>): Received {
    const arrays = new Arrays();
    const shapes = delta.shapes.map(({ id, body }) => {
      const own = new Arrays();
      const json = bodyJson(body, own);
      return { id, body: json, places: own.list.map((a) => arrays.add(a)) };
    });
    const layouts = delta.layouts.map(({ shape, set, layout }) => ({
      shape,
      set,
      refs: layout && places(layout, arrays),
    }));
    const filePlaces = Object.entries(files).map(([key, b]) => [key, arrays.add(b)] as const);
    const cut = cutArrays(arrays.list);
    const hash = (place: number) => cut.rows[place]!.hash;
    arrays.list.forEach((a, i) => {
      this.put(hash(i), a);
    });
    const manifest: ManifestDelta = {
      ...(delta.head ? { head: headJson(delta.head) } : {}),
      parts: delta.parts.map((p) => ({
        ...p,
        path: [...p.path],
        transform: [...p.transform],
      })) as ManifestDelta["parts"],
      shapes: shapes.map((s) => ({ id: s.id, body: s.body, arrays: s.places.map(hash) })),
      layouts: layouts.map(({ shape, set, refs }) => ({
        shape,
        set,
        refs: refs && { cut: hash(refs.cut), mapped: hash(refs.mapped), uv: hash(refs.uv), pinned: hash(refs.pinned) },
      })),
    };
    const stage = ++this.stages;
    this.staged.set(stage, { cut, delta });
    return {
      stage,
      rows: cut.rows,
      delta: manifest,
      files: Object.fromEntries(filePlaces.map(([k, i]) => [k, hash(i)])),
    };
  }

  /** Compresses chunks of a stage. */
  squeeze(stage: number, hashes: readonly string[]): Uint8Array[] {
    const { chunks } = this.staged.get(stage)!.cut;
    return hashes.map((h) => squeeze(chunks.get(h)!));
  }

  /** Lets go of an upload, opened or read. */
  drop(stage: number): void {
    this.staged.delete(stage);
    this.uploads.delete(stage);
  }

  /** Which of some arrays are not at hand. */
  lacking(hashes: readonly string[]): string[] {
    return hashes.filter((h) => !this.cache.has(h));
  }

  /** Takes arrays out of their compressed chunks. */
  provide(rows: readonly ArrayRow[], chunks: ReadonlyMap<string, Uint8Array>): void {
    for (const row of rows) this.put(row.hash, joinChunks(row, chunks));
  }

  private put(hash: string, array: Numbers): void {
    if (this.cache.has(hash)) return;
    const bytes = new Uint8Array(array.buffer, array.byteOffset, array.byteLength);
    this.cache.set(hash, bytes);
    this.cached += bytes.length;
  }

  /** Lets go of the arrays that were longest not asked for, down to the budget; not while an upload may still need them. */
  trim(): void {
    if (this.uploads.size + this.staged.size) return;
    for (const [hash, bytes] of this.cache) {
      if (this.cached <= MOST_CACHED) return;
      this.cache.delete(hash);
      this.cached -= bytes.length;
      this.bodies.clear();
    }
  }

  private contents: Contents = (hash) => {
    const bytes = this.cache.get(hash);
    if (!bytes) throw new Error(`Array ${hash} is not at hand.`);
    this.cache.delete(hash);
    this.cache.set(hash, bytes);
    return bytes;
  };

  /** A shape's body; the same value as long as it is kept, so that what is derived from its mesh is derived once. */
  private body(refs: ShapeRefs, name: string): ShapeBody {
    const key = refs.arrays.join();
    let body = this.bodies.get(key);
    if (!body) {
      body = bodyOf(refs, this.contents, name);
      this.bodies.set(key, body);
    }
    return body;
  }

  /**
   * Checks the arrays of a staged edit: shapes in themselves, layouts against their shapes.
   *
   * @param shapes those that the edit lays and does not change, as they stand; their arrays must be at hand
   * @throws UserError
   */
  checkEdit(
    stage: number,
    shapes: ReadonlyMap<ShapeId, ShapeRefs>,
    names: ReadonlyMap<ShapeId, string>,
    materials: number,
  ): void {
    const { delta } = this.staged.get(stage)!;
    const changed = new Map(delta.shapes.map((s) => [s.id, s.body]));
    for (const [id, body] of changed) checkBody(body, names.get(id) ?? id, materials);
    for (const { shape, layout } of delta.layouts) {
      // One that is taken away fits any shape.
      if (!layout) continue;
      const refs = shapes.get(shape);
      const body = changed.get(shape) ?? (refs && this.body(refs, shape));
      if (!body) throw new UserError("The edit names a layout of a shape that is not there.");
      checkLayout(body.mesh, layout, names.get(shape) ?? shape);
    }
  }

  /** Checks a whole state whose arrays are at hand. @throws UserError */
  checkState(manifest: Manifest, name: string): void {
    checkAsset(assetOf("checked", name, manifest, this.contents));
  }

  /** The picture of a state as PNG, plain or under the swatch of a UV set. */
  picture(manifest: Manifest, set?: UvSetId): Uint8Array {
    const png = new PNG(PICTURE);
    const asset = assetOf("pictured", "", manifest, this.contents);
    png.data = Buffer.from(drawPicture(asset, PICTURE.width, PICTURE.height, set));
    return new Uint8Array(PNG.sync.write(png));
  }

  /** A layout as it lies in Sheet, as SVG. */
  sheet(manifest: Manifest, name: string, set: UvSetId): Uint8Array {
    const asset = assetOf("drawn", name, manifest, this.contents);
    return new TextEncoder().encode(writeSheet(asset, { set, resolution: 512, wires: false, names: false }));
  }
}

const places = (l: Layout, arrays: Arrays) => ({
  cut: arrays.add(l.cut),
  mapped: arrays.add(l.mapped),
  uv: arrays.add(l.uv),
  pinned: arrays.add(l.pinned),
});

const headJson = (head: NonNullable<AssetDelta["head"]>) => structuredClone(head) as NonNullable<ManifestDelta["head"]>;
