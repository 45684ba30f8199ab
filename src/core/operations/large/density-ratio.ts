import type { Asset } from "../../layout/asset";
import { facesOfShell, structureOf } from "../../layout/layout";
import { ratioOf, withSaid } from "../../layout/shell-marks";
import { worldPositions } from "../../mesh/transform";
import { middleOfBox } from "../../place/box";
import { faceAreas } from "../../seams/seam-field";
import type { Context } from "../../tasks/context";
import { seenFaces } from "../../tasks/seen-faces";
import type { EditResult, Scope } from "../operation";
import { type ShellAt, shellsAt, withShellsAt } from "../place/shells-at";
import { count } from "../words";

interface RatioInput {
  readonly by: "one ratio" | "what is seen";
  readonly ratio: number;
}

/** Gives shells a density ratio. */
export async function run(asset: Asset, scope: Scope, input: RatioInput, context: Context): Promise<EditResult> {
  const shells = shellsAt(asset, scope);
  const seen = input.by === "what is seen";
  const ratios = seen ? await bySeen(asset, shells, input.ratio, context) : shells.map(() => input.ratio);
  const names = shells.map(({ shape, face }) => ({ shape: shape.id, face }));
  const uvs = shells.map(({ uv, box }, k) => {
    const by = ratios[k]! / ratioOf(asset, scope.set, names[k]!);
    const middle = middleOfBox(box);
    return uv.map((x, i) => middle[i % 2]! + by * (x - middle[i % 2]!));
  });
  const scaled = withShellsAt(asset, scope.set, shells, uvs);
  const said = names.map((shell, k) => ({ shell, say: { ratio: ratios[k]! } }));
  const [least, most] = [Math.min(...ratios), Math.max(...ratios)];
  return {
    asset: { ...scaled, shellMarks: withSaid(asset, scope.set, said) },
    words: `Density ratio ${least === most ? least : `${least} to ${most}`} for ${count(shells.length, "shell")}`,
    notes: [],
  };
}

/** Ratios are round, so that the table of shells can be read: twentieths. */
const STEP = 0.05;

/** A ratio for each shell, by how much of it is seen against their mean: that which is asked for where most is. */
async function bySeen(asset: Asset, shells: readonly ShellAt[], ratio: number, context: Context): Promise<number[]> {
  const seen = await seenFaces(asset, context, context.progress);
  const areas = new Map<string, Float64Array>();
  let [all, sum] = [0, 0];
  const shares = shells.map(({ shape, layout, shell }) => {
    const { mesh, metric, id } = shape;
    const area = areas.get(id) ?? faceAreas({ mesh, world: worldPositions(mesh, metric) });
    areas.set(id, area);
    let [own, open] = [0, 0];
    for (const f of facesOfShell(structureOf(mesh, layout), shell)) {
      own += area[f]!;
      open += area[f]! * seen.get(id)![f]!;
    }
    all += own;
    sum += open;
    return own ? open / own : 0;
  });
  const mean = all ? sum / all : 0;
  const farthest = Math.max(...shares.map((s) => Math.abs(s - mean)));
  return shares
    .map((s) => {
      const exact = farthest ? ratio ** ((s - mean) / farthest) : 1;
      return Math.max(STEP, Math.round(exact / STEP) * STEP);
    })
    .map((r) => Number(r.toFixed(2)));
}
