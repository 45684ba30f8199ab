import { beforeAll, describe, expect, it } from "vitest";
import { measure } from "@/core/check/measure";
import { summaryOf } from "@/core/check/summary";
import { type Asset, shapesOf } from "@/core/layout/asset";
import { optionFields } from "@/core/operations/option-fields";
import { OPERATIONS, operationById, operationsIn } from "@/core/operations/registry";
import { ElementSet } from "@/core/select/element-set";
import { laidOutModel } from "@/testing/assets";
import { squares } from "@/testing/squares";
import { marketCart } from "../../../demo/models/market-cart";
import { type BenchState, BRIEF_PAGES, newBench } from "../session/store";
import { TOOLS } from "../tools/tools";
import { ACTIONS } from "./keys";
import { scopeWords } from "./scope-words";
import { lengthWords, percent, STAGES_SHOWN } from "./stages";
import { TOOL_ICONS } from "./tool-icons";

let cart: Asset;
beforeAll(async () => {
  cart = await laidOutModel(marketCart);
});

/** The state of the bench with the cart on it. */
const state = (more: Partial<BenchState> = {}) => newBench({ asset: cart, set: "s1", ...more }).getState();

describe("the stages", () => {
  it("show every operation that has a heading, those of Brief on its pages, with options that they have", () => {
    const shown = STAGES_SHOWN.flatMap((s) => operationsIn(s.id));
    expect(shown).toEqual(expect.arrayContaining(OPERATIONS.filter((op) => op.heading)));
    for (const op of operationsIn("brief")) expect(BRIEF_PAGES).toContain(op.heading);
    for (const op of OPERATIONS) {
      const names = optionFields(op).map((f) => f.name);
      const mended = Object.values(op.mends?.faults ?? {}) as object[];
      for (const set of [op.given ?? {}, ...mended])
        for (const name of Object.keys(set)) expect(names, op.id).toContain(name);
    }
  });

  it("tell how a layout stands: in words, and whether that is well", () => {
    const told = (asset: Asset) => {
      const measures = measure(asset);
      const s = { ...state(), asset, measures, faults: null };
      return Object.fromEntries(STAGES_SHOWN.map((x) => [x.id, x.figure(summaryOf(measures), s)]));
    };
    const well = told(
      squares([
        [0.1, 0.1, 0.3, 0.3],
        [0.5, 0.5, 0.3, 0.3],
      ]),
    );
    expect(well.check).toEqual({ words: "all well", tone: "good" });
    expect(well["hand-off"]).toEqual({ words: "ready", tone: "good" });
    expect(well.unfold).toEqual({ words: "stretch 1.000", tone: "good" });
    expect(well.level).toEqual({ words: "spread 0 %", tone: "good" });
    expect(well.seams!.words).toMatch(/^2 shells · /);
    const ill = told(
      squares([
        [0.1, 0.1, 0.3, 0.3],
        [0.2, 0.2, 0.6, 0.6],
      ]),
    );
    expect(ill.check!.tone).toBe("bad");
    expect(ill.check!.words).toMatch(/^\d findings?$/);
    expect(ill["hand-off"]).toEqual({ words: "not yet", tone: "plain" });
    expect(ill.level!.tone).toBe("bad");
    const bare = told(marketCart());
    expect(bare.unfold).toEqual({ words: "nothing unfolded", tone: "warn" });
    expect(bare.level).toEqual({ words: "no density", tone: "plain" });
    expect(bare.place).toEqual({ words: "not placed", tone: "plain" });
  });

  it("say that it is measured as long as it is", () => {
    const check = STAGES_SHOWN.find((s) => s.id === "check")!;
    const summary = summaryOf(measure(cart));
    expect(check.figure(summary, state()).words).toBe("measuring…");
  });
});

describe("numbers in words", () => {
  it("have their unit, and are told in metres where they are long", () => {
    expect(lengthWords(12.345, "cm")).toBe("12.3 cm");
    expect(lengthWords(99.96, "cm")).toBe("100.0 cm");
    expect(lengthWords(250, "cm")).toBe("2.5 m");
    expect(lengthWords(250, "in")).toBe("250 in");
    expect(lengthWords(0.5, "m")).toBe("0.5 m");
    expect([percent(0.123), percent(0.1234, 1)]).toEqual(["12 %", "12.3 %"]);
  });
});

