import { existsSync, mkdirSync, renameSync, rmSync } from "node:fs";
import { openDatabase } from "../server/database";
import { EMPTY_DATABASE } from "./empty-database";

/** Makes an empty database once, for tests to copy: making one takes seconds, opening one does not. */
export default async function setup(): Promise<void> {
  if (existsSync(EMPTY_DATABASE)) rmSync(EMPTY_DATABASE, { recursive: true });
  mkdirSync(`${EMPTY_DATABASE}-making`, { recursive: true });
  await (await openDatabase(`${EMPTY_DATABASE}-making`)).close();
  rmSync(`${EMPTY_DATABASE}-making/lock`, { force: true });
  renameSync(`${EMPTY_DATABASE}-making`, EMPTY_DATABASE);
}
