/** The faces of a shell by their points, each in its direction. */
export interface FaceNet {
  readonly faces: ReadonlyArray<readonly number[]>;
  readonly points: number;
  /** By edge as it is gone along a face: the face, and where it begins in it. */
  readonly across: ReadonlyMap<number, { readonly face: number; readonly at: number }>;
}

export function faceNet(faces: ReadonlyArray<readonly number[]>, points: number): FaceNet {
  const across = new Map<number, { readonly face: number; readonly at: number }>();
  faces.forEach((list, face) => {
    list.forEach((a, at) => {
      across.set(a * points + list[(at + 1) % list.length]!, { face, at });
    });
  });
  return { faces, points, across };
}

const NONE = 0xffffffff;

/**
 * The points of one shell as those of another, by what lies beside what, however both are numbered: from an edge of each on.
 *
 * @param from two points next to each other @param to those they match @param mirrored the faces of the other go about the other way
 * @param fits whether an edge may match another
 * @returns by point of the one; null where the shells differ, or some points are not reached
 */
export function matchedPoints(
  one: FaceNet,
  other: FaceNet,
  from: readonly [number, number],
  to: readonly [number, number],
  mirrored: boolean,
  fits: (a: number, b: number, c: number, d: number) => boolean = () => true,
): Uint32Array | null {
  if (one.points !== other.points || one.faces.length !== other.faces.length) return null;
  const images = new Uint32Array(one.points).fill(NONE);
  const taken = new Uint8Array(one.points);
  const put = (p: number, image: number): boolean => {
    if (images[p] !== NONE) return images[p] === image;
    if (taken[image]) return false;
    taken[image] = 1;
    images[p] = image;
    return true;
  };
  const done = new Uint8Array(one.faces.length);
  const queue: Array<readonly [number, number]> = [[...from], [from[1], from[0]]];
  if (!put(from[0], to[0]) || !put(from[1], to[1])) return null;
  for (let i = 0; i < queue.length; i++) {
    const [p, q] = queue[i]!;
    const [a, b] = mirrored ? [images[q]!, images[p]!] : [images[p]!, images[q]!];
    const own = one.across.get(p * one.points + q);
    const far = other.across.get(a * other.points + b);
    if (!own !== !far) return null;
    if (!own || !far || done[own.face]) continue;
    done[own.face] = 1;
    const [list, its] = [one.faces[own.face]!, other.faces[far.face]!];
    const n = list.length;
    if (n !== its.length) return null;
    for (let k = 0; k < n; k++) {
      const at = mirrored ? (far.at + 1 + n - k) % n : (far.at + k) % n;
      if (!put(list[(own.at + k) % n]!, its[at]!)) return null;
    }
    for (let k = 0; k < n; k++) {
      const [c, d] = [list[k]!, list[(k + 1) % n]!];
      if (!fits(c, d, images[c]!, images[d]!)) return null;
      queue.push([d, c]);
    }
  }
  return images.some((image) => image === NONE) ? null : images;
}
