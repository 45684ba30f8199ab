import { type Asset, type DrawnPart, drawnParts, sourceBytes, type UvSetId } from "../layout/asset";
import { getBit } from "../layout/bits";
import { type Layout, structureOf } from "../layout/layout";
import { faceCount, NONE } from "../mesh/poly-mesh";
import { isIdentity, worldPositions } from "../mesh/transform";
import { imageNames, mtlText } from "./mtl";
import { ObjScanner } from "./obj-scan";

export interface ObjOut {
  readonly obj: Uint8Array;
  readonly mtl: Uint8Array;
  readonly mtlName: string;
  /** Images that the MTL refers to, under the names it calls them by; those whose bytes are at hand. */
  readonly images: ReadonlyArray<{
    readonly name: string;
    readonly type: string;
    readonly bytes: Uint8Array;
    readonly redrawn: boolean;
  }>;
  /** Whether the text is the source's own, with what changed written into it. */
  readonly inPlace: boolean;
}

/**
 * Writes an asset as OBJ with MTL. An asset that came from an OBJ file is written back into it: everything but the
 * texture points and the references to them stands as it stood, comments and order included. Where parts were moved or
 * repaired, the lines of their vertices and faces differ as well.
 *
 * @param baseName file name without ending
 * @param set the UV set to write; the first when left out
 */
export function writeObj(asset: Asset, baseName: string, set: UvSetId = asset.sets[0]!.id): ObjOut {
  const mtlName = `${baseName}.mtl`;
  const source = asset.source.format === "obj" ? sourceBytes(asset) : undefined;
  const places = source && filePlaces(asset);
  const text = places ? writeBack(asset, source, places, set) : composeAll(asset, mtlName, set);
  const images = imageNames(asset);
  return {
    obj: text,
    mtl: new TextEncoder().encode(mtlText(asset, images)),
    mtlName,
    inPlace: places !== undefined,
    images: asset.images.flatMap(({ key, type, redrawn = false }) => {
      const [name, bytes] = [images.get(key), asset.files?.[key]];
      return name && bytes ? [{ name, type, bytes, redrawn }] : [];
    }),
  };
}

/** Texture points of an asset, numbered in the order of first use; one per wedge. */
class PointList {
  readonly lines: string[] = [];
  private readonly numbers = new Map<Layout, Int32Array>();

  /** @param before points that stand in the file already */
  constructor(private readonly before = 0) {}

  /** 1-based number of a wedge's point, or 0 for an unmapped face. */
  of(part: DrawnPart, set: Layout, corner: number, face: number): number {
    if (!getBit(set.mapped, face)) return 0;
    let numbers = this.numbers.get(set);
    const s = structureOf(part.mesh, set);
    if (!numbers) {
      numbers = new Int32Array(s.wedgeCount);
      this.numbers.set(set, numbers);
    }
    const w = s.cornerWedge[corner]!;
    if (!numbers[w]) numbers[w] = this.before + this.lines.push(`vt ${set.uv[2 * w]} ${set.uv[2 * w + 1]}\n`);
    return numbers[w]!;
  }
}

/** Numbers that the next vertex and normal get, counted from 1. */
interface Bases {
  vertex: number;
  normal: number;
}

function composeAll(asset: Asset, mtlName: string, set: UvSetId): Uint8Array {
  const points = new PointList();
  const bases = { vertex: 1, normal: 1 };
  const out = asset.materials.length ? [`mtllib ${mtlName}\n`] : [];
  for (const part of drawnParts(asset)) composePart(asset, part, set, points, bases, out);
  return encodeAll(out);
}

function composePart(
  asset: Asset,
  part: DrawnPart,
  setId: UvSetId,
  points: PointList,
  bases: Bases,
  out: string[],
): void {
  const { mesh } = part;
  const set = part.layouts.get(setId);
  out.push(`o ${part.name}\n`);
  const world = worldPositions(mesh, part.transform);
  for (let i = 0; i < world.length; i += 3) out.push(`v ${world[i]} ${world[i + 1]} ${world[i + 2]}\n`);
  const normals = mesh.cornerNormal && isIdentity(part.transform) ? mesh.cornerNormal : undefined;
  if (normals)
    for (let i = 0; i < normals.length; i += 3) out.push(`vn ${normals[i]} ${normals[i + 1]} ${normals[i + 2]}\n`);
  let material = NONE;
  let group = NONE;
  const faces: string[] = [];
  const before = points.lines.length;
  for (let f = 0; f < faceCount(mesh); f++) {
    if (mesh.faceGroup[f] !== group) {
      group = mesh.faceGroup[f]!;
      faces.push(`g ${group === NONE ? "default" : mesh.groups[group]}\n`);
    }
    if (mesh.faceMaterial[f] !== material && mesh.faceMaterial[f] !== NONE) {
      material = mesh.faceMaterial[f]!;
      faces.push(`usemtl ${asset.materials[material]!.name}\n`);
    }
    let line = "f";
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const vt = set ? points.of(part, set, c, f) : 0;
      line += ` ${bases.vertex + mesh.cornerVertex[c]!}`;
      if (vt || normals) line += `/${vt || ""}`;
      if (normals) line += `/${bases.normal + c}`;
    }
    faces.push(`${line}\n`);
  }
  for (let i = before; i < points.lines.length; i++) out.push(points.lines[i]!);
  for (const line of faces) out.push(line);
  bases.vertex += world.length / 3;
  if (normals) bases.normal += normals.length / 3;
}

