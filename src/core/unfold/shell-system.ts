import { SparseCholesky } from "../numeric/sparse-cholesky";
import { patternOf, type RestShapes, restShapes, type ShellPattern } from "./rest-shapes";
import type { ShellMesh } from "./shell-mesh";

/** A shell as linear systems over its points see it: analysed once, factored with other numbers again and again. */
export interface ShellSystem {
  readonly rest: RestShapes;
  readonly pattern: ShellPattern;
  readonly solver: SparseCholesky;
}

export function systemOf(shell: ShellMesh): ShellSystem {
  const rest = restShapes(shell);
  const pattern = patternOf(rest.triangles, rest.points);
  return { rest, pattern, solver: new SparseCholesky(pattern, shell.positions, 3) };
}
