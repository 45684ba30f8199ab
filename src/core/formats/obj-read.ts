import { type Asset, fileKey } from "../layout/asset";
import { layoutFromCorners } from "../layout/layout";
import { type NewPart, newAsset } from "../layout/new-asset";
import { UserError } from "../layout/user-error";
import { NONE, type PolyMesh } from "../mesh/poly-mesh";
import { GrowableArray } from "../numeric/growable-array";
import { iota } from "../numeric/iota";
import { readMaterials } from "./mtl";
import { ObjScanner } from "./obj-scan";
import { baseName, idAndUnit, type ReadOptions, stem } from "./read-options";

/** Faces of the file, before they are sorted into parts. */
interface Raw {
  readonly v: GrowableArray;
  readonly vt: GrowableArray;
  readonly vn: GrowableArray;
  /** 3 per corner: vertex, texture point, normal; -1 for none. */
  readonly corners: GrowableArray;
  readonly faceStart: GrowableArray;
  readonly facePart: GrowableArray;
  readonly faceMaterial: GrowableArray;
  readonly faceGroup: GrowableArray;
  readonly parts: string[];
  readonly groups: string[];
  readonly materials: string[];
  readonly libraries: string[];
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
  const raw = scan(bytes, options.progress);
  if (raw.faceStart.length < 2) throw new UserError(`${options.name} holds no faces.`);
  const key = fileKey(bytes);
  const { materials, images, files } = readMaterials(raw.materials, raw.libraries, options.beside);
  return newAsset(
    {
      ...idAndUnit(options),
      name: stem(options.name),
      materials,
      images,
      source: { name: baseName(options.name), format: "obj", key },
      files: { ...files, [key]: bytes },
    },
    makeParts(raw, stem(options.name), options.progress),
  );
}

/** Share of the work that reading the text is; the rest is making parts. */
const SCANNING = 0.7;

function scan(bytes: Uint8Array, progress?: (share: number) => void): Raw {
  const raw: Raw = {
    v: new GrowableArray(),
    vt: new GrowableArray(),
    vn: new GrowableArray(),
    corners: new GrowableArray(),
    faceStart: new GrowableArray().add(0),
    facePart: new GrowableArray(),
    faceMaterial: new GrowableArray(),
    faceGroup: new GrowableArray(),
    parts: [""],
    groups: [],
    materials: [],
    libraries: [],
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
    if ((s.line & 0xffff) === 0) progress?.((SCANNING * s.position) / bytes.length);
    switch (s.keyword() || s.word()) {
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
      case "mtllib":
        raw.libraries.push(s.rest());
        break;
      case "usemtl":
        now.material = named(lists.materials, raw.materials, s.rest());
        break;
    }
  }
  return raw;
}

/** The place an index of a face means: from the front counted from 1, from the back below 0. */
function resolve(s: ObjScanner, value: number, count: number, what: string): number {
  const index = value > 0 ? value - 1 : count + value;
  if (index < 0 || index >= count) s.fail(`the face names ${what} ${value} of ${count}`);
  return index;
}

function readFace(s: ObjScanner, raw: Raw): void {
  const start = raw.corners.length;
  while (s.more()) {
    const v = s.index();
    if (v === 0) s.fail(`the face has “${s.word().slice(0, 24)}” where a vertex number belongs`);
    const vt = s.slash() ? s.index() : 0;
    const vn = s.slash() ? s.index() : 0;
    if (!s.atWordEnd()) s.fail(`the face has “${s.word().slice(0, 24)}” where a corner should end`);
    raw.corners.reserve(3);
    const { data, length } = raw.corners;
    data[length] = resolve(s, v, raw.v.length / 3, "vertex");
    data[length + 1] = vt ? resolve(s, vt, raw.vt.length / 2, "texture point") : -1;
    data[length + 2] = vn ? resolve(s, vn, raw.vn.length / 3, "normal") : -1;
    raw.corners.length += 3;
  }
  if (raw.corners.length - start < 9) s.fail("a face needs at least three corners");
  raw.faceStart.add(raw.corners.length / 3);
}

