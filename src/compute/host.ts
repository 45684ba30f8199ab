import { measure } from "../core/check/measure";
import { type Elements, type Sizes, sizesOf } from "../core/check/sizes";
import type { StretchKind } from "../core/check/triangle-stretch";
import { type FileIn, readImported } from "../core/formats/read-asset";
import { type Asset, type PartId, placedShape, type ShapeId, shapesOf, type UvSetId } from "../core/layout/asset";
import { type AssetDelta, deltaBetween, withDelta } from "../core/layout/delta";
import { UserError } from "../core/layout/user-error";
import type { Context, EditResult, Exported, Found, Scope } from "../core/operations/operation";
import { movedImages, runEdit, runExport, runSelect } from "../core/operations/run";
import {
  beginSession,
  type FreeBox,
  freeSpace,
  type Preview,
  type Session,
  weightsAbout,
} from "../core/operations/sessions";
import { type Faults, findFaults } from "../core/prepare/faults";
import { foretold } from "../core/seams/foretold";
import { type PathsFrom, type PathWay, pathsFrom } from "../core/seams/path-ways";
import type { Falloff, Weights } from "../core/select/falloff";
import { groupsOf } from "../core/select/groups";
import { elementCount, flagsAt } from "../core/select/grow";
import { type MirrorImages, mirrorImages } from "../core/select/mirrored";
import { seenFaces } from "../core/tasks/seen-faces";
import { identicalCounts } from "../core/transfer/fingerprint";
import { type DerivedList, derive, seedDerived } from "./derived";
import { FilesAtHand } from "./files-at-hand";
import { type MeasuredSet, Measurer } from "./measurer";
import type { Pool } from "./pool";
import { type Proposals, proposals, type WantedProposal } from "./proposals";
import { shareAsset, shareDelta } from "./share";
import { type Show, shownOneByOne } from "./shown-one-by-one";
import { checkFlag, StopFlag } from "./stop-flag";
import { touched } from "./touched";
import { type TriedOut, triedOut } from "./tried-out";

/** Steps of a search at a time, a few milliseconds. */
const STEPS_AHEAD = 20_000;

/** An edit as the page gets it: what differs, not the whole asset. */
export type Edited = Omit<EditResult, "asset"> & {
  /** The document's number after it. */
  readonly revision: number;
  readonly delta: AssetDelta;
  readonly derived: DerivedList;
};

export interface Opened {
  readonly revision: number;
  readonly asset: Asset;
  readonly derived: DerivedList;
}

export interface Measured extends MeasuredSet {
  readonly revision: number;
  readonly set: UvSetId;
}

/** How a piece of work is stopped. */
export interface Handle {
  readonly flag: Int32Array | null;
}
type Told = ((share: number, reached?: number) => void) | undefined;
/** States kept so that edits that were refused can be taken back. */
const MOST_STATES = 64;
/** Progress is reported at most once in this time. */
const TELL_EVERY = 40;

/**
 * Holds a document by revision and does all that is computed with it. Every request names the revision it is meant for
 * and is refused on another, so that page and host can never drift apart unnoticed. Edits are done one after another;
 * measuring runs on the pool and holds none of them up.
 */
export class DocumentHost {
  private current: { revision: number; asset: Asset } | null = null;
  private readonly states = new Map<number, Asset>();
  private readonly measurer: Measurer;
  private readonly sessions = new Map<number, { session: Session; revision: number }>();
  private sessionCount = 0;
  private readonly files: FilesAtHand;
  /** The paths that were asked for last, and what they were asked of. */
  private paths: { readonly key: string; readonly search: PathsFrom } | null = null;
  private openness: { readonly asset: Asset; readonly byShape: ReadonlyMap<ShapeId, Float32Array> } | null = null;

  constructor(
    private readonly pool: Pool | null,
    private readonly wasm?: (name: string) => Promise<Uint8Array>,
    file?: NonNullable<Context["file"]>,
  ) {
    this.files = new FilesAtHand(file);
    this.measurer = new Measurer(pool);
  }

