import { parentPort } from "node:worker_threads";
import type { ToWorker } from "./pool";
import { serveTask } from "./serve-tasks";

// A worker of the pool in Node.
parentPort!.on("message", (data: ToWorker) => {
  void serveTask(data, (message) => parentPort!.postMessage(message));
});
