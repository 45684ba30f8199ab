import { describe, expect, it } from "vitest";
import { meaningful, optionFields } from "./option-fields";
import { OPERATIONS, operationById, parseOptions } from "./registry";

const names = (kind: string) => meaningful(operationById("project"), { kind }).map((f) => f.name);

describe("options that depend on others", () => {
  it("are shown only beside the values with which they mean something", () => {
    expect(names("disc")).toContain("radius");
    expect(names("cylinder")).not.toContain("radius");
    expect(names("cylinder")).toContain("caps");
    expect(names("flat")).not.toContain("centre");
    expect(names("bent tube")).not.toContain("axis");
    // What is not chosen holds its default.
    expect(meaningful(operationById("project")).map((f) => f.name)).toEqual(names("by the form"));
  });

  it("hold their defaults elsewhere, whatever was once chosen for them", () => {
    const op = operationById("project");
    const left = { kind: "cylinder", turnX: 20, caps: false, x: 3 };
    expect(parseOptions(op, left)).toMatchObject(left);
    expect(parseOptions(op, { ...left, kind: "by the form" })).toMatchObject({ turnX: 0, caps: true, x: 0 });
    expect(parseOptions(op, { ...left, kind: "flat" })).toMatchObject({ turnX: 20, caps: true, x: 0 });
    // Out of bounds is refused all the same.
    expect(() => parseOptions(op, { kind: "by the form", capsFrom: 120 })).toThrow("capsFrom");
  });

  it("name options that there are, and values that those can have", () => {
    for (const op of OPERATIONS) {
      const fields = optionFields(op);
      for (const field of fields)
        for (const [name, values] of Object.entries(field.only ?? {})) {
          const other = fields.find((f) => f.name === name);
          expect(other, `${op.id}: ${field.name}`).toBeDefined();
          for (const value of values) expect(other!.choices, `${op.id}: ${field.name}`).toContain(value);
        }
    }
  });
});
