import { z } from "zod";
import { UserError } from "../layout/user-error";
import { creased } from "./creased";
import { cut } from "./cut";
import { draft } from "./draft";
import { exportGlb } from "./export-glb";
import { exportObj } from "./export-obj";
import { join } from "./join";
import { level } from "./level";
import { measure } from "./measure";
import { move } from "./move";
import { openUp } from "./open-up";
import type { AnyOperation } from "./operation";
import { pack } from "./pack";
import { sheet } from "./sheet";
import { unfold } from "./unfold";

/** Every operation there is. Buttons, keys, palette, history and command line refer to them by id. */
export const OPERATIONS: readonly AnyOperation[] = [
  draft,
  cut,
  join,
  creased,
  openUp,
  unfold,
  level,
  pack,
  move,
  measure,
  exportObj,
  exportGlb,
  sheet,
];

const byId = new Map(OPERATIONS.map((op) => [op.id, op]));

export function operationById(id: string): AnyOperation {
  const op = byId.get(id);
  if (!op) throw new UserError(`There is no operation called ${id}.`);
  return op;
}

/** Options checked against the operation's schema, defaults filled in. @throws UserError naming the first bad one */
export function parseOptions(op: AnyOperation, raw: unknown): unknown {
  const result = op.options.safeParse(raw ?? {});
  if (result.success) return result.data;
  const issue = result.error.issues[0]!;
  throw new UserError(`${op.title}: ${issue.path.join(".") || "the options"}: ${issue.message}.`);
}

/** One option of an operation, as forms and the command line need it. */
export interface OptionField {
  readonly name: string;
  readonly kind: "number" | "boolean" | "choice";
  readonly title: string;
  readonly description: string;
  readonly unit?: string;
  readonly initial?: number | boolean | string;
  readonly least?: number;
  readonly most?: number;
  readonly whole: boolean;
  readonly choices?: readonly (string | number)[];
}

const Property = z.object({
  type: z.enum(["number", "integer", "boolean", "string"]),
  title: z.string(),
  description: z.string(),
  unit: z.string().optional(),
  default: z.union([z.number(), z.boolean(), z.string()]).optional(),
  minimum: z.number().optional(),
  maximum: z.number().optional(),
  enum: z.array(z.string()).optional(),
  choices: z.array(z.number()).optional(),
});

/** The fields of an operation's options, in the order of its schema. */
export function optionFields(op: AnyOperation): OptionField[] {
  const schema = z
    .object({ properties: z.record(z.string(), Property).default({}) })
    .parse(z.toJSONSchema(op.options, { io: "input" }));
  return Object.entries(schema.properties).map(([name, p]) => ({
    name,
    kind: p.type === "boolean" ? "boolean" : p.type === "string" ? "choice" : "number",
    title: p.title,
    description: p.description,
    whole: p.type === "integer",
    ...(p.unit ? { unit: p.unit } : {}),
    ...(p.default !== undefined ? { initial: p.default } : {}),
    ...(p.minimum !== undefined ? { least: p.minimum } : {}),
    ...(p.maximum !== undefined ? { most: p.maximum } : {}),
    ...(p.enum || p.choices ? { choices: p.enum ?? p.choices! } : {}),
  }));
}
