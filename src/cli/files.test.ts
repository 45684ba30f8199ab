import { execFileSync } from "node:child_process";
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { zipSync } from "fflate";
import { afterAll, describe, expect, it } from "vitest";
import { openFile, writerFor } from "./files";

const folder = mkdtempSync(join(tmpdir(), "tavlin-files-"));
const at = (name: string) => join(folder, name);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const triangle = "mtllib own.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl Wood\nf 1 2 3\n";

describe("files that the command line opens", () => {
  it("are read beside pipes, links that lead nowhere, and links to folders", async () => {
    writeFileSync(at("stool.obj"), triangle);
    execFileSync("mkfifo", [at("own.mtl")]);
    symlinkSync(at("gone"), at("nowhere.mtl"));
    mkdirSync(at("textures"));
    symlinkSync(at("textures"), at("images"));
    const asset = await openFile(at("stool.obj"));
    expect(asset.parts).toHaveLength(1);
    expect(asset.materials.map((m) => m.name)).toEqual(["Wood"]);
  });

  it("are refused in a sentence where they are none", async () => {
    await expect(openFile(at("own.mtl"))).rejects.toThrow(`${at("own.mtl")} is not a file.`);
    await expect(openFile(folder)).rejects.toThrow(`${folder} is not a file.`);
    await expect(openFile(at("nobody.obj"))).rejects.toThrow(`There is no file ${at("nobody.obj")}.`);
    expect(() => writerFor("out.txt")).toThrow(/^out\.txt: files end in /);
  });

  it("may come in an archive that holds one mesh", async () => {
    const bytes = new TextEncoder().encode(triangle);
    writeFileSync(at("one.zip"), zipSync({ "stool.obj": bytes }));
    expect((await openFile(at("one.zip"))).parts).toHaveLength(1);
    writeFileSync(at("two.zip"), zipSync({ "a.obj": bytes, "b.obj": bytes }));
    await expect(openFile(at("two.zip"))).rejects.toThrow("holds 2 meshes; unpack it and give one of them.");
  });
});
