import { z } from "zod";
import type { ShellRef } from "../check/gather";
import type { Asset, PartId } from "../layout/asset";

export const STAGES = ["brief", "seams", "unfold", "level", "place", "check", "hand-off"] as const;
export type Stage = (typeof STAGES)[number];

/** What an operation needs picked; with nothing picked it acts on everything visible. */
export type Acts = "edges" | "faces" | "shells" | "parts" | "asset";

export type SelectionKind = "vertices" | "edges" | "faces" | "shells";

/** Picked elements by part: vertices, edges, faces or shells of the part's mesh and current layout. */
export interface Selection {
  readonly kind: SelectionKind;
  readonly items: ReadonlyMap<PartId, Uint32Array>;
}

export interface Scope {
  /** Index of the UV set worked on. */
  readonly set: number;
  /** Parts that are visible. */
  readonly parts: readonly PartId[];
  /** Nothing picked: everything visible. */
  readonly selection?: Selection | undefined;
}

/** How work tells of itself and is stopped. */
export interface Context {
  /** @throws when the work has been stopped */
  progress(share: number): void;
  /** Fetches a decoder that a compressed source needs. */
  readonly wasm?: (name: string) => Promise<Uint8Array>;
  /** Assets read from files that were brought for this operation. */
  readonly brought?: readonly Asset[];
}

/** Something the operation could not do, in a sentence, with the shells it is about and an operation that helps. */
export interface Note {
  readonly words: string;
  readonly shells: readonly ShellRef[];
  readonly offer?: string;
}

export interface EditResult {
  /** The edited asset; it shares what did not change. */
  readonly asset: Asset;
  /** For the history: what was done. */
  readonly words: string;
  readonly notes: readonly Note[];
  /** What should be picked afterwards. */
  readonly pick?: Selection;
  /** Id of the UV set to work on afterwards. */
  readonly target?: string;
  /** Bytes of files that came in with it, by key. */
  readonly files?: Readonly<Record<string, Uint8Array>>;
}

/** What a picking operation found. */
export interface Found {
  readonly selection: Selection;
  readonly words: string;
}

/** What an export wrote, and in sentences what the format could not hold. */
export interface Exported {
  readonly files: readonly FileOut[];
  readonly warnings: readonly string[];
}

export interface FileOut {
  readonly name: string;
  readonly type: string;
  readonly bytes: Uint8Array;
}

interface Common<Options> {
  readonly id: string;
  readonly title: string;
  /** One sentence on what it does. */
  readonly about: string;
  readonly stage: Stage;
  readonly acts: Acts;
  readonly options: z.ZodType<Options>;
  /** Works on locked parts as well: on what is not shape or layout. */
  readonly locked?: "may";
  /** Works on what is picked only: nothing picked does not mean everything. */
  readonly picks?: true;
  /** A file must be brought for it. */
  readonly needs?: "file";
  /** Changes so much that a mark is set before it. */
  readonly big?: true;
}

export interface EditOperation<Options> extends Common<Options> {
  readonly kind: "edit";
  run(asset: Asset, scope: Scope, options: Options, context: Context): EditResult | Promise<EditResult>;
}

export interface SelectOperation<Options> extends Common<Options> {
  readonly kind: "select";
  run(asset: Asset, scope: Scope, options: Options, context: Context): Found | Promise<Found>;
}

export interface MeasureOperation<Options> extends Common<Options> {
  readonly kind: "measure";
  run(asset: Asset, scope: Scope, options: Options, context: Context): unknown;
}

export interface ExportOperation<Options> extends Common<Options> {
  readonly kind: "export";
  run(asset: Asset, scope: Scope, options: Options, context: Context): Exported | Promise<Exported>;
}

// biome-ignore lint/suspicious/noExplicitAny: the registry holds operations of every option type; parse() gives them theirs
export type AnyOperation = EditOperation<any> | SelectOperation<any> | MeasureOperation<any> | ExportOperation<any>;

/** A whole number of texels. */
export const resolutionOption = z
  .number()
  .int()
  .min(16)
  .max(16384)
  .default(2048)
  .meta({
    title: "Resolution",
    description: "Texels per tile side",
    unit: "px",
    choices: [512, 1024, 2048, 4096, 8192],
  });