  /** Takes a document; answers it with what drawing asks of it, in memory that the page sees where that can be. */
  load(asset: Asset, revision = 0): Opened {
    const shared = shareAsset(asset);
    this.states.clear();
    this.setState(revision, shared);
    const all = new Map(shapesOf(shared).map((s) => [s.id, { mesh: true, sets: [shared.sets[0]!.id] }]));
    const derived = derive(shared, all);
    seedDerived(shared, derived);
    return { revision, asset: shared, derived };
  }

  private setState(revision: number, asset: Asset): void {
    this.current = { revision, asset };
    this.states.set(revision, asset);
    for (const old of this.states.keys()) if (this.states.size > MOST_STATES) this.states.delete(old);
    this.measurer.prune(asset);
  }

  /** The document at a revision. @throws when it is at another */
  private at(revision: number): Asset {
    if (!this.current) throw new Error("No asset is loaded.");
    if (this.current.revision !== revision)
      throw new Error(`The document is at revision ${this.current.revision}, and was asked for ${revision}.`);
    return this.current.asset;
  }

  private context({ flag }: Handle, progress: Told, imported?: readonly Asset[]): Context {
    let last = 0;
    const check = () => checkFlag(flag);
    const signal = flag ? watched(flag) : undefined;
    return {
      check,
      progress(share, reached) {
        check();
        const now = performance.now();
        if (now - last < TELL_EVERY) return;
        last = now;
        progress?.(share, reached);
      },
      ...(this.pool ? { pool: this.pool.runner(signal) } : {}),
      ...(this.wasm ? { wasm: this.wasm } : {}),
      file: this.files.get,
      ...(imported ? { imported } : {}),
      seen: (asset, context) => this.seen(asset, context),
      figures: (asset, set) => this.measurer.known(asset, set) ?? measure(asset, undefined, set),
    };
  }

  /** Does an edit, showing points as they come where it takes long. The document is at the next revision when it answers, and as it was when it fails. */
  async edit(
    revision: number,
    operation: string,
    options: unknown,
    scope: Scope,
    handle: Handle,
    progress?: Told,
    files?: readonly FileIn[],
    show?: Show,
  ): Promise<Edited> {
    const asset = this.at(revision);
    const imported = files && (await readImported(files, this.wasm ? { wasm: this.wasm } : {}));
    const context = this.context(handle, progress, imported);
    const { asset: edited, result } = await runEdit(asset, operation, options, scope, {
      ...context,
      ...(show ? { show: shownOneByOne(show) } : {}),
    });
    this.at(revision); // nothing else may have come in between
    // An edit that has not looked at the signal on its way is not put on the table either.
    if (!result.stopped) checkFlag(handle.flag);
    const { asset: _, ...rest } = result;
    this.files.keep(rest.files);
    return { ...rest, ...this.take(edited, scope.set) };
  }

  /** Makes an edited asset the document's next state, with its arrays shared. */
  private take(edited: Asset, set: UvSetId): { revision: number; delta: AssetDelta; derived: DerivedList } {
    const { revision, asset } = this.current!;
    const plain = deltaBetween(asset, edited);
    const delta = shareDelta(plain);
    const next = withDelta(asset, delta);
    const derived = derive(edited, touched(plain, set));
    seedDerived(next, derived);
    this.setState(revision + 1, next);
    return { revision: revision + 1, delta, derived };
  }

  /** A change that came from elsewhere: undo, another tab. */
  apply(
    revision: number,
    delta: AssetDelta,
    set: UvSetId,
  ): { revision: number; delta: AssetDelta; derived: DerivedList } {
    return this.take(withDelta(this.at(revision), delta), set);
  }

  /** Takes back edits that the database refused. */
  rollBack(revision: number): void {
    const asset = this.states.get(revision);
    if (!asset) throw new Error(`Revision ${revision} is no longer kept.`);
    for (const later of [...this.states.keys()]) if (later > revision) this.states.delete(later);
    this.current = { revision, asset };
  }

