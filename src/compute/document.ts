import { type Remote, wrap } from "comlink";
import { Stopped } from "../core/operations/operation";
import type { PageDocument } from "./document-worker";
import { installErrors } from "./error-transfer";

/** The document's worker, as the page talks to it. */
export interface DocumentWorker {
  /** Calls that have no answer yet fail when the worker ends, whoever ends it: nobody waits for ever. */
  readonly remote: Remote<PageDocument>;
  /** Settles with the reason when the worker breaks down. */
  readonly lost: Promise<Error>;
  end(): void;
}

export function startDocument(): DocumentWorker {
  installErrors();
  const worker = new Worker(new URL("./document-worker.ts", import.meta.url), { type: "module" });
  const { remote, fail } = answered(wrap<PageDocument>(worker));
  const lost = new Promise<Error>((resolve) => {
    worker.addEventListener("error", (event) => {
      const error = new Error(event.message || "The computation ended unexpectedly.");
      fail(error);
      resolve(error);
    });
  });
  const end = () => {
    worker.terminate();
    fail(new Stopped("Stopped."));
  };
  return { remote, lost, end };
}

/** A remote whose unanswered calls can be made to fail: by itself a worker that is gone leaves them open. */
export function answered<T extends object>(remote: T): { remote: T; fail: (error: Error) => void } {
  const open = new Set<(error: Error) => void>();
  const call = (name: string | symbol, args: unknown[]) =>
    new Promise((resolve, reject) => {
      open.add(reject);
      const settle =
        <V>(then: (value: V) => void) =>
        (value: V) => {
          open.delete(reject);
          then(value);
        };
      const answer = (remote[name as keyof T] as (...a: unknown[]) => Promise<unknown>)(...args);
      answer.then(settle(resolve), settle(reject));
    });
  return {
    remote: new Proxy(remote, {
      get:
        (_, name) =>
        (...args: unknown[]) =>
          call(name, args),
    }),
    fail: (error) => {
      for (const reject of open) reject(error);
      open.clear();
    },
  };
}
