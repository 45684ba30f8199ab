import { proxy } from "comlink";
import { type DerivedList, seedDerived } from "@/compute/derived";
import { type DocumentWorker, startDocument } from "@/compute/document";
import type { Edited, Measured } from "@/compute/host";
import type { StopFlag } from "@/compute/stop-flag";
import { type Summary, summaryOf } from "@/core/check/summary";
import { encodeDelta } from "@/core/formats/delta-bundle";
import type { FileIn } from "@/core/formats/read-options";
import { type Asset, facesOf, type ShapeId, type UvSetId, withFiles } from "@/core/layout/asset";
import { type AssetDelta, withDelta } from "@/core/layout/delta";
import { UserError } from "@/core/layout/user-error";
import { type AnyOperation, type Scope, Stopped } from "@/core/operations/operation";
import { operationById } from "@/core/operations/registry";
import { queryOfScope } from "@/core/operations/scope-query";
import type { HistoryState } from "@/wire/answers";
import type { HistoryStep } from "@/wire/requests";
import { drawn } from "./drawn";
import { runJob, type Tell } from "./jobs";
import { keptLooks } from "./looks";
import { withImages } from "./moved-images";
import { type EditLetter, Outbox, takenBackWords, untilAnswered } from "./outbox";
import { type Appended, NoAnswer, savingServer, VersionConflict } from "./remote";
import { say, sayDone, sayRefused } from "./say";
import { pickedOf, samePicked, select, selectedNow, stillThere } from "./selection";
import { type BenchState, EMPTY, newBench, nowBefore } from "./store";

/**
 * One opened asset: the worker that holds its document, the lane in which edits are done one after another, and the
 * outbox that saves them behind the work. Whatever comes back after it was closed is let go.
 */
export class BenchSession {
  /** What is shown of it: the document on the table, the selection, the tool, the work under way. */
  readonly bench = newBench(keptLooks());
  private worker: DocumentWorker;
  isClosed = false;
  /** The document's number, here and in the worker. */
  private revision = 0;
  /** Where the history stands on the server. */
  private saved: HistoryState = { version: 0, head: 0, undo: null, redo: null };
  private lane: Promise<unknown> = Promise.resolve();
  private measured: Promise<void> = Promise.resolve();
  private readonly outbox = new Outbox<Appended>({
    waiting: (unsaved, answers) =>
      this.bench.setState({ unsaved, answers, ...(unsaved ? {} : { savedAt: new Date() }) }),
    refused: (error, first, take) => this.takeBack(error, first as EditLetter, take),
  });

  /** @param start begins a worker for the document */
  constructor(
    readonly id: string,
    private readonly start = startDocument,
    private readonly server = savingServer,
  ) {
    this.worker = this.begin();
  }

  private get state(): BenchState {
    return this.bench.getState();
  }

  /** A worker that breaks down is replaced, with the document as it is on the table. */
  private begin(): DocumentWorker {
    const worker = this.start();
    void worker.lost.then((error) => {
      if (this.isClosed || worker !== this.worker) return;
      say(this.bench, `The computation broke down (${error.message}); it was started again.`, "refused");
      this.restart();
    });
    return worker;
  }

  private restart(): void {
    this.worker.end();
    this.worker = this.begin();
    if (!this.state.asset) return;
    void this.worker.remote.load(this.state.asset, this.revision).catch(() => {});
    this.measure();
  }

  async open(fine: number): Promise<void> {
    const { asset, derived, history } = await this.worker.remote.open(this.id);
    if (this.isClosed) return;
    seedDerived(asset, derived);
    this.saved = history;
    const opened = { asset, history, set: asset.sets[0]!.id, savedAt: new Date() };
    // On a very fine mesh wires hide the faces, and take longest to draw.
    const wires = facesOf(asset) < fine ? {} : { wires: { form: false, sheet: false } };
    this.bench.setState({ ...opened, ...wires, frame: { what: "all", count: 1 } });
    this.measure();
  }

  /** Shows nothing more; settles when what was on its way to the database has arrived there. */
  async close(): Promise<void> {
    this.isClosed = true;
    await this.outbox.idle();
    this.worker.end();
  }

  /** Whether something on the table is not in the database yet. */
  get isUnsaved(): boolean {
    return this.outbox.count > 0;
  }

