import { type FromWorker, Pool, type WorkerPort } from "./pool";

function browserPort(): WorkerPort {
  const worker = new Worker(new URL("./task-worker.ts", import.meta.url), { type: "module" });
  return {
    post: (message) => worker.postMessage(message),
    listen(heard, ended) {
      worker.addEventListener("message", ({ data }: MessageEvent<FromWorker>) => heard(data));
      worker.addEventListener("error", (event) => ended(new Error(event.message || "A worker ended unexpectedly.")));
    },
    end: () => worker.terminate(),
  };
}

/** Workers of a browser: one core is left to the page and to the document. */
export const browserPool = (): Pool =>
  new Pool(browserPort, Math.max(1, Math.min(8, (navigator.hardwareConcurrency || 2) - 1)));
