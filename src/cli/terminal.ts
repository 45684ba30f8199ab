/** Where a command writes. */
export interface Terminal {
  /** What was asked for, on standard output. */
  readonly print: (text: string) => void;
  /** What is told beside it, on standard error. */
  readonly say: (text: string) => void;
}