function encodeAll(pieces: readonly (string | Uint8Array)[]): Uint8Array {
  const encoder = new TextEncoder();
  const chunks: Uint8Array[] = [];
  let text: string[] = [];
  const flush = () => {
    if (text.length) chunks.push(encoder.encode(text.join("")));
    text = [];
  };
  for (const piece of pieces) {
    if (typeof piece === "string") text.push(piece);
    else {
      flush();
      chunks.push(piece);
    }
  }
  flush();
  const out = new Uint8Array(chunks.reduce((sum, c) => sum + c.length, 0));
  let at = 0;
  for (const chunk of chunks) {
    out.set(chunk, at);
    at += chunk.length;
  }
  return out;
}

/** What stands where in the source file: new places of its vertices, and the faces that each of its faces has become. */
interface FilePlaces {
  readonly vertices: Map<number, readonly [number, number, number]>;
  readonly faces: Map<number, Array<{ part: DrawnPart; face: number }>>;
  /** Faces and parts the file has no place for yet. */
  readonly added: Array<{ part: DrawnPart; face: number }>;
  readonly foreign: readonly DrawnPart[];
}

/** Undefined when the asset no longer fits the numbering of its file. */
function filePlaces(asset: Asset): FilePlaces | undefined {
  const vertices: FilePlaces["vertices"] = new Map();
  const faces: FilePlaces["faces"] = new Map();
  const added: FilePlaces["added"] = [];
  for (const part of drawnParts(asset)) {
    if (part.sourceIndex === undefined) continue;
    const { origin } = part.mesh;
    const world = worldPositions(part.mesh, part.transform);
    for (let v = 0; v < origin.vertex.length; v++) {
      const at = origin.vertex[v]!;
      if (at === NONE) return undefined;
      const known = vertices.get(at);
      const place = [world[3 * v]!, world[3 * v + 1]!, world[3 * v + 2]!] as const;
      if (known?.some((x, d) => x !== place[d])) return undefined;
      vertices.set(at, place);
    }
    for (let face = 0; face < faceCount(part.mesh); face++) {
      const at = origin.face[face]!;
      const owners = faces.get(at);
      if (at === NONE) added.push({ part, face });
      else if (owners) owners.push({ part, face });
      else faces.set(at, [{ part, face }]);
    }
  }
  return { vertices, faces, added, foreign: drawnParts(asset).filter((p) => p.sourceIndex === undefined) };
}

/** Copies the source, putting this layout's points where its first texture point or face stood. */
function writeBack(asset: Asset, bytes: Uint8Array, places: FilePlaces, set: UvSetId): Uint8Array {
  const points = new PointList();
  const head: (string | Uint8Array)[] = [];
  const tail: (string | Uint8Array)[] = [];
  let out = head;
  let copied = 0;
  const counts = { v: 0, vn: 0, f: 0 };
  const s = new ObjScanner(bytes);
  while (s.nextLine()) {
    const word = s.word();
    if (word === "vn") counts.vn++;
    if (word !== "vt" && word !== "f" && word !== "v") continue;
    const texts: string[] = [];
    if (word !== "vt") while (s.more()) texts.push(s.word());
    const line = word === "v" ? movedVertex(texts, places.vertices.get(counts.v++)) : undefined;
    if (word === "v" && line === undefined) continue;
    const [from, to] = s.lineRange();
    out.push(bytes.subarray(copied, from));
    copied = to;
    if (word === "v") {
      out.push(line!);
      continue;
    }
    out = tail;
    if (word === "f")
      for (const owner of places.faces.get(counts.f++) ?? []) out.push(faceLine(owner, texts, counts.v, set, points));
  }
  out.push(bytes.subarray(copied));
  if (places.added.length || places.foreign.length) out.push("\n");
  for (const owner of places.added) out.push(faceLine(owner, [], counts.v, set, points));
  const bases = { vertex: counts.v + 1, normal: counts.vn + 1 };
  const foreign = new PointList(points.lines.length);
  const more: string[] = [];
  for (const part of places.foreign) composePart(asset, part, set, foreign, bases, more);
  return encodeAll([...head, ...points.lines, ...tail, ...more]);
}

/** The line of a vertex that has moved, with what stands behind its place; undefined for one that has not. */
function movedVertex(texts: readonly string[], place: readonly number[] | undefined): string | undefined {
  if (!place || place.every((x, d) => x === Number(texts[d]))) return undefined;
  return `v ${[...place, ...texts.slice(3)].join(" ")}\n`;
}

/** A face's line with this layout's points; references to vertices and normals as they stood where the face does. */
function faceLine(
  { part, face }: { part: DrawnPart; face: number },
  texts: readonly string[],
  vertices: number,
  setId: UvSetId,
  points: PointList,
): string {
  const { mesh } = part;
  const set = part.layouts.get(setId);
  const start = mesh.faceStart[face]!;
  const size = mesh.faceStart[face + 1]! - start;
  const file = Array.from({ length: size }, (_, k) => mesh.origin.vertex[mesh.cornerVertex[start + k]!]! + 1);
  const numberOf = (text: string) => {
    const n = Number.parseInt(text, 10);
    return n < 0 ? vertices + n + 1 : n;
  };
  const asItStood = size === texts.length && file.every((v, k) => v === numberOf(texts[k]!));
  const corners = file.map((number, k) => {
    const vt = set ? points.of(part, set, start + k, face) : 0;
    const [v, , vn] = asItStood ? texts[k]!.split("/") : [String(number)];
    return vn ? `${v}/${vt || ""}/${vn}` : vt ? `${v}/${vt}` : v;
  });
  return `f ${corners.join(" ")}\n`;
}
