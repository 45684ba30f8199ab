import { z } from "zod";
import type { AnyOperation } from "./operation";

/** What a text's choices may come from: the asset's own lists. */
const FROM = ["sets", "parts", "materials", "selections", "seamLocks", "unit", "resolution", "rules"] as const;
/** One option of an operation, as forms and the command line need it. */
export interface OptionField {
  readonly name: string;
  readonly kind: "number" | "boolean" | "choice" | "text";
  readonly title: string;
  readonly description: string;
  readonly unit?: string;
  readonly initial?: number | boolean | string;
  readonly least?: number;
  readonly most?: number;
  readonly whole: boolean;
  /** Where the choices of a text come from: the asset's own lists. */
  readonly from?: (typeof FROM)[number];
  readonly choices?: readonly (string | number)[];
  /** What the least and the most of a number mean: it is set between them. */
  readonly ends?: readonly [string, string];
  /** What holds where nothing is given, in a word or two. */
  readonly empty?: string;
  /** It stands under more options, where the others do not. */
  readonly more?: boolean;
  /** What of the picked shells it can be taken from. */
  readonly takes?: "density";
  /** It has a meaning only where other options have some of these values. */
  readonly only?: Readonly<Record<string, readonly string[]>>;
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
  ends: z.tuple([z.string(), z.string()]).optional(),
  empty: z.string().optional(),
  from: z.enum(FROM).optional(),
  more: z.boolean().optional(),
  takes: z.literal("density").optional(),
  only: z.record(z.string(), z.array(z.string())).optional(),
});

const known = new Map<AnyOperation, readonly OptionField[]>();

/** The fields of an operation's options, in the order of its schema. */
export function optionFields(op: AnyOperation): readonly OptionField[] {
  const fields = known.get(op) ?? readFields(op);
  known.set(op, fields);
  return fields;
}

/** Those that have a meaning beside the values that others have. */
export function meaningful(op: AnyOperation, chosen: Readonly<Record<string, unknown>> = {}): readonly OptionField[] {
  const all = optionFields(op);
  const heldBy = (name: string) => chosen[name] ?? all.find((f) => f.name === name)?.initial;
  return all.filter(({ only = {} }) =>
    Object.entries(only).every(([name, values]) => values.includes(String(heldBy(name)))),
  );
}

function readFields(op: AnyOperation): OptionField[] {
  const schema = z
    .object({ properties: z.record(z.string(), Property).default({}) })
    .parse(z.toJSONSchema(op.options, { io: "input" }));
  return Object.entries(schema.properties).map(([name, p]) => ({
    name,
    kind: p.type === "boolean" ? "boolean" : p.type === "string" ? (p.enum ? "choice" : "text") : "number",
    title: p.title,
    description: p.description,
    whole: p.type === "integer",
    ...(p.unit ? { unit: p.unit } : {}),
    ...(p.from ? { from: p.from } : {}),
    ...(p.default !== undefined ? { initial: p.default } : {}),
    ...(p.minimum !== undefined ? { least: p.minimum } : {}),
    ...(p.maximum !== undefined ? { most: p.maximum } : {}),
    ...(p.ends ? { ends: p.ends } : {}),
    ...(p.empty ? { empty: p.empty } : {}),
    ...(p.more ? { more: p.more } : {}),
    ...(p.takes ? { takes: p.takes } : {}),
    ...(p.only ? { only: p.only } : {}),
    ...(p.enum || p.choices ? { choices: p.enum ?? p.choices! } : {}),
  }));
}
