import type { Asset } from "../../layout/asset";
import { worldPositions } from "../../mesh/transform";
import { frameAbout } from "../../project/frame";
import { PLAIN, projected } from "../../project/kinds";
import { pieceForm, piecesFrom, placedIn } from "../../project/pieces";
import { stretchOf } from "../../project/suggest";
import { upOf } from "../../seams/visibility";
import { eyeWay } from "../eye-options";
import type { EditResult, Scope } from "../operation";
import { type Flat, laidBeside, type ToProject, toProject } from "./projected-work";

/** Projects faces flat, as they are seen. */
export function run(asset: Asset, scope: Scope, eye: Parameters<typeof eyeWay>[0]): EditResult {
  const frame = frameAbout(eyeWay(eye), upOf(asset), [0, 0, 0]);
  const seen = (work: ToProject): Flat => {
    const { mesh, metric } = work.shape;
    const piece = piecesFrom(placedIn(mesh, worldPositions(mesh, metric)), work.cut)(work.faces);
    const { uv } = projected(pieceForm(piece, frame), "flat", PLAIN);
    return { work, piece, uv, told: "from this view", ...stretchOf(piece.mesh, uv) };
  };
  return laidBeside(asset, scope, toProject(asset, scope, false).map(seen), "Project");
}
