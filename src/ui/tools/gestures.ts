import type { Hover } from "../session/store";
import { boxTool } from "./box-tool";
import type { At, Drag, Tool, ToolBench } from "./tool";
import { transformDrag } from "./transform-tools";

/** How far the pointer goes before a press becomes a drag, pixels. */
const SLACK = 4;

/** What clicks and the resting pointer do, whatever the tool. */
export interface Pointing {
  point(hit: Hover | null, at: At): void;
  click(hit: Hover | null, at: At): void;
  doubleClick(hit: Hover, at: At): void;
  leave(): void;
}

type State =
  | { readonly is: "resting" }
  | { readonly is: "pressed"; readonly from: At }
  | { readonly is: "dragging"; readonly drag: Drag }
  /** Escape has taken a drag back: what the button does until it is let go means nothing. */
  | { readonly is: "dropped" };

/**
 * What the pointer means in a pane: it rests, is pressed, and drags once it has gone far enough. A drag is the tool's, a
 * handle's when one was taken hold of, or picks in a box where the tool has nothing to work on.
 */
export class Gestures {
  private state: State = { is: "resting" };

  constructor(
    private readonly bench: ToolBench,
    private readonly tool: () => Tool,
    private readonly pointing: Pointing,
  ) {}

  press(at: At): void {
    this.state = { is: "pressed", from: at };
  }

  /** The pointer moves, with the button down or not. */
  move(at: At): void {
    const { state } = this;
    if (state.is === "resting") {
      this.pointing.point(this.bench.itemAt(at.x, at.y), at);
      const shown = this.tool().resting?.(this.bench, at);
      if (shown) this.bench.show(shown);
      this.tool().point?.(this.bench, at);
    }
    if (state.is === "pressed" && Math.hypot(at.x - state.from.x, at.y - state.from.y) >= SLACK)
      this.begin(state.from, at);
    else if (state.is === "dragging") state.drag.move(at);
  }

  private begin(from: At, at: At): void {
    const { bench } = this;
    const plain = from.shift || from.ctrl;
    // With Shift or Ctrl a drag on a handle picks: what is added to lies under it as often as not.
    const held = from.grip && !plain ? transformDrag(bench, from.grip, from) : null;
    const drag = held ?? this.tool().begin(bench, from) ?? boxTool.begin(bench, from)!;
    this.state = { is: "dragging", drag };
    drag.move(at);
  }

  release(at: At): void {
    const { state } = this;
    this.state = { is: "resting" };
    if (state.is === "dragging") state.drag.end(at);
    else if (state.is === "pressed" && !this.tool().click?.(this.bench, at))
      this.pointing.click(this.bench.itemAt(at.x, at.y), at);
  }

  doubleClick(at: At): void {
    if (this.tool().doubleClick?.(this.bench)) return;
    const hit = this.bench.itemAt(at.x, at.y);
    if (hit) this.pointing.doubleClick(hit, at);
  }

  leave(): void {
    if (this.state.is !== "resting") return;
    this.pointing.leave();
    if (this.tool().resting) this.bench.show(null);
    this.tool().point?.(this.bench, null);
  }

  /** Takes a drag back. @returns whether there was one */
  cancel(): boolean {
    const { state } = this;
    if (state.is !== "dragging") return state.is === "dropped";
    state.drag.drop();
    this.state = { is: "dropped" };
    return true;
  }
}
