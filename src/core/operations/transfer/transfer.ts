import { z } from "zod";
import { type Part, partById, withLayouts } from "../../layout/asset";
import { carryLayouts } from "../../layout/carry";
import { UserError } from "../../layout/user-error";
import { layoutFromCorners, type UvSet } from "../../layout/uv-set";
import { turnedOver } from "../../transfer/carry-over";
import { matchMeshes } from "../../transfer/match";
import { layBySurface } from "../../transfer/nearest-surface";
import type { EditOperation, Note } from "../operation";
import { partsInScope } from "../scope";
import { count } from "../words";

const options = z.object({
  from: z.string().default("").meta({ title: "From", description: "The part whose layout is copied", from: "parts" }),
  way: z.enum(["best", "connectivity", "surface"]).default("best").meta({
    title: "By",
    description: "How its faces are found again: by how they are joined, by the nearest surface, or whichever fits",
  }),
});

/** Copies the layout of one part to others: joined alike, numbered otherwise or mirrored, or merely near in shape. */
export const transfer: EditOperation<z.infer<typeof options>> = {
  id: "transfer",
  title: "Transfer the layout",
  about:
    "Copies a part's layout to the picked parts: by how their faces are joined, whatever the numbering, or by the nearest surface.",
  kind: "edit",
  stage: "brief",
  acts: "parts",
  picks: true,
  big: true,
  options,
  run(asset, scope, { from, way }, context) {
    const found = asset.parts.find((p) => p.id === from || p.name === from);
    if (!found) throw new UserError("Say which part's layout is to be copied.");
    const source = found.instanceOf === undefined ? found : partById(asset, found.instanceOf);
    const layout = source.uvSets[scope.set];
    if (!layout) throw new UserError(`${source.name} has no layout in this UV set.`);
    if (!scope.selection) throw new UserError("Pick the parts that are to get the layout.");
    const targets = partsInScope(asset, scope).filter((p) => p.id !== source.id);
    if (!targets.length) throw new UserError("Pick another part than the one that is copied.");
    const notes: Note[] = [];
    const changes = targets.flatMap((part, i) => {
      context.progress(i / targets.length);
      const made = laid(source, layout, part, way);
      if (!made) {
        notes.push({
          words: `${part.name} is joined otherwise than ${source.name}; it was left as it was.`,
          shells: [],
        });
        return [];
      }
      if (made.way === "surface" && way === "best")
        notes.push({ words: `${part.name} is joined otherwise and was laid by the nearest surface.`, shells: [] });
      return [{ part: part.id, set: scope.set, layout: made.layout }];
    });
    if (!changes.length) throw new UserError(notes[0]!.words);
    return {
      asset: withLayouts(asset, changes),
      words: `Transfer ${source.name} to ${count(changes.length, "part")}`,
      notes,
    };
  },
};

function laid(source: Part, layout: UvSet, part: Part, way: string): { layout: UvSet; way: string } | null {
  const match = way === "surface" ? null : matchMeshes(source.mesh, part.mesh);
  if (match) {
    const carried = carryLayouts(part.mesh, [{ mesh: source.mesh, layout, corner: match.corner }]);
    return { layout: turnedOver(part.mesh, carried, match.mirrored), way: "connectivity" };
  }
  if (way === "connectivity") return null;
  const uv = new Float64Array(2 * part.mesh.cornerVertex.length).fill(Number.NaN);
  const faces = Array.from({ length: part.mesh.faceStart.length - 1 }, (_, f) => f);
  layBySurface(
    { mesh: source.mesh, layout, places: source.mesh.positions },
    part.mesh,
    fitted(source, part),
    faces,
    uv,
  );
  return { layout: layoutFromCorners(part.mesh, uv), way: "surface" };
}

/** The target's places moved so that the middles of both boxes meet: a copy may stand elsewhere in its own space. */
function fitted(source: Part, part: Part): Float64Array {
  const [a, b] = [middle(source.mesh.positions), middle(part.mesh.positions)];
  return part.mesh.positions.map((x, i) => x + a[i % 3]! - b[i % 3]!);
}

function middle(p: Float64Array): [number, number, number] {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < p.length; i++) {
    low[i % 3] = Math.min(low[i % 3]!, p[i]!);
    high[i % 3] = Math.max(high[i % 3]!, p[i]!);
  }
  return low.map((x, i) => (x + high[i]!) / 2) as [number, number, number];
}
