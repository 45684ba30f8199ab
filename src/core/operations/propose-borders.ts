import { z } from "zod";
import type { BorderOf } from "../seams/borders";
import { type EditOperation, loaded } from "./operation";

/** A proposal of seams along borders of one kind, in one step. */
export function proposeBorders(
  told: { readonly id: string; readonly title: string; readonly about: string },
  of: BorderOf,
): EditOperation<Record<string, never>> {
  const work = loaded(() => import("./large/propose-borders"));
  return {
    ...told,
    kind: "edit",
    stage: "seams",
    heading: "Propose",
    acts: "parts",
    foretells: true,
    proposes: true,
    options: z.object({}),
    run: (asset, scope) => work(asset, scope, of),
  };
}
