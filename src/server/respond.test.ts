import { afterEach, describe, expect, it, vi } from "vitest";
import { UserError } from "../core/layout/user-error";
import { Conflict, Missing } from "./refusals";
import { respond } from "./respond";

/** The class as another bundle has it: of the same name, and not the same. */
class UserErrorOfAnotherBundle extends Error {
  override name = "UserError";
}

const answerTo = async (error: unknown) => {
  const response = await respond(
    new Request("http://127.0.0.1/api/assets", { headers: { host: "127.0.0.1" } }),
    async () => {
      throw error;
    },
  );
  return [response.status, ((await response.json()) as { error: string }).error];
};

afterEach(() => {
  vi.restoreAllMocks();
});

describe("a route that fails", () => {
  it("answers a refusal with its sentence, whichever bundle it comes from", async () => {
    expect(await answerTo(new UserError("The disk is full."))).toEqual([400, "The disk is full."]);
    expect(await answerTo(new UserErrorOfAnotherBundle("The disk is full."))).toEqual([400, "The disk is full."]);
    expect(await answerTo(new Missing("It is gone."))).toEqual([404, "It is gone."]);
    expect(await answerTo(new Conflict("Somebody was faster."))).toEqual([409, "Somebody was faster."]);
  });

  it("says of a fault only that it is in the log", async () => {
    const log = vi.spyOn(console, "error").mockImplementation(() => {});
    const [status, words] = await answerTo(new Error("secret"));
    expect(status).toBe(500);
    expect(words).not.toContain("secret");
    expect(log).toHaveBeenCalledOnce();
  });
});
