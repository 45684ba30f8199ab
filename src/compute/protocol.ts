import type { Measures } from "@/core/check/measure";
import type { FileIn } from "@/core/formats/read-asset";
import type { Asset, PartId, Unit } from "@/core/layout/asset";
import type { AssetDelta } from "@/core/layout/delta";
import type { EditResult, Exported, Found, Scope } from "@/core/operations/operation";
import type { Faults } from "@/core/prepare/faults";
import type { Derived } from "./derived";

/** What the page asks of a worker. Work carries a run number; its answers bear the same. */
export type Request =
  | { type: "load"; asset: Asset }
  | { type: "apply"; delta: AssetDelta }
  | { type: "keep"; run: number }
  | { type: "edit"; run: number; operation: string; options: unknown; scope: Scope; files?: readonly FileIn[] }
  | { type: "open"; run: number; bytes: ArrayBuffer }
  | { type: "faults"; run: number }
  | { type: "encode"; run: number; index: number; unit: Unit }
  | { type: "select"; run: number; operation: string; options: unknown; scope: Scope }
  | { type: "measure"; run: number; resolution: number; set: number }
  | {
      type: "export";
      run: number;
      operation: string;
      options: unknown;
      scope: Scope;
      files: Readonly<Record<string, Uint8Array>>;
      /** What the files are to be called. */
      name: string;
    }
  | { type: "read"; run: number; files: readonly FileIn[] };

export interface Measured {
  readonly measures: Measures;
  readonly stretch: ReadonlyMap<PartId, Float32Array>;
}

/** An edit as the page gets it: what differs, not the whole asset. */
export type Edited = Omit<EditResult, "asset"> & { readonly delta: AssetDelta; readonly derived: readonly Derived[] };

export interface Answers {
  edit: Edited;
  select: Found;
  measure: Measured;
  export: Exported;
  read: readonly ReadFile[];
  faults: Faults;
  encode: Uint8Array<ArrayBuffer>;
  open: { readonly asset: Asset; readonly derived: readonly Derived[] };
}

/** What a file was found to hold; the asset itself stays with the worker until it is wanted. */
export interface ReadFile {
  readonly name: string;
  readonly parts: number;
  readonly faces: number;
  readonly extent: number;
  readonly unit: Unit;
  /** Shells and stretch of the layout that came with it; null when it has none. */
  readonly layout: { readonly shells: number; readonly stretch: number | null } | null;
  readonly images: number;
}

export type Work = Extract<Request, { run: number }>["type"] & keyof Answers;

export type Answer =
  | { run: number; type: "progress"; share: number }
  | { run: number; type: "done"; value: unknown }
  | { run: number; type: "failed"; message: string; refused: boolean };
