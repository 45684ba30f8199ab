import { z } from "zod";
import { type EditOperation, loaded } from "./operation";
import { limitOption } from "./shorten";

const options = z.object({ limit: limitOption });

/** Proposes seams for lathes, bars, tubes, domes and rings. */
export const turned: EditOperation<z.infer<typeof options>> = {
  id: "turned",
  title: "Propose seams: Turned",
  about:
    "Cuts turned bodies, tubes, domes and bent bars along their flow: caps off, one straight seam on the hidden side, and rings where they are needed.",
  kind: "edit",
  stage: "seams",
  heading: "Propose",
  acts: "shells",
  proposes: true,
  options,
  run: loaded(() => import("./large/turned")),
};
