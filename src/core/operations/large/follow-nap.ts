import type { Asset } from "../../layout/asset";
import { turnedAbout } from "../../layout/orient";
import { UserError } from "../../layout/user-error";
import { topologyOf } from "../../mesh/topology";
import { worldPositions } from "../../mesh/transform";
import { middleOfBox } from "../../place/box";
import { type Nap, napWay } from "../../place/nap";
import { offUpright } from "../../place/upright";
import type { EditResult, Note, Scope } from "../operation";
import { shellsAt, withShellsAt } from "../place/shells-at";
import { edgesInScope } from "../scope";
import { count } from "../words";
import { formsOf, waysUp } from "./lie";

interface FollowNapInput {
  readonly along: "upright" | "across";
  readonly shells: "all in view" | "those with picked edges";
}

/** Places of the nap that are looked at, at the most. */
const MOST = 400;

/** Turns shells along a nap. */
export function run(asset: Asset, scope: Scope, { along, shells: which }: FollowNapInput): EditResult {
  const nap = napOf(asset, scope);
  const shells = shellsAt(asset, which === "all in view" ? { ...scope, selection: undefined } : scope);
  const ups = waysUp(asset, "as the asset", shells);
  const formOf = formsOf();
  const left: typeof shells = [];
  const uvs = shells.map((own, k) => {
    const { shape, layout, shell, uv, box } = own;
    const way = napWay(formOf(shape, layout, shell), uv, nap);
    if (!way) {
      left.push(own);
      return null;
    }
    const quarter = along === "across" ? Math.PI / 2 : 0;
    const once = -offUpright(way) - quarter;
    // Either end may be first: the one with up on the model nearer to upwards, or else the smaller turn.
    const other = once > 0 ? once - Math.PI : once + Math.PI;
    const up = ups[k] ? offUpright(ups[k]!) : 0;
    const angle = Math.cos(up + once) >= Math.cos(up + other) ? once : other;
    return turnedAbout(uv, angle, middleOfBox(box));
  });
  if (left.length === shells.length) throw new UserError("The nap stands square to all of these shells.");
  const notes: Note[] = left.length
    ? [
        {
          words: `${count(left.length, "shell")} to which the nap stands square left as they are.`,
          shells: left.map(({ shape, face }) => ({ shape: shape.id, face })),
        },
      ]
    : [];
  return {
    asset: withShellsAt(asset, scope.set, shells, uvs),
    words: `Turn ${count(shells.length - left.length, "shell")} along the nap`,
    notes,
  };
}

/** The picked edges as a nap. */
function napOf(asset: Asset, scope: Scope): Nap {
  const places: number[] = [];
  const ways: number[] = [];
  const picked = edgesInScope(asset, scope);
  const step = Math.ceil(picked.reduce((sum, { edges }) => sum + edges.length, 0) / MOST) || 1;
  let k = 0;
  for (const { shape, edges } of picked) {
    const world = worldPositions(shape.mesh, shape.metric);
    const { edgeVertices } = topologyOf(shape.mesh);
    for (const e of edges) {
      if (k++ % step) continue;
      const [a, b] = [3 * edgeVertices[2 * e]!, 3 * edgeVertices[2 * e + 1]!];
      const way = [0, 1, 2].map((d) => world[b + d]! - world[a + d]!);
      const length = Math.hypot(...way);
      if (!(length > 0)) continue;
      for (let d = 0; d < 3; d++) {
        places.push((world[a + d]! + world[b + d]!) / 2);
        ways.push(way[d]! / length);
      }
    }
  }
  if (!places.length) throw new UserError("Pick edges along which the nap runs first.");
  return { places: Float64Array.from(places), ways: Float64Array.from(ways) };
}