  /** The number of the step on the table, once the server has it. @throws UserError when it was taken back instead */
  async savedStep(): Promise<number> {
    if (await this.outbox.passed()) return this.saved.head;
    throw new UserError("That step was taken back.");
  }

  /** Does work in its turn: edits, undo and jumps never run side by side, and are never refused for one another. */
  private inTurn<T>(act: () => Promise<T>): Promise<T> {
    const turn = this.lane.then(act);
    this.lane = turn.catch(() => {});
    return turn;
  }

  /** Runs work as a job and says what became of it. */
  private runJob(title: string, act: Parameters<typeof runJob>[2], operation?: string): Promise<void> {
    return runJob(this.bench, title, act, {
      keeps: operation !== undefined && operationById(operation).keeps === true,
      overdue: () => !this.isClosed && this.restart(),
      failed: (words, tone, error) => {
        if (error instanceof VersionConflict) this.bench.setState({ conflict: words });
        else if (!this.isClosed) sayRefused(this.bench, words, tone, error, operation);
      },
    });
  }

  /** What the host is asked, of the document as it is on the table. */
  private asked(operation: string, options: unknown, scope: Scope, flag: StopFlag) {
    return [this.revision, operation, options, scope, { flag: flag.shared }] as const;
  }

  /** Does an edit: it is on the table at once and saved behind it. */
  edit(title: string, operation: string, options: unknown, scope: Scope, files?: readonly FileIn[]): Promise<void> {
    const act = async (flag: StopFlag, progress: Tell) => {
      let isOn = true;
      // It is seen while it settles.
      const show = async (points: ReadonlyArray<readonly [ShapeId, Float64Array]>) => {
        if (!isOn || this.isClosed) return;
        this.bench.setState({ live: new Map(points) });
        await drawn();
      };
      const all = withImages(this.state, operation, options);
      const asked = [...this.asked(operation, all, scope, flag), proxy(progress), files, proxy(show)] as const;
      try {
        const edited = await this.worker.remote.edit(...asked);
        if (!this.isClosed) this.take(edited, { operation, options: all, scope });
      } finally {
        isOn = false;
        if (this.state.live.size && !this.isClosed) this.bench.setState({ live: new Map() });
      }
    };
    return this.inTurn(() => this.runJob(title, act, operation));
  }

  /** Puts an edit on the table, and into the outbox. */
  private take(edited: Edited, request: { operation: string; options: unknown; scope: Scope }): void {
    const { asset, history, summary } = this.state;
    const before = { asset: asset!, revision: this.revision, history: history! };
    const { delta, derived, words, notes, pick, target, files } = edited;
    this.revision = edited.revision;
    // A new step ends what could be done again.
    this.apply(delta, derived, { ...history!, undo: words, redo: null }, files);
    if (pick) select(this.bench, pick.kind, pickedOf(this.state.asset!, pick));
    if (target) this.target(target);
    const key = crypto.randomUUID();
    const beside = { ...request, scope: queryOfScope(before.asset, request.scope), key, words, figures: null };
    this.outbox.add({
      words,
      before,
      // Packed here and not by the worker, which may be at long work, or be ended by a Stop that means something else.
      send: () =>
        this.server.sendEdit(
          this.id,
          encodeDelta(delta, { ...beside, base: this.saved.version }, files ?? {}, before.asset),
        ),
      saved: (answer: Appended) => this.isSaved(answer, delta),
    } as EditLetter);
    this.measure((after) => {
      const own = { [request.operation]: { words, before: summary, after, notes } };
      this.bench.setState({ outcomes: { ...this.state.outcomes, ...own } });
    });
    sayDone(this.bench, words, notes);
  }

  private isSaved({ history, delta: manifest }: Appended, delta: AssetDelta): void {
    this.saved = history;
    if (this.isClosed) return;
    void this.worker.remote.saved(delta, manifest).catch(() => {});
    // Words of undo and redo are those of the newest edit, which may be ahead of this one.
    if (this.outbox.count === 0) this.bench.setState({ history });
    this.sendSummary();
    this.bench.setState({ stepsKnown: this.state.stepsKnown + 1 });
  }

