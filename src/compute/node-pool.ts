import { availableParallelism } from "node:os";
import { fileURLToPath } from "node:url";
import { Worker } from "node:worker_threads";
import { Pool, type WorkerPort } from "./pool";

const here = (name: string): string => fileURLToPath(new URL(name, import.meta.url));

function nodePort(): WorkerPort {
  const worker = new Worker(here("./start-worker.mjs"), { workerData: { entry: here("./task-thread.ts") } });
  // It keeps nobody's program running.
  worker.unref();
  return {
    post(message) {
      worker.ref();
      worker.postMessage(message);
    },
    listen(heard, ended) {
      worker.on("message", (message) => {
        if (!("share" in message)) worker.unref();
        heard(message);
      });
      worker.on("error", ended);
      worker.on("exit", () => ended(new Error("A worker ended unexpectedly.")));
    },
    end: () => void worker.terminate(),
  };
}

/** Threads of Node, for the command line and for tests. */
export const nodePool = (width = availableParallelism()): Pool => new Pool(nodePort, width);
