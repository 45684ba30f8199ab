import { z } from "zod";
import { SPACINGS } from "../../straighten/quad-grid";

/** What becomes of the points of a shell that are not laid anew. */
export const RESTS = ["follows", "stays"] as const;
export type Rest = (typeof RESTS)[number];

/** What the ends of strips come to be. */
export const END_FORMS = ["square", "as they run"] as const;
export type EndForm = (typeof END_FORMS)[number];

export const restOption = z
  .enum(RESTS)
  .default("follows")
  .meta({ title: "The rest", description: "Follows with as little stretch as can be, nothing flipped, or stays" });

export const spacingOption = z
  .enum(SPACINGS)
  .default("as in 3D")
  .meta({ title: "Spacing", description: "Points lie as far apart as in space, or evenly" });
