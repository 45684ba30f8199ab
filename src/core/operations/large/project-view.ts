import type { Asset } from "../../layout/asset";
import { worldPositions } from "../../mesh/transform";
import { formOf } from "../../project/form";
import { frameAbout } from "../../project/frame";
import { PLAIN, projected } from "../../project/kinds";
import { stretchOf } from "../../project/suggest";
import { eyeWay } from "../eye-options";
import type { EditResult, Scope } from "../operation";
import { laidBeside, type ToProject, toProject, upOf } from "./projected-work";

/** Projects faces flat, as they are seen. */
export function run(asset: Asset, scope: Scope, eye: Parameters<typeof eyeWay>[0]): EditResult {
  const frame = frameAbout(eyeWay(eye), upOf(asset), [0, 0, 0]);
  const seen = (work: ToProject) => {
    const { mesh, metric } = work.shape;
    const form = formOf(mesh, worldPositions(mesh, metric), work.faces, work.cut, frame);
    const { uv } = projected(form, "flat", PLAIN);
    return { work, uv, told: "from this view", stretch: stretchOf(form, worldPositions(mesh, metric), uv) };
  };
  return laidBeside(asset, scope, toProject(asset, scope, false).map(seen), "Project");
}
