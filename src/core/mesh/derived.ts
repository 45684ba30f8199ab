// What follows from a mesh, a layout or the like and is asked for again and again: worked out when it is first asked
// for, kept for as long as that from which it follows lives, and dropped when all that is kept is more than a budget,
// the longest unused first. What was dropped is computed again, with the same result.

interface Entry {
  readonly name: string;
  readonly bytes: number;
  /** Null once it was dropped. */
  value: object | null;
  /** When it was asked for last, in askings. */
  used: number;
}

/** Bytes that all derived values of this thread may take together. */
const MOST_BYTES = 768 * 1024 * 1024;
/** Of the budget: what is left after something was dropped, so that not every new value drops one. */
const LEFT = 0.75;

const entries = new Set<Entry>();
let total = 0;
let clock = 0;
let most = MOST_BYTES;

/** Told when that from which a value follows is gone. No weak references: those would keep it until a long job ends. */
const gone = new FinalizationRegistry<Entry>((entry) => drop(entry));

/** Derived values of one kind, by that from which they follow, which they must not hold. */
export class Derived<K extends object, V extends object> {
  private readonly byKey = new WeakMap<K, Entry>();

  /** @param name for figures of memory */
  constructor(private readonly name: string) {}

  get(key: K): V | undefined {
    const entry = this.byKey.get(key);
    if (!entry?.value) return undefined;
    entry.used = ++clock;
    return entry.value as V;
  }

  set(key: K, value: V): void {
    const before = this.byKey.get(key);
    if (before) drop(before);
    const entry: Entry = { name: this.name, bytes: bytesOf(value), value, used: ++clock };
    this.byKey.set(key, entry);
    gone.register(key, entry);
    entries.add(entry);
    total += entry.bytes;
    if (total > most) makeRoom();
  }
}

function drop(entry: Entry): void {
  entry.value = null;
  if (entries.delete(entry)) total -= entry.bytes;
}

/** Bytes of the arrays that a value holds. */
function bytesOf(value: object): number {
  if (ArrayBuffer.isView(value)) return value.byteLength;
  let sum = 0;
  for (const held of Object.values(value)) if (ArrayBuffer.isView(held)) sum += held.byteLength;
  return sum;
}

/** Drops the longest unused until there is room. The newest stays, however large. */
function makeRoom(): void {
  const order = [...entries].sort((a, b) => a.used - b.used);
  order.pop();
  for (const entry of order) {
    if (total <= LEFT * most) return;
    drop(entry);
  }
}

/** Changes the budget of this thread; returns what it was. */
export function setDerivedBudget(bytes: number): number {
  const before = most;
  most = bytes;
  if (total > most) makeRoom();
  return before;
}

/** Bytes of derived values that this thread keeps, by name. */
export function derivedBytes(): ReadonlyMap<string, number> {
  const out = new Map<string, number>();
  for (const { name, bytes } of entries) out.set(name, (out.get(name) ?? 0) + bytes);
  return out;
}