  /** The database refused an edit: it is taken back, with those that stand on it. */
  private async takeBack(error: Error, first: EditLetter, take: () => readonly unknown[]): Promise<void> {
    const { asset, revision, history } = first.before;
    // A worker that no longer keeps that state is handed it.
    if (!this.isClosed)
      await this.worker.remote.rollBack(revision).catch(() => this.worker.remote.load(asset, revision).catch(() => {}));
    const letters = take();
    if (this.isClosed) return;
    this.revision = revision;
    this.show(asset, { ...history, version: this.saved.version });
    this.measure();
    if (error instanceof VersionConflict) this.bench.setState({ conflict: error.message });
    say(this.bench, takenBackWords(letters.length, first, error), "refused");
  }

  private apply(delta: AssetDelta, derived: DerivedList, history: HistoryState, files?: Edited["files"]): void {
    const asset = withFiles(withDelta(this.state.asset!, delta), files);
    seedDerived(asset, derived);
    this.show(asset, history, delta);
  }

  /** Shows another state of the asset, with what of the selection is still there. */
  private show(asset: Asset, history: HistoryState, delta?: AssetDelta): void {
    const state = this.state;
    const set = asset.sets.some((s) => s.id === state.set) ? state.set : asset.sets[0]!.id;
    const picked = stillThere(asset, set, selectedNow(state));
    const there = new Set(asset.parts.map((p) => p.id));
    const meshesChanged = !delta || delta.shapes.length > 0 || delta.parts.length > 0 || delta.head !== undefined;
    this.bench.setState({
      asset,
      ...nowBefore(state),
      history,
      set,
      hover: null,
      review: null,
      picked: samePicked(picked, state.picked) ? state.picked : picked,
      rows: new Set([...state.rows].filter((id) => there.has(id))),
      ...(delta?.shapes.length || !delta ? { lastEdge: null } : {}),
      ...(meshesChanged ? { faults: null, thread: null, preview: EMPTY, alone: null, hiddenMaterials: new Set() } : {}),
    });
  }

  /** Undo, redo, or a jump, in its turn and after what is still being saved. */
  step(step: HistoryStep, title: string, words: (history: HistoryState) => string | null): Promise<void> {
    return this.inTurn(() =>
      this.runJob(title, async (flag) => {
        await this.outbox.idle();
        const { history } = this.state;
        if (this.isClosed || !history) return;
        const sentence = words(history);
        if (sentence === null) {
          say(this.bench, step === "undo" ? "There is nothing to undo." : "There is nothing to redo.");
          return;
        }
        await this.goStep(step, flag);
        if (!this.isClosed) say(this.bench, sentence);
      }),
    );
  }

  private async goStep(step: HistoryStep, flag: StopFlag): Promise<void> {
    let answer: Appended;
    try {
      answer = await this.server.sendStep(this.id, this.saved.version, step);
    } catch (error) {
      if (!(error instanceof NoAnswer)) throw error;
      // Whether the server has gone the step is not known: what it has is taken as soon as it answers.
      this.bench.setState({ answers: false });
      await untilAnswered(() => this.openNewest(), flag);
      return this.bench.setState({ answers: true });
    }
    try {
      const taken = await this.worker.remote.takeStep(this.revision, answer.delta, this.state.set);
      if (this.isClosed) return;
      this.saved = answer.history;
      this.revision = taken.revision;
      this.apply(taken.delta, taken.derived, answer.history);
    } catch (error) {
      if (error instanceof UserError) throw error;
      // The server has gone the step, and the worker was ended meanwhile: the new one takes what the server has.
      await this.openNewest();
    }
    if (this.isClosed) return;
    this.bench.setState({ savedAt: new Date(), stepsKnown: this.state.stepsKnown + 1 });
    this.measure();
  }

  /** Puts on the table what the server has. */
  private async openNewest(): Promise<void> {
    const { asset, derived, history, revision } = await this.worker.remote.open(this.id, undefined, this.revision + 1);
    if (this.isClosed) return;
    this.saved = history;
    this.revision = revision;
    seedDerived(asset, derived);
    this.show(asset, history);
    this.bench.setState({ conflict: null, faults: null, savedAt: new Date(), stepsKnown: this.state.stepsKnown + 1 });
    this.measure();
  }

