import { spawnSync } from "node:child_process";
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { createRequire } from "node:module";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { assemble, box, lathe } from "../../demo/kit";
import { writeGlb } from "../core/formats/gltf/write";
import { writeObj } from "../core/formats/obj-write";
import { OPERATIONS } from "../core/operations/registry";
import { runCommand } from "./command";

const root = join(import.meta.dirname, "..", "..");
const folder = mkdtempSync(join(tmpdir(), "tavlin-cli-"));
const at = (name: string) => join(folder, name);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

async function tavlin(...args: string[]) {
  let out = "";
  let said = "";
  const status = await runCommand(args, {
    print: (text) => {
      out += text;
    },
    say: (text) => {
      said += text;
    },
  });
  return { status, out, said: said.trim() };
}

const figures = async (file: string) =>
  JSON.parse((await tavlin("measure", file, "--json")).out) as Record<string, number>;

beforeAll(() => {
  const crate = assemble("Crate", "cm", [], [{ name: "Crate", shape: box([3, 2, 1], [2, 2, 2]) }]);
  writeFileSync(at("crate.obj"), writeObj(crate, "crate").obj);
  const tube = assemble(
    "Tube",
    "cm",
    [],
    [
      {
        name: "Tube",
        shape: lathe(
          [
            [1, 0],
            [1, 2],
          ],
          12,
          0,
          false,
        ),
      },
    ],
  );
  writeFileSync(at("tube.obj"), writeObj(tube, "tube").obj);
  const { positions, cells } = createRequire(import.meta.url)("bunny") as { positions: number[][]; cells: number[][] };
  const lines = [
    ...positions.map((p) => `v ${p.join(" ")}`),
    ...cells.map((c) => `f ${c.map((i) => i + 1).join(" ")}`),
  ];
  writeFileSync(at("rabbit.obj"), lines.join("\n"));
});

