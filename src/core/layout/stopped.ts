/** Thrown by work that was asked to stop, and at whoever waits for it. Nothing was changed. */
export class Stopped extends Error {
  override name = "Stopped";
}