  /** Takes what is newest on the server, after another tab has changed it. */
  takeNewest(): Promise<void> {
    return this.inTurn(() =>
      this.runJob("Taking the newest", async () => {
        await this.openNewest();
        if (!this.isClosed) say(this.bench, "Now showing the newest state.");
      }),
    );
  }

  select(title: string, operation: string, options: unknown, scope: Scope, then: () => void): Promise<void> {
    return this.runJob(title, async (flag, progress) => {
      const found = await this.worker.remote.select(...this.asked(operation, options, scope, flag), proxy(progress));
      if (this.isClosed) return;
      const picked = pickedOf(this.state.asset!, found.selection);
      select(this.bench, found.selection.kind, picked, found.parts ? { rows: new Set(found.parts) } : {});
      if (found.selection.items.size) then();
      say(this.bench, found.words);
    });
  }

  /** Runs an export. @param source files of the asset, and the name that is written */
  async export(
    { id, title }: AnyOperation,
    options: unknown,
    scope: Scope,
    source: { readonly files: Readonly<Record<string, Uint8Array>>; readonly name: string },
    then: (files: Awaited<ReturnType<DocumentWorker["remote"]["export"]>>) => Promise<void>,
  ): Promise<void> {
    await this.runJob(title, async (flag, progress) => {
      const asked = [...this.asked(id, options, scope, flag), proxy(progress), source.files, source.name] as const;
      const written = await this.worker.remote.export(...asked);
      if (!this.isClosed) await then(written);
    });
  }

  /** Makes a UV set the one worked on. */
  target(id: UvSetId): void {
    const { asset, set, kind } = this.state;
    if (id === set || !asset?.sets.some((s) => s.id === id)) return;
    this.bench.setState({ set: id, measures: null, summary: null, ...(kind === "shells" ? { picked: EMPTY } : {}) });
    this.measure();
  }

  /** Measures what is on the table, behind the work; the latest wins. */
  measure(then: (summary: Summary) => void = () => {}): void {
    const { revision } = this;
    const { set, stretchKind } = this.state;
    this.measured = this.worker.remote
      .measure(revision, set, stretchKind)
      .then((m: Measured) => {
        if (this.isClosed || m.set !== this.state.set || m.revision !== this.revision) return;
        const summary = summaryOf(m.measures);
        this.bench.setState({ measures: m.measures, summary, stretch: m.stretch });
        then(summary);
        this.sendSummary();
      })
      .catch((error: Error) => {
        // One that was overtaken says nothing.
        if (error instanceof Stopped || this.isClosed || revision !== this.revision) return;
        say(this.bench, `Measuring failed: ${error.message}`, "refused");
      });
  }

  /** Tells the server what its newest version measures, once both are known. */
  private sendSummary(): void {
    const { summary } = this.state;
    if (summary && this.outbox.count === 0)
      void this.measured.then(() => this.server.sendFigures(this.id, this.saved.version, summary));
  }

  /** Looks something up behind the work; null when the document has gone on meanwhile. */
  async lookUp<T>(ask: (remote: DocumentWorker["remote"], revision: number) => Promise<T>): Promise<T | null> {
    const { revision } = this;
    try {
      const found = await ask(this.worker.remote, revision);
      return this.isClosed || revision !== this.revision ? null : found;
    } catch (error) {
      if (error instanceof Stopped || this.isClosed || revision !== this.revision) return null;
      throw error;
    }
  }

  /** What computes the document now; another after it was restarted. */
  get remote(): DocumentWorker["remote"] {
    return this.worker.remote;
  }

  /** When the edits and undos that were asked for by now are there, or have failed. */
  settled = (): Promise<unknown> => this.lane;

  /** Makes one step of work under the pointer, which the host knows by a number. */
  commitLive(live: number, operation: string, options: object, scope: Scope): Promise<void> {
    const act = async (flag: StopFlag, progress: Tell) => {
      const images = withImages(this.state, operation, options) === options ? undefined : { flag: flag.shared };
      const edited = await this.worker.remote.commit(live, options, images, proxy(progress));
      // What it keeps to is worked out by the host: the step is the motion that came of it.
      if (!this.isClosed) this.take(edited, { operation, options: edited.options ?? options, scope });
    };
    return this.inTurn(() => this.runJob(operationById(operation).title, act));
  }
}
