import type { Asset } from "@/core/layout/asset";
import { UserError } from "@/core/layout/user-error";
import { Stopped } from "@/core/operations/operation";
import type { HistoryState } from "@/wire/answers";
import { type Appended, NoAnswer } from "./remote";

/** Something to be sent to the server, in its turn. */
export interface Letter<Answer> {
  /** Sends it; sent again under the same key it is one edit. */
  send(): Promise<Answer>;
  /** The server has it. */
  saved(answer: Answer): void;
}

/** An edit that is on the table and on its way to the database. */
export interface EditLetter extends Letter<Appended> {
  readonly words: string;
  /** What was on the table before it. */
  readonly before: { readonly asset: Asset; readonly revision: number; readonly history: HistoryState };
}

/** In words, that edits were taken back, the first of them first. */
export const takenBackWords = (count: number, first: EditLetter, error: Error): string =>
  `${count === 1 ? `${first.words} could not be saved and was` : `${count} steps could not be saved and were`} taken back: ${error.message}`;

/** Milliseconds between tries while the server does not answer. */
const TRY_AGAIN = [250, 500, 1000, 2000, 5000];

const pause = (milliseconds: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, milliseconds));
const pauseBefore = (tries: number): number => TRY_AGAIN[Math.min(tries, TRY_AGAIN.length - 1)]!;

/** Asks again and again until there is an answer. @throws Stopped when asked to stop, and what the server refuses */
export async function untilAnswered(ask: () => Promise<void>, flag: { readonly isRaised: boolean }): Promise<void> {
  for (let tries = 0; ; tries++) {
    await pause(pauseBefore(tries));
    if (flag.isRaised) throw new Stopped("Stopped.");
    try {
      return await ask();
    } catch (error) {
      if (error instanceof UserError && !(error instanceof NoAnswer)) throw error;
    }
  }
}

/**
 * Sends edits one after another, behind the work. As long as the server does not answer they are kept and tried again;
 * one that it refuses is given back, with those that came after it and stand on it.
 */
export class Outbox<Answer> {
  private readonly letters: Letter<Answer>[] = [];
  /** Who waits for a letter, to be told whether the server took it. */
  private readonly watchers = new Map<Letter<Answer>, Array<(taken: boolean) => void>>();
  private running: Promise<void> | null = null;

  constructor(
    private readonly events: {
      /** How many are not yet saved, and whether the server answers. */
      waiting(count: number, answers: boolean): void;
      /** @param take lets go of all letters, those that were added meanwhile too: they stand on what is taken back */
      refused(error: Error, letter: Letter<Answer>, take: () => readonly Letter<Answer>[]): Promise<void>;
    },
    private readonly wait: (milliseconds: number) => Promise<void> = pause,
  ) {}

  get count(): number {
    return this.letters.length;
  }

  add(letter: Letter<Answer>): void {
    this.letters.push(letter);
    this.events.waiting(this.letters.length, true);
    this.running ??= this.run();
  }

  /** Settles when nothing is left to be sent. */
  async idle(): Promise<void> {
    while (this.running) await this.running;
  }

  /** Settles when what waits to be sent now was sent. @returns whether the server took the last of it */
  passed(): Promise<boolean> {
    const last = this.letters.at(-1);
    if (!last) return Promise.resolve(true);
    return new Promise((resolve) => {
      this.watchers.set(last, [...(this.watchers.get(last) ?? []), resolve]);
    });
  }

  private settle(letter: Letter<Answer>, taken: boolean): void {
    for (const tell of this.watchers.get(letter) ?? []) tell(taken);
    this.watchers.delete(letter);
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
        this.settle(letter, true);
        this.events.waiting(this.letters.length, true);
      } catch (error) {
        if (error instanceof NoAnswer) {
          this.events.waiting(this.letters.length, false);
          await this.wait(pauseBefore(tries++));
          continue;
        }
        await this.events.refused(error as Error, letter, () => this.letters.splice(0));
        for (const refused of [...this.watchers.keys()])
          if (!this.letters.includes(refused)) this.settle(refused, false);
        tries = 0;
        this.events.waiting(0, true);
      }
    }
    this.running = null;
  }
}
