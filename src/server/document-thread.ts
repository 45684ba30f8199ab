import { join } from "node:path";
import { type Remote, transfer, wrap } from "comlink";
import { installErrors } from "../compute/error-transfer";
import { nodeEndpoint } from "../compute/node-endpoint";
import { Documents } from "./documents";

// Asked for by hand, since the bundler would take in what it sees started with an import; threads run from source.
const { Worker } = process.getBuiltinModule("node:worker_threads");

/** What computes for the server: in a thread of its own, or here. */
export type DocumentService = {
  [K in keyof Documents]: (...args: Parameters<Documents[K]>) => Promise<Awaited<ReturnType<Documents[K]>>>;
};

/** Two of them, so that a large upload or a picture holds up no edit. */
export interface DocumentServices {
  /** For edits. */
  readonly edits: DocumentService;
  /** For whole assets, backups and pictures. */
  readonly bulk: DocumentService;
}

/** What takes the bytes of a request: they are handed over and not copied, since nobody needs them here any more. */
const UPLOADS: ReadonlySet<keyof Documents> = new Set(["readAsset", "openEdit"]);

const handedOver = (arg: unknown): unknown =>
  arg instanceof Uint8Array && arg.byteLength === arg.buffer.byteLength
    ? transfer(arg, [arg.buffer as ArrayBuffer])
    : arg;

interface Running {
  readonly remote: Remote<Documents>;
  /** Never settles but by the thread's end. */
  readonly lost: Promise<never>;
}

/** The service in a thread of its own, started again when it breaks down. */
function documentThread(): DocumentService {
  installErrors();
  let running: Running | null = null;
  const start = (): Running => {
    if (running) return running;
    const source = join(process.cwd(), "src");
    const worker = new Worker(join(source, "compute", "start-worker.mjs"), {
      workerData: { entry: join(source, "server", "documents-worker.ts") },
    });
    const lost = new Promise<never>((_, reject) => {
      worker.on("error", reject);
      worker.on("exit", (code) => reject(new Error(`The thread of documents ended (${code}).`)));
    });
    lost.catch(() => {
      running = null;
    });
    // It does not keep the process alive.
    worker.unref();
    running = { remote: wrap<Documents>(nodeEndpoint(worker)), lost };
    return running;
  };
  // Starting takes a second, which the first edit need not wait for.
  start();
  return new Proxy({} as DocumentService, {
    get:
      (_, name: keyof Documents) =>
      (...args: unknown[]) => {
        const { remote, lost } = start();
        const sent = UPLOADS.has(name) ? args.map(handedOver) : args;
        const answer = (remote[name] as (...a: unknown[]) => Promise<unknown>)(...sent);
        return Promise.race([answer, lost]);
      },
  });
}

export const documentThreads = (): DocumentServices => ({ edits: documentThread(), bulk: documentThread() });

/** The service in this thread, for programs that do nothing beside it. */
export function documentsHere(): DocumentServices {
  const documents = new Documents();
  const here = new Proxy({} as DocumentService, {
    get:
      (_, name: keyof Documents) =>
      async (...args: unknown[]) =>
        (documents[name] as (...a: unknown[]) => unknown).apply(documents, args),
  });
  return { edits: here, bulk: here };
}
