import { type Asset, mapShapes, shapesOf } from "../layout/asset";
import { UserError } from "../layout/user-error";

/** Beyond this, areas and their squares leave the range of double precision. No unit makes a real thing so large. */
const FARTHEST = 1e30;

/** Letters a name may have, here and in the database. */
const LONGEST_NAME = 1000;

/**
 * Checks that all positions lie within reach of the arithmetic.
 *
 * @param name of the file, for the refusal
 * @throws UserError naming the part at fault
 */
export function checkReach(asset: Asset, name: string): Asset {
  for (const part of asset.parts)
    if (!part.transform.every((x) => Math.abs(x) <= FARTHEST))
      throw new UserError(`${name}: the transform of ${part.name} has a number beyond ${FARTHEST}.`);
  for (const shape of shapesOf(asset)) {
    const { positions } = shape.mesh;
    for (let i = 0; i < positions.length; i++)
      if (!(Math.abs(positions[i]!) <= FARTHEST))
        throw new UserError(`${name}: vertex ${Math.floor(i / 3)} of ${shape.name} lies beyond ${FARTHEST}.`);
  }
  return asset;
}

/**
 * A name as every place can hold it: no control characters (databases and XML refuse them), no halves of surrogate
 * pairs, and not longer than the database takes.
 */
export function cleanName(name: string): string {
  let out = "";
  for (const letter of name) {
    const code = letter.codePointAt(0)!;
    const bad =
      code < 32 || (code >= 127 && code < 160) || (code >= 0xd800 && code <= 0xdfff) || (code & 0xfffe) === 0xfffe;
    if (out.length + letter.length > LONGEST_NAME) break;
    out += bad ? "\ufffd" : letter;
  }
  return out;
}

/** The asset with names that every place can hold. */
export function withCleanNames(asset: Asset): Asset {
  const clean = mapShapes(asset, (s) =>
    s.mesh.groups.every((g) => cleanName(g) === g)
      ? s
      : { ...s, mesh: { ...s.mesh, groups: s.mesh.groups.map(cleanName) } },
  );
  return {
    ...clean,
    name: cleanName(asset.name).slice(0, 300) || "Asset",
    sets: asset.sets.map((s) => ({ ...s, name: cleanName(s.name) })),
    parts: asset.parts.map((p) => ({ ...p, name: cleanName(p.name), path: p.path.slice(0, 200).map(cleanName) })),
    materials: asset.materials.map((m) => ({ ...m, name: cleanName(m.name) })),
    images: asset.images.map((i) => ({ ...i, name: cleanName(i.name) })),
    source: { ...asset.source, name: cleanName(asset.source.name).slice(-300) },
  };
}