describe("what an operation would act on", () => {
  const words = (id: string, more: Parameters<typeof state>[0] = {}) => scopeWords(operationById(id), state(more));
  const shape = () => shapesOf(cart)[0]!.id;

  it("is said before it is done, and that something must be picked where it must", () => {
    expect(words("unfold")).toEqual({ words: `Acts on everything visible: ${cart.parts.length} parts.`, ready: true });
    expect(words("cut").ready).toBe(false);
    expect(words("cut", { kind: "edges", picked: new Map([[shape(), ElementSet.of(100, [1, 2])]]) })).toEqual({
      words: "Acts on 2 edges on 1 part.",
      ready: true,
    });
    expect(words("unfold", { kind: "faces", picked: new Map([[shape(), ElementSet.of(100, [0])]]) }).words).toBe(
      "Acts on 1 shell on 1 part.",
    );
    expect(words("split-off").ready).toBe(false);
    expect(words("graft")).toEqual({ words: expect.stringContaining("Pick shells first"), ready: false });
    expect(words("export-obj").words).toBe(`Writes all ${cart.parts.length} parts.`);
    expect(words("rename-part", { rows: new Set([cart.parts[0]!.id]) }).words).toBe("Acts on 1 part.");
    expect(words("set-unit").words).toBe(operationById("set-unit").about);
    expect(words("unfold", { hidden: new Set(cart.parts.map((p) => p.id)) })).toEqual({
      words: "Everything is hidden.",
      ready: false,
    });
  });
});

describe("keys", () => {
  it("are each given once, those of operations among them", () => {
    const keys = ACTIONS.flatMap((a) => a.key ?? []);
    expect(new Set(keys).size).toBe(keys.length);
    expect(new Set(ACTIONS.map((a) => a.id)).size).toBe(ACTIONS.length);
    for (const op of OPERATIONS) if (op.key) expect(ACTIONS.find((a) => a.key === op.key)?.words).toBe(op.title);
  });
});

describe("tools", () => {
  it("each have a picture", () => {
    expect(Object.keys(TOOL_ICONS).sort()).toEqual(TOOLS.map((t) => t.id).sort());
  });
});

describe("the tray", () => {
  it("has four to seven actions for every kind of element, with short names", () => {
    for (const kind of ["vertices", "points", "edges", "faces", "shells"] as const) {
      const fitting = ACTIONS.filter((a) => a.fits?.includes(kind));
      expect(fitting.length, kind).toBeGreaterThanOrEqual(4);
      expect(fitting.length, kind).toBeLessThanOrEqual(7);
      for (const a of fitting) expect(a.short!.length, a.id).toBeLessThan(18);
    }
  });
});

describe("options", () => {
  it("of every operation can be shown: with a title, and choices where they are chosen from", () => {
    for (const op of OPERATIONS)
      for (const field of optionFields(op)) {
        expect(field.title.length, `${op.id} ${field.name}`).toBeGreaterThan(0);
        expect(field.description.length, `${op.id} ${field.name}`).toBeGreaterThan(0);
        if (field.ends)
          expect(
            [field.least, field.most].every((x) => x !== undefined),
            op.id,
          ).toBe(true);
        if (field.kind === "choice") expect(field.choices?.length, `${op.id} ${field.name}`).toBeGreaterThan(1);
        // A number that may stand empty says what holds then.
        if (field.kind === "number" && field.initial === undefined && !field.from && !field.choices)
          expect(field.empty, `${op.id} ${field.name}`).toBeTruthy();
        if (field.kind === "number" && field.initial !== undefined) {
          if (field.least !== undefined) expect(field.initial as number).toBeGreaterThanOrEqual(field.least);
          if (field.most !== undefined) expect(field.initial as number).toBeLessThanOrEqual(field.most);
        }
      }
    expect(optionFields(operationById("pack"))).toBe(optionFields(operationById("pack")));
  });
});
