import { UserError } from "../../layout/user-error";
import { IDENTITY, type Mat4, multiply } from "../../mesh/transform";
import type { GltfDocument, NodeJson } from "./document";

/** A node that shows a mesh, where it stands, and its number among those. */
export interface MeshNode {
  readonly node: number;
  readonly mesh: number;
  readonly name: string;
  /** Names of the nodes above it. */
  readonly path: readonly string[];
  /** Transform of the nodes above it. */
  readonly parent: Mat4;
  readonly world: Mat4;
  readonly index: number;
}

/** The nodes of the default scene that show meshes, in the order of the tree. */
export function meshNodes(doc: GltfDocument): MeshNode[] {
  const { json, name } = doc;
  const nodes = json.nodes ?? [];
  const scenes = json.scenes ?? [];
  const scene = json.scene !== undefined ? scenes[json.scene] : undefined;
  const roots = (scene ? [scene] : scenes).flatMap((s) => s.nodes ?? []);
  const out: MeshNode[] = [];
  const seen = new Set<number>();
  const stack = roots.reverse().map((node) => ({ node, path: [] as string[], parent: IDENTITY }));
  while (stack.length) {
    const { node, path, parent } = stack.pop()!;
    const json = nodes[node];
    if (!json) throw new UserError(`${name} is damaged: it refers to node ${node}, which is not there.`);
    if (seen.has(node)) throw new UserError(`${name} is damaged: node ${node} lies in the tree twice.`);
    seen.add(node);
    if (path.length > 200) throw new UserError(`${name} nests its nodes too deeply.`);
    const world = multiply(parent, localMatrix(json));
    if (!world.every(Number.isFinite)) throw new UserError(`${name} is damaged: node ${node} has no finite place.`);
    if (json.mesh !== undefined) {
      if (!doc.json.meshes?.[json.mesh])
        throw new UserError(`${name} is damaged: it refers to mesh ${json.mesh}, which is not there.`);
      out.push({ node, mesh: json.mesh, name: json.name ?? "", path, parent, world, index: out.length });
    }
    const below = [...path, json.name || `Node ${node + 1}`];
    for (const child of [...(json.children ?? [])].reverse()) stack.push({ node: child, path: below, parent: world });
  }
  return out;
}

function localMatrix(n: NodeJson): Mat4 {
  if (n.matrix) return n.matrix;
  const [x = 0, y = 0, z = 0, w = 1] = n.rotation ?? [];
  const [sx = 1, sy = 1, sz = 1] = n.scale ?? [];
  const [tx = 0, ty = 0, tz = 0] = n.translation ?? [];
  return [
    (1 - 2 * (y * y + z * z)) * sx,
    2 * (x * y + z * w) * sx,
    2 * (x * z - y * w) * sx,
    0,
    2 * (x * y - z * w) * sy,
    (1 - 2 * (x * x + z * z)) * sy,
    2 * (y * z + x * w) * sy,
    0,
    2 * (x * z + y * w) * sz,
    2 * (y * z - x * w) * sz,
    (1 - 2 * (x * x + y * y)) * sz,
    0,
    tx,
    ty,
    tz,
    1,
  ];
}
