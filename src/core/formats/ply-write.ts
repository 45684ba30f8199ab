import { type Asset, drawnParts } from "../layout/asset";
import { getBit } from "../layout/bits";
import { structureOf } from "../layout/layout";
import { faceCount } from "../mesh/poly-mesh";
import { worldPositions } from "../mesh/transform";

/**
 * Writes an asset as binary PLY: every vertex once, in the order it came, polygons whole; coordinates stand with the
 * corners of each face (a texcoord list), so that seams split nothing. A face without coordinates has an empty list.
 *
 * @param set the UV set to write; the first when left out
 */
export function writePly(asset: Asset, set = asset.sets[0]!.id): Uint8Array {
  let [vertices, faces, corners] = [0, 0, 0];
  const parts = drawnParts(asset);
  for (const { mesh } of parts) {
    vertices += mesh.positions.length / 3;
    faces += faceCount(mesh);
    corners += mesh.cornerVertex.length;
  }
  const header = new TextEncoder().encode(
    [
      "ply",
      "format binary_little_endian 1.0",
      "comment written by Tavlin",
      `element vertex ${vertices}`,
      "property double x",
      "property double y",
      "property double z",
      `element face ${faces}`,
      "property list uint uint vertex_indices",
      "property list uint double texcoord",
      "end_header",
      "",
    ].join("\n"),
  );
  const out = new Uint8Array(header.length + 24 * vertices + 8 * faces + 4 * corners + 16 * corners);
  out.set(header);
  const view = new DataView(out.buffer);
  let at = header.length;
  for (const part of parts)
    for (const x of worldPositions(part.mesh, part.transform)) {
      view.setFloat64(at, x, true);
      at += 8;
    }
  const u32 = (x: number) => {
    view.setUint32(at, x, true);
    at += 4;
  };
  let base = 0;
  for (const { mesh, layouts } of parts) {
    const layout = layouts.get(set);
    const wedge = layout && structureOf(mesh, layout).cornerWedge;
    for (let f = 0; f + 1 < mesh.faceStart.length; f++) {
      const [from, to] = [mesh.faceStart[f]!, mesh.faceStart[f + 1]!];
      u32(to - from);
      for (let c = from; c < to; c++) u32(base + mesh.cornerVertex[c]!);
      const mapped = layout && wedge && getBit(layout.mapped, f);
      u32(mapped ? 2 * (to - from) : 0);
      if (!mapped) continue;
      for (let c = from; c < to; c++)
        for (let d = 0; d < 2; d++) {
          view.setFloat64(at, layout.uv[2 * wedge[c]! + d]!, true);
          at += 8;
        }
    }
    base += mesh.positions.length / 3;
  }
  return out.subarray(0, at);
}
