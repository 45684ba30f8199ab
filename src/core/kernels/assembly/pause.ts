// Long work looks up from time to time: whoever called it may end it there.

declare function pause(): void;

/** Operations after which it looks up: some hundredths of a second. */
const ENOUGH: f64 = 3e7;
let done: f64 = 0;

/** Tells that about so many operations were done. Where the work is ended it does not return. */
export function worked(operations: f64): void {
  done += operations;
  if (done < ENOUGH) return;
  done = 0;
  pause();
}
