/**
 * The mirror image of every point of a shell across a line of its own edges, by what lies beside what on both sides of it:
 * the shell need not mirror in space, but has to have the same faces on both sides.
 *
 * @param faces points of each face, in its direction
 * @param axis two points, next to each other on the line
 * @returns for every point another, or itself; null where the sides differ
 */
export function mirroredAbout(
  faces: ReadonlyArray<readonly number[]>,
  points: number,
  axis: readonly [number, number],
): Uint32Array | null {
  const across = new Map<number, { readonly face: number; readonly at: number }>();
  const key = (a: number, b: number) => a * points + b;
  faces.forEach((list, face) => {
    list.forEach((a, at) => {
      across.set(key(a, list[(at + 1) % list.length]!), { face, at });
    });
  });
  const images = new Uint32Array(points).fill(NONE);
  const put = (p: number, image: number): boolean => {
    if (images[p] !== NONE) return images[p] === image;
    images[p] = image;
    return true;
  };
  const done = new Uint8Array(faces.length);
  const [a, b] = axis;
  // Faces that mirror: the edge from p to q of the one is that from q's image to p's image of the other.
  const queue: Array<readonly [number, number]> = [[a, b]];
  if (!put(a, a) || !put(b, b)) return null;
  queue.push([b, a]);
  for (let i = 0; i < queue.length; i++) {
    const [p, q] = queue[i]!;
    const own = across.get(key(p, q));
    const other = across.get(key(images[q]!, images[p]!));
    if (!own !== !other) return null;
    if (!own || !other || done[own.face]) continue;
    done[own.face] = 1;
    const [list, mirrored] = [faces[own.face]!, faces[other.face]!];
    const n = list.length;
    if (n !== mirrored.length) return null;
    for (let k = 0; k < n; k++) {
      // From the edge on, the one face is gone about the other way.
      if (!put(list[(own.at + k) % n]!, mirrored[(other.at + 1 + n - k) % n]!)) return null;
      queue.push([list[(own.at + k + 1) % n]!, list[(own.at + k) % n]!]);
    }
  }
  for (let p = 0; p < points; p++) if (images[p] === NONE || images[images[p]!] !== p) return null;
  return images;
}

const NONE = 0xffffffff;
