import { join } from "node:path";

/** Where the tests keep an empty database to copy. */
export const EMPTY_DATABASE = join(import.meta.dirname, "..", "..", "test-results", "empty-database");
