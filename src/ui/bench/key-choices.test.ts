import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type KeyChoices, keyPressed, keysAfter, keyWords, whyNot, withKey } from "./key-choices";

const ALL = [{ id: "cut", key: "C" }, { id: "join", key: "J" }, { id: "hide", key: "H" }, { id: "stack" }];
const after = (chosen: KeyChoices) => Object.fromEntries(keysAfter(ALL, chosen));

describe("keys", () => {
  it("are those that came, but for what was chosen", () => {
    expect(after({})).toEqual({ cut: "C", join: "J", hide: "H" });
    expect(after(withKey(ALL, {}, "stack", "S"))).toEqual({ cut: "C", join: "J", hide: "H", stack: "S" });
    expect(after(withKey(ALL, {}, "hide", ""))).toEqual({ cut: "C", join: "J" });
  });

  it("go from one action to another, and come back when that has another", () => {
    const stolen = withKey(ALL, {}, "stack", "C");
    expect(after(stolen)).toEqual({ join: "J", hide: "H", stack: "C" });
    const freed = withKey(ALL, stolen, "stack", "S");
    expect(after(freed).cut).toBe("C");
    const swapped = withKey(ALL, stolen, "cut", "C");
    expect(after(swapped)).toEqual({ cut: "C", join: "J", hide: "H" });
    expect(swapped).toEqual({});
  });

  it("never stand for two things, whatever is chosen in whatever order", () => {
    const choice = fc.tuple(fc.constantFrom(...ALL.map((a) => a.id)), fc.constantFrom("C", "J", "H", "S", "mod+S", ""));
    fc.assert(
      fc.property(fc.array(choice, { maxLength: 12 }), (choices) => {
        let chosen: KeyChoices = {};
        for (const [id, key] of choices) {
          chosen = withKey(ALL, chosen, id, key);
          expect(keysAfter(ALL, chosen).get(id) ?? "").toBe(key);
        }
        const keys = [...keysAfter(ALL, chosen).values()];
        expect(new Set(keys).size).toBe(keys.length);
      }),
    );
  });

  it("are read off the keyboard, and those of the browser are refused in a sentence", () => {
    const press = (key: string, held: Partial<Record<"altKey" | "ctrlKey" | "metaKey" | "shiftKey", boolean>> = {}) =>
      keyPressed({ key, altKey: false, ctrlKey: false, metaKey: false, shiftKey: false, ...held });
    expect(press("g")).toBe("G");
    expect(press("G", { shiftKey: true, ctrlKey: true })).toBe("mod+shift+G");
    expect(press("+")).toBe("[plus]");
    expect(press("Shift", { shiftKey: true })).toBeNull();
    expect(keyWords("mod+shift+Z")).toBe("Ctrl Shift Z");
    expect(keyWords("alt+[plus]")).toBe("Alt +");
    expect(whyNot("mod+W")).toBe("Ctrl W belongs to the browser.");
    expect(whyNot("G")).toBeNull();
  });
});
