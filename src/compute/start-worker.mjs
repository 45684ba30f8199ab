// Starts a worker thread of Node from a source file: the loader of the command line is put in place first, since threads
// do not take it over from the process.
import { workerData } from "node:worker_threads";
import { register } from "tsx/esm/api";

register();
await import(workerData.entry);
