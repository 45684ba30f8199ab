// Segments of the plane.

/** Twice the area of a triangle. */
function turn(ax: f64, ay: f64, bx: f64, by: f64, cx: f64, cy: f64): f64 {
  return (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
}

/** Whether two segments have a point in common; those that only touch count. */
export function segmentsMeet(ax: f64, ay: f64, bx: f64, by: f64, cx: f64, cy: f64, dx: f64, dy: f64): bool {
  if (Math.max(cx, dx) < Math.min(ax, bx) || Math.min(cx, dx) > Math.max(ax, bx)) return false;
  if (Math.max(cy, dy) < Math.min(ay, by) || Math.min(cy, dy) > Math.max(ay, by)) return false;
  const c = turn(ax, ay, bx, by, cx, cy);
  const d = turn(ax, ay, bx, by, dx, dy);
  if ((c > 0 && d > 0) || (c < 0 && d < 0)) return false;
  const a = turn(cx, cy, dx, dy, ax, ay);
  const b = turn(cx, cy, dx, dy, bx, by);
  return !((a > 0 && b > 0) || (a < 0 && b < 0));
}
