import { describe, expect, it } from "vitest";
import { SWATCH_IDS, type SwatchId, WITHOUT_LINES } from "../session/swatches";
import { PATTERNS } from "./swatch";

/** A pen that draws nothing and keeps what it was asked to draw. */
function recordedPen() {
  const drawn: unknown[] = [];
  const pen = new Proxy(
    {},
    {
      get:
        (_, name) =>
        (...args: unknown[]) => {
          drawn.push([name, ...args]);
          return { addColorStop: (...stop: unknown[]) => drawn.push(stop) };
        },
      set: (_, name, value) => {
        drawn.push([name, value]);
        return true;
      },
    },
  );
  return { pen: pen as CanvasRenderingContext2D, drawn };
}

describe("swatches", () => {
  const drawnBy = (id: SwatchId, weight: number) => {
    const { pen, drawn } = recordedPen();
    PATTERNS[id](pen, weight);
    return JSON.stringify(drawn);
  };

  it("are all drawn, each another way, and the same every time", () => {
    expect(new Set(SWATCH_IDS.map((id) => drawnBy(id, 1))).size).toBe(SWATCH_IDS.length);
    for (const id of SWATCH_IDS) expect(drawnBy(id, 2)).toBe(drawnBy(id, 2));
  });

  it("have heavier lines when asked for, those that have lines", () => {
    for (const id of SWATCH_IDS) expect(drawnBy(id, 3) === drawnBy(id, 1), id).toBe(WITHOUT_LINES.has(id));
  });
});
