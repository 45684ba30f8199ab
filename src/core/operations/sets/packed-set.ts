import { z } from "zod";
import { type EditOperation, loaded } from "../operation";
import { packBasics, packOptions } from "../pack";
import { nameOption } from "./set-tools";

// Every shell gets a place of its own there, which is what such a set is for.
const { sizes, search } = packOptions.shape;
const options = z.object({ name: nameOption, ...packBasics.shape, sizes, search });

/** Makes a UV set in which everything with coordinates in the target set is packed into one tile; the target stays as it is. */
export const packedSet: EditOperation<z.infer<typeof options>> = {
  id: "packed-set",
  title: "New packed copy",
  about:
    "Makes a UV set in which everything with coordinates in the target set is packed into one tile; the target stays as it is.",
  kind: "edit",
  stage: "brief",
  acts: "asset",
  locked: "may",
  keeps: true,
  options,
  run: loaded(() => import("../large/packed-set")),
};
