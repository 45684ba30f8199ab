import { UserError } from "../core/layout/user-error";

/** A write made on a version that is no longer the newest. */
export class Conflict extends UserError {
  override name = "Conflict";
}

/** What was asked for is not there. */
export class Missing extends UserError {
  override name = "Missing";
}
