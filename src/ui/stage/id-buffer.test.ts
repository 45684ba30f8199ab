import { Camera, Scene, type WebGLRenderer } from "three";
import { beforeEach, describe, expect, it } from "vitest";
import { boxRegion, discRegion } from "../tools/region";
import { IdBuffer } from "./id-buffer";

/** A pane of 8 x 6 pixels with two faces: 0 left of the middle in the lower half, and one of a large number right of it. */
const LARGE = 0x01_02_03_04;
let drawings = 0;
let buffer: IdBuffer;

/** What stands in for the graphics card: it draws the two faces, rows from below, the number and one in four bytes. */
const renderer = {
  setRenderTarget: () => {},
  setClearAlpha: () => {},
  clear: () => {},
  render: () => drawings++,
  readRenderTargetPixels(_: unknown, __: number, ___: number, width: number, height: number, out: Uint8Array) {
    for (let y = 0; y < height / 2; y++)
      for (let x = 0; x < width; x++) {
        const id = (x < width / 2 ? 0 : LARGE) + 1;
        out.set([id & 255, (id >> 8) & 255, (id >> 16) & 255, id >>> 24], 4 * (y * width + x));
      }
  },
} as unknown as WebGLRenderer;
const refresh = (width = 8, height = 6) => buffer.refresh(renderer, new Scene(), new Camera(), width, height);

beforeEach(() => {
  drawings = 0;
  buffer = new IdBuffer();
  refresh();
});

describe("the numbers of faces under pixels", () => {
  it("are read from the top left, however large they are", () => {
    expect([buffer.faceAt(0, 5), buffer.faceAt(3, 5), buffer.faceAt(4, 5), buffer.faceAt(7, 3)]).toEqual([
      0,
      0,
      LARGE,
      LARGE,
    ]);
  });

  it("are those of the nearest face within three pixels, and of none beyond", () => {
    expect(buffer.faceAt(1, 0)).toBe(0);
    buffer = new IdBuffer();
    refresh(8, 20);
    expect([buffer.faceAt(1, 7), buffer.faceAt(1, 6), buffer.faceAt(-9, 19)]).toEqual([0, -1, -1]);
  });

  it("in a region are told once each, and only of pixels that lie in it", () => {
    expect([...buffer.facesIn(boxRegion(0, 0, 7, 5))]).toEqual([0, LARGE]);
    expect([...buffer.facesIn(boxRegion(5, 4, 99, 99))]).toEqual([LARGE]);
    expect([...buffer.facesIn(boxRegion(0, 0, 7, 2))]).toEqual([]);
    expect([...buffer.facesIn(discRegion(1, 5, 1.5))]).toEqual([0]);
  });

  it("are drawn when something has moved or the pane has another size, and not again for every question", () => {
    refresh();
    expect(drawings).toBe(1);
    buffer.spoil();
    refresh();
    refresh();
    expect(drawings).toBe(2);
    refresh(9, 6);
    expect(drawings).toBe(3);
  });
});
