/** Flags of elements and of all that walks from them lead to. What one walk has led to is not walked from again. */
export function walked(flags: Uint8Array, walk: (from: number) => Uint32Array): Uint8Array {
  const out = flags.slice();
  const done = new Uint8Array(flags.length);
  for (let i = 0; i < flags.length; i++) {
    if (!flags[i] || done[i]) continue;
    for (const k of walk(i)) out[k] = done[k] = 1;
  }
  return out;
}
