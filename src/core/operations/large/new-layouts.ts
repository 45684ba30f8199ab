import type { LayoutChange, PlacedShape, UvSetId } from "../../layout/asset";
import type { Layout } from "../../layout/layout";
import { type ShellPoints, withShellPoints } from "../../layout/shell-points";
import type { Shell } from "../../mesh/indices";
import type { Context } from "../../tasks/context";
import type { ShellMesh } from "../../unfold/shell-mesh";

/** A shell of a shape as a solver takes it. */
export interface ShapeShell {
  readonly shape: PlacedShape;
  readonly layout: Layout;
  readonly shell: Shell;
  readonly form: ShellMesh;
}

/** Shows shells as they come, those that came before with them. */
export function shownAsTheyCome({ show }: Context, set: UvSetId): (shell: ShapeShell, uv: Float64Array) => void {
  const known = new Map<ShapeShell, Float64Array>();
  return (shell, uv) => {
    known.set(shell, uv);
    show?.(
      newLayouts(
        [...known].map(([own, points]) => ({ ...own, uv: points })),
        set,
      ),
    );
  };
}

/** The layouts of shapes whose shells have new points, 2 numbers a point of each form. */
export function newLayouts(
  shells: ReadonlyArray<ShapeShell & { readonly uv: Float64Array }>,
  set: UvSetId,
): LayoutChange[] {
  const points = new Map<PlacedShape, { layout: Layout; list: ShellPoints[] }>();
  for (const { shape, layout, shell, form, uv } of shells) {
    const own = points.get(shape) ?? { layout, list: [] };
    own.list.push({ shell, wedges: form.wedges, uv });
    points.set(shape, own);
  }
  return [...points].map(([shape, { layout, list }]) => ({
    shape: shape.id,
    set,
    layout: withShellPoints(shape.mesh, layout, list),
  }));
}
