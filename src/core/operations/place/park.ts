import { z } from "zod";
import type { Asset } from "../../layout/asset";
import { withSaid } from "../../layout/shell-marks";
import type { SheetBox } from "../../place/box";
import { inRows } from "../../place/rows";
import type { EditOperation } from "../operation";
import { count } from "../words";
import { parkedBy, shellsAt, shifted, withShellsAt } from "./shells-at";

const options = z.object({
  gap: z.number().min(0).max(1024).default(16).meta({
    title: "Gap",
    description: "Between parked shells, in the asset's resolution",
    unit: "px",
  }),
});

/** Puts shells aside, left of the page. */
export const park: EditOperation<z.infer<typeof options>> = {
  id: "park",
  title: "Park",
  about: "Puts shells aside in tidy rows left of the page; Bring back puts each where it was.",
  kind: "edit",
  stage: "place",
  heading: "Arrange",
  acts: "shells",
  picks: true,
  options,
  run(asset, scope, { gap }) {
    const shells = shellsAt(asset, scope);
    const boxes = shells.map((s) => s.box);
    const apart = gap / asset.tiles.resolution;
    const widest = Math.max(1, ...boxes.map((b) => b.u1 - b.u0));
    // Beside all that is parked there already, from the top of the first tile down.
    const left = Math.min(0, ...parkedBoxes(asset, scope.set).map((b) => b.u0));
    const from = { u0: left - widest - 4 * apart, u1: left - 4 * apart, v0: 0, v1: 1 };
    const moves = inRows(boxes, from, widest, apart);
    const uvs = shells.map(({ uv }, k) => shifted(uv, moves[k]!));
    const said = shells.map(({ shape, face }, k) => {
      const shell = { shape: shape.id, face };
      const [u, v] = parkedBy(asset, scope.set, shells[k]!) ?? [0, 0];
      return { shell, say: { parked: [u + moves[k]![0], v + moves[k]![1]] as [number, number] } };
    });
    const moved = withShellsAt(asset, scope.set, shells, uvs);
    return {
      asset: { ...moved, shellMarks: withSaid(asset, scope.set, said) },
      words: `Park ${count(shells.length, "shell")}`,
      notes: [],
    };
  },
};

/** Boxes of what is parked. */
function parkedBoxes(asset: Asset, set: string): SheetBox[] {
  if (!asset.shellMarks.some((m) => m.parked && m.set === set)) return [];
  const all = shellsAt(asset, { set, parts: asset.parts.map((p) => p.id) });
  return all.filter((shell) => parkedBy(asset, set, shell)).map((s) => s.box);
}
