import { UserError } from "../layout/user-error";

/** How an array comes of an older one: runs copied from it, and between them what is new. */
export interface ArrayPatch {
  /** Bytes in a word, then three numbers a run: the first word to copy, how many, and how many new ones follow. */
  readonly runs: Uint32Array;
  readonly fresh: Uint8Array;
  /** Tells whether what was made of it is what was meant: it was if the array before was the same. */
  readonly sum: number;
}

/** Words beyond which two runs are no longer looked for together. */
const WINDOW = 64;
/** Words that have to be the same for two places to be taken for one another. */
const ALIKE = 4;

/** Bytes of any array. */
export const bytesOf = (a: ArrayBufferView): Uint8Array => new Uint8Array(a.buffer, a.byteOffset, a.byteLength);

/**
 * Finds what leads from one array to another, in time linear in the longer: runs that stay, and where they part the
 * nearest place at which they go on together, a few words later in one of them or in both. Meant for an edit that
 * changes, inserts or takes out a few values; anything is written right, only at greater length.
 *
 * @returns null when sending the array whole is as short
 */
export function patchBetween(before: ArrayBufferView, after: ArrayBufferView): ArrayPatch | null {
  const word = (before.byteLength | after.byteLength) % 8 === 0 ? 8 : 1;
  const [old, now] = [bytesOf(before), bytesOf(after)];
  const same = word === 8 ? sameWords(old, now) : (j: number, i: number) => old[j] === now[i];
  const [m, n] = [old.length / word, now.length / word];
  const runs: number[] = [word];
  const parts: Uint8Array[] = [];
  let [i, j, size] = [0, 0, 0];
  while (i < n) {
    const from = j;
    while (i < n && j < m && same(j, i)) {
      i++;
      j++;
    }
    const first = i;
    const [later, skipped] = meeting(same, i, j, n, m);
    i += later;
    const fresh = now.subarray(first * word, i * word);
    runs.push(from, j - from, i - first);
    parts.push(fresh);
    j += skipped;
    size += 12 + fresh.length;
    if (2 * size > now.length + 64) return null;
  }
  return { runs: Uint32Array.from(runs), fresh: joined(parts), sum: checksum(now) };
}

type Same = (j: number, i: number) => boolean;

/** A number that follows from some bytes, and seldom from others. */
function checksum(bytes: Uint8Array): number {
  const whole = bytes.byteOffset % 4 === 0 && bytes.length % 4 === 0;
  const words = whole ? new Int32Array(bytes.buffer, bytes.byteOffset, bytes.length / 4) : bytes;
  let sum = words.length;
  for (let i = 0; i < words.length; i++) sum = (Math.imul(sum, 31) + words[i]!) | 0;
  return sum;
}

/** Compares words of eight bytes as two numbers. */
function sameWords(old: Uint8Array, now: Uint8Array): Same {
  const ints = (b: Uint8Array) =>
    new Int32Array(b.byteOffset % 4 ? b.slice().buffer : b.buffer, b.byteOffset % 4 ? 0 : b.byteOffset, b.length / 4);
  const [a, b] = [ints(old), ints(now)];
  return (j, i) => a[2 * j] === b[2 * i] && a[2 * j + 1] === b[2 * i + 1];
}

/** How far on in the new and in the old array the two go on together. */
function meeting(same: Same, i: number, j: number, n: number, m: number): [number, number] {
  if (i >= n) return [0, 0];
  const alike = (y: number, x: number): boolean => {
    if (x > n || y > m) return false;
    for (let k = 0; k < ALIKE; k++) {
      if (x + k === n) return true;
      if (y + k >= m || !same(y + k, x + k)) return false;
    }
    return true;
  };
  for (let d = 1; d <= WINDOW; d++) {
    if (alike(j + d, i + d)) return [Math.min(d, n - i), d];
    if (alike(j, i + d)) return [Math.min(d, n - i), 0];
    if (alike(j + d, i)) return [0, d];
  }
  return [Math.min(WINDOW, n - i), Math.min(WINDOW, m - j)];
}

function joined(parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const p of parts) {
    out.set(p, at);
    at += p.length;
  }
  return out;
}

/** @throws UserError when the patch does not belong to the array */
export function patched(before: ArrayBufferView, { runs, fresh, sum }: ArrayPatch): Uint8Array<ArrayBuffer> {
  const old = bytesOf(before);
  const bad = () => new UserError("The edit does not fit the state that it was made on.");
  const word = runs[0];
  if ((word !== 1 && word !== 8) || runs.length % 3 !== 1) throw bad();
  // Runs go forward and never over one another, so that no more can come out than went in.
  let [end, added] = [0, 0];
  let size = 0;
  for (let k = 1; k < runs.length; k += 3) {
    if (runs[k]! < end) throw bad();
    end = runs[k]! + runs[k + 1]!;
    added += runs[k + 2]!;
    size += runs[k + 1]! + runs[k + 2]!;
  }
  if (end * word > old.length || added * word !== fresh.length) throw bad();
  const out = new Uint8Array(size * word);
  let [at, taken] = [0, 0];
  for (let k = 1; k < runs.length; k += 3) {
    const copy = old.subarray(runs[k]! * word, (runs[k]! + runs[k + 1]!) * word);
    out.set(copy, at);
    at += copy.length;
    const own = fresh.subarray(taken, taken + runs[k + 2]! * word);
    out.set(own, at);
    at += own.length;
    taken += own.length;
  }
  if (checksum(out) !== sum) throw bad();
  return out;
}
