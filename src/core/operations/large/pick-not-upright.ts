import type { Asset } from "../../layout/asset";
import { facesOfShell, structureOf } from "../../layout/layout";
import { uprightTurn } from "../../place/upright";
import type { Found, Scope } from "../operation";
import { type ShellAt, shellsAt } from "../place/shells-at";
import type { Up } from "../place/ups";
import { shellItems } from "../select/shell-items";
import { elementWords } from "../words";
import { waysUp } from "./lie";

interface PickNotUprightInput {
  readonly up: Up;
  /** Degrees. */
  readonly off: number;
  readonly mirrored: boolean;
}

/** Picks shells that do not stand upright, or are mirrored. */
export function run(asset: Asset, scope: Scope, { up, off, mirrored }: PickNotUprightInput): Found {
  const shells = shellsAt(asset, { ...scope, selection: undefined });
  const ways = waysUp(asset, up, shells);
  const isOff = ({ uv }: ShellAt, k: number) =>
    ways[k] !== null && Math.abs(uprightTurn(uv, ways[k]!, true)) > (off * Math.PI) / 180;
  const turnedOff = shells.filter(isOff);
  const backwards = mirrored ? shells.filter((s, k) => !isOff(s, k) && isMirrored(s)) : [];
  const found = [...turnedOff, ...backwards].map(({ shape, face }) => ({ shape: shape.id, face }));
  const words = found.length
    ? `${elementWords(found.length, "shells")} picked: ${turnedOff.length} not upright, ${backwards.length} mirrored.`
    : "All shells stand upright, and none is mirrored.";
  return { selection: { kind: "shells", items: shellItems(found) }, words };
}
/** Whether a shell lies the wrong way round, by the area of its faces. */
function isMirrored({ shape, layout, shell }: ShellAt): boolean {
  const { mesh } = shape;
  const s = structureOf(mesh, layout);
  let area = 0;
  for (const f of facesOfShell(s, shell)) {
    const [from, to] = [mesh.faceStart[f]!, mesh.faceStart[f + 1]!];
    for (let c = from; c < to; c++) {
      const a = 2 * s.cornerWedge[c]!;
      const b = 2 * s.cornerWedge[c + 1 < to ? c + 1 : from]!;
      area += layout.uv[a]! * layout.uv[b + 1]! - layout.uv[b]! * layout.uv[a + 1]!;
    }
  }
  return area < 0;
}
