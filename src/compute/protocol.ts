import type { Measures } from "@/core/check/measure";
import type { FileIn } from "@/core/formats/read-asset";
import type { Asset, PartId } from "@/core/layout/asset";
import type { AssetDelta } from "@/core/layout/delta";
import type { EditResult, Exported, Found, Scope } from "@/core/operations/operation";

/** What the page asks of a worker. Work carries a run number; its answers bear the same. */
export type Request =
  | { type: "load"; asset: Asset }
  | { type: "apply"; delta: AssetDelta }
  | { type: "keep"; run: number }
  | { type: "edit"; run: number; operation: string; options: unknown; scope: Scope }
  | { type: "select"; run: number; operation: string; options: unknown; scope: Scope }
  | { type: "measure"; run: number; resolution: number; set: number }
  | {
      type: "export";
      run: number;
      operation: string;
      options: unknown;
      scope: Scope;
      files: Readonly<Record<string, Uint8Array>>;
    }
  | { type: "read"; run: number; files: readonly FileIn[] };

export interface Measured {
  readonly measures: Measures;
  readonly stretch: ReadonlyMap<PartId, Float32Array>;
}

/** An edit as the page gets it: what differs, not the whole asset. */
export type Edited = Omit<EditResult, "asset"> & { readonly delta: AssetDelta };

export interface Answers {
  edit: Edited;
  select: Found;
  measure: Measured;
  export: Exported;
  read: readonly Asset[];
}

export type Work = Extract<Request, { run: number }>["type"] & keyof Answers;

export type Answer =
  | { run: number; type: "progress"; share: number }
  | { run: number; type: "done"; value: unknown }
  | { run: number; type: "failed"; message: string; refused: boolean };
