import { describe, expect, it } from "vitest";
import { answered } from "./document";

describe("calls to a worker", () => {
  it("fail when it ends without an answer, and only those", async () => {
    const { remote, fail } = answered({
      quick: async (x: number) => x + 1,
      refusing: async () => {
        throw new Error("no");
      },
      hanging: () => new Promise<number>(() => {}),
    });
    expect(await remote.quick(1)).toBe(2);
    await expect(remote.refusing()).rejects.toThrow("no");
    const waiting = remote.hanging();
    fail(new Error("ended"));
    await expect(waiting).rejects.toThrow("ended");
    expect(await remote.quick(2)).toBe(3);
  });
});
