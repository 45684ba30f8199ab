import { type Asset, type PlacedShape, shapesOf, type UvSetId } from "../layout/asset";
import { getBit } from "../layout/bits";
import { isBarrier, type Layout, structureOf } from "../layout/layout";
import { type Plot, plotsOf } from "../layout/plots";
import { tileAt } from "../layout/tile-list";
import { tint, toHex } from "../layout/tints";
import type { Edge } from "../mesh/indices";
import { faceCount } from "../mesh/poly-mesh";
import { edgeCorner, edgeFaceCount, topologyOf } from "../mesh/topology";
import { cleanName } from "./sanitize";

export interface SheetOptions {
  readonly set: UvSetId;
  /** Texels per tile side: the drawing's units. */
  readonly resolution: number;
  readonly wires: boolean;
  readonly names: boolean;
}

const safe = (text: string) => cleanName(text).replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);

/** The layout drawn as SVG: shells filled by part, outlines in seam colour, tiles with borders and numbers. v is up. */
export function writeSheet(asset: Asset, options: SheetOptions): string {
  const bounds = { u0: 0, v0: 0, u1: 1, v1: 1 };
  for (const shape of shapesOf(asset)) {
    const set = shape.layouts.get(options.set);
    if (!set) continue;
    for (const w of mappedWedges(shape, set)) {
      bounds.u0 = Math.min(bounds.u0, Math.floor(set.uv[2 * w]!));
      bounds.v0 = Math.min(bounds.v0, Math.floor(set.uv[2 * w + 1]!));
      bounds.u1 = Math.max(bounds.u1, Math.ceil(set.uv[2 * w]!));
      bounds.v1 = Math.max(bounds.v1, Math.ceil(set.uv[2 * w + 1]!));
    }
  }
  const r = options.resolution;
  const width = (bounds.u1 - bounds.u0) * r;
  const height = (bounds.v1 - bounds.v0) * r;
  const x = (u: number) => +((u - bounds.u0) * r).toFixed(2);
  const y = (v: number) => +((bounds.v1 - v) * r).toFixed(2);
  const parts = shapesOf(asset).map((shape, i) => drawPart(shape, shape.layouts.get(options.set), i, x, y, options));
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">`,
    `<title>${safe(asset.name)}</title>`,
    `<g font-family="sans-serif" stroke-linejoin="round">`,
    ...tiles(bounds, x, y, r),
    ...parts,
    ...plotsOf(asset, options.set).map((plot) => drawPlot(plot, x, y, r)),
    "</g></svg>\n",
  ].join("\n");
}

function drawPlot(
  { name, u0, v0, u1, v1 }: Plot,
  x: (u: number) => number,
  y: (v: number) => number,
  r: number,
): string {
  const box = `x="${x(u0)}" y="${y(v1)}" width="${+(x(u1) - x(u0)).toFixed(2)}" height="${+(y(v0) - y(v1)).toFixed(2)}"`;
  return [
    `<rect ${box} fill="none" stroke="#22252e" stroke-width="${r / 1024}" stroke-dasharray="${r / 128} ${r / 256}"/>`,
    `<text x="${x(u0) + r / 128}" y="${y(v1) + r / 64}" font-size="${r / 64}" fill="#22252e">${safe(name)}</text>`,
  ].join("");
}

function mappedWedges(shape: PlacedShape, set: Layout): Set<number> {
  const s = structureOf(shape.mesh, set);
  const t = topologyOf(shape.mesh);
  const out = new Set<number>();
  for (let c = 0; c < s.cornerWedge.length; c++) if (getBit(set.mapped, t.cornerFace[c]!)) out.add(s.cornerWedge[c]!);
  return out;
}

