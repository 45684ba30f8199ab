import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { UserError } from "@/core/layout/user-error";
import { type Letter, Outbox } from "./outbox";
import { NoAnswer } from "./remote";

/** What a server may do with one request. */
type Fate = "takes it" | "takes it and its answer is lost" | "does not answer";

/** A server that keeps each edit once by its key, and a count of what the outbox told. */
function setting(fates: Fate[], refuses = new Set<number>()) {
  const kept: number[] = [];
  const saved: number[] = [];
  const told: Array<[number, boolean]> = [];
  const back: number[][] = [];
  const outbox = new Outbox<number>(
    {
      waiting: (count, answers) => void told.push([count, answers]),
      refused: async (_, __, take) => void back.push(take().map((l) => (l as Letter<number> & { key: number }).key)),
    },
    async () => {},
  );
  const letter = (key: number): Letter<number> & { key: number } => ({
    key,
    async send() {
      const fate = fates.shift() ?? "takes it";
      if (fate === "does not answer") throw new NoAnswer("no");
      if (refuses.has(key)) throw new UserError("The disk is full.");
      if (!kept.includes(key)) kept.push(key);
      if (fate === "takes it and its answer is lost") throw new NoAnswer("lost");
      return key;
    },
    saved: (answer) => void saved.push(answer),
  });
  return { outbox, letter, kept, saved, told, back };
}

describe("edits on their way to the database", () => {
  it("arrive once each and in order, whatever happens to requests and answers", async () => {
    const fate = fc.constantFrom<Fate>("takes it", "takes it and its answer is lost", "does not answer");
    await fc.assert(
      fc.asyncProperty(fc.array(fate, { maxLength: 20 }), fc.integer({ min: 1, max: 8 }), async (fates, n) => {
        const { outbox, letter, kept, saved, told } = setting(fates);
        const keys = Array.from({ length: n }, (_, i) => i);
        for (const key of keys) outbox.add(letter(key));
        await outbox.idle();
        expect(kept).toEqual(keys);
        expect(saved).toEqual(keys);
        expect(outbox.count).toBe(0);
        expect(told.at(-1)).toEqual([0, true]);
      }),
    );
  });

  it("are never told as saved before the server has them", async () => {
    const { outbox, letter, kept, told } = setting(["does not answer", "does not answer"]);
    outbox.add(letter(7));
    await outbox.idle();
    expect(told.filter(([count]) => count === 1).map(([, answers]) => answers)).toEqual([true, false, false]);
    expect(kept).toEqual([7]);
  });

  it("are given back together when one is refused, and later ones go on", async () => {
    const { outbox, letter, kept, back } = setting([], new Set([2]));
    for (const key of [1, 2, 3]) outbox.add(letter(key));
    await outbox.idle();
    expect(kept).toEqual([1]);
    expect(back).toEqual([[2, 3]]);
    outbox.add(letter(4));
    await outbox.idle();
    expect(kept).toEqual([1, 4]);
  });

  it("can be waited for: those there are now, not those that come later", async () => {
    const { outbox, letter, saved } = setting(["does not answer"], new Set([4]));
    expect(await outbox.passed()).toBe(true);
    outbox.add(letter(1));
    outbox.add(letter(2));
    const passed = outbox.passed().then((taken) => [taken, ...saved]);
    outbox.add(letter(3));
    expect(await passed).toEqual([true, 1, 2]);
    await outbox.idle();
    outbox.add(letter(4));
    outbox.add(letter(5));
    expect(await outbox.passed()).toBe(false);
  });

  it("go with what they stand on when they were added while it was being taken back", async () => {
    const kept: number[] = [];
    const outbox: Outbox<number> = new Outbox<number>({
      waiting: () => {},
      refused: async (_, __, take) => {
        outbox.add(letter(2, () => kept.push(2)));
        expect(take()).toHaveLength(2);
      },
    });
    const letter = (key: number, send: () => void): Letter<number> => ({
      send: async () => {
        send();
        return key;
      },
      saved: () => {},
    });
    const refuse = () => {
      throw new UserError("The disk is full.");
    };
    outbox.add(letter(1, refuse));
    await outbox.idle();
    expect([kept, outbox.count]).toEqual([[], 0]);
    outbox.add(letter(3, () => kept.push(3)));
    await outbox.idle();
    expect(kept).toEqual([3]);
  });
});
