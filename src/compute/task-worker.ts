import type { ToWorker } from "./pool";
import { serveTask } from "./serve-tasks";

// A worker of the pool in a browser.
addEventListener("message", ({ data }: MessageEvent<ToWorker>) => {
  void serveTask(data, (message) => postMessage(message));
});
