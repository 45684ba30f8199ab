import { type Remote, wrap } from "comlink";
import type { PageDocument } from "./document-worker";
import { installErrors } from "./error-transfer";

/** The document's worker, as the page talks to it. */
export interface DocumentWorker {
  readonly remote: Remote<PageDocument>;
  /** Settles with the reason when the worker breaks down. */
  readonly lost: Promise<Error>;
  end(): void;
}

export function startDocument(): DocumentWorker {
  installErrors();
  const worker = new Worker(new URL("./document-worker.ts", import.meta.url), { type: "module" });
  const lost = new Promise<Error>((resolve) => {
    worker.addEventListener("error", (event) =>
      resolve(new Error(event.message || "The computation ended unexpectedly.")),
    );
  });
  return { remote: wrap<PageDocument>(worker), lost, end: () => worker.terminate() };
}
