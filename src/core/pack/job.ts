import type { PagePacking } from "./pack-page";
import type { Page, Placement } from "./page";
import type { Item } from "./raster";

/** Shells that are to be packed, and where. */
export interface PackJob
  extends Pick<PagePacking, "turns" | "step" | "mirrored" | "effort" | "work" | "fixed" | "obstacles" | "start"> {
  readonly items: readonly Item[];
  readonly pages: readonly Page[];
  /** Texels that a unit of the shells is, at a scale of 1. */
  readonly resolution: number;
  /** Least distance of two shells, texels. */
  readonly padding: number;
  /** By shell, the number of its group, from 0 on. */
  readonly groups?: readonly number[] | undefined;
  /** By shell, what it is worth: of several pages the first get those that are worth most; the largest where it is not told. */
  readonly worth?: readonly number[] | undefined;
  /** Groups get rectangles of one page, or pages of their own. */
  readonly apart?: "blocks" | "pages" | undefined;
}

export interface Packed {
  readonly placements: readonly Placement[];
  readonly scale: number;
  /** By shell, its page. */
  readonly pages: readonly number[];
  /** By group, its rectangle. */
  readonly blocks?: readonly Page[];
  readonly stopped: boolean;
  /** What is worth telling of it. */
  readonly told?: string;
}

export interface PackWatch {
  /** Told the share done. @throws Stopped */
  step(share: number): void;
  /** Told of what was reached: those that lie nowhere yet are null. */
  best(placements: readonly (Placement | null)[], pages?: readonly number[]): void;
}

/** What a worker is told of a job, but for the shells. */
export const inPage = (job: PackJob, page: Page): PagePacking => ({
  page,
  unit: job.resolution / page.texels,
  padding: job.padding / page.texels,
  turns: job.turns,
  step: job.step,
  mirrored: job.mirrored,
  effort: job.effort,
  work: job.work,
  seed: 0,
  fixed: job.fixed,
  obstacles: job.obstacles,
});
