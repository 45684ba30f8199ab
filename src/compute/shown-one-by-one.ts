import type { ShapeId } from "../core/layout/asset";
import type { Context } from "../core/operations/operation";

/** Shows points by shape; it answers when they are seen. */
export type Show = (points: ReadonlyArray<readonly [ShapeId, Float64Array]>) => void | Promise<void>;

/** Shows what work has come to as fast as it is seen, and no faster: what comes meanwhile is left out. */
export function shownOneByOne(show: Show): NonNullable<Context["show"]> {
  let isBusy = false;
  return (layouts) => {
    if (isBusy) return;
    isBusy = true;
    const points = layouts.flatMap((l) => (l.layout ? [[l.shape, l.layout.uv] as const] : []));
    void Promise.resolve(show(points)).finally(() => {
      isBusy = false;
    });
  };
}
