import type { Asset } from "@/core/layout/asset";
import { type AssetDelta, withDelta } from "@/core/layout/delta";
import { UserError } from "@/core/layout/user-error";
import { seedDerived } from "./derived";
import type { Answer, Answers, Request, Work } from "./protocol";

/** Thrown at whoever waits for work that was stopped. */
export class Stopped extends Error {
  override name = "Stopped";
}

interface Waiting {
  resolve(value: unknown): void;
  reject(error: Error): void;
  progress?: (share: number) => void;
}

/**
 * One worker and the document it holds. Stopping ends the worker at once, whatever it is doing, and starts another
 * with the document as it was: nothing half done can remain.
 */
export class Engine {
  private worker: Worker | null = null;
  private asset: Asset | null = null;
  private runs = 0;
  private readonly waiting = new Map<number, Waiting>();

  private start(): Worker {
    if (this.worker) return this.worker;
    const worker = new Worker(new URL("./worker.ts", import.meta.url), { type: "module" });
    worker.addEventListener("message", ({ data }: MessageEvent<Answer>) => this.answer(data));
    worker.addEventListener("error", (event) => {
      this.dispose(new Error(event.message || "The computation stopped unexpectedly."));
    });
    this.worker = worker;
    if (this.asset) this.post({ type: "load", asset: this.asset });
    return worker;
  }

  private post(request: Request, moved: ArrayBuffer[] = []): void {
    this.start().postMessage(request, moved);
  }

  /** Has an asset as it came from the server read by the worker, with what drawing and picking ask of it. */
  async open(bytes: ArrayBuffer): Promise<Asset> {
    const { value } = await this.run<"open">({ type: "open", bytes }, undefined, [bytes]);
    seedDerived(value.asset, value.derived);
    this.asset = value.asset;
    return value.asset;
  }

  private answer(data: Answer): void {
    const waiting = this.waiting.get(data.run);
    if (!waiting) return;
    if (data.type === "progress") {
      waiting.progress?.(data.share);
      return;
    }
    this.waiting.delete(data.run);
    if (data.type === "done") waiting.resolve(data.value);
    else waiting.reject(data.refused ? new UserError(data.message) : new Error(data.message));
  }

  /** A change that came from elsewhere (undo, another tab). */
  apply(delta: AssetDelta): void {
    if (!this.asset) return;
    this.asset = withDelta(this.asset, delta);
    this.post({ type: "apply", delta });
  }

  /** An edit's result is saved: it becomes the document's. */
  keep(run: number, delta: AssetDelta): void {
    if (this.asset) this.asset = withDelta(this.asset, delta);
    this.post({ type: "keep", run });
  }

  /** Has work done; answers its run number with the value. */
  run<W extends Work>(
    request: Omit<Extract<Request, { type: W }>, "run">,
    progress?: (share: number) => void,
    moved: ArrayBuffer[] = [],
  ): Promise<{ run: number; value: Answers[W] }> {
    const run = ++this.runs;
    return new Promise((resolve, reject) => {
      this.waiting.set(run, {
        resolve: (value) => resolve({ run, value: value as Answers[W] }),
        reject,
        ...(progress ? { progress } : {}),
      });
      this.post({ ...request, run } as unknown as Request, moved);
    });
  }

  stop(): void {
    this.dispose(new Stopped("Stopped."));
    this.start();
  }

  dispose(why: Error = new Stopped("Closed.")): void {
    this.worker?.terminate();
    this.worker = null;
    for (const waiting of this.waiting.values()) waiting.reject(why);
    this.waiting.clear();
  }
}
