import { appendFileSync, existsSync, mkdirSync, renameSync, rmSync } from "node:fs";
import { openDatabase } from "../server/database";
import { EMPTY_DATABASE } from "./empty-database";

/** Makes an empty database once, for tests to copy: making one takes seconds, opening one does not. */
export default async function setup(): Promise<void> {
  if (existsSync(EMPTY_DATABASE)) rmSync(EMPTY_DATABASE, { recursive: true });
  mkdirSync(`${EMPTY_DATABASE}-making`, { recursive: true });
  await (await openDatabase(`${EMPTY_DATABASE}-making`)).close();
  rmSync(`${EMPTY_DATABASE}-making/lock`, { force: true });
  // Opening one takes half as long with buffers that are small: the usual 128 MB are set up each time.
  appendFileSync(`${EMPTY_DATABASE}-making/db/postgresql.conf`, "shared_buffers = 8MB\n");
  renameSync(`${EMPTY_DATABASE}-making`, EMPTY_DATABASE);
}
