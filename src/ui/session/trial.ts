import { StopFlag } from "@/compute/stop-flag";
import { UserError } from "@/core/layout/user-error";
import type { AnyOperation } from "@/core/operations/operation";
import type { ProjectionWay } from "@/core/project/frame";
import type { BenchSession } from "./bench-session";
import { scopeNow } from "./store";

/** Milliseconds after which one that is under way is stopped when another is asked for: it would hold that up. */
const LONG = 400;

/**
 * Tries what an edit would come to on what is picked, with the options its card has, and draws that into the panes. While
 * one is under way the newest that is asked for waits, so that the panes follow a drag as fast as it can be worked out.
 */
export class Trials {
  private flag: StopFlag | null = null;
  private begun = 0;
  private isWaiting = false;
  private isOver = false;

  /** @param tell what it would come to, with the ways there are, or why it cannot be done */
  constructor(
    private readonly session: BenchSession,
    private readonly op: AnyOperation,
    private readonly tell: (words: string, ways?: readonly ProjectionWay[]) => void,
  ) {}

  /** Tries it as things are now. */
  ask(): void {
    if (!this.flag) {
      void this.run();
      return;
    }
    this.isWaiting = true;
    if (performance.now() - this.begun > LONG) this.flag.raise();
  }

  /** What was drawn is no longer true. */
  clear(): void {
    this.isWaiting = false;
    this.flag?.raise();
    const { bench } = this.session;
    if (bench.getState().trial?.operation === this.op.id) bench.setState({ trial: null });
  }

  end(): void {
    this.isOver = true;
    this.clear();
  }

  private async run(): Promise<void> {
    const { session, op } = this;
    const { bench } = session;
    const flag = new StopFlag();
    this.flag = flag;
    this.begun = performance.now();
    const state = bench.getState();
    const options = { ...state.options[op.id], ...op.given };
    try {
      const found = await session.lookUp((remote, revision) =>
        remote.tryOut(revision, op.id, options, scopeNow(state, op), { flag: flag.shared }),
      );
      if (found && !flag.isRaised) {
        bench.setState({ trial: { operation: op.id, ...found } });
        this.tell(found.words, found.ways);
      }
    } catch (error) {
      if (!flag.isRaised) {
        bench.setState({ trial: null });
        this.tell(error instanceof UserError ? error.message : `It could not be tried: ${(error as Error).message}`);
      }
    }
    this.flag = null;
    if (!this.isWaiting || this.isOver) return;
    this.isWaiting = false;
    void this.run();
  }
}
