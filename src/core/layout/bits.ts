/** One bit per element, packed; an immutable value once handed on. */
export type Bits = Uint8Array;

export const makeBits = (count: number): Bits => new Uint8Array((count + 7) >> 3);
export const getBit = (bits: Bits, i: number): boolean => ((bits[i >> 3]! >> (i & 7)) & 1) === 1;
export const setBit = (bits: Bits, i: number): void => {
  bits[i >> 3]! |= 1 << (i & 7);
};
export const clearBit = (bits: Bits, i: number): void => {
  bits[i >> 3]! &= ~(1 << (i & 7));
};

/** All `count` bits set; the spare bits of the last byte stay clear, so that equal values have equal bytes. */
export function fullBits(count: number): Bits {
  const bits = makeBits(count).fill(255);
  if (count & 7) bits[bits.length - 1] = (1 << (count & 7)) - 1;
  return bits;
}

export function countBits(bits: Bits): number {
  let sum = 0;
  for (let byte of bits) for (; byte; byte &= byte - 1) sum++;
  return sum;
}

export function sameBits(a: Bits, b: Bits): boolean {
  if (a === b) return true;
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

/** The places of all bits that are set, ascending. */
export function placesOfBits(bits: Bits): Uint32Array {
  const out = new Uint32Array(countBits(bits));
  let at = 0;
  // Most bytes are empty, of seams as of pins: they are passed at once.
  for (let b = 0; b < bits.length; b++)
    for (let byte = bits[b]!; byte; byte &= byte - 1) out[at++] = 8 * b + 31 - Math.clz32(byte & -byte);
  return out;
}
