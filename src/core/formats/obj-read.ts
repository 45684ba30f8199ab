import type { Asset, Material, Part, Unit } from "../layout/asset";
import { UserError } from "../layout/user-error";
import { emptyLayout, layoutFromCorners } from "../layout/uv-set";
import { NONE, type PolyMesh } from "../mesh/poly-mesh";
import { IDENTITY } from "../mesh/transform";
import { Growing } from "./growing";
import { materialColor } from "./material-color";
import { ObjScanner } from "./obj-scan";

export interface ReadOptions {
  readonly id?: string;
  readonly name: string;
  readonly unit?: Unit;
}

/** Faces of the file, before they are sorted into parts. */
interface Raw {
  readonly v: Growing;
  readonly vt: Growing;
  readonly vn: Growing;
  /** 3 per corner: vertex, texture point, normal; -1 for none. */
  readonly corners: Growing;
  readonly faceStart: Growing;
  readonly facePart: Growing;
  readonly faceMaterial: Growing;
  readonly faceGroup: Growing;
  readonly parts: string[];
  readonly groups: string[];
  readonly materials: string[];
}

/**
 * Reads a Wavefront OBJ file: v, vt, vn, f of any size with negative indices, o, g, usemtl, comments, continued lines.
 * Parts are the file's objects; groups stay on the faces. Elements that are no mesh (points, lines, curves) are left
 * to the file, which is kept.
 *
 * @throws UserError naming the line at fault
 */
export function readObj(bytes: Uint8Array, options: ReadOptions): Asset {
  if (!bytes.length) throw new UserError(`${options.name} is empty.`);
  if (bytes.subarray(0, 4096).includes(0))
    throw new UserError(`${options.name} is not an OBJ text file: it holds binary data.`);
  const raw = scan(bytes);
  if (raw.faceStart.length < 2) throw new UserError(`${options.name} holds no faces.`);
  const materials: Material[] = raw.materials.map((name, i) => ({ name, color: materialColor(i) }));
  const parts = raw.parts
    .map((name, i) => ({ name, i }))
    .filter(({ i }) => raw.facePart.data.subarray(0, raw.facePart.length).includes(i));
  const single = parts.length === 1;
  return {
    id: options.id ?? "asset",
    name: options.name.replace(/\.[^.]*$/, ""),
    unit: options.unit ?? "m",
    up: "y",
    parts: parts.map(({ name, i }, at) =>
      makePart(raw, i, `p${at + 1}`, name || options.name.replace(/\.[^.]*$/, ""), single),
    ),
    materials,
    source: { name: options.name, format: "obj", bytes },
  };
}

function scan(bytes: Uint8Array): Raw {
  const raw: Raw = {
    v: new Growing(),
    vt: new Growing(),
    vn: new Growing(),
    corners: new Growing(),
    faceStart: new Growing().add(0),
    facePart: new Growing(),
    faceMaterial: new Growing(),
    faceGroup: new Growing(),
    parts: [""],
    groups: [],
    materials: [],
  };
  const now = { part: 0, material: NONE, group: NONE };
  const lists = { materials: new Map<string, number>(), groups: new Map<string, number>(), parts: new Map([["", 0]]) };
  const named = (list: Map<string, number>, names: string[], name: string): number => {
    const known = list.get(name);
    if (known !== undefined) return known;
    list.set(name, names.length);
    return names.push(name) - 1;
  };
  const s = new ObjScanner(bytes);
  while (s.nextLine()) {
    switch (s.word()) {
      case "v":
        raw.v.add(s.number("A vertex")).add(s.number("A vertex")).add(s.number("A vertex"));
        break;
      case "vt":
        raw.vt.add(s.number("A texture point")).add(s.more() ? s.number("A texture point") : 0);
        break;
      case "vn":
        raw.vn.add(s.number("A normal")).add(s.number("A normal")).add(s.number("A normal"));
        break;
      case "f":
        readFace(s, raw);
        raw.facePart.add(now.part);
        raw.faceMaterial.add(now.material);
        raw.faceGroup.add(now.group);
        break;
      case "o":
        now.part = named(lists.parts, raw.parts, s.rest());
        break;
      case "g":
        now.group = named(lists.groups, raw.groups, s.rest());
        break;
      case "usemtl":
        now.material = named(lists.materials, raw.materials, s.rest());
        break;
    }
  }
  return raw;
}

