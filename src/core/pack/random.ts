/** Numbers from 0 to before 1, the same ones for a seed each time. Source: Marsaglia, Xorshift RNGs (2003). */
export function randomBy(seed: number): () => number {
  let x = (0x2545f491 ^ Math.imul(seed, 0x9e3779b9)) | 1;
  return () => {
    x ^= x << 13;
    x ^= x >>> 17;
    x ^= x << 5;
    return (x >>> 0) / 2 ** 32;
  };
}