describe("the command line", async () => {
  it("is reached by the one way in, each stream and the exit code as they are", async () => {
    const start = (...args: string[]) =>
      spawnSync(process.execPath, [join(root, "tavlin"), ...args], { cwd: root, encoding: "utf8" });
    const refused = start("measure", at("nowhere.obj"));
    expect([refused.status, refused.stdout, refused.stderr]).toEqual([
      1,
      "",
      `There is no file ${at("nowhere.obj")}.\n`,
    ]);
    const measured = start("measure", at("crate.obj"), "--json");
    expect([measured.status, measured.stderr]).toEqual([0, ""]);
    expect(JSON.parse(measured.stdout)).toMatchObject({ shells: 0 });
    for (const command of ["demo", "test"]) {
      expect(start(command, "--help").stdout).toMatch(new RegExp(`^tavlin ${command}: installs what is missing`));
      const { status, stderr } = start(command, "now");
      expect([status, stderr]).toEqual([2, `tavlin ${command} takes nothing more: now.\n`]);
    }
  });

  it("makes a whole layout of a rabbit nobody here made", async () => {
    expect((await tavlin("make", at("rabbit.obj"), "-o", at("rabbit-out.obj"), "--fill", "full sheet")).status).toBe(0);
    const m = await figures(at("rabbit-out.obj"));
    expect(m).toMatchObject({
      cornersWithoutUv: 0,
      flippedTriangles: 0,
      collapsedTriangles: 0,
      overlapShare: 0,
      outOfBoundsTriangles: 0,
    });
    expect(m.symmetricDirichlet).toBeLessThan(1.1);
    expect(m.shellGapPx).toBeGreaterThanOrEqual(8);
    expect(m.shells).toBeLessThan(12);
  });

  it("makes, packs again with other settings, and draws the sheet", async () => {
    expect((await tavlin("make", at("crate.obj"), "-o", at("crate-out.glb"))).status).toBe(0);
    expect(
      (
        await tavlin(
          "pack",
          at("crate-out.glb"),
          "-o",
          at("packed.obj"),
          "--padding",
          "24",
          "--resolution",
          "1024",
          "--turns",
          "none",
          "--search",
          "quick",
        )
      ).status,
    ).toBe(0);
    const m = JSON.parse((await tavlin("measure", at("packed.obj"), "--json", "--resolution", "1024")).out);
    expect(m.texelDensityVariation).toBeLessThan(1e-6);
    if (m.shells > 1) expect(m.shellGapPx).toBeGreaterThanOrEqual(24);
    expect(m.borderGapPx).toBeGreaterThanOrEqual(24 - 1e-3);
    expect((await tavlin("sheet", at("packed.obj"), "-o", at("sheet.svg"))).status).toBe(0);
    expect(readFileSync(at("sheet.svg"), "utf8")).toMatch(/^<svg[^>]+width="2048"/);
  });

  it("fails the whole for a shell that cannot lie flat, unless told to leave it out", async () => {
    const refused = await tavlin("unfold", at("tube.obj"), "-o", at("tube-out.obj"));
    expect(refused).toMatchObject({ status: 1, said: "Shell 1 of Tube is a tube or ring: it has two borders." });
    expect(existsSync(at("tube-out.obj"))).toBe(false);
    expect((await tavlin("unfold", at("tube.obj"), "-o", at("tube-out.obj"), "--skip")).status).toBe(1); // nothing is left to unfold
  });

  it("names the scale at which a set would fit that does not", async () => {
    const text = [
      "v 0 0 0",
      "v 1 0 0",
      "v 1 1 0",
      "v 0 1 0",
      "vt 0 0",
      "vt 2 0",
      "vt 2 2",
      "vt 0 2",
      "f 1/1 2/2 3/3 4/4",
    ].join("\n");
    writeFileSync(at("wide.obj"), text);
    const refused = await tavlin(
      "pack",
      at("wide.obj"),
      "-o",
      at("wide-out.obj"),
      "--sizes",
      "keep",
      "--search",
      "quick",
    );
    expect(refused.status).toBe(1);
    const scale = Number(/scaled by (0\.\d+) they would/.exec(refused.said)![1]);
    expect(scale).toBeGreaterThan(0.45);
    expect(scale).toBeLessThan(0.5);
  });

  it.each([
    [["measure", "nowhere.obj"], "There is no file nowhere.obj."],
    [["make", "FILE", "-o", "out.fbx"], "files end in .obj, .glb, .ply, .svg"],
    [["pack", "FILE", "-o", "out.obj", "--padding", "-3"], "padding"],
    [["pack", "FILE", "-o", "out.obj", "--padding", "wide"], "It must be a number"],
    [["pack", "FILE", "-o", "out.obj"], "None of these shells can be packed"],
  ])("refuses %j in one sentence", async (args, words) => {
    const done = await tavlin(...args.map((a) => (a === "FILE" ? at("crate.obj") : a.startsWith("out") ? at(a) : a)));
    expect(done.status).not.toBe(0);
    expect(done.said).toContain(words);
    expect(done.said.split("\n")).toHaveLength(1);
    expect(readdirSync(folder).filter((f) => f.startsWith("out") || f.endsWith(".part"))).toEqual([]);
  });

  it("lists options from the registry", async () => {
    const { out } = await tavlin("make", "--help");
    for (const option of ["--limit", "--angle", "--padding", "--turns", "--keep-seams"]) expect(out).toContain(option);
  });

  it("lists every operation, and runs any of them on what the scope says", async () => {
    const listed = JSON.parse((await tavlin("operations", "--json")).out) as Array<{ id: string; kind: string }>;
    expect(listed.map((op) => op.id)).toEqual(OPERATIONS.map((op) => op.id));
    expect((await tavlin("operations")).out.trim().split("\n")).toHaveLength(OPERATIONS.length);

    const stall = assemble(
      "Stall",
      "cm",
      [],
      [
        { name: "Crate", shape: box([3, 2, 1], [2, 2, 2]) },
        { name: "Ring A", shape: box([1, 2, 1], [1, 1, 1]) },
        { name: "Ring B", shape: box([1, 2, 1], [1, 1, 1]) },
      ],
    );
    writeFileSync(at("stall.glb"), (await writeGlb(stall)).bytes);
    const drafted = await tavlin("run", "draft", at("stall.glb"), "-o", at("rings.glb"), "--scope", "pattern:Ring*");
    expect(drafted).toMatchObject({ status: 0, said: expect.stringMatching(/Draft: \d+ shells/) });
    const bare = (await figures(at("rings.glb"))).cornersWithoutUv;
    expect(bare).toBeGreaterThan(0);
    expect(bare).toBe((await figures(at("stall.glb"))).cornersWithoutUv! - 72);

    const alike = await tavlin("run", "pick-similar", at("rings.glb"), "--scope", "name:Ring A", "--json");
    expect(JSON.parse(alike.out)).toMatchObject({ kind: "faces", parts: ["p2", "p3"] });
    expect((await tavlin("run", "sheet", at("rings.glb"), "-o", at("rings.svg"))).status).toBe(0);
    expect(readFileSync(at("rings.svg"), "utf8")).toContain("<svg");
    expect((await tavlin("run", "add-file", at("stall.glb"), at("crate.obj"), "-o", at("both.obj"))).status).toBe(0);
    expect((await figures(at("both.obj"))).faces).toBeGreaterThan((await figures(at("stall.glb"))).faces!);
  });

  it("packs the parts of several files onto one sheet", async () => {
    for (const name of ["tube", "crate"])
      expect((await tavlin("make", at(`${name}.obj`), "-o", at(`${name}-laid.obj`))).status).toBe(0);
    const [one, other] = [at("tube-laid.obj"), at("crate-laid.obj")];
    const how = ["--with", other, "-o", at("two.obj"), "--search", "quick", "--padding", "4"];
    expect(await tavlin("pack", one, ...how)).toMatchObject({ status: 0 });
    const both = await figures(at("two.obj"));
    expect(both.faces).toBe((await figures(one)).faces! + (await figures(other)).faces!);
    expect(both).toMatchObject({ tiles: 1, overlapShare: 0, cornersWithoutUv: 0 });
    const nowhere = await tavlin("pack", one, "--with", at("nowhere.obj"), "-o", at("none.obj"));
    expect(nowhere).toMatchObject({ status: 1, said: expect.stringContaining("There is no file") });
    expect(existsSync(at("none.obj"))).toBe(false);
  });

  it.each([
    [["take-out", "FILE", "-o", "out.obj", "--scope", "Crate"], "says no scope"],
    [["take-out", "FILE", "-o", "out.obj", "--scope", "name:Nobody"], "No part is called that."],
    [["unfold", "FILE", "-o", "out.obj", "--set", "Light"], "There is no UV set Light"],
    [["take-out", "FILE", "-o", "out.obj"], "Pick"],
    [["add-file", "FILE", "-o", "out.obj"], "others"],
    [["unravel", "FILE"], "unravel"],
    [["export-glb", "FILE", "-o", "out.obj"], "written as .glb"],
    [["add-file", "FILE", "nowhere.obj", "-o", "out.obj"], "There is no file nowhere.obj."],
  ])("refuses to run %j in one sentence", async (args, words) => {
    const done = await tavlin(
      ...["run", ...args].map((a) => (a === "FILE" ? at("crate.obj") : a === "out.obj" ? at(a) : a)),
    );
    expect(done.status).not.toBe(0);
    expect(done.said).toContain(words);
    expect(done.said.split("\n")).toHaveLength(1);
    expect(existsSync(at("out.obj"))).toBe(false);
  });

  it("checks a layout against rules, and ends by the result", async () => {
    const laid = at("rabbit-out.obj");
    const well = await tavlin("check", laid);
    expect([well.status, well.out]).toEqual([0, "UV 1: all well\n"]);
    writeFileSync(at("rules.json"), JSON.stringify({ padding: 200 }));
    const short = await tavlin("check", laid, "--rules", at("rules.json"), "--json");
    expect(short.status).toBe(3);
    const said = JSON.parse(short.out) as { sets: Array<{ findings: Array<{ kind: string }> }> };
    expect(said.sets[0]!.findings.map((f) => f.kind)).toEqual(["gap"]);
    const bare = await tavlin("check", at("rabbit.obj"));
    expect(bare.status).toBe(3);
    expect(bare.out).toContain("no coordinates");
    writeFileSync(at("rules.json"), JSON.stringify({ padding: "wide" }));
    const refused = await tavlin("check", laid, "--rules", at("rules.json"));
    expect([refused.status, refused.said.split("\n").length]).toEqual([1, 1]);
    expect(refused.said).toContain("padding");
  });
});
