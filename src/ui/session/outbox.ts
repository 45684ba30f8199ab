import { NoAnswer } from "./remote";

/** Something to be sent to the server, in its turn. */
export interface Letter<Answer> {
  /** Sends it; sent again under the same key it is one edit. */
  send(): Promise<Answer>;
  /** The server has it. */
  saved(answer: Answer): void;
}

/** Milliseconds between tries while the server does not answer. */
const TRY_AGAIN = [250, 500, 1000, 2000, 5000];

/**
 * Sends edits one after another, behind the work. As long as the server does not answer they are kept and tried again;
 * one that it refuses is given back, with those that came after it and stand on it.
 */
export class Outbox<Answer> {
  private readonly letters: Letter<Answer>[] = [];
  private running: Promise<void> | null = null;

  constructor(
    private readonly told: {
      /** How many are not yet saved, and whether the server answers. */
      waiting(count: number, answers: boolean): void;
      refused(error: Error, letters: readonly Letter<Answer>[]): Promise<void>;
    },
    private readonly wait: (milliseconds: number) => Promise<void> = (ms) => new Promise((r) => setTimeout(r, ms)),
  ) {}

  get count(): number {
    return this.letters.length;
  }

  add(letter: Letter<Answer>): void {
    this.letters.push(letter);
    this.told.waiting(this.letters.length, true);
    this.running ??= this.run();
  }

  /** Settles when nothing is left to be sent. */
  async idle(): Promise<void> {
    while (this.running) await this.running;
  }

  private async run(): Promise<void> {
    let tries = 0;
    while (this.letters.length) {
      const letter = this.letters[0]!;
      try {
        const answer = await letter.send();
        tries = 0;
        this.letters.shift();
        letter.saved(answer);
        this.told.waiting(this.letters.length, true);
      } catch (error) {
        if (error instanceof NoAnswer) {
          this.told.waiting(this.letters.length, false);
          await this.wait(TRY_AGAIN[Math.min(tries++, TRY_AGAIN.length - 1)]!);
          continue;
        }
        const lost = this.letters.splice(0);
        await this.told.refused(error as Error, lost);
        // What was added meanwhile stands on what was taken back, and is gone with it.
        this.letters.splice(0);
        this.told.waiting(0, true);
      }
    }
    this.running = null;
  }
}
