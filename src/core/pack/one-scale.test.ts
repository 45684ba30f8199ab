import { describe, expect, it } from "vitest";
import { atOneScale } from "./one-scale";

describe("laying parts at one scale", () => {
  it("goes down from what all come to until every part can be laid", async () => {
    const most = [1, 0.98, 0.99];
    const at = async (part: number, scale: number) => (scale <= part ? `${part}` : null);
    const found = (await atOneScale(most, 1, 0, at))!;
    expect(found.laid).toEqual(["1", "0.98", "0.99"]);
    expect(found.scale).toBeLessThanOrEqual(0.98);
    expect(found.scale).toBeGreaterThan(0.975);
    expect((await atOneScale([1], 1, 0, at))!.scale).toBe(1);
  });

  it("finds nothing at a scale that is of no use, or where a part can be laid at none", async () => {
    expect(await atOneScale([0.98], 1, 0.98, async (part, scale) => (scale <= part ? part : null))).toBeNull();
    expect(await atOneScale([1, 2], 1, 0, async (part) => (part === 1 ? part : null))).toBeNull();
  });
});
