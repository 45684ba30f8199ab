import { type Asset, withLayouts } from "../../layout/asset";
import { type Bits, setBit } from "../../layout/bits";
import { facesOfShell, structureOf, withBits } from "../../layout/layout";
import { UserError } from "../../layout/user-error";
import type { Shell } from "../../mesh/indices";
import { worldPositions } from "../../mesh/transform";
import { draftPiece, sectionJudge, TAIL } from "../../seams/draft-piece";
import { seamCosts } from "../../seams/edge-cost";
import { sourceOf } from "../../seams/piece";
import { areaOf, seamField } from "../../seams/seam-field";
import { turnedBody } from "../../seams/turned";
import { sectionsOf } from "../../seams/turned-sections";
import { backOf } from "../../seams/visibility";
import { seenFaces } from "../../tasks/seen-faces";
import type { EditContext, EditResult, Scope } from "../operation";
import { shellsInScope } from "../scope";
import { count } from "../words";

/** Cuts shells that are turned bodies into sections that lie flat. */
export async function run(
  asset: Asset,
  scope: Scope,
  { limit }: { readonly limit: number },
  context: EditContext,
): Promise<EditResult> {
  const work = shellsInScope(asset, scope);
  const seen = await seenFaces(asset, context, (share) => context.progress(0.3 * share));
  const back = backOf(asset);
  let [bodies, edges] = [0, 0];
  const changes = [];
  for (const [i, { shape, layout, shells }] of work.entries()) {
    context.progress(0.3 + (0.7 * i) / work.length);
    const { mesh } = shape;
    const world = worldPositions(mesh, shape.metric);
    const field = seamField(sourceOf(mesh, world, seamCosts(mesh, world, seen.get(shape.id))));
    const s = structureOf(mesh, layout);
    const cut = layout.cut.slice();
    const before = bodies;
    const onPass = () => context.progress(0.3 + (0.7 * i) / work.length);
    const bounds = { limit, tail: TAIL };
    const lies = async (faces: Uint32Array, alike: Bits) =>
      draftPiece(field, { what: "weigh", faces, cut: alike, ...bounds }, onPass).cornerUv !== undefined;
    const judge = sectionJudge(field, lies, bounds, onPass);
    for (const shell of shells) {
      const faces = Uint32Array.from(facesOfShell(s, shell as Shell));
      const body = turnedBody(field, faces, layout.cut);
      const area = areaOf(field, faces);
      const found = body && (await sectionsOf(field, body, { back, area, cut: layout.cut }, judge));
      if (!found?.length) continue;
      bodies++;
      edges += found.length;
      for (const e of found) setBit(cut, e);
    }
    if (bodies > before) changes.push({ shape: shape.id, set: scope.set, layout: withBits(mesh, layout, cut) });
  }
  if (!bodies)
    throw new UserError(
      "None of these shells is a turned body: rings of quads, all with as many faces, from end to end.",
    );
  return {
    asset: withLayouts(asset, changes),
    words: `Turned: ${count(edges, "seam edge")} on ${bodies === 1 ? "1 body" : `${bodies} bodies`}`,
    notes: [],
  };
}
