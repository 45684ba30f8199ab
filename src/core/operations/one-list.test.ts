import { readdirSync, readFileSync, statSync } from "node:fs";
import { join, relative } from "node:path";
import { describe, expect, it } from "vitest";
import { OPERATIONS } from "./registry";

// An operation is described in its own file and nowhere else: whoever means one names it by its object, so that renaming
// it, or giving it another key, place or ending, is done in one place. This finds ids that are written as text.

const source = join(import.meta.dirname, "..", "..");
const files = (folder: string): string[] =>
  readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) return name === "testing" ? [] : files(path);
    return /\.tsx?$/.test(name) && !name.includes(".test.") ? [path] : [];
  });

const all = new Set(OPERATIONS.map((op) => op.id));
const HOME = /^\s+id: "([a-z-]+)"|\{ id: "([a-z-]+)"/gm;
/** Where a word of one syllable means an operation, and not an edge, a pane or a pointer. */
const MEANT =
  /(?:operation|repair|offer|id)(?::| ===| !==) "([a-z]+)"|(?:run\w*|operationById|begin\w*|act|ask)\((?:[^()"]*, )?"([a-z]+)"/g;

/** Ids of operations written as text in a file that describes none of them. */
function secondLists(text: string): string[] {
  const own = new Set([...text.matchAll(HOME)].map((m) => m[1] ?? m[2]!));
  const hyphened = [...text.matchAll(/["'`]([a-z]+(?:-[a-z]+)+)["'`]/g)].map((m) => m[1]!);
  const meant = [...text.matchAll(MEANT)].map((m) => m[1] ?? m[2]!);
  return [...hyphened, ...meant].filter((id) => all.has(id) && !own.has(id));
}

describe("operations", () => {
  it("are listed once: no other file writes their ids as text", () => {
    const found = files(source).flatMap((path) =>
      secondLists(readFileSync(path, "utf8")).map((id) => `${relative(source, path)}: ${id}`),
    );
    expect(found).toEqual([]);
  });

  it("are found where a second list begins", () => {
    expect(secondLists('const CARDS = ["take-out"];')).toEqual(["take-out"]);
    expect(secondLists('runOperation("pack")')).toEqual(["pack"]);
    expect(secondLists('await runEdit(asset, "level", {})')).toEqual(["level"]);
    expect(secondLists('{ operation: "move", options }')).toEqual(["move"]);
    expect(secondLists('data-grip="move" kind === "measure"')).toEqual([]);
  });

  it("have ids, titles and endings of their own", () => {
    for (const of of [
      OPERATIONS.map((op) => op.id),
      OPERATIONS.map((op) => op.title),
      OPERATIONS.flatMap((op) => op.ending ?? []),
      OPERATIONS.flatMap((op) => op.command ?? []),
    ])
      expect(new Set(of).size).toBe(of.length);
  });
});
