import { transferHandlers } from "comlink";
import { type Offer, UserError } from "../core/layout/user-error";
import { Stopped } from "../core/operations/operation";

// An error that crosses threads keeps its kind: a refusal stays a refusal, and stopped work stopped work.

interface Sent {
  readonly isError: boolean;
  readonly value: unknown;
}

const KINDS: Readonly<Record<string, new (message: string) => Error>> = { Stopped };

let installed = false;

/** To be called once in every thread that talks to another. */
export function installErrors(): void {
  if (installed) return;
  installed = true;
  const plain = transferHandlers.get("throw")!;
  transferHandlers.set("throw", {
    canHandle: plain.canHandle,
    serialize(thrown: unknown) {
      const { value } = thrown as { value: unknown };
      const error = value instanceof Error ? value : new Error(String(value));
      const { name, message, stack } = error;
      const offers = error instanceof UserError ? error.offers : [];
      const sent: Sent = { isError: true, value: { name, message, stack, offers } };
      return [sent, []];
    },
    deserialize(sent: Sent) {
      const { name, message, stack, offers } = sent.value as {
        name: string;
        message: string;
        stack?: string;
        offers: readonly Offer[];
      };
      const error = name === "UserError" ? new UserError(message, offers) : new (KINDS[name] ?? Error)(message);
      if (stack !== undefined) error.stack = stack;
      throw error;
    },
  });
}
