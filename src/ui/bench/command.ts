import type { SelectionKind } from "@/core/operations/operation";
import type { BenchSession } from "../session/bench-session";
import type { Keyed } from "./key-choices";

/** Something the interface does: its name in the palette and the table of keys, and the key it comes with. */
export interface Command extends Keyed {
  readonly words: string;
  /** What it does, in a sentence, where its name does not say all. */
  readonly about?: string;
  /** Its name on the tray, and the kinds of picked elements for which it stands there. */
  readonly short?: string;
  readonly fits?: readonly SelectionKind[];
  /** The tools with which it stands on the tray. */
  readonly tools?: readonly string[];
  run(session: BenchSession): void;
  /** What letting go of its key does. */
  release?(session: BenchSession): void;
}
