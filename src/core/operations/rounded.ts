import { z } from "zod";
import { type EditOperation, loaded } from "./operation";
import { limitOption } from "./shorten";

const options = z.object({ limit: limitOption });

/** Proposes seams for organic forms. */
export const rounded: EditOperation<z.infer<typeof options>> = {
  id: "rounded",
  title: "Propose seams: Rounded",
  about:
    "Cuts organic forms: reaches their tips through valleys that are seen least, until no shell is stretched beyond the limit.",
  kind: "edit",
  stage: "seams",
  heading: "Propose",
  acts: "parts",
  proposes: true,
  options,
  run: loaded(() => import("./large/rounded")),
};
