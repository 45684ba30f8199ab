import { describe, expect, it } from "vitest";
import { SWATCH_IDS } from "../session/swatches";
import { PATTERNS } from "./swatch";

/** A pen that draws nothing and keeps the widths of lines and how often it was called. */
function recordedPen() {
  const widths: number[] = [];
  let calls = 0;
  const pen = new Proxy(
    {},
    {
      get: (_, name) => (name === "createLinearGradient" ? () => ({ addColorStop: () => calls++ }) : () => calls++),
      set: (_, name, value) => {
        if (name === "lineWidth") widths.push(value as number);
        return true;
      },
    },
  );
  return { pen: pen as CanvasRenderingContext2D, widths, count: () => calls };
}

describe("swatches", () => {
  it("are all drawn, by heavier lines when asked for", () => {
    for (const id of SWATCH_IDS) {
      const [fine, heavy] = [recordedPen(), recordedPen()];
      PATTERNS[id](fine.pen, 1);
      PATTERNS[id](heavy.pen, 3);
      expect(fine.count(), id).toBeGreaterThan(0);
      expect(heavy.widths).toEqual(fine.widths.map((w) => 3 * w));
    }
  });
});
