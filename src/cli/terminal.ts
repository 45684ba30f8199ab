/** Where a command writes. */
export interface Terminal {
  /** What was asked for, on standard output. */
  readonly print: (text: string) => void;
  /** Notes and warnings, on standard error. */
  readonly say: (text: string) => void;
}
