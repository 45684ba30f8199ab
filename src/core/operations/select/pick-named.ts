import type { z } from "zod";
import { placedShape, type ShapeId } from "../../layout/asset";
import { type Structure, shellNamed, structureOf } from "../../layout/layout";
import { facesPrint, itemsOfRuns } from "../../layout/named-selection";
import { pointNames } from "../../layout/point-names";
import { UserError } from "../../layout/user-error";
import { elementCount } from "../../select/grow";
import type { SelectOperation } from "../operation";
import { layoutOf } from "../scope";
import { elementWords } from "../words";
import { namedOptions, selectionNamed } from "./named";

/** UV points as they are named now: seams may have joined or parted them. */
const pointsAt = (s: Structure, corners: Uint32Array): Uint32Array =>
  Uint32Array.from(new Set(corners.map((c) => pointNames(s)[s.cornerWedge[c]!]!))).sort();

/** Picks again what was kept under a name, as far as its meshes are still the same and in view. */
export const pickNamed: SelectOperation<z.infer<typeof namedOptions>> = {
  id: "pick-named",
  title: "Pick: Named selection",
  about: "Picks again what was kept under a name; meshes that have changed since are left out.",
  kind: "select",
  stage: "seams",
  heading: "Named selections",
  acts: "asset",
  options: namedOptions,
  run(asset, scope, { name }) {
    const { kind, shapes } = selectionNamed(asset, name);
    const visible = new Set(asset.parts.filter((p) => scope.parts.includes(p.id)).map((p) => p.shape));
    const items = new Map<ShapeId, Uint32Array>();
    let [total, left] = [0, 0];
    for (const { shape: id, print, runs } of shapes) {
      if (!asset.shapes.has(id) || facesPrint(asset.shapes.get(id)!.mesh) !== print) left++;
      if (!visible.has(id) || facesPrint(asset.shapes.get(id)!.mesh) !== print) continue;
      const shape = placedShape(asset, id);
      const s = structureOf(shape.mesh, layoutOf(shape, scope.set));
      const all = itemsOfRuns(runs, elementCount(shape.mesh, kind));
      // Shells go by a face: one that was joined to another since is not there any more.
      const found =
        kind === "shells"
          ? all.filter((face) => shellNamed(s, face) !== null)
          : kind === "points"
            ? pointsAt(s, all)
            : all;
      if (found.length) items.set(id, found);
      total += found.length;
    }
    if (!total) throw new UserError(`Nothing of ${name} is in view, or its meshes have changed since it was named.`);
    const gone = left ? ` ${left === 1 ? "One mesh has" : `${left} meshes have`} changed since.` : "";
    return { selection: { kind, items }, words: `${elementWords(total, kind)} of ${name} picked.${gone}` };
  },
};
