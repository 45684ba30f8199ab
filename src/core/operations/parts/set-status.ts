import { z } from "zod";
import { STATUSES, withParts } from "../../layout/asset";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { pickedParts } from "./picked-parts";

const options = z.object({
  status: z.enum(STATUSES).default("done").meta({ title: "Status", description: "How far the work on them is" }),
});

/** Says how far the work on the picked parts is. */
export const setStatus: EditOperation<z.infer<typeof options>> = {
  id: "set-status",
  title: "Status",
  about: "Says how far the work on the picked parts is.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  locked: "may",
  options,
  run(asset, scope, { status }) {
    const picked = new Set(pickedParts(asset, scope).map((p) => p.id));
    return {
      asset: withParts(
        asset,
        asset.parts.map((p) => (picked.has(p.id) ? { ...p, status } : p)),
      ),
      words: `${count(picked.size, "part")}: ${status}`,
      notes: [],
    };
  },
};
