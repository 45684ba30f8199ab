import { z } from "zod";
import type { Asset, PartId, ShapeId, UvSetId } from "../layout/asset";
import type { FreshId } from "../layout/fresh-ids";
import type { ShellRef } from "../layout/layout";
import type { FindingKind } from "../layout/rules";
import type { SelectionKind } from "../layout/selection-kind";
import type { FaultKind } from "../prepare/faults";
import type { ProjectionWay, Standing } from "../project/frame";
import type { Context } from "../tasks/context";

export const STAGES = ["brief", "seams", "unfold", "level", "place", "check", "hand-off"] as const;
export type Stage = (typeof STAGES)[number];

/** What an operation needs picked; with nothing picked it acts on everything visible. */
export type Acts = "edges" | "faces" | "shells" | "parts" | "asset";

export type { SelectionKind };

/** Picked elements by shape. Shells go by their names, which are their least faces. */
export interface Selection {
  readonly kind: SelectionKind;
  readonly items: ReadonlyMap<ShapeId, Uint32Array>;
}

/** What an operation is to act on. With nothing picked, everything visible. */
export interface Scope {
  /** The UV set worked on. */
  readonly set: UvSetId;
  /** Parts that are visible. */
  readonly parts: readonly PartId[];
  /** Parts picked in the list. */
  readonly picked?: readonly PartId[] | undefined;
  /** Elements picked in a pane. */
  readonly selection?: Selection | undefined;
}

export { Stopped } from "../layout/stopped";
export type { Context };

/** Something the operation could not do, in a sentence, with the shells it is about and an operation that helps. */
export interface Note {
  readonly words: string;
  readonly shells: readonly ShellRef[];
  /** The edges that are the reason, where some are. */
  readonly edges?: { readonly shape: ShapeId; readonly edges: Uint32Array };
  readonly offer?: string;
  /** It tells what was done, and not what could not be. */
  readonly done?: true;
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
  /** It was stopped, and this is what it had reached. */
  readonly stopped?: true;
  /** The projection that it was done by, where that stands somewhere. */
  readonly stands?: Standing;
  /** Ways that it could be done, that which was taken first. */
  readonly ways?: readonly ProjectionWay[];
  /** Bytes of files that came in with it, by key. */
  readonly files?: Readonly<Record<string, Uint8Array>>;
}

/** What a picking operation found. */
export interface Found {
  readonly selection: Selection;
  /** Where whole parts were found: those, also of shapes that others draw as well. */
  readonly parts?: readonly PartId[];
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
  /** Heading under which it stands in its stage; without one it is reached by name, and from what it is about. */
  readonly heading?: string;
  /** Its key, as the application comes. */
  readonly key?: string;
  /** Kinds of picked elements that it is offered for at the panes' foot. */
  readonly fits?: readonly SelectionKind[];
  /** Options that the interface sets without asking. */
  readonly given?: Partial<Options>;
  /** Findings that it mends, and faults of meshes, those with the options it mends them by. */
  readonly mends?: {
    readonly findings?: readonly FindingKind[];
    readonly faults?: { readonly [Kind in FaultKind]?: Partial<Options> };
  };
  /** Short form of ./tavlin run for it. */
  readonly command?: string;
  /** Ending of a file that is written by it. */
  readonly ending?: string;
  readonly acts: Acts;
  readonly options: z.ZodType<Options>;
  /** Whether it moves shells that are laid out, where its stage does not tell: under images that are painted for them. */
  readonly moves?: boolean;
  /** Works on locked parts as well: on what is not shape or layout. */
  readonly locked?: "may";
  /** Works on what is picked only: nothing picked does not mean everything. */
  readonly picks?: true;
  /** Takes layouts away or replaces them as asked, pinned points and all. */
  readonly movesPins?: true;
  /** It needs a file. */
  readonly needs?: "file";
  /** Told to stop, it keeps what was reached, where that is worth keeping; others change nothing then. */
  readonly keeps?: true;
  /** Sets seams and nothing else, so quickly that what it would come to is told before. */
  readonly foretells?: true;
  /** What it would come to is drawn into the sheet, while its card is open and something is picked. */
  readonly drawnBefore?: true;
  /** Its options x, y and z are the way to who looks at Form, when the interface asks for it. */
  readonly takesEye?: true;
  /** A style of seams: it is shown beside the others, with its figures. */
  readonly proposes?: true;
  /** It searches several times side by side: threads serve it with small assets as well. */
  readonly searches?: true;
  /** Changes so much that a mark is set before it. */
  readonly big?: true;
}

/** What an edit is given as well: ids for the parts, shapes and UV sets it makes. */
export interface EditContext extends Context {
  readonly freshId: FreshId;
}

export interface EditOperation<Options> extends Common<Options> {
  readonly kind: "edit";
  run(asset: Asset, scope: Scope, options: Options, context: EditContext): EditResult | Promise<EditResult>;
}

export interface SelectOperation<Options> extends Common<Options> {
  readonly kind: "select";
  /** What it picks lies beside what was picked: the panes stay as they look. */
  readonly near?: true;
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

/** The work of an operation that is described here and done in a file of its own, loaded when it is first run. */
export const loaded =
  <Args extends unknown[], Result>(load: () => Promise<{ run: (...args: Args) => Result | Promise<Result> }>) =>
  async (...args: Args): Promise<Result> =>
    (await load()).run(...args);

// biome-ignore lint/suspicious/noExplicitAny: the registry holds operations of every option type; parse() gives them theirs
export type AnyOperation = EditOperation<any> | SelectOperation<any> | MeasureOperation<any> | ExportOperation<any>;

/** The axis across which a part mirrors. */
export const axisOption = z
  .enum(["x", "y", "z"])
  .default("x")
  .meta({ title: "Across", description: "The axis that the two halves mirror" });

/** A whole number of texels. */
export const resolutionOption = z
  .number()
  .int()
  .min(16)
  .max(16384)
  .optional()
  .meta({
    title: "Resolution",
    description: "Texels per tile side; that of the asset's tiles when not given",
    unit: "px",
    from: "resolution",
    choices: [512, 1024, 2048, 4096, 8192],
  });
