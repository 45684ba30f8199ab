import { describe, expect, it } from "vitest";
import { setOption } from "./actions";
import type { BenchSession } from "./bench-session";
import { giveBack, lendOption } from "./lent-option";
import { newBench } from "./store";

const table = () => {
  const session = { bench: newBench() } as BenchSession;
  const kind = () => session.bench.getState().options.card?.kind;
  return { session, kind };
};

describe("an option for what is picked now", () => {
  it("comes back to what it was before, however often it was lent", () => {
    const { session, kind } = table();
    setOption(session, "card", "kind", "box");
    lendOption(session, "card", "kind", "disc");
    lendOption(session, "card", "kind", "disc");
    lendOption(session, "card", "kind", "flat");
    expect(kind()).toBe("flat");
    giveBack(session);
    expect(kind()).toBe("box");
    giveBack(session);
    expect(kind()).toBe("box");
  });

  it("stays what was chosen by hand since", () => {
    const { session, kind } = table();
    lendOption(session, "card", "kind", "disc");
    setOption(session, "card", "kind", "sphere");
    giveBack(session);
    expect(kind()).toBe("sphere");
  });
});
