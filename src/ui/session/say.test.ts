import { describe, expect, it } from "vitest";
import { UserError } from "@/core/layout/user-error";
import { sayRefused } from "./say";
import { newBench } from "./store";

describe("a refusal", () => {
  const offers = [{ title: "Scale by 0.8", options: { scale: 0.8 } }];
  it("comes with what of the same operation would work instead", () => {
    const bench = newBench();
    sayRefused(bench, "No room.", "refused", new UserError("No room.", offers), "pack");
    expect(bench.getState().message).toMatchObject({
      words: "No room.",
      offers: [{ ...offers[0], operation: "pack" }],
    });
  });
  it("comes alone where nothing would, or it is no operation's", () => {
    const bench = newBench();
    for (const [error, operation] of [
      [new UserError("No room."), "pack"],
      [new UserError("No room.", offers), undefined],
      [new Error("Broken"), "pack"],
    ] as const) {
      sayRefused(bench, "No room.", "refused", error, operation);
      expect(bench.getState().message?.offers).toBeUndefined();
    }
  });
});
