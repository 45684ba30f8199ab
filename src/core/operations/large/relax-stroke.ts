import { type Asset, type LayoutChange, withLayouts } from "../../layout/asset";
import { wedgesOfShell } from "../../layout/shell-points";
import { type BrushWay, type Dab, dabsOf } from "../../layout/stroke";
import { UserError } from "../../layout/user-error";
import { RelaxBrush } from "../../unfold/relax-brush";
import { pointsOf } from "../../unfold/shell-mesh";
import type { EditContext, EditResult, Scope } from "../operation";
import { type MovableShell, type ShellToCome, shellsToCome } from "./movable-shells";
import { newLayouts } from "./new-layouts";

interface StrokeInput {
  readonly stroke: string;
  readonly strength: number;
  readonly way: BrushWay;
}

/** A shell that the brush has come to. */
interface Brushed extends MovableShell {
  readonly from: Float64Array;
  readonly brush: RelaxBrush;
  isMoved: boolean;
}

type Box = [u0: number, v0: number, u1: number, v1: number];

/** A shell, and the box that its points lie in. It is looked up when the brush first comes to it. */
interface Near {
  readonly shell: ShellToCome;
  readonly box: Box;
  brushed?: Brushed | null;
}

function boxOf({ shape, layout, shell }: ShellToCome): Box {
  const box: Box = [Infinity, Infinity, -Infinity, -Infinity];
  for (const w of wedgesOfShell(shape.mesh, layout, shell)) {
    const [u, v] = [layout.uv[2 * w]!, layout.uv[2 * w + 1]!];
    box[0] = Math.min(box[0], u);
    box[1] = Math.min(box[1], v);
    box[2] = Math.max(box[2], u);
    box[3] = Math.max(box[3], v);
  }
  return box;
}

/** Points go no farther than into the dab that moves them. */
function reaches([u0, v0, u1, v1]: Box, { u, v, radius }: Dab): boolean {
  return u + radius >= u0 && u - radius <= u1 && v + radius >= v0 && v - radius <= v1;
}

function brushedOf(shell: ShellToCome): Brushed | null {
  const own = shell.look();
  if (!own) return null;
  const from = pointsOf(own.form, own.layout);
  return { ...own, from, brush: new RelaxBrush(own.form, from, own.moves), isMoved: false };
}

/** A stroke as it is drawn: dabs are added at its end. @throws UserError when there is nothing to draw over */
export class LiveStroke {
  private readonly shells: Near[];
  private done = 0;

  constructor(
    asset: Asset,
    private readonly scope: Scope,
  ) {
    this.shells = shellsToCome(asset, scope).map((shell) => ({ shell, box: boxOf(shell) }));
  }

  /** Goes on to the end of a stroke. @param check called between dabs; throws to stop */
  draw({ stroke, strength, way }: StrokeInput, check?: (share: number) => void): void {
    const dabs = dabsOf(stroke, this.done);
    dabs.forEach((dab, i) => {
      check?.(i / dabs.length);
      for (const near of this.shells) {
        if (!reaches(near.box, dab)) continue;
        if (near.brushed === undefined) near.brushed = brushedOf(near.shell);
        if (near.brushed?.brush.dab(dab, strength, way)) near.brushed.isMoved = true;
      }
      this.done++;
    });
  }

  /** The layouts as they are now. */
  changes(): LayoutChange[] {
    const moved = this.shells.flatMap(({ brushed }) =>
      brushed?.isMoved ? [{ ...brushed, uv: brushed.brush.uv(brushed.from) }] : [],
    );
    return newLayouts(moved, this.scope.set);
  }

  /** @throws UserError where nothing lay under it */
  get words(): string {
    const names = new Set(this.shells.flatMap(({ brushed }) => (brushed?.isMoved ? [brushed.shape.name] : [])));
    if (!names.size) throw new UserError("No point that may move lies under the brush.");
    return `Relax ${names.size === 1 ? [...names][0] : `${names.size} parts`} with the brush`;
  }
}

/** Relaxes what a stroke is drawn over. */
export function run(asset: Asset, scope: Scope, input: StrokeInput, context: EditContext): EditResult {
  const live = new LiveStroke(asset, scope);
  live.draw(input, context.progress);
  return { asset: withLayouts(asset, live.changes()), words: live.words, notes: [] };
}
