/** The faces of a shell by their points, each in its direction. */
export interface FaceNet {
  readonly points: number;
  /** Corners of face f are start[f] to start[f + 1] - 1. */
  readonly start: Uint32Array;
  /** The point of every corner, and the corner after it in its face. */
  readonly point: Uint32Array;
  readonly next: Uint32Array;
  readonly face: Uint32Array;
  /** Corners at point p: around[aroundStart[p]] and on. */
  readonly aroundStart: Uint32Array;
  readonly around: Uint32Array;
}

/** @param start as of a mesh @param point by corner */
export function faceNet(start: Uint32Array, point: Uint32Array, points: number): FaceNet {
  const next = new Uint32Array(point.length);
  const face = new Uint32Array(point.length);
  for (let f = 0; f + 1 < start.length; f++)
    for (let c = start[f]!; c < start[f + 1]!; c++) {
      next[c] = c + 1 < start[f + 1]! ? c + 1 : start[f]!;
      face[c] = f;
    }
  const aroundStart = new Uint32Array(points + 1);
  for (let c = 0; c < point.length; c++) aroundStart[point[c]! + 1]!++;
  for (let p = 0; p < points; p++) aroundStart[p + 1]! += aroundStart[p]!;
  const around = new Uint32Array(point.length);
  const fill = aroundStart.slice(0, points);
  for (let c = 0; c < point.length; c++) around[fill[point[c]!]!++] = c;
  return { points, start, point, next, face, aroundStart, around };
}

/** The same of lists of points. */
export function faceNetOf(faces: ReadonlyArray<readonly number[]>, points: number): FaceNet {
  const start = new Uint32Array(faces.length + 1);
  faces.forEach((list, f) => {
    start[f + 1] = start[f]! + list.length;
  });
  return faceNet(start, Uint32Array.from(faces.flat()), points);
}

/** The corner from which a face goes from one point to another; -1 where none does. */
export function cornerTowards({ aroundStart, around, point, next }: FaceNet, a: number, b: number): number {
  for (let k = aroundStart[a]!; k < aroundStart[a + 1]!; k++) if (point[next[around[k]!]!] === b) return around[k]!;
  return -1;
}

const NONE = 0xffffffff;

/** Room for one match, made once and as large as any so far: most edges that are tried lead nowhere. */
let room = { images: new Uint32Array(0), taken: new Uint8Array(0), done: new Uint8Array(0), queue: new Uint32Array(0) };

function roomFor({ points, point, start }: FaceNet): typeof room {
  const queue = 2 * point.length + 4;
  if (room.images.length < points || room.queue.length < queue)
    room = {
      images: new Uint32Array(2 * points),
      taken: new Uint8Array(2 * points),
      done: new Uint8Array(2 * queue),
      queue: new Uint32Array(2 * queue),
    };
  room.images.fill(NONE, 0, points);
  room.taken.fill(0, 0, points);
  room.done.fill(0, 0, start.length);
  return room;
}

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
  if (one.points !== other.points || one.start.length !== other.start.length) return null;
  if (!fits(...from, ...to)) return null;
  const { images, taken, done, queue } = roomFor(one);
  const put = (p: number, image: number): boolean => {
    if (images[p] !== NONE) return images[p] === image;
    if (taken[image]) return false;
    taken[image] = 1;
    images[p] = image;
    return true;
  };
  queue.set([from[0], from[1], from[1], from[0]]);
  let length = 4;
  if (!put(from[0], to[0]) || !put(from[1], to[1])) return null;
  for (let i = 0; i < length; i += 2) {
    const p = queue[i]!;
    const q = queue[i + 1]!;
    const own = cornerTowards(one, p, q);
    const far = cornerTowards(other, images[mirrored ? q : p]!, images[mirrored ? p : q]!);
    if (own < 0 !== far < 0) return null;
    if (own < 0) continue;
    const f = one.face[own]!;
    const g = other.face[far]!;
    if (done[f]) continue;
    done[f] = 1;
    const size = one.start[f + 1]! - one.start[f]!;
    if (size !== other.start[g + 1]! - other.start[g]!) return null;
    const last = other.start[g]! + size - 1;
    // From the edge on, the other face is gone about the same way, or backwards.
    let its = mirrored ? other.next[far]! : far;
    let c = own;
    for (let k = 0; k < size; k++) {
      if (!put(one.point[c]!, other.point[its]!)) return null;
      c = one.next[c]!;
      its = mirrored ? (its === other.start[g] ? last : its - 1) : other.next[its]!;
    }
    for (let k = one.start[f]!; k < one.start[f + 1]!; k++) {
      const a = one.point[k]!;
      const b = one.point[one.next[k]!]!;
      if (!fits(a, b, images[a]!, images[b]!)) return null;
      queue[length++] = b;
      queue[length++] = a;
    }
  }
  for (let p = 0; p < one.points; p++) if (images[p] === NONE) return null;
  return images.slice(0, one.points);
}