  select(
    revision: number,
    operation: string,
    options: unknown,
    scope: Scope,
    handle: Handle,
    progress?: Told,
  ): Promise<Found> {
    return runSelect(this.at(revision), operation, options, scope, this.context(handle, progress));
  }

  export(
    revision: number,
    operation: string,
    options: unknown,
    scope: Scope,
    handle: Handle,
    progress: Told,
    files: Readonly<Record<string, Uint8Array>>,
    name: string,
  ): Promise<Exported> {
    const whole = { ...this.at(revision), name, files };
    return runExport(whole, operation, options, scope, this.context(handle, progress));
  }

  /** Begins work under the pointer. Its previews change nothing until it is committed. */
  async begin(revision: number, operation: string, scope: Scope): Promise<number> {
    const session = await beginSession(this.at(revision), operation, scope);
    this.sessions.set(++this.sessionCount, { session, revision });
    return this.sessionCount;
  }

  /** What the document would look like; nothing of it is kept. */
  update(session: number, input: unknown): Preview {
    return this.sessions.get(session)!.session.preview(input);
  }

  /** Measures what the document would look like, where that is quick: while something large is measured it is not. */
  async figures(session: number, input: unknown, kind: StretchKind): Promise<Measured | null> {
    const { session: work, revision } = this.sessions.get(session)!;
    const preview = withDelta(this.at(revision), work.preview(input));
    const found = await this.measurer.measureQuickly(preview, work.set, kind);
    return found && { revision, set: work.set, ...found };
  }

  /**
   * Makes one step of it.
   *
   * @param images the images painted for what it moves are to be moved as well
   * @returns with the options that it came of, where they are not those that were asked for
   */
  async commit(
    session: number,
    input: unknown,
    images?: Handle,
    progress?: Told,
  ): Promise<Edited & { readonly options?: object }> {
    const { session: work, revision } = this.sessions.get(session)!;
    this.sessions.delete(session);
    const before = this.at(revision);
    const { options, ...done } = work.commit(input);
    const moved = images ? await movedImages(before, done, work.set, this.context(images, progress)) : done;
    this.at(revision); // nothing else may have come in between
    const { asset, ...rest } = moved;
    this.files.keep(rest.files);
    const meant = options && { options: images ? { ...options, images: true } : options };
    return { ...rest, ...meant, ...this.take(asset, work.set) };
  }

  /** Empty boxes of the tiles in use. */
  freeBoxes(revision: number, set: UvSetId, padding: number): Promise<FreeBox[]> {
    return freeSpace(this.at(revision), set, padding);
  }

  drop(session: number): void {
    this.sessions.delete(session);
  }

  /** Measures a UV set. @throws Stopped when a newer request came */
  async measure(revision: number, set: UvSetId, kind: StretchKind): Promise<Measured> {
    return { revision, set, ...(await this.measurer.measure(this.at(revision), set, kind)) };
  }

  /** Everything about the meshes that hinders UV work. */
  async faults(revision: number): Promise<Faults> {
    const asset = this.at(revision);
    if (!this.pool) return findFaults(asset);
    return this.pool.run("findFaults", { ...asset, files: {} }, { rank: "low" });
  }

  /**
   * Edges of the path from one vertex of a shape to another; null where none leads. Paths from the same vertex are asked
   * for one after another while the pointer moves: what was found for one serves the next.
   */
  async path(revision: number, shape: ShapeId, way: PathWay, from: number, to: number): Promise<Uint32Array | null> {
    const asset = this.at(revision);
    const key = `${revision} ${shape} ${way} ${from}`;
    if (this.paths?.key !== key) {
      const placed = placedShape(asset, shape);
      const seen =
        way === "hidden" ? (await this.seen(asset, this.context({ flag: null }, undefined))).get(shape) : undefined;
      this.paths = { key, search: pathsFrom(placed, way, from, seen) };
      this.searchAhead(this.paths.search);
    }
    const links = this.paths.search.linksTo(to);
    return links && Uint32Array.from(links);
  }

  /** Goes on with a search between other work, until another is begun: the pointer is on its way to farther places. */
  private searchAhead(search: PathsFrom): void {
    setTimeout(() => {
      if (this.paths?.search === search && search.goOn(STEPS_AHEAD)) this.searchAhead(search);
    });
  }

