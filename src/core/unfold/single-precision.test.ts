import { describe, expect, it } from "vitest";
import type { ShellMesh } from "./shell-mesh";
import { lostInSingle } from "./single-precision";

/** Two triangles side by side, the second so narrow. */
const fan = (narrow: number): { shell: ShellMesh; uv: Float64Array } => {
  const places = [0, 0, 1, 0, 1, 1, 1 + narrow, 0.5];
  return {
    shell: {
      positions: Float64Array.from([0, 1, 2, 3].flatMap((i) => [places[2 * i]!, places[2 * i + 1]!, 0])),
      triangles: Uint32Array.of(0, 1, 2, 1, 3, 2),
      wedges: Uint32Array.of(0, 1, 2, 3),
    },
    uv: Float64Array.from(places),
  };
};

describe("triangles in single precision", () => {
  it("are lost where rounding takes their area, and not where it does not", () => {
    for (const [narrow, lost] of [
      [0.1, 0],
      [1e-6, 0],
      [1e-9, 1],
    ] as const) {
      const { shell, uv } = fan(narrow);
      expect(lostInSingle(shell, uv)).toBe(lost);
      // Mirrored they are the same.
      expect(
        lostInSingle(
          shell,
          uv.map((x, i) => (i % 2 ? x : -x)),
        ),
      ).toBe(lost);
    }
  });

  it("are told of when they are flipped already, and needles are not", () => {
    const { shell, uv } = fan(0.1);
    uv[6] = 0.9;
    expect(lostInSingle(shell, uv)).toBe(1);
    const needle = fan(1e-14);
    expect(lostInSingle(needle.shell, needle.uv)).toBe(0);
  });
});
