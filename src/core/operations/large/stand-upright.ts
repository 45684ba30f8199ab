import type { Asset } from "../../layout/asset";
import { turnedAbout } from "../../layout/orient";
import { UserError } from "../../layout/user-error";
import { around, middleOfBox, type SheetBox } from "../../place/box";
import { uprightTurn } from "../../place/upright";
import type { EditResult, Note, Scope } from "../operation";
import { shellsAt, withShellsAt } from "../place/shells-at";
import type { Up } from "../place/ups";
import { count } from "../words";
import { waysUp } from "./lie";

interface StandUprightInput {
  readonly up: Up;
  readonly square: boolean;
  readonly together: boolean;
}

/** Below this a shell stands as it should, radians: what is turned again stays to the last bit. */
const STANDS = 1e-9;

/** Turns shells so that up on the model is up on the sheet. */
export function run(asset: Asset, scope: Scope, { up, square, together }: StandUprightInput): EditResult {
  const shells = shellsAt(asset, scope);
  const ways = waysUp(asset, up, shells);
  const turns = shells.map(({ uv }, k) => (ways[k] ? uprightTurn(uv, ways[k]!, square) : null));
  if (turns.every((t) => t === null))
    throw new UserError("None of these shells has an up: the model is the same all round there.");
  const [largest] = shells
    .map((_, k) => k)
    .filter((k) => ways[k])
    .sort((a, b) => sizeOf(shells[b]!.box) - sizeOf(shells[a]!.box));
  const common = middleOfBox(around(shells.map((s) => s.box)));
  const uvs = shells.map(({ uv, box }, k) => {
    const angle = turns[together ? largest! : k];
    if (angle === null || angle === undefined || Math.abs(angle) < STANDS) return null;
    return turnedAbout(uv, angle, together ? common : middleOfBox(box));
  });
  const moved = uvs.filter(Boolean).length;
  const notes: Note[] = [];
  const without = shells.filter((_, k) => ways[k] === null);
  if (without.length && !together)
    notes.push({
      words: `${count(without.length, "shell")} without an up, the model being the same all round there, left as they are.`,
      shells: without.map(({ shape, face }) => ({ shape: shape.id, face })),
    });
  if (!moved) throw new UserError("All of these shells stand upright already.");
  return {
    asset: withShellsAt(asset, scope.set, shells, uvs),
    words: `Stand ${count(moved, "shell")} upright`,
    notes,
  };
}

const sizeOf = ({ u0, v0, u1, v1 }: SheetBox): number => (u1 - u0) * (v1 - v0);