  /** How openly faces are seen, for as long as the meshes and their places stay. */
  private async seen(asset: Asset, context: Context): Promise<ReadonlyMap<ShapeId, Float32Array>> {
    if (this.openness && hasSameForm(this.openness.asset, asset)) return this.openness.byShape;
    const { seen: _, ...rest } = context;
    const byShape = await seenFaces(asset, rest, () => context.check?.());
    this.openness = { asset, byShape };
    return byShape;
  }

  /** What an edit of seams would come to, in a sentence; nothing where it would be refused. */
  async foretell(revision: number, operation: string, options: unknown, scope: Scope): Promise<string | null> {
    const asset = this.at(revision);
    try {
      const { asset: edited } = await runEdit(asset, operation, options, scope, { progress: () => {} });
      return foretold(asset, edited, scope.set);
    } catch (error) {
      if (error instanceof UserError) return null;
      throw error;
    }
  }

  /** What an edit would come to: in words, and as lines of the sheet. @throws Stopped, UserError */
  tryOut(revision: number, operation: string, options: unknown, scope: Scope, handle: Handle): Promise<TriedOut> {
    return triedOut(this.at(revision), operation, options, scope, this.context(handle, undefined));
  }

  /** What styles of seams would come to, beside what is there. @throws Stopped */
  async proposals(
    revision: number,
    wanted: readonly WantedProposal[],
    handle: Handle,
    progress?: Told,
  ): Promise<Proposals> {
    const asset = this.at(revision);
    const context = this.context(handle, progress);
    return proposals(asset, wanted, await this.seen(asset, context), context);
  }

  /** How much of an edit of the picked points each point takes, by shape. @throws UserError where none can move */
  weights(revision: number, scope: Scope, falloff: Falloff): Array<{ shape: ShapeId } & Weights> {
    return weightsAbout(this.at(revision), scope, falloff);
  }

  /** Mirror images of the elements of some shapes, in their order. @param axis 0, 1 or 2: the plane is across it */
  mirrorImages(revision: number, shapes: readonly ShapeId[], axis: number): MirrorImages[] {
    const asset = this.at(revision);
    return shapes.map((id) => mirrorImages(placedShape(asset, id).mesh, axis));
  }

  /** The groups that picked elements of each shape make, the smallest of all first; of vertices and shells each is one. */
  groups(revision: number, { kind, items }: Elements): Array<{ shape: ShapeId; items: Uint32Array }> {
    const asset = this.at(revision);
    const all = [...items].flatMap(([shape, own]) => {
      const { mesh } = placedShape(asset, shape);
      return groupsOf(mesh, kind, flagsAt(own, elementCount(mesh, kind))).map((group) => ({ shape, items: group }));
    });
    return all.sort((a, b) => a.items.length - b.items.length);
  }

  /** Sizes of what is picked. */
  sizes(revision: number, set: UvSetId, elements: Elements): Sizes {
    return sizesOf(this.at(revision), set, elements);
  }

  /** How many parts are of each part's shape. */
  async likeness(revision: number): Promise<Map<PartId, number>> {
    const asset = this.at(revision);
    if (!this.pool) return identicalCounts(asset);
    return this.pool.run("identicalCounts", { ...asset, files: {} }, { rank: "low" });
  }
}

/** Whether two states of an asset have the same meshes at the same places. */
const hasSameForm = (a: Asset, b: Asset): boolean =>
  a.parts === b.parts &&
  a.views === b.views &&
  [...a.shapes].every(([id, shape]) => b.shapes.get(id)?.mesh === shape.mesh);

/** A flag that another thread raises, as the pool wants it: it looks at it before it hands a task out. */
function watched(flag: Int32Array): StopFlag {
  const out = new StopFlag();
  Object.defineProperty(out, "shared", { value: flag });
  Object.defineProperty(out, "isRaised", { get: () => Atomics.load(flag, 0) !== 0 });
  return out;
}
