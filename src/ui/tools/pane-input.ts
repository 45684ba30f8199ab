import { spaceHeld } from "../stage/space-key";
import type { Gestures } from "./gestures";
import type { At, Grip } from "./tool";

/** Where an event happened in a pane, and what was held with it. */
function atOf(e: PointerEvent | MouseEvent, frame: { left: number; top: number }): At {
  const grip = e.target instanceof Element ? e.target.closest<SVGElement>("[data-grip]")?.dataset.grip : undefined;
  return {
    x: e.clientX - frame.left,
    y: e.clientY - frame.top,
    shift: e.shiftKey,
    ctrl: e.ctrlKey || e.metaKey,
    alt: e.altKey,
    ...(grip ? { grip: grip as Grip } : {}),
  };
}

/** Whether an event is that of a handle drawn over the pane, which sees to it itself. */
const isOnHandle = (e: Event): boolean => e.target instanceof Element && e.target.closest("[data-handle]") !== null;

/** How far a press with Alt may go and still be a click where such a drag moves the eye, pixels. */
const SLACK = 4;

/**
 * Brings what the pointer does over an element to the gestures of its pane.
 *
 * @param altMoves whether a drag with Alt moves the eye; a click with Alt is the gestures' all the same
 * @param entered called when the pointer comes in
 * @returns ends that
 */
export function listenTo(
  element: HTMLElement,
  gestures: Gestures,
  altMoves: () => boolean,
  entered: () => void,
): () => void {
  let frame = element.getBoundingClientRect();
  let request = 0;
  let pressed = false;
  /** Where a press with Alt began that may come to move the eye. */
  let held: { x: number; y: number } | null = null;
  const down = (e: PointerEvent) => {
    if (e.button !== 0 || spaceHeld() || isOnHandle(e)) return;
    // Asking at every move would force a layout of the page each time.
    frame = element.getBoundingClientRect();
    if (e.altKey && altMoves()) {
      held = { x: e.clientX, y: e.clientY };
      return;
    }
    pressed = true;
    element.setPointerCapture(e.pointerId);
    gestures.press(atOf(e, frame));
  };
  const move = (e: PointerEvent) => {
    if (pressed) {
      gestures.move(atOf(e, frame));
      return;
    }
    // The other buttons move the eye.
    if (e.buttons) return;
    cancelAnimationFrame(request);
    request = requestAnimationFrame(() => {
      frame = element.getBoundingClientRect();
      gestures.move(atOf(e, frame));
    });
  };
  const up = (e: PointerEvent) => {
    if (e.button === 0 && held) {
      const still = Math.hypot(e.clientX - held.x, e.clientY - held.y) < SLACK;
      held = null;
      if (!still) return;
      gestures.press(atOf(e, frame));
      gestures.release(atOf(e, frame));
      return;
    }
    if (e.button !== 0 || !pressed) return;
    pressed = false;
    gestures.release(atOf(e, frame));
  };
  const double = (e: MouseEvent) => {
    if (!isOnHandle(e)) gestures.doubleClick(atOf(e, frame));
  };
  const leave = () => {
    cancelAnimationFrame(request);
    gestures.leave();
  };
  const lost = () => {
    if (pressed) gestures.cancel();
    pressed = false;
  };
  const key = (e: KeyboardEvent) => {
    if (e.key === "Escape" && gestures.cancel()) e.stopPropagation();
  };
  const ended = new AbortController();
  const { signal } = ended;
  element.addEventListener("pointerdown", down, { signal });
  element.addEventListener("pointermove", move, { signal });
  element.addEventListener("pointerup", up, { signal });
  element.addEventListener("pointercancel", lost, { signal });
  element.addEventListener("dblclick", double, { signal });
  element.addEventListener("pointerenter", entered, { signal });
  element.addEventListener("pointerleave", leave, { signal });
  addEventListener("keydown", key, { signal, capture: true });
  return () => {
    cancelAnimationFrame(request);
    ended.abort();
  };
}