/** Sorts the faces into parts, one per object; vertices keep their order in the file. */
function makeParts(raw: Raw, fileName: string, progress?: (share: number) => void): NewPart[] {
  const total = raw.facePart.length;
  const start = new Uint32Array(raw.parts.length + 1);
  for (let f = 0; f < total; f++) start[raw.facePart.data[f]! + 1]!++;
  for (let i = 0; i < raw.parts.length; i++) start[i + 1]! += start[i]!;
  const fill = start.slice(0, -1);
  const sorted = new Uint32Array(total);
  for (let f = 0; f < total; f++) sorted[fill[raw.facePart.data[f]!]!++] = f;
  const used = raw.parts.map((name, i) => ({ name, i })).filter(({ i }) => start[i + 1]! > start[i]!);
  const local = new Int32Array(raw.v.length / 3).fill(-1);
  let done = 0;
  return used.map(({ name, i }, at) => {
    const faces = sorted.subarray(start[i]!, start[i + 1]!);
    done += faces.length;
    progress?.(SCANNING + ((1 - SCANNING) * done) / total);
    return makePart(raw, faces, local, used.length === 1, {
      id: `p${at + 1}`,
      name: name || fileName,
      sourceIndex: i,
    });
  });
}

/**
 * One part out of its faces. A file of one part keeps its unused vertices.
 *
 * @param local scratch, -1 everywhere, before and after
 */
function makePart(
  raw: Raw,
  faces: Uint32Array,
  local: Int32Array,
  single: boolean,
  names: { id: string; name: string; sourceIndex: number },
): NewPart {
  const faceStart = new Uint32Array(faces.length + 1);
  for (let i = 0; i < faces.length; i++)
    faceStart[i + 1] = faceStart[i]! + raw.faceStart.data[faces[i]! + 1]! - raw.faceStart.data[faces[i]!]!;
  const total = faceStart[faces.length]!;
  const origin = single ? iota(local.length) : usedVertices(raw, faces, local);
  for (let i = 0; i < origin.length; i++) local[origin[i]!] = i;
  const positions = new Float64Array(3 * origin.length);
  for (let i = 0; i < origin.length; i++)
    for (let d = 0; d < 3; d++) positions[3 * i + d] = raw.v.data[3 * origin[i]! + d]!;
  const cornerVertex = new Uint32Array(total);
  const cornerUv = new Float64Array(2 * total);
  const cornerNormal = raw.vn.length ? new Float32Array(3 * total) : undefined;
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
      for (let d = 0; d < 3; d++) cornerNormal![3 * c + d] = raw.vn.data[3 * vn + d]!;
    }
  }
  for (let i = 0; i < origin.length; i++) local[origin[i]!] = -1;
  const pick = (from: GrowableArray) => Uint32Array.from(faces, (f) => from.data[f]!);
  const { faceGroup, groups } = ownGroups(pick(raw.faceGroup), raw.groups);
  const mesh: PolyMesh = {
    positions,
    faceStart,
    cornerVertex,
    faceMaterial: pick(raw.faceMaterial),
    faceGroup,
    groups,
    ...(normals && cornerNormal ? { cornerNormal } : {}),
    origin: { vertex: origin, face: faces.slice() },
  };
  const set = points ? layoutFromCorners(mesh, cornerUv) : undefined;
  return { ...names, mesh, layouts: [set] };
}

/** Only the groups that a part's faces lie in: a file may have as many groups as parts. */
function ownGroups(faceGroup: Uint32Array, all: readonly string[]): { faceGroup: Uint32Array; groups: string[] } {
  const place = new Map<number, number>();
  const groups: string[] = [];
  for (let f = 0; f < faceGroup.length; f++) {
    const group = faceGroup[f]!;
    if (group === NONE) continue;
    let own = place.get(group);
    if (own === undefined) {
      own = groups.push(all[group]!) - 1;
      place.set(group, own);
    }
    faceGroup[f] = own;
  }
  return { faceGroup, groups };
}

/** File vertices that some faces use, ascending. */
function usedVertices(raw: Raw, faces: Uint32Array, local: Int32Array): Uint32Array {
  const list: number[] = [];
  for (const f of faces)
    for (let k = raw.faceStart.data[f]!; k < raw.faceStart.data[f + 1]!; k++) {
      const v = raw.corners.data[3 * k]!;
      if (local[v]! >= 0) continue;
      local[v] = 0;
      list.push(v);
    }
  return Uint32Array.from(list).sort();
}
