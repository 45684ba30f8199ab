import type { ShellRef } from "@/core/layout/layout";
import { say } from "../session/say";
import { pick, pickShells } from "../session/selection";
import { lineOfShell, shellOfFace, stackOf } from "../session/shell-rows";
import type { Bench, Hover, Pane } from "../session/store";
import type { At } from "./tool";
import { shellsUnder, type Under } from "./uv-at";

/** How far from the click before another may be and still mean the same place, pixels. */
const SAME = 4;

/**
 * Clicks on shells that lie on one another: the first takes the uppermost, each one after it at the same place the next
 * below. With Alt they are listed.
 */
export class StackClicks {
  private last: { x: number; y: number; at: number } | null = null;

  constructor(private readonly bench: Bench) {}

  /** The shells that lie right on one another with one. */
  private wholeStack(under: Under): readonly ShellRef[] | null {
    const { asset, set, measures } = this.bench.getState();
    return stackOf(measures, shellOfFace(asset!, set, under));
  }

  /** @returns whether the click was one on a stack, and is dealt with */
  click(hit: Hover, [u, v]: readonly [number, number], at: At & { pane: Pane }): boolean {
    const { asset, set, kind, hidden } = this.bench.getState();
    const takes = (kind === "faces" || kind === "shells") && !at.shift && !at.ctrl;
    const under = asset && takes ? shellsUnder({ asset, set, kind, hidden }, u, v) : [];
    if (!asset || under.length < 2) {
      this.last = null;
      return false;
    }
    // The uppermost is the one that is seen, whatever order they are drawn in.
    const top = under.findIndex((s) => s.shape === hit.shape && s.face === hit.face);
    const order = top > 0 ? [under[top]!, ...under.filter((_, i) => i !== top)] : under;
    if (at.alt) {
      this.bench.setState({ stack: { pane: at.pane, x: at.x, y: at.y, shells: order } });
      return true;
    }
    const again = this.last && Math.hypot(at.x - this.last.x, at.y - this.last.y) < SAME;
    const whole = kind === "shells" ? this.wholeStack(order[0]!) : null;
    // A stack is one thing, before its shells are taken one after another.
    const first = whole ? -1 : 0;
    const next = again && this.last!.at + 1 < order.length ? this.last!.at + 1 : first;
    this.last = { x: at.x, y: at.y, at: next };
    if (whole && next < 0) {
      pickShells(this.bench, whole, "replace");
      say(this.bench, `A stack of ${whole.length}. Click again for one of them, with Alt for a list.`);
      return true;
    }
    takeOf(this.bench, order[next]!);
    say(
      this.bench,
      `${nameOf(this.bench, order[next]!)}: ${next + 1} of ${order.length} on one another. Click again for the next, with Alt for a list.`,
    );
    return true;
  }
}

/** Picks a shell of a stack, or its face there, whatever is being picked. */
export function takeOf(bench: Bench, under: Under): void {
  const { asset, set, kind } = bench.getState();
  const item = kind === "shells" ? shellOfFace(asset!, set, under).face : under.face;
  pick(bench, under.shape, [item], "replace");
}

/** The name of the shell that a face is of. */
export function nameOf(bench: Bench, under: Under): string {
  const { asset, set, measures } = bench.getState();
  return (measures && lineOfShell(asset!, set, measures, shellOfFace(asset!, set, under))?.name) ?? "Shell";
}
