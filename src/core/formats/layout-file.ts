import { z } from "zod";
import { type Asset, type PlacedShape, PURPOSES, shapesOf } from "../layout/asset";
import { getBit } from "../layout/bits";
import { type Layout, structureOf } from "../layout/layout";
import { type NewPart, newAsset } from "../layout/new-asset";
import { UserError } from "../layout/user-error";
import { faceCount, NONE, type PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { iota } from "../numeric/iota";
import { baseName, type ReadOptions, stem } from "./read-options";
import { schemaWords } from "./schema-words";

// A layout without its mesh: how the faces are joined, the seams, and the points. Read again it is an asset whose
// vertices all lie at the origin, which is all that laying it on an untouched copy needs.

const LayoutNumbers = z.object({
  cut: z.array(z.number().int().min(0)),
  unmapped: z.array(z.number().int().min(0)),
  uv: z.array(z.number()),
});
const LayoutFile = z.object({
  tavlinLayout: z.literal(1),
  sets: z
    .array(z.object({ id: z.string(), name: z.string(), purpose: z.enum(PURPOSES) }))
    .min(1)
    .max(32),
  parts: z
    .array(
      z.object({
        name: z.string(),
        vertices: z.number().int().min(0),
        faceSizes: z.array(z.number().int().min(3)),
        corners: z.array(z.number().int().min(0)),
        sets: z.array(LayoutNumbers.nullable()),
      }),
    )
    .min(1),
});

/** The layouts of an asset without its meshes. */
export function writeLayoutFile(asset: Asset): Uint8Array {
  const parts = shapesOf(asset).map(({ name, mesh, layouts }: PlacedShape) => ({
    name,
    vertices: mesh.positions.length / 3,
    faceSizes: Array.from({ length: faceCount(mesh) }, (_, f) => mesh.faceStart[f + 1]! - mesh.faceStart[f]!),
    corners: Array.from(mesh.cornerVertex),
    sets: asset.sets.map(({ id }) => (layouts.has(id) ? layoutJson(mesh, layouts.get(id)!) : null)),
  }));
  const sets = asset.sets.map(({ id, name, purpose }) => ({ id, name, purpose }));
  return new TextEncoder().encode(JSON.stringify({ tavlinLayout: 1, sets, parts }));
}

function layoutJson(mesh: PolyMesh, set: Layout): z.infer<typeof LayoutNumbers> {
  const bits = (b: Uint8Array, count: number, value: boolean) =>
    Array.from({ length: count }, (_, i) => i).filter((i) => getBit(b, i) === value);
  return {
    cut: bits(set.cut, topologyOf(mesh).edgeCount, true),
    unmapped: bits(set.mapped, faceCount(mesh), false),
    uv: Array.from(set.uv),
  };
}

/** Reads a layout that was written alone. @throws UserError */
export function readLayoutFile(bytes: Uint8Array, options: ReadOptions): Asset {
  const bad = (why: string) => new UserError(`${options.name} is not a layout that can be read: ${why}.`);
  let raw: unknown;
  try {
    raw = JSON.parse(new TextDecoder().decode(bytes));
  } catch {
    throw bad("it is broken");
  }
  const parsed = LayoutFile.safeParse(raw);
  if (!parsed.success) throw bad(schemaWords(parsed.error));
  const { sets, parts } = parsed.data;
  // A vertex that a face uses takes two bytes at least. Counts beyond that are no reason to take the memory.
  if (parts.reduce((n, p) => n + p.vertices, 0) > bytes.length) throw bad("it names more vertices than it can hold");
  return newAsset(
    {
      id: "layout",
      name: stem(options.name),
      sets: sets.map((s, i) => ({ ...s, exportAs: i < 8 ? i : null })),
      source: { name: baseName(options.name), format: "made" },
    },
    parts.map((p, i): NewPart => {
      const mesh = meshOf(p, bad);
      const layouts = p.sets.map((set) => (set ? layoutOf(mesh, set, p.name, bad) : undefined));
      return { id: `p${i + 1}`, name: p.name, mesh, layouts };
    }),
  );
}

type PartJson = z.infer<typeof LayoutFile>["parts"][number];

function meshOf(p: PartJson, bad: (why: string) => UserError): PolyMesh {
  const faces = p.faceSizes.length;
  // Summed as a double: a Uint32 would wrap round.
  if (p.faceSizes.reduce((n, size) => n + size, 0) !== p.corners.length)
    throw bad(`the faces of ${p.name} do not fit together`);
  const faceStart = new Uint32Array(faces + 1);
  p.faceSizes.forEach((n, f) => {
    faceStart[f + 1] = faceStart[f]! + n;
  });
  if (p.corners.some((v) => v >= p.vertices)) throw bad(`the faces of ${p.name} do not fit together`);
  return {
    positions: new Float64Array(3 * p.vertices),
    faceStart,
    cornerVertex: Uint32Array.from(p.corners),
    faceMaterial: new Uint32Array(faces).fill(NONE),
    faceGroup: new Uint32Array(faces).fill(NONE),
    groups: [],
    origin: {
      vertex: iota(p.vertices),
      face: iota(faces),
    },
  };
}

function layoutOf(
  mesh: PolyMesh,
  json: z.infer<typeof LayoutNumbers>,
  name: string,
  bad: (why: string) => UserError,
): Layout {
  const t = topologyOf(mesh);
  const faces = faceCount(mesh);
  const bytes = (n: number) => new Uint8Array((n + 7) >> 3);
  const cut = bytes(t.edgeCount);
  const mapped = bytes(faces);
  if (json.cut.some((e) => e >= t.edgeCount) || json.unmapped.some((f) => f >= faces))
    throw bad(`the seams of ${name} do not fit its faces`);
  for (const e of json.cut) cut[e >> 3]! |= 1 << (e & 7);
  for (let f = 0; f < faces; f++) mapped[f >> 3]! |= 1 << (f & 7);
  for (const f of json.unmapped) mapped[f >> 3]! &= ~(1 << (f & 7));
  const { wedgeCount } = structureOf(mesh, { cut, mapped });
  if (json.uv.length !== 2 * wedgeCount) throw bad(`the points of ${name} do not fit its seams`);
  return { cut, mapped, uv: Float64Array.from(json.uv), pinned: bytes(wedgeCount) };
}
