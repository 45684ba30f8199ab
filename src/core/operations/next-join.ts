import { z } from "zod";
import { assembleOptions } from "./assemble";
import { loaded, type SelectOperation } from "./operation";

const options = assembleOptions.pick({ limit: true, apart: true }).extend({
  skip: z.string().default("").meta({ title: "Skip", description: "Borders that are not proposed again" }),
});

/** Picks the border that is best joined next. */
export const nextJoin: SelectOperation<z.infer<typeof options>> = {
  id: "next-join",
  title: "Propose a join",
  about: "Picks the border between two shells that is best joined next: long, and stretched little once it is.",
  kind: "select",
  stage: "seams",
  moves: true,
  acts: "shells",
  given: { skip: "" },
  options,
  run: loaded(() => import("./large/next-join")),
};
