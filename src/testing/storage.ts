import { randomUUID } from "node:crypto";
import { cpSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { assemble, lathe } from "../../demo/kit";
import type { Asset } from "../core/layout/asset";
import { type AssetDelta, deltaBetween, withDelta } from "../core/layout/delta";
import { type Database, openDatabase, openServer } from "../server/database";
import { type Appended, appendRevision } from "../server/revisions";
import { contentsOf } from "../server/store";
import { deltaOf, hashesOf, type ManifestDelta } from "../wire/manifest";
import { EMPTY_DATABASE } from "./empty-database";

// What tests of storage need: databases of both kinds, and edits in one line.

const folders: string[] = [];

/** A folder that goes when the tests are done. */
export function testFolder(): string {
  const path = mkdtempSync(join(tmpdir(), "tavlin-test-"));
  folders.push(path);
  return path;
}

/** A folder with an empty database in it. */
export function databaseFolder(): string {
  const path = testFolder();
  cpSync(EMPTY_DATABASE, path, { recursive: true });
  return path;
}

export function removeFolders(): void {
  for (const f of folders.splice(0)) rmSync(f, { recursive: true, force: true, maxRetries: 5 });
}

const server = process.env.TAVLIN_TEST_POSTGRES;

async function freshDatabaseOn(address: string): Promise<Database> {
  const name = `tavlin_${Math.random().toString(36).slice(2)}`;
  const admin = await openServer(address);
  await admin.query(`create database ${name}`);
  await admin.close();
  const url = new URL(address);
  url.pathname = `/${name}`;
  return openServer(url.toString());
}

/** Every test of storage runs on both: the database in the data folder, and a PostgreSQL server when one is at hand. */
export const DATABASES: ReadonlyArray<[string, () => Promise<Database>]> = [
  ["the data folder", () => openDatabase(databaseFolder())],
  ...(server ? [["a PostgreSQL server", () => freshDatabaseOn(server)] as [string, () => Promise<Database>]] : []),
];

const PROFILE: Array<[number, number]> = [
  [1, 0],
  [1, 1],
];

export const drum = (): Asset => assemble("Drum", "cm", [], [{ name: "Drum", shape: lathe(PROFILE, 8) }]);

export const saveDelta = (db: Database, id: string, base: number, delta: AssetDelta, words = "x"): Promise<Appended> =>
  appendRevision(db, id, {
    base,
    key: randomUUID(),
    operation: "test",
    options: {},
    scope: null,
    words,
    figures: null,
    delta,
  });

export const save = (db: Database, id: string, base: number, before: Asset, after: Asset, words = "x") =>
  saveDelta(db, id, base, deltaBetween(before, after), words);

/** An asset after what the database answered to a step. */
export async function stepped(db: Database, asset: Asset, delta: ManifestDelta): Promise<Asset> {
  return withDelta(asset, deltaOf(delta, await contentsOf(db, hashesOf(delta))));
}

/** Bytes as a stream, in pieces as a network brings them. */
export async function* streamOf(bytes: Uint8Array, piece = 50_000): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < bytes.length; at += piece) yield bytes.subarray(at, at + piece);
}

/** All bytes of a stream. */
export async function bytesOf(stream: AsyncIterable<Uint8Array>): Promise<Uint8Array> {
  const pieces: Uint8Array[] = [];
  for await (const p of stream) pieces.push(p);
  return new Uint8Array(Buffer.concat(pieces));
}
