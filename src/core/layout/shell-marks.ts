import type { Asset } from "./asset";
import type { ShapeId, UvSetId } from "./ids";
import type { Said, ShellMark } from "./shell-mark";
import type { ShellRef } from "./structure";

const keyOf = (set: UvSetId, shape: ShapeId, face: number): string => `${set} ${shape} ${face}`;

/** By list of marks: each by its shell. */
const known = new WeakMap<readonly ShellMark[], Map<string, ShellMark>>();

function byShell(marks: readonly ShellMark[]): Map<string, ShellMark> {
  let map = known.get(marks);
  if (!map) {
    map = new Map(marks.map((m) => [keyOf(m.set, m.shape, m.face), m]));
    known.set(marks, map);
  }
  return map;
}

const NOTHING: Said = {};

/** What was said of a shell of a UV set. */
export const saidOf = ({ shellMarks }: Pick<Asset, "shellMarks">, set: UvSetId, { shape, face }: ShellRef): Said =>
  (shellMarks.length && byShell(shellMarks).get(keyOf(set, shape, face))) || NOTHING;

/** How dense a shell is to be, by what is common. */
export const ratioOf = (asset: Pick<Asset, "shellMarks">, set: UvSetId, shell: ShellRef): number =>
  saidOf(asset, set, shell).ratio ?? 1;

/** Marks with something said, or no longer said, of some shells; those that say nothing are dropped. */
export function withSaid(
  asset: Pick<Asset, "shellMarks">,
  set: UvSetId,
  said: ReadonlyArray<{ readonly shell: ShellRef; readonly say: { readonly [K in keyof Said]: Said[K] | undefined } }>,
): ShellMark[] {
  const map = new Map(byShell(asset.shellMarks));
  for (const { shell, say } of said) {
    const key = keyOf(set, shell.shape, shell.face);
    const { ratio, lettering, parked } = { ...map.get(key), ...say };
    const kept: Said = {
      ...(ratio === undefined || ratio === 1 ? {} : { ratio }),
      ...(lettering ? { lettering } : {}),
      ...(parked ? { parked } : {}),
    };
    if (Object.keys(kept).length) map.set(key, { set, shape: shell.shape, face: shell.face, ...kept });
    else map.delete(key);
  }
  return [...map.values()];
}
