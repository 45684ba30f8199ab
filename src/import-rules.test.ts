import { readdirSync, readFileSync } from "node:fs";
import { dirname, join, relative, resolve } from "node:path";
import { describe, expect, it } from "vitest";

const root = resolve(import.meta.dirname, "..");

interface Import {
  readonly to: string;
  /** Loaded only when it is reached. */
  readonly later: boolean;
  readonly typeOnly: boolean;
}

/** What a file imports or hands on, types as well. */
function importsOf(file: string): Import[] {
  const text = readFileSync(join(root, file), "utf8");
  const pattern =
    /(?:^|\n)\s*(?:import|export)\s+(type\s+)?[^"';]*?\s*from\s*["']([^"']+)["']|import\(\s*["']([^"']+)["']\s*\)|(?:^|\n)import\s+["']([^"']+)["']/g;
  return [...text.matchAll(pattern)].map((m) => ({
    to: target(file, m[2] ?? m[3] ?? m[4]!),
    later: m[3] !== undefined,
    typeOnly: m[1] !== undefined,
  }));
}

/** A path from the root for the project's own files, the package's name for others. */
function target(from: string, name: string): string {
  const base = name.startsWith("@/")
    ? `src/${name.slice(2)}`
    : name.startsWith(".")
      ? relative(root, resolve(root, dirname(from), name))
      : null;
  if (base === null) return name;
  return files.has(`${base}.ts`) ? `${base}.ts` : files.has(`${base}.tsx`) ? `${base}.tsx` : base;
}

const files = new Set(
  ["src", "demo", "bench"].flatMap((folder) =>
    readdirSync(join(root, folder), { recursive: true, encoding: "utf8" })
      .filter((f) => /\.tsx?$/.test(f) && !/\.test\.tsx?$/.test(f))
      .map((f) => `${folder}/${f}`),
  ),
);

const arrows = [...files].flatMap((from) => importsOf(from).map((i) => ({ from, ...i })));

const RULES: ReadonlyArray<{ words: string; from: RegExp; to: RegExp }> = [
  {
    words: "the core knows nothing above it",
    from: /^src\/core\//,
    to: /^(src\/(compute|wire|server|app|ui|cli)|demo|bench)\//,
  },
  {
    words: "the core has no React, DOM, database or network",
    from: /^src\/core\//,
    to: /^(next|react|react-dom|three|@mantine|@react-three|@electric-sql|zustand|node:)/,
  },
  {
    words: "what goes over the wire is told by the core alone",
    from: /^src\/wire\//,
    to: /^src\/(compute|server|app|ui|cli)\//,
  },
  {
    words: "compute knows the core and the wire only",
    from: /^src\/compute\//,
    to: /^src\/(server|app|ui|cli)\//,
  },
  {
    words: "the server knows the core and the wire, and of compute how threads are started and talked to",
    from: /^src\/server\//,
    to: /^src\/(app|ui|cli|compute\/(?!error-transfer|node-endpoint))/,
  },
  { words: "the command line never opens the database", from: /^src\/cli\//, to: /^src\/(server|app|ui)\// },
  { words: "the interface does not reach into pages", from: /^src\/ui\//, to: /^src\/(app|cli)\// },
  { words: "the interface knows the server by the wire only", from: /^src\/ui\//, to: /^src\/server\// },
  { words: "the session stands below all screens", from: /^src\/ui\/session\//, to: /^src\/ui\/(?!session\/)/ },
  {
    words: "the stage knows the session below it, and nothing of React",
    from: /^src\/ui\/stage\//,
    to: /^(src\/ui\/(?!stage\/|session\/)|react|react-dom|@mantine)/,
  },
  {
    words: "tools work on the stage and the session, and know no screen",
    from: /^src\/ui\/tools\//,
    to: /^(src\/ui\/(?!tools\/|stage\/|session\/)|react|react-dom|@mantine)/,
  },
  { words: "the panes stand below the bench around them", from: /^src\/ui\/panes\//, to: /^src\/ui\/(bench|home)\// },
  {
    words: "operations are reached through the registry",
    from: /^src\/(ui|cli|compute|app)\//,
    to: /^src\/core\/operations\/(?!(registry|operation|option-fields|run|scope|scope-query|sessions|words|history-file)\.ts$)/,
  },
];

describe("arrows between folders", () => {
  it("reads the imports of the whole house", () => {
    expect(files.size).toBeGreaterThan(80);
    expect(arrows.filter((a) => a.to.startsWith("src/")).length).toBeGreaterThan(200);
  });

  for (const rule of RULES) {
    it(rule.words, () => {
      const broken = arrows.filter((a) => rule.from.test(a.from) && rule.to.test(a.to));
      expect(broken.map((a) => `${a.from} -> ${a.to}`)).toEqual([]);
    });
  }

  /** Ways that come back to where they began. */
  function circles(next: ReadonlyMap<string, ReadonlySet<string>>): string[] {
    const state = new Map<string, "open" | "done">();
    const found: string[] = [];
    const visit = (at: string, path: readonly string[]): void => {
      if (state.get(at) === "done") return;
      if (state.get(at) === "open") {
        found.push([...path.slice(path.indexOf(at)), at].join(" -> "));
        return;
      }
      state.set(at, "open");
      for (const to of next.get(at) ?? []) visit(to, [...path, at]);
      state.set(at, "done");
    };
    for (const at of next.keys()) visit(at, []);
    return found;
  }

  function graph(pairs: ReadonlyArray<readonly [string, string]>): Map<string, Set<string>> {
    const next = new Map<string, Set<string>>();
    for (const [from, to] of pairs) if (from !== to) next.set(from, (next.get(from) ?? new Set()).add(to));
    return next;
  }

  it("go in no circle from file to file, types or not", () => {
    const own = arrows.filter((a) => files.has(a.to));
    expect(circles(graph(own.map((a) => [a.from, a.to])))).toEqual([]);
  });

  it("go in no circle from folder to folder, inside core and ui as well, types or not", () => {
    // src/core/pack, src/ui/stage, src/wire; what lies deeper belongs to these.
    const folder = (file: string) =>
      file
        .split("/")
        .slice(0, /^src\/(core|ui)\//.test(file) ? 3 : 2)
        .join("/");
    const own = arrows.filter((a) => files.has(a.to) && /^src\/\w+\//.test(a.from) && /^src\/\w+\//.test(a.to));
    expect(own.length).toBeGreaterThan(500);
    expect(circles(graph(own.map((a) => [folder(a.from), folder(a.to)])))).toEqual([]);
  });

  it("lead from the list of operations to what they do only when that is run", () => {
    const heavy =
      /^src\/core\/(operations\/large|pack|tasks|unfold|formats\/(?!schema-words))\/?|\/(match|repairs|visibility|piece)\.ts$/;
    const next = graph(arrows.filter((a) => !a.later && !a.typeOnly).map((a) => [a.from, a.to]));
    const reached = new Set(["src/core/operations/registry.ts"]);
    for (const file of reached) for (const to of next.get(file) ?? []) reached.add(to);
    expect(reached.size).toBeGreaterThan(100);
    expect([...reached].filter((f) => heavy.test(f))).toEqual([]);
  });

  it("would find a circle", () => {
    expect(
      circles(
        graph([
          ["a", "b"],
          ["b", "c"],
          ["c", "a"],
          ["c", "d"],
        ]),
      ),
    ).toEqual(["a -> b -> c -> a"]);
  });
});
