import { type Asset, fileKey } from "../layout/asset";
import { type NewPart, newAsset } from "../layout/new-asset";
import { UserError } from "../layout/user-error";
import { NONE, type PolyMesh } from "../mesh/poly-mesh";
import { pickPoints, weldExact } from "../mesh/weld-exact";
import { GrowableArray } from "../numeric/growable-array";
import { iota } from "../numeric/iota";
import { ObjScanner } from "./obj-scan";
import { baseName, idAndUnit, type ReadOptions, stem } from "./read-options";

interface Solid {
  readonly name: string;
  /** 9 per triangle. */
  readonly points: Float64Array | Float32Array;
}

/**
 * Reads an STL file, binary or text; every solid of a text file is a part. Corners at exactly the same position are one
 * vertex: nothing is joined by distance.
 *
 * @throws UserError with the reason
 */
export function readStl(bytes: Uint8Array, options: ReadOptions): Asset {
  const { name } = options;
  if (!bytes.length) throw new UserError(`${name} is empty.`);
  const solids = isText(bytes) ? readText(bytes, options) : [readBinary(bytes, options)];
  const parts = solids
    .filter((s) => s.points.length)
    .map(
      (solid, i): NewPart => ({
        id: `p${i + 1}`,
        name: solid.name || stem(name),
        sourceIndex: i,
        mesh: meshOf(solid.points),
      }),
    );
  if (!parts.length) throw new UserError(`${name} holds no triangles.`);
  const key = fileKey(bytes);
  const source = { name: baseName(name), format: "stl" as const, key };
  return newAsset(
    { unit: "mm", ...idAndUnit(options), name: stem(name), up: "z", source, files: { [key]: bytes } },
    parts,
  );
}

/** Text begins with "solid" and its size does not fit the count a binary file would have at byte 80. */
function isText(bytes: Uint8Array): boolean {
  const begins = new TextDecoder("latin1").decode(bytes.subarray(0, 5)).toLowerCase() === "solid";
  if (!begins) return false;
  if (bytes.length < 84) return true;
  const count = new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true);
  return bytes.length !== 84 + 50 * count && !bytes.subarray(0, 512).includes(0);
}

function readBinary(bytes: Uint8Array, { name, progress }: ReadOptions): Solid {
  if (bytes.length < 84) throw new UserError(`${name} is not an STL file that can be read: it is too short.`);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const count = view.getUint32(80, true);
  if (bytes.length < 84 + 50 * count)
    throw new UserError(`${name} ends too early: it tells of ${count} triangles and holds fewer.`);
  const points = new Float32Array(9 * count);
  let bad = -1;
  for (let t = 0; t < count; t++) {
    if ((t & 0xffff) === 0) progress?.(t / count);
    const at = 84 + 50 * t + 12;
    for (let k = 0; k < 9; k++) {
      const x = view.getFloat32(at + 4 * k, true);
      points[9 * t + k] = x;
      // Infinity or not a number less itself is not zero.
      if (x - x !== 0 && bad < 0) bad = t;
    }
  }
  if (bad >= 0) throw new UserError(`${name}: triangle ${bad} has no finite position.`);
  return { name: "", points };
}

function readText(bytes: Uint8Array, { name, progress }: ReadOptions): Solid[] {
  const out: Array<{ name: string; list: GrowableArray }> = [];
  const s = new ObjScanner(bytes);
  let ended = true;
  while (s.nextLine()) {
    if ((s.line & 0xffff) === 0) progress?.(s.position / bytes.length);
    const word = s.word().toLowerCase();
    if (word === "solid") {
      out.push({ name: s.rest(), list: new GrowableArray() });
      ended = false;
    } else if (word === "vertex") {
      if (!out.length) s.fail("a vertex stands outside a solid");
      const { list } = out.at(-1)!;
      list.add(s.number("A vertex")).add(s.number("A vertex")).add(s.number("A vertex"));
    } else if (word === "endfacet" && out.length && out.at(-1)!.list.length % 9)
      s.fail("the facet has not three vertices");
    else if (word === "endsolid") ended = true;
  }
  for (const { name: solid, list } of out)
    if (list.length % 9) throw new UserError(`${name}: solid ${solid || "without a name"} ends within a triangle.`);
  if (!ended) throw new UserError(`${name} ends too early: its last solid is not closed.`);
  return out.map(({ name: solid, list }) => ({ name: solid, points: list.data.slice(0, list.length) }));
}

function meshOf(points: Float64Array | Float32Array): PolyMesh {
  const { of, count } = weldExact(points);
  const faces = of.length / 3;
  return {
    positions: pickPoints(points, of, count),
    faceStart: iota(faces + 1, 3),
    cornerVertex: of,
    faceMaterial: new Uint32Array(faces).fill(NONE),
    faceGroup: new Uint32Array(faces).fill(NONE),
    groups: [],
    origin: {
      vertex: iota(count),
      face: iota(faces),
    },
  };
}
