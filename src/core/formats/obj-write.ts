import type { Asset, Part } from "../layout/asset";
import { getBit } from "../layout/bits";
import { UserError } from "../layout/user-error";
import { structureOf, type UvSet } from "../layout/uv-set";
import { faceCount, NONE } from "../mesh/poly-mesh";
import { isIdentity, worldPositions } from "../mesh/transform";
import { ObjScanner } from "./obj-scan";

export interface ObjOut {
  readonly obj: Uint8Array;
  readonly mtl: Uint8Array;
  readonly mtlName: string;
}

/**
 * Writes an asset as OBJ with MTL. An asset that came from an OBJ file is written back into it: everything but the
 * texture points and the references to them stands as it stood, comments and order included.
 *
 * @param baseName file name without ending
 * @param set index of the UV set to write
 */
export function writeObj(asset: Asset, baseName: string, set = 0): ObjOut {
  const mtlName = `${baseName}.mtl`;
  const rewrite =
    asset.source.format === "obj" && asset.source.bytes && asset.parts.every((p) => isIdentity(p.transform));
  const text = rewrite ? writeBack(asset, set) : compose(asset, mtlName, set);
  return { obj: text, mtl: new TextEncoder().encode(mtlText(asset)), mtlName };
}

function mtlText(asset: Asset): string {
  const toSrgb = (x: number) => (x <= 0.0031308 ? 12.92 * x : 1.055 * x ** (1 / 2.4) - 0.055);
  return asset.materials
    .map((m) => `newmtl ${m.name}\nKd ${m.color.map((x) => toSrgb(x).toFixed(4)).join(" ")}\n`)
    .join("\n");
}

/** Texture points of an asset, numbered in the order of first use; one per wedge. */
class PointList {
  readonly lines: string[] = [];
  private readonly numbers = new Map<UvSet, Int32Array>();

  /** 1-based number of a wedge's point, or 0 for an unmapped face. */
  of(part: Part, set: UvSet, corner: number, face: number): number {
    if (!getBit(set.mapped, face)) return 0;
    let numbers = this.numbers.get(set);
    const s = structureOf(part.mesh, set);
    if (!numbers) {
      numbers = new Int32Array(s.wedgeCount);
      this.numbers.set(set, numbers);
    }
    const w = s.cornerWedge[corner]!;
    if (!numbers[w]) numbers[w] = this.lines.push(`vt ${set.uv[2 * w]} ${set.uv[2 * w + 1]}\n`);
    return numbers[w]!;
  }
}

function compose(asset: Asset, mtlName: string, setIndex: number): Uint8Array {
  const out: string[] = [`mtllib ${mtlName}\n`];
  const points = new PointList();
  let vertexBase = 1;
  let normalBase = 1;
  for (const part of asset.parts) {
    const { mesh } = part;
    const set = part.uvSets[setIndex];
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
        line += ` ${vertexBase + mesh.cornerVertex[c]!}`;
        if (vt || normals) line += `/${vt || ""}`;
        if (normals) line += `/${normalBase + c}`;
      }
      faces.push(`${line}\n`);
    }
    for (let i = before; i < points.lines.length; i++) out.push(points.lines[i]!);
    for (const line of faces) out.push(line);
    vertexBase += world.length / 3;
    if (normals) normalBase += normals.length / 3;
  }
  return encodeAll(out);
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

/** Copies the source, putting this layout's points where its first texture point or face stood. */
function writeBack(asset: Asset, setIndex: number): Uint8Array {
  const bytes = asset.source.bytes!;
  const owner = faceOwners(asset);
  const points = new PointList();
  const head: (string | Uint8Array)[] = [];
  const tail: (string | Uint8Array)[] = [];
  let out = head;
  let copied = 0;
  let face = 0;
  const s = new ObjScanner(bytes);
  while (s.nextLine()) {
    const word = s.word();
    if (word !== "vt" && word !== "f") continue;
    const texts: string[] = [];
    if (word === "f") while (s.more()) texts.push(s.word());
    const [from, to] = s.lineRange();
    out.push(bytes.subarray(copied, from));
    copied = to;
    out = tail;
    if (word === "vt") continue;
    const at = owner[face++];
    if (!at) throw new UserError("The source file no longer fits its faces; export as a new OBJ instead.");
    const set = at.part.uvSets[setIndex];
    const start = at.part.mesh.faceStart[at.face]!;
    const corners = texts.map((text, k) => {
      const [v, , vn] = text.split("/");
      const vt = set ? points.of(at.part, set, start + k, at.face) : 0;
      return vn ? `${v}/${vt || ""}/${vn}` : vt ? `${v}/${vt}` : v;
    });
    out.push(`f ${corners.join(" ")}\n`);
  }
  out.push(bytes.subarray(copied));
  return encodeAll([...head, ...points.lines, ...tail]);
}

function faceOwners(asset: Asset): Array<{ part: Part; face: number }> {
  const owners: Array<{ part: Part; face: number }> = [];
  for (const part of asset.parts)
    for (let f = 0; f < faceCount(part.mesh); f++) owners[part.mesh.origin.face[f]!] = { part, face: f };
  return owners;
}