function tiles(
  b: { u0: number; v0: number; u1: number; v1: number },
  x: (u: number) => number,
  y: (v: number) => number,
  r: number,
): string[] {
  const out: string[] = [];
  if ((b.u1 - b.u0) * (b.v1 - b.v0) > 400) return out;
  for (let v = b.v0; v < b.v1; v++)
    for (let u = b.u0; u < b.u1; u++) {
      const number = tileAt(u, v) ?? "";
      out.push(
        `<rect x="${x(u)}" y="${y(v + 1)}" width="${r}" height="${r}" fill="none" stroke="#b9ad95" stroke-width="${r / 1024}"/>`,
        `<text x="${x(u) + r / 100}" y="${y(v) - r / 100}" font-size="${r / 50}" fill="#6b6a66">${number}</text>`,
      );
    }
  return out;
}

function drawPart(
  shape: PlacedShape,
  set: Layout | undefined,
  index: number,
  x: (u: number) => number,
  y: (v: number) => number,
  options: SheetOptions,
): string {
  if (!set) return "";
  const { mesh } = shape;
  const s = structureOf(mesh, set);
  const t = topologyOf(mesh);
  const at = (c: number) => `${x(set.uv[2 * s.cornerWedge[c]!]!)} ${y(set.uv[2 * s.cornerWedge[c]! + 1]!)}`;
  const faces: string[] = [];
  for (let f = 0; f < faceCount(mesh); f++) {
    if (!getBit(set.mapped, f)) continue;
    const corners: string[] = [];
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) corners.push(at(c));
    faces.push(`M${corners.join("L")}Z`);
  }
  const outline: string[] = [];
  const wires: string[] = [];
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    const barrier = isBarrier(t, set, e);
    if (!barrier && !options.wires) continue;
    for (let k = 0; k < (barrier ? edgeFaceCount(t, e) : 1); k++) {
      const c = edgeCorner(t, e, k);
      if (getBit(set.mapped, t.cornerFace[c]!)) (barrier ? outline : wires).push(`M${at(c)}L${at(t.cornerNext[c]!)}`);
    }
  }
  const fill = toHex(tint(index));
  const thin = options.resolution / 2048;
  return [
    `<g id="${safe(shape.name)}">`,
    `<path d="${faces.join("")}" fill="${fill}" stroke="${fill}" stroke-width="${thin / 2}"/>`,
    wires.length
      ? `<path d="${wires.join("")}" fill="none" stroke="#22252e" stroke-opacity=".25" stroke-width="${thin / 2}"/>`
      : "",
    `<path d="${outline.join("")}" fill="none" stroke="#2e3a87" stroke-width="${1.5 * thin}"/>`,
    options.names ? label(shape, set, x, y, options.resolution) : "",
    "</g>",
  ].join("");
}

/** The part's name in the middle of the box of its shell with the most faces. */
function label(
  shape: PlacedShape,
  set: Layout,
  x: (u: number) => number,
  y: (v: number) => number,
  resolution: number,
): string {
  const s = structureOf(shape.mesh, set);
  let best = -1;
  for (let k = 0; k < s.shellCount; k++) {
    if (!getBit(set.mapped, s.shellFaces[s.shellStart[k]!]!)) continue;
    if (best < 0 || s.shellStart[k + 1]! - s.shellStart[k]! > s.shellStart[best + 1]! - s.shellStart[best]!) best = k;
  }
  if (best < 0) return "";
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let c = 0; c < s.cornerWedge.length; c++) {
    if (s.faceShell[topologyOf(shape.mesh).cornerFace[c]!] !== best) continue;
    const w = 2 * s.cornerWedge[c]!;
    u0 = Math.min(u0, set.uv[w]!);
    u1 = Math.max(u1, set.uv[w]!);
    v0 = Math.min(v0, set.uv[w + 1]!);
    v1 = Math.max(v1, set.uv[w + 1]!);
  }
  return `<text x="${x((u0 + u1) / 2)}" y="${y((v0 + v1) / 2)}" font-size="${resolution / 80}" text-anchor="middle" fill="#22252e">${safe(shape.name)}</text>`;
}
