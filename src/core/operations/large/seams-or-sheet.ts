import type { Asset, UvSetId } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import type { SeamsOrSheet } from "../../layout/seam-wishes";
import type { Edge } from "../../mesh/indices";
import { edgeFaceCount, topologyOf } from "../../mesh/topology";
import { worldPositions } from "../../mesh/transform";
import { packPage } from "../../pack/pack-page";
import { areaOf } from "../../pack/page";
import { edgeLengths } from "../../seams/edge-cost";
import type { PackOptions } from "./pack-options";
import { gathered, type PackWork } from "./pack-work";

/** Texels of the tile that layouts are packed into to see how much of it they fill. */
const TRIAL = 256;

/**
 * Of layouts from many seams to few the one that is asked for: with the fewest seams, with the fullest tile, or that in
 * which a tenth less of seam is worth a tenth less of the tile. How full each makes it is found by packing it coarsely.
 *
 * @param steps how many there are @param at what is packed at each, from 0 on
 */
export function chosenStep(
  asset: Asset,
  steps: number,
  at: (step: number) => PackWork[],
  wish: SeamsOrSheet,
  set: UvSetId,
  turns: PackOptions["turns"],
  progress: (share: number) => void,
): { work: PackWork[]; words: string } {
  if (wish === "few seams" || steps === 1) return { work: at(steps - 1), words: "" };
  const tries = Array.from({ length: steps }, (_, step) => {
    progress(step / steps);
    const work = at(step);
    const look = () => progress((step + 0.5) / steps);
    look();
    return { work, seam: seamLength(work), filled: filledBy(asset, work, set, turns, look) };
  });
  const worth = (t: (typeof tries)[number]) => (wish === "full sheet" ? t.filled : t.filled / (t.seam || 1));
  const chosen = tries.reduce((best, t) => (worth(t) >= worth(best) ? t : best));
  const percent = (x: number) => `${Math.round(100 * x)} %`;
  const last = tries.at(-1)!;
  if (chosen === last) return { work: chosen.work, words: "" };
  const told = `; fewer seams would fill ${percent(last.filled)} of the tile, these fill ${percent(chosen.filled)}`;
  return { work: chosen.work, words: told };
}

/** World length of all seams. */
function seamLength(work: readonly PackWork[]): number {
  let sum = 0;
  for (const { shape, layout } of work) {
    const t = topologyOf(shape.mesh);
    const lengths = edgeLengths(shape.mesh, worldPositions(shape.mesh, shape.metric));
    for (let e = 0 as Edge; e < t.edgeCount; e++)
      if (getBit(layout.cut, e) && edgeFaceCount(t, e) === 2) sum += lengths[e]!;
  }
  return sum;
}

/** The share of a tile that layouts fill when they are packed coarsely; 0 where they do not fit. */
function filledBy(
  asset: Asset,
  work: readonly PackWork[],
  set: UvSetId,
  turns: PackOptions["turns"],
  look: () => void,
): number {
  const { items } = gathered(asset, work, { resolution: TRIAL, padding: 1, turns }, set);
  const margin = 1 / TRIAL;
  const page = { u0: margin, v0: margin, w: 1 - 2 * margin, h: 1 - 2 * margin, texels: TRIAL };
  const packing = { page, unit: 1, padding: margin, turns, effort: 0, work: 0, seed: 0 };
  const found = packPage(items, packing, look);
  return found ? areaOf(items) * found.scale ** 2 : 0;
}
