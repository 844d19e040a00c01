/** What matching knows of a module. Types shared by selection, repair and arrangement. */

/** A module with the two figures an arrangement needs. */
export interface ArrangeModule {
  readonly id: string;
  readonly capacityAh: number;
  readonly resistanceMilliohm: number;
}

/** A module as the pool knows it; null or absent where it was not measured. */
export interface PoolModule {
  readonly id: string;
  readonly capacityAh?: number | null | undefined;
  readonly resistanceMilliohm?: number | null | undefined;
  readonly restDropMillivolt?: number | null | undefined;
  readonly ocvVolt?: number | null | undefined;
}

/** Handed into long searches: the clock, where to report progress, and whether to stop. */
export interface SearchContext {
  /** Milliseconds of any steady clock. */
  readonly now?: (() => number) | undefined;
  readonly onProgress?: ((progress: SearchProgress) => void) | undefined;
  readonly isCancelled?: (() => boolean) | undefined;
}

export interface SearchProgress {
  /** Share of the search that is done, 0 to 1. */
  readonly share: number;
  readonly rangeAh: number;
  readonly lowerBoundAh: number;
}

/** Orders ids the same way everywhere, independent of locale. */
export function compareIds(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0;
}
