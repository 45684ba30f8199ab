/** Prints figures by size, with their growth from the smallest to the largest. */
export function printGrowth(
  sizes: readonly string[],
  columns: ReadonlyArray<Readonly<Record<string, number>>>,
  digits: number,
): void {
  const rows = Object.keys(columns[0]!).map((name) => [
    name,
    Object.fromEntries([
      ...sizes.map((size, i) => [size, columns[i]![name]!.toFixed(digits)]),
      ["growth", `x ${(columns.at(-1)![name]! / columns[0]![name]!).toFixed(1)}`],
    ]),
  ]);
  console.table(Object.fromEntries(rows));
}

/** A size in words. */
export const trianglesOfSide = (n: number): string => `${(2 * n * n).toLocaleString("en")} triangles`;

export async function timed<T>(act: () => Promise<T> | T): Promise<[T, number]> {
  const start = performance.now();
  return [await act(), performance.now() - start];
}
