/** A refusal in one clear sentence for the person at the table; nothing has been changed. */
export class UserError extends Error {
  override name = "UserError";
}
