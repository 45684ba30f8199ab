let held = false;

if (typeof window !== "undefined") {
  addEventListener("keydown", (e) => {
    if (e.code === "Space") held = true;
  });
  addEventListener("keyup", (e) => {
    if (e.code === "Space") held = false;
  });
  addEventListener("blur", () => {
    held = false;
  });
}

/** Whether Space is down: a drag then moves the view instead of drawing a box. */
export const spaceHeld = (): boolean => held;
