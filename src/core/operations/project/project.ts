import { z } from "zod";
import { CENTRES } from "../../project/frame";
import { CENTRED, PROJECTIONS, RADII } from "../../project/kinds";
import { EACH } from "../../project/pieces";
import { type EditOperation, loaded } from "../operation";

const degrees = (title: string, description: string) =>
  z.number().min(-3600).max(3600).default(0).meta({ title, description, unit: "°" });
const shift = (axis: string) =>
  z
    .number()
    .default(0)
    .meta({ title: `Centre ${axis}`, description: `By how much the centre is moved along ${axis}`, unit: "unit" });

const TURNED = { kind: [...PROJECTIONS] };
const PLACED = { kind: [...CENTRED] };

const options = z.object({
  kind: z
    .enum(["by the form", ...PROJECTIONS, "bent tube"])
    .default("by the form")
    .meta({ title: "Project as", description: "What the form is taken for; by the form, what stretches it least" }),
  axis: z
    .enum(["by the form", "x", "y", "z", "-x", "-y", "-z"])
    .default("by the form")
    .meta({
      title: "Axis",
      description: "Of a tube or a sphere; for flat ones the way to who looks",
      only: { kind: [...PROJECTIONS, "by the form"] },
    }),
  fresh: z.boolean().default(false).meta({
    title: "Forget seams within",
    description: "Seams between these faces go where the projection needs none",
  }),
  each: z
    .enum(EACH)
    .default("body")
    .meta({
      title: "Each by itself",
      description: "What gets a form of its own: what hangs together, every shell, face group or material",
      only: { kind: ["by the form", "bent tube"] },
    }),
  wrap: z
    .number()
    .min(-360)
    .max(360)
    .optional()
    .meta({
      title: "Wrap at",
      description: "Angle about the axis at which a form that no seam opens is opened",
      unit: "°",
      empty: "where it is seen least",
      only: { kind: ["cylinder", "sphere", "capped sphere"] },
    }),
  caps: z
    .boolean()
    .default(true)
    .meta({ title: "Ends by themselves", description: "Flat ends become discs", only: { kind: ["cylinder"] } }),
  capsFrom: z
    .number()
    .min(5)
    .max(85)
    .default(50)
    .meta({
      title: "Caps from",
      description: "Degrees off the equator from which on caps are parted off",
      unit: "°",
      only: { kind: ["capped sphere"] },
    }),
  radius: z
    .enum(RADII)
    .default("length")
    .meta({
      title: "Radius by",
      description: "What the distance from the pole is measured by",
      only: { kind: ["disc"] },
    }),
  turnX: degrees("Turn x", "About the world's x axis").meta({ only: TURNED }),
  turnY: degrees("Turn y", "About the world's y axis").meta({ only: TURNED }),
  turnZ: degrees("Turn z", "About the world's z axis").meta({ only: TURNED }),
  centre: z.enum(CENTRES).default("middle").meta({
    title: "Centre",
    description: "The part's middle, the middle of its base, or its origin",
    only: PLACED,
  }),
  x: shift("x").meta({ only: PLACED }),
  y: shift("y").meta({ only: PLACED }),
  z: shift("z").meta({ only: PLACED }),
});

/** Gives faces coordinates by projecting them, beside what is laid out. */
export const project: EditOperation<z.infer<typeof options>> = {
  id: "project",
  title: "Project",
  about:
    "Projects the picked faces as a plane, box, cylinder, sphere, disc or bent tube, true to scale, and lays them beside what is there. With edges picked their shells open along those.",
  kind: "edit",
  stage: "unfold",
  fits: ["faces"],
  heading: "Project",
  key: "alt+P",
  acts: "faces",
  drawnBefore: true,
  options,
  run: loaded(() => import("../large/project")),
};
