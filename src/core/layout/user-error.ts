/** What would work instead of what was refused: the same with other options. */
export interface Offer {
  readonly title: string;
  readonly options: Readonly<Record<string, unknown>>;
}

/** What a person did wrong or cannot have, in one sentence for them, with what they could have; nothing was changed. */
export class UserError extends Error {
  override name = "UserError";

  constructor(
    message?: string,
    readonly offers: readonly Offer[] = [],
  ) {
    super(message);
  }
}

/** Whether an error is one for the person, also one made by another copy of this module: a bundler may load several. */
export const isUserError = (error: unknown): error is UserError =>
  error instanceof UserError || (error instanceof Error && error.name === "UserError");
