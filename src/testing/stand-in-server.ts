import { z } from "zod";
import type { DocumentWorker } from "../compute/document";
import { DocumentHost } from "../compute/host";
import { checkAsset } from "../core/formats/asset-json";
import { decodeDelta } from "../core/formats/delta-bundle";
import type { Asset } from "../core/layout/asset";
import { type AssetDelta, deltaBetween, withDelta } from "../core/layout/delta";
import { UserError } from "../core/layout/user-error";
import { Stopped } from "../core/operations/operation";
import { type Appended, NoAnswer, type savingServer, VersionConflict } from "../ui/session/remote";
import type { HistoryState } from "../wire/answers";
import type { HistoryStep } from "../wire/requests";

// What a session of the bench is tested with: a server that keeps what it is sent, and may be slow, refuse, be changed by
// another tab, not answer, or answer and have the answer lost; and workers over the real host, which can break down.

/** What the server does with a request, where it does not take it. */
export type Fate = "refuses" | "is ahead" | "does not answer" | "its answer is lost";
const Beside = z.object({
  base: z.number(),
  key: z.string(),
  words: z.string(),
  operation: z.string(),
  options: z.unknown(),
});

/** What stands in for the server: it keeps states by number, takes each request once, and answers deltas. */
export class StandInServer {
  readonly states: Array<{ asset: Asset; words: string; parent: number }>;
  head = 0;
  version = 0;
  fates: Fate[] = [];
  held: Promise<void> | null = null;
  /** Edits as they were asked for, in order. */
  readonly sent: Array<{ readonly operation: string; readonly options: unknown }> = [];
  private readonly seen = new Map<string, Appended>();

  constructor(asset: Asset) {
    this.states = [{ asset, words: "", parent: -1 }];
  }

  get asset(): Asset {
    return this.states[this.head]!.asset;
  }

  history(): HistoryState {
    const { words, parent } = this.states[this.head]!;
    const child = this.states.findLast((s) => s.parent === this.head);
    return { version: this.version, head: this.head, undo: parent < 0 ? null : words, redo: child?.words ?? null };
  }

  async edit(body: Uint8Array): Promise<Appended> {
    await this.held;
    const fate = this.fates.shift();
    if (fate === "does not answer") throw new NoAnswer("Nobody answers.");
    const { beside, delta } = decodeDelta(body, Beside);
    let answer = this.seen.get(beside.key);
    if (fate === "refuses" && !answer) throw new UserError("The disk is full.");
    if (fate === "is ahead") this.version++;
    answer ??= this.append(beside, delta);
    this.seen.set(beside.key, answer);
    if (fate === "its answer is lost") throw new NoAnswer("The answer was lost.");
    return answer;
  }

  private append(
    { base, words, operation, options }: z.infer<typeof Beside>,
    delta: ReturnType<typeof decodeDelta>["delta"],
  ): Appended {
    if (base !== this.version) throw new VersionConflict("Another tab has changed the asset.");
    const { asset } = this;
    const next = checkAsset(
      withDelta(
        asset,
        delta((p) => asset.shapes.get(p.shape)!.layouts.get(p.set)!),
      ),
    );
    this.sent.push({ operation, options });
    this.states.push({ asset: next, words, parent: this.head });
    this.head = this.states.length - 1;
    this.version++;
    return { history: this.history(), delta: {} as Appended["delta"] };
  }

  async step(base: number, step: HistoryStep): Promise<Appended> {
    await this.held;
    const fate = this.fates.shift();
    if (fate === "does not answer") throw new NoAnswer("Nobody answers.");
    if (base !== this.version) throw new VersionConflict("Another tab has changed the asset.");
    const before = this.asset;
    if (typeof step === "object") this.head = step.to;
    else if (step === "undo") this.head = this.states[this.head]!.parent;
    else this.head = this.states.findLastIndex((s) => s.parent === this.head);
    this.version++;
    // The page's worker is handed the change itself: how arrays are fetched is tested with the routes.
    const delta = deltaBetween(before, this.asset) as unknown as Appended["delta"];
    if (fate === "its answer is lost") throw new NoAnswer("The answer was lost.");
    return { history: this.history(), delta };
  }
}

/** Servers by the asset they keep. */
export const servers = new Map<string, StandInServer>();
export const saving: typeof savingServer = {
  sendEdit: (id, body) => servers.get(id)!.edit(body),
  sendStep: (id, base, step) => servers.get(id)!.step(base, step),
  sendFigures: async () => {},
};

/** Workers begun, the last of them last; each holds a host of its own and can break down. */
export const workers: Array<{ breakDown(error: Error): void; ended: boolean }> = [];

export function startWorker(): DocumentWorker {
  const host = new DocumentHost(null);
  const own = { breakDown: (_: Error) => {}, ended: false };
  const lost = new Promise<Error>((resolve) => {
    own.breakDown = resolve;
  });
  workers.push(own);
  const extra = {
    async open(id: string, _at: unknown, revision = 0) {
      const server = servers.get(id)!;
      return { ...host.load(server.asset, revision), history: server.history() };
    },
    takeStep: async (revision: number, delta: AssetDelta, set: string) => host.apply(revision, delta, set),
    saved: async () => {},
  };
  const remote = new Proxy(extra, {
    get: (_, name: string) =>
      name in extra
        ? extra[name as keyof typeof extra]
        : async (...args: unknown[]) => {
            // Calls of a worker that was ended fail as in the browser.
            await new Promise((resolve) => setTimeout(resolve));
            if (own.ended) throw new Stopped("Stopped.");
            return (host[name as keyof DocumentHost] as (...a: unknown[]) => unknown).apply(host, args);
          },
  });
  return {
    remote: remote as unknown as DocumentWorker["remote"],
    lost,
    end: () => {
      own.ended = true;
    },
  };
}
