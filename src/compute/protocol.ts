import type { Measures } from "@/core/check/measure";
import type { Asset, LayoutChange, PartId } from "@/core/layout/asset";
import type { EditResult, Exported, Scope } from "@/core/operations/operation";

/** What the page asks of a worker. Work carries a run number; its answers bear the same. */
export type Request =
  | { type: "load"; asset: Asset }
  | { type: "apply"; changes: readonly LayoutChange[] }
  | { type: "keep"; run: number }
  | { type: "edit"; run: number; operation: string; options: unknown; scope: Scope }
  | { type: "measure"; run: number; resolution: number; set: number }
  | { type: "export"; run: number; operation: string; options: unknown; scope: Scope; source: Uint8Array | null }
  | { type: "read"; run: number; bytes: Uint8Array; name: string };

export interface Measured {
  readonly measures: Measures;
  readonly stretch: ReadonlyMap<PartId, Float32Array>;
}

export interface Answers {
  edit: EditResult;
  measure: Measured;
  export: Exported;
  read: Asset;
}

export type Work = Extract<Request, { run: number }>["type"] & keyof Answers;

export type Answer =
  | { run: number; type: "progress"; share: number }
  | { run: number; type: "done"; value: unknown }
  | { run: number; type: "failed"; message: string; refused: boolean };