function readFace(s: ObjScanner, raw: Raw): void {
  const start = raw.corners.length;
  const resolve = (value: number, count: number, what: string): number => {
    const index = value > 0 ? value - 1 : count + value;
    if (index < 0 || index >= count) s.fail(`the face names ${what} ${value} of ${count}`);
    return index;
  };
  while (s.more()) {
    const v = s.index();
    if (v === 0) s.fail(`the face has “${s.word().slice(0, 24)}” where a vertex number belongs`);
    const vt = s.slash() ? s.index() : 0;
    const vn = s.slash() ? s.index() : 0;
    if (!s.atWordEnd()) s.fail(`the face has “${s.word().slice(0, 24)}” where a corner should end`);
    raw.corners
      .add(resolve(v, raw.v.length / 3, "vertex"))
      .add(vt ? resolve(vt, raw.vt.length / 2, "texture point") : -1)
      .add(vn ? resolve(vn, raw.vn.length / 3, "normal") : -1);
  }
  if (raw.corners.length - start < 9) s.fail("a face needs at least three corners");
  raw.faceStart.add(raw.corners.length / 3);
}

/** Gathers the faces of one object; vertices keep their order in the file. A file of one part keeps its unused ones. */
function makePart(raw: Raw, index: number, id: string, name: string, single: boolean): Part {
  const faces: number[] = [];
  for (let f = 0; f < raw.facePart.length; f++) if (raw.facePart.data[f] === index) faces.push(f);
  const vertices = raw.v.length / 3;
  const used = new Uint8Array(vertices).fill(single ? 1 : 0);
  const faceStart = new Uint32Array(faces.length + 1);
  for (let i = 0; i < faces.length; i++) {
    const from = raw.faceStart.data[faces[i]!]!;
    const to = raw.faceStart.data[faces[i]! + 1]!;
    faceStart[i + 1] = faceStart[i]! + to - from;
    for (let c = from; c < to; c++) used[raw.corners.data[3 * c]!] = 1;
  }
  const local = new Uint32Array(vertices);
  const origin: number[] = [];
  for (let v = 0; v < vertices; v++) if (used[v]) local[v] = origin.push(v) - 1;

  const positions = new Float64Array(3 * origin.length);
  for (let i = 0; i < origin.length; i++) positions.set(raw.v.data.subarray(3 * origin[i]!, 3 * origin[i]! + 3), 3 * i);
  const total = faceStart[faces.length]!;
  const cornerVertex = new Uint32Array(total);
  const cornerUv = new Float64Array(2 * total);
  const cornerNormal = new Float32Array(3 * total);
  let normals = false;
  let points = false;
  for (let i = 0, c = 0; i < faces.length; i++) {
    for (let k = raw.faceStart.data[faces[i]!]!; k < raw.faceStart.data[faces[i]! + 1]!; k++, c++) {
      cornerVertex[c] = local[raw.corners.data[3 * k]!]!;
      const vt = raw.corners.data[3 * k + 1]!;
      cornerUv[2 * c] = vt < 0 ? Number.NaN : raw.vt.data[2 * vt]!;
      cornerUv[2 * c + 1] = vt < 0 ? Number.NaN : raw.vt.data[2 * vt + 1]!;
      points ||= vt >= 0;
      const vn = raw.corners.data[3 * k + 2]!;
      if (vn < 0) continue;
      normals = true;
      for (let d = 0; d < 3; d++) cornerNormal[3 * c + d] = raw.vn.data[3 * vn + d]!;
    }
  }
  const pick = (from: Growing) => Uint32Array.from(faces, (f) => from.data[f]!);
  const mesh: PolyMesh = {
    positions,
    faceStart,
    cornerVertex,
    faceMaterial: pick(raw.faceMaterial),
    faceGroup: pick(raw.faceGroup),
    groups: raw.groups,
    ...(normals ? { cornerNormal } : {}),
    origin: { vertex: Uint32Array.from(origin), face: Uint32Array.from(faces) },
  };
  const set = points ? layoutFromCorners(mesh, "UV 1", cornerUv) : emptyLayout(mesh, "UV 1");
  return { id, name, path: [], mesh, transform: IDENTITY, uvSets: [set] };
}
