import { facingOut, lathe, type Shape, shape } from "../../demo/kit";
import { meshFromPolygons } from "../core/mesh/poly-mesh";
import { seamCosts } from "../core/seams/edge-cost";
import { sourceOf } from "../core/seams/piece";

export const meshOf = (s: Shape) => meshFromPolygons(s.points.flat(), s.faces);
export const sourceFrom = (s: Shape) => {
  const mesh = meshOf(s);
  return sourceOf(mesh, mesh.positions, seamCosts(mesh, mesh.positions));
};

/** A torus of n x m quads. */
export function torus(n: number, m: number): Shape {
  const s = shape();
  for (let i = 0; i < n; i++)
    for (let j = 0; j < m; j++) {
      const [a, b] = [(2 * Math.PI * i) / n, (2 * Math.PI * j) / m];
      s.points.push([(3 + Math.cos(b)) * Math.cos(a), Math.sin(b), (3 + Math.cos(b)) * Math.sin(a)]);
    }
  for (let i = 0; i < n; i++)
    for (let j = 0; j < m; j++) {
      const at = (x: number, y: number) => (x % n) * m + (y % m);
      s.faces.push([at(i, j), at(i, j + 1), at(i + 1, j + 1), at(i + 1, j)]);
      s.material.push(0);
    }
  return facingOut(s);
}

/** A ball with so many rings of quads, of triangles at its poles. */
export const ball = (n: number) =>
  lathe(
    Array.from({ length: n + 1 }, (_, i): [number, number] => [
      i === 0 || i === n ? 0 : Math.sin((Math.PI * i) / n),
      -Math.cos((Math.PI * i) / n),
    ]),
    2 * n,
  );

/** A flat plate of n x m squares. */
export function plate(n: number, m: number): Shape {
  const s = shape();
  for (let j = 0; j <= m; j++) for (let i = 0; i <= n; i++) s.points.push([i, j, 0]);
  for (let j = 0; j < m; j++)
    for (let i = 0; i < n; i++) {
      const a = j * (n + 1) + i;
      s.faces.push([a, a + 1, a + n + 2, a + n + 1]);
      s.material.push(0);
    }
  return s;
}
