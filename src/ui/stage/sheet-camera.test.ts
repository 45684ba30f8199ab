import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { SheetCamera } from "./sheet-camera";

const FIRST_TILE = { u0: 0, v0: 0, u1: 1, v1: 1 };

/** What stands in for a pane: it hands on events, and lies in the window's corner. */
class Ground extends EventTarget {
  getBoundingClientRect() {
    return { left: 0, top: 0 };
  }
}
const page = new EventTarget();
let camera: SheetCamera;
let moved = 0;

/** An event with what a browser would tell of it. */
const tell = (target: EventTarget, type: string, values: object): void => {
  target.dispatchEvent(Object.assign(new Event(type), values));
};
/** The point of UV at a pixel of the pane. */
const at = (x: number, y: number): [number, number] => {
  const { u, v, scale, width, height } = camera.view;
  return [u + (x - width / 2) / scale, v + (height / 2 - y) / scale];
};

beforeEach(() => {
  vi.stubGlobal("addEventListener", page.addEventListener.bind(page));
  moved = 0;
  camera = new SheetCamera(() => moved++);
  camera.setSize(400, 500);
});
afterEach(() => vi.unstubAllGlobals());

describe("the eye on the sheet", () => {
  it("frames a box in the middle, whole and as large as it fits", () => {
    camera.frame({ u0: 1, v0: 2, u1: 3, v1: 3 });
    expect(camera.view).toMatchObject({ u: 2, v: 2.5 });
    const [[left], [right]] = [at(0, 0), at(400, 0)];
    expect(left).toBeLessThan(1);
    expect(right).toBeGreaterThan(3);
    expect(2 / (right - left)).toBeGreaterThan(0.8);
    expect(camera.camera.left).toBeCloseTo(-200 / camera.view.scale, 12);
    expect(moved).toBeGreaterThan(0);
  });

  it("keeps what is framed in view when its pane changes its size, until somebody has moved it", () => {
    camera.frame(FIRST_TILE);
    const { scale } = camera.view;
    camera.setSize(800, 1000);
    expect(camera.view.scale).toBeGreaterThan(1.9 * scale);
    const ground = new Ground();
    camera.attach(ground as unknown as HTMLElement);
    tell(ground, "wheel", { clientX: 400, clientY: 500, deltaY: -100, preventDefault: () => {} });
    const own = camera.view.scale;
    camera.setSize(400, 500);
    expect(camera.view.scale).toBe(own);
  });

  it("frames everything again where it has come to lie elsewhere or small, unless somebody has moved it", () => {
    const wide = { u0: -20, v0: -20, u1: 30, v1: 30 };
    camera.frame(wide, true);
    const { scale } = camera.view;
    camera.follow({ u0: -18, v0: -20, u1: 28, v1: 31 });
    expect(camera.view.scale).toBe(scale);
    camera.follow(FIRST_TILE);
    expect(camera.view.scale).toBeGreaterThan(20 * scale);
    camera.follow({ u0: 0, v0: 0, u1: 1.5, v1: 1 });
    expect(camera.view.u).toBe(0.75);
    // One shell was framed: it stays.
    camera.frame({ u0: 0.2, v0: 0.2, u1: 0.3, v1: 0.3 });
    camera.follow(wide);
    expect(camera.view.u).toBe(0.25);
    camera.frame(FIRST_TILE, true);
    const ground = new Ground();
    camera.attach(ground as unknown as HTMLElement);
    tell(ground, "wheel", { clientX: 200, clientY: 250, deltaY: 100, preventDefault: () => {} });
    const own = camera.view;
    camera.follow(wide);
    expect(camera.view).toBe(own);
  });

  it("comes nearer to where the pointer is: that point stays where it was", () => {
    const ground = new Ground();
    camera.attach(ground as unknown as HTMLElement);
    camera.frame(FIRST_TILE);
    const before = at(120, 340);
    for (const deltaY of [-200, -50, 130]) {
      tell(ground, "wheel", { clientX: 120, clientY: 340, deltaY, preventDefault: () => {} });
      at(120, 340).forEach((x, i) => {
        expect(x).toBeCloseTo(before[i]!, 9);
      });
    }
    tell(ground, "wheel", { clientX: 0, clientY: 0, deltaY: -1e6, preventDefault: () => {} });
    expect(camera.view.scale).toBe(200_000);
  });

  it("goes with the middle and the right button, with no other, and no more when it is let go", () => {
    const ground = new Ground();
    const letGo = camera.attach(ground as unknown as HTMLElement);
    camera.frame(FIRST_TILE);
    const drag = (button: number): [number, number] => {
      const { u, v } = camera.view;
      tell(ground, "pointerdown", { button });
      tell(page, "pointermove", { movementX: 30, movementY: -20 });
      tell(page, "pointerup", {});
      tell(page, "pointermove", { movementX: 500, movementY: 500 });
      const { scale } = camera.view;
      return [Math.round((u - camera.view.u) * scale), Math.round((camera.view.v - v) * scale)];
    };
    expect(drag(0)).toEqual([0, 0]);
    expect(drag(1)).toEqual([30, -20]);
    expect(drag(2)).toEqual([30, -20]);
    letGo();
    expect(drag(2)).toEqual([0, 0]);
  });

  it("tells whoever follows it, as long as they do", () => {
    const seen: number[] = [];
    const end = camera.subscribe(() => seen.push(camera.getView().u));
    camera.frame({ u0: 4, v0: 0, u1: 6, v1: 1 });
    end();
    camera.frame(FIRST_TILE);
    expect(seen).toEqual([5]);
  });

  it("steps back for what lies out of view, keeps what was in view, and stays where all is seen", () => {
    camera.frame(FIRST_TILE);
    const before = camera.view;
    camera.include({ u0: 0.2, v0: 0.2, u1: 0.8, v1: 0.8 });
    expect(camera.view).toBe(before);
    const beside = { u0: 1.1, v0: 0, u1: 2.4, v1: 0.6 };
    camera.include(beside);
    const [left, bottom] = at(0, 500);
    const [right, top] = at(400, 60);
    expect(left).toBeLessThanOrEqual(0);
    expect(bottom).toBeLessThanOrEqual(0);
    expect(right).toBeGreaterThanOrEqual(beside.u1);
    expect(top).toBeGreaterThanOrEqual(1);
    const now = camera.view;
    camera.include(beside);
    expect(camera.view).toBe(now);
  });
});
