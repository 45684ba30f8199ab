/** What a person did wrong or cannot have, in one sentence for them; nothing was changed. */
export class UserError extends Error {
  override name = "UserError";
}

/** Whether an error is one for the person, also one made by another copy of this module: a bundler may load several. */
export const isUserError = (error: unknown): error is UserError =>
  error instanceof UserError || (error instanceof Error && error.name === "UserError");
