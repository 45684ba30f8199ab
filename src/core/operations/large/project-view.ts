import type { Asset } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import { worldPositions } from "../../mesh/transform";
import { formOf } from "../../project/form";
import { frameAbout, type Vector } from "../../project/frame";
import { PLAIN, projected } from "../../project/kinds";
import { stretchOf } from "../../project/suggest";
import { upAxisOf } from "../../seams/visibility";
import type { EditResult, Scope } from "../operation";
import { laidBeside, type ToProject, toProject } from "./projected-work";

interface Wanted {
  readonly x: number;
  readonly y: number;
  readonly z: number;
}

/** Projects faces flat, as they are seen. */
export function run(asset: Asset, scope: Scope, { x, y, z }: Wanted): EditResult {
  if (!x && !y && !z) throw new UserError("Say from where the asset is looked at: x, y and z of the way to the eye.");
  const up: Vector = upAxisOf(asset) === 1 ? [0, 1, 0] : [0, 0, 1];
  const frame = frameAbout([x, y, z], up, [0, 0, 0]);
  const seen = (work: ToProject) => {
    const { mesh, metric } = work.shape;
    const form = formOf(mesh, worldPositions(mesh, metric), work.faces, work.cut, frame);
    const { uv } = projected(form, "flat", PLAIN);
    return { work, uv, told: "from this view", stretch: stretchOf(form, worldPositions(mesh, metric), uv) };
  };
  return laidBeside(asset, scope, toProject(asset, scope, false).map(seen), "Project");
}
