/** Tells the share of a task that is done, and now and then what it has come to, to be looked at: points of a shell. */
export type Report = (share: number, map?: Float64Array) => void;
