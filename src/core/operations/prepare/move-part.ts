import { z } from "zod";
import { type Part, withParts } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import { type Mat4, multiply, transformPoints } from "../../mesh/transform";
import type { EditOperation } from "../operation";
import { partsInScope } from "../scope";
import { count } from "../words";

const along = (axis: string) =>
  z
    .number()
    .default(0)
    .meta({ title: `Move ${axis}`, description: `Along ${axis}, in the asset's unit`, unit: "unit" });

const options = z.object({
  x: along("x"),
  y: along("y"),
  z: along("z"),
  turn: z
    .number()
    .default(0)
    .meta({ title: "Turn", description: "About the upright axis through its pivot, counter-clockwise", unit: "°" }),
});

/** Moves and turns parts in space. */
export const movePart: EditOperation<z.infer<typeof options>> = {
  id: "move-part",
  title: "Move parts",
  about: "Moves the picked parts in space, and turns each about the upright axis through its pivot.",
  kind: "edit",
  stage: "brief",
  heading: "Parts",
  acts: "parts",
  picks: true,
  options,
  run(asset, scope, { x, y, z: dz, turn }) {
    if (!scope.picked && !scope.selection) throw new UserError("Pick the parts to move first.");
    if (!x && !y && !dz && !turn) throw new UserError("Say how far to move or turn.");
    const ids = new Set(partsInScope(asset, scope).map((p) => p.id));
    const moved = (part: Part): Part => {
      const pivot = transformPoints(part.transform, Float64Array.from(part.pivot ?? [0, 0, 0]));
      const about = multiply(
        shift(pivot[0]!, pivot[1]!, pivot[2]!),
        multiply(turned(turn, asset.up), shift(-pivot[0]!, -pivot[1]!, -pivot[2]!)),
      );
      return { ...part, transform: multiply(shift(x, y, dz), turn ? multiply(about, part.transform) : part.transform) };
    };
    return {
      asset: withParts(
        asset,
        asset.parts.map((p) => (ids.has(p.id) ? moved(p) : p)),
      ),
      words: `Move ${count(ids.size, "part")}`,
      notes: [],
    };
  },
};

const shift = (x: number, y: number, z: number): Mat4 => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, y, z, 1];

function turned(degrees: number, up: "y" | "z"): Mat4 {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return up === "y"
    ? [c, 0, -s, 0, 0, 1, 0, 0, s, 0, c, 0, 0, 0, 0, 1]
    : [c, s, 0, 0, -s, c, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
}
