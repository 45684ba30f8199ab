import { Stopped } from "../core/operations/operation";

/** Whether this thread may share memory with others: pages only where they are isolated, programs always. */
export const canShare = (): boolean =>
  typeof SharedArrayBuffer !== "undefined" &&
  (globalThis as { crossOriginIsolated?: boolean }).crossOriginIsolated !== false;

/**
 * The signal to stop: raised in one thread, looked for in another. Where memory cannot be shared the other thread cannot
 * see it, and must be ended.
 */
export class StopFlag {
  /** To be handed to the thread that works; null where it could not see it. */
  readonly shared: Int32Array | null = canShare() ? new Int32Array(new SharedArrayBuffer(4)) : null;
  private raised = false;
  private readonly listeners = new Set<() => void>();

  get isRaised(): boolean {
    return this.raised;
  }

  raise(): void {
    if (this.raised) return;
    this.raised = true;
    if (this.shared) Atomics.store(this.shared, 0, 1);
    for (const listener of this.listeners) listener();
  }

  /** Calls back once when it is raised. @returns what ends that */
  onRaise(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }
}

/** Looks for the signal. @throws Stopped */
export function checkFlag(flag: Int32Array | null | undefined): void {
  if (flag && Atomics.load(flag, 0) !== 0) throw new Stopped("Stopped.");
}
