import { z } from "zod";
import type { UvSetId } from "./ids";
import type { ShellRef } from "./structure";

export const FINDINGS = [
  "unmapped",
  "flipped",
  "collapsed",
  "overlap",
  "mirrored",
  "out of tile",
  "gap",
  "density",
  "stretch",
] as const;
export type FindingKind = (typeof FINDINGS)[number];

/** Kinds of finding that are about single shells, or pairs of them, and so can be accepted of these alone. */
export const ACCEPTABLE = ["overlap", "mirrored", "flipped", "stretch"] as const;
export type AcceptableKind = (typeof ACCEPTABLE)[number];

/** Accepted entries that an asset may hold. */
export const MOST_ACCEPTED = 20_000;

const Ref = z.strictObject({ shape: z.string().min(1).max(200), face: z.number().int().min(0) });

/** Limits that a layout is checked against. */
export const Rules = z.strictObject({
  /** Texels per tile side in which gaps are measured; by default those of the asset's tiles. */
  resolution: z.number().int().min(16).max(65_536).optional(),
  /** Least distance between shells, texels. */
  padding: z.number().min(0).max(256).default(2),
  /** Shells alike that lie exactly on one another share their texels on purpose. */
  stacks: z.boolean().default(true),
  /** Most that densities may differ (standard deviation over mean, by world area). */
  spread: z.number().min(0).max(10).default(0.15),
  /** Most that a shell may be stretched on the whole (symmetric Dirichlet energy, 1 = isometric). */
  stretch: z.number().min(1).max(100).default(1.3),
  /** Kinds of finding that are as they should be here. */
  allowed: z.array(z.enum(FINDINGS)).default([]),
  /** Shells, or pairs of shells that overlap, that are meant to be as they are. */
  accepted: z
    .array(
      z.strictObject({ kind: z.enum(ACCEPTABLE), set: z.string().min(1).max(200), shells: z.array(Ref).min(1).max(2) }),
    )
    .max(MOST_ACCEPTED)
    .default([]),
});
export type Rules = Readonly<z.infer<typeof Rules>>;
export type Accepted = Rules["accepted"][number];
export const RULES: Rules = Rules.parse({});

/** The same for a pair, in either order. */
export const acceptedKey = (kind: AcceptableKind, set: UvSetId, shells: readonly ShellRef[]): string =>
  [kind, set, ...shells.map((s) => `${s.shape}/${s.face}`).sort()].join(" ");
