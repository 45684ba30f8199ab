import type { AnyOperation } from "@/core/operations/operation";

/** An operation's title where its heading stands above it, or space is short. */
export const shortTitle = (op: AnyOperation): string => op.title.replace(/^[^:]+: /, "");
