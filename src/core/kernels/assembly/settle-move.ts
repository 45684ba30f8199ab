import { f32At, i32At, putF32, putI32 } from "./lists";
import {
  coarseCostAt,
  collect,
  collectedCost,
  collectedGradient,
  costAt,
  depthsOf,
  FAR,
  forgetWeights,
  gradientX,
  gradientY,
  lessenWeights,
  setWeight,
  weightOf,
} from "./settle-costs";
import {
  anyX,
  anyY,
  below,
  boxAt,
  boxFits,
  clampedX,
  clampedY,
  count,
  isChanged,
  poseOf,
  putAt,
  radiusOf,
  reach,
  recordOf,
  setChanged,
  share,
  turnsOf,
} from "./settle-page";
import { mixOrder } from "./settle-relax";

// Shells that lie too near to others are moved one by one to where that costs least, and pairs that stay in each other's
// way weigh more and more. Sources: as for costs, and Umetani et al., Solving the irregular strip packing problem via
// guided local search for overlap minimization (2009).

const TAU: f32 = 6.2831853;
/** Places that are tried: anywhere on the page, and round about where the shell lies. */
const ANYWHERE: i32 = 40;
const NEARBY: i32 = 20;
/** Of those, from which it is gone down. */
const BEST: i32 = 2;
/** What pairs that lie too near grow by, the least and the worst, and others fall by. */
const GROW_LEAST: f32 = 1.01;
const GROW_MOST: f32 = 1.1;
const FALL: f32 = 0.95;

/** Where a descent stands. */
let atX: f32 = 0;
let atY: f32 = 0;
let atC: f32 = 1;
let atS: f32 = 0;
let mayTurnFreely: bool = false;

/** Goes down from where `at` is. @returns the cost where it came to */
function descend(a: i32, from: f32, end: f32, giveUp: f32): f32 {
  const far = reach * reach;
  let step = from;
  let cx = atX;
  let cy = atY;
  collect(a, atX, atY, atC, atS);
  let cost = collectedGradient(0, 0);
  let fresh = true;
  let tried: i32 = 0;
  while (step > end && cost > 0) {
    if (++tried === 12 && cost > giveUp) return cost;
    const slope = sqrt<f32>(gradientX * gradientX + gradientY * gradientY);
    const down = fresh && slope > 0;
    let dx: f32 = 0;
    let dy: f32 = 0;
    if (down) {
      dx = (gradientX / slope) * step;
      dy = (gradientY / slope) * step;
      fresh = false;
    } else {
      const angle = share() * TAU;
      dx = Mathf.cos(angle) * step;
      dy = Mathf.sin(angle) * step;
    }
    let moved = false;
    const sides = down ? 1 : 2;
    for (let side: i32 = 0; side < sides && !moved; side++) {
      boxAt(a, atC, atS);
      const x = clampedX(atX + (side ? -dx : dx));
      const y = clampedY(atY + (side ? -dy : dy));
      if ((x - cx) * (x - cx) + (y - cy) * (y - cy) > far) {
        collect(a, atX, atY, atC, atS);
        cx = atX;
        cy = atY;
        cost = collectedGradient(0, 0);
        if ((x - cx) * (x - cx) + (y - cy) * (y - cy) > far) continue;
      }
      if (collectedCost(x - cx, y - cy, cost) >= cost) continue;
      atX = x;
      atY = y;
      cost = collectedGradient(x - cx, y - cy);
      fresh = moved = true;
    }
    if (moved) step = min(step * <f32>1.2, reach * <f32>0.9);
    else if (!down) {
      step *= 0.6;
      if (mayTurnFreely && turnsOf(a) === 4 && below(2)) {
        const turned = turnedCost(a, step, cost);
        if (turned < cost) {
          cx = atX;
          cy = atY;
          collect(a, atX, atY, atC, atS);
          cost = collectedGradient(0, 0);
          fresh = true;
        }
      }
    }
  }
  return cost;
}

/** Tries a small turn where a descent stands, and takes it where that costs less. */
function turnedCost(a: i32, step: f32, cost: f32): f32 {
  const angle = (step / radiusOf(recordOf(a))) * (below(2) ? <f32>1 : <f32>-1);
  const tc = Mathf.cos(angle);
  const ts = Mathf.sin(angle);
  const c = atC * tc - atS * ts;
  const s = atS * tc + atC * ts;
  boxAt(a, c, s);
  if (!boxFits()) return FAR;
  const x = clampedX(atX);
  const y = clampedY(atY);
  const own = costAt(a, x, y, c, s, cost);
  if (own >= cost) return FAR;
  atX = x;
  atY = y;
  atC = c;
  atS = s;
  return own;
}

/** Poses to go down from, the cheapest first: x, y, cosine, sine, cost. */
const offers = memory.data(4 * 5 * 4);
let offered: i32 = 0;

function offer(x: f32, y: f32, c: f32, s: f32, cost: f32): void {
  if (cost >= limitOfOffers()) return;
  if (offered < BEST) offered++;
  let k = offered - 1;
  for (; k > 0 && f32At(offers, 5 * (k - 1) + 4) > cost; k--)
    for (let i: i32 = 0; i < 5; i++) putF32(offers, 5 * k + i, f32At(offers, 5 * (k - 1) + i));
  putF32(offers, 5 * k, x);
  putF32(offers, 5 * k + 1, y);
  putF32(offers, 5 * k + 2, c);
  putF32(offers, 5 * k + 3, s);
  putF32(offers, 5 * k + 4, cost);
}
function limitOfOffers(): f32 {
  return offered < BEST ? FAR : f32At(offers, 5 * (BEST - 1) + 4);
}

let someC: f32 = 1;
let someS: f32 = 0;

/** One of the turns a shell may have. */
function anyTurn(a: i32, c: f32, s: f32): void {
  const ways = turnsOf(a);
  const free = mayTurnFreely && ways === 4;
  if (free && below(2)) {
    const angle = share() * TAU;
    someC = Mathf.cos(angle);
    someS = Mathf.sin(angle);
    return;
  }
  const turn = ways === 4 ? below(4) : ways === 2 ? 2 * below(2) : 0;
  someC = turn === 0 ? c : turn === 1 ? -s : turn === 2 ? -c : s;
  someS = turn === 0 ? s : turn === 1 ? c : turn === 2 ? -s : -c;
}

/** A number about 0, most within 1: of the sum of four. */
function about(): f32 {
  return (share() + share() + share() + share() - <f32>2) * <f32>1.7;
}

/** Offers places anywhere on the page, and round about where a shell lies. */
function offerPlaces(a: i32): void {
  const pose = poseOf(a);
  const c = f32At(pose, 2);
  const s = f32At(pose, 3);
  offered = 0;
  for (let k: i32 = 0; k < ANYWHERE; k++) {
    anyTurn(a, c, s);
    boxAt(a, someC, someS);
    if (!boxFits()) continue;
    const x = anyX();
    const y = anyY();
    offer(x, y, someC, someS, coarseCostAt(a, x, y, someC, someS, limitOfOffers()));
  }
  for (let k: i32 = 0; k < NEARBY; k++) {
    if (below(4) === 0) anyTurn(a, c, s);
    else {
      someC = c;
      someS = s;
    }
    boxAt(a, someC, someS);
    if (!boxFits()) continue;
    const far = radiusOf(recordOf(a)) * <f32>0.4 * (share() * share() + <f32>0.02);
    const x = clampedX(f32At(pose, 0) + about() * far);
    const y = clampedY(f32At(pose, 1) + about() * far);
    offer(x, y, someC, someS, coarseCostAt(a, x, y, someC, someS, limitOfOffers()));
  }
}

/** @param free shells with four quarter turns may be turned by any angle */
export function settleFree(free: i32): void {
  mayTurnFreely = free !== 0;
}

/** Moves a shell to where it costs less, if there is such a place. @param texel of the page, in nodes */
export function settleMove(a: i32, texel: f32): void {
  if (turnsOf(a) === 0) return;
  const pose = poseOf(a);
  const own = costAt(a, f32At(pose, 0), f32At(pose, 1), f32At(pose, 2), f32At(pose, 3), FAR);
  if (own <= 0) return;
  offerPlaces(a);
  atX = f32At(pose, 0);
  atY = f32At(pose, 1);
  atC = f32At(pose, 2);
  atS = f32At(pose, 3);
  let best = descend(a, <f32>2 * texel, <f32>0.02 * texel, FAR);
  let x = atX;
  let y = atY;
  let c = atC;
  let s = atS;
  if (best >= own) best = own;
  for (let k: i32 = 0; k < offered && best > 0; k++) {
    const at = 5 * k;
    atX = f32At(offers, at);
    atY = f32At(offers, at + 1);
    atC = f32At(offers, at + 2);
    atS = f32At(offers, at + 3);
    if (descend(a, min(<f32>4 * texel, reach * <f32>0.9), <f32>0.3 * texel, best * <f32>4) >= best * <f32>1.5) continue;
    if (descend(a, <f32>0.5 * texel, <f32>0.02 * texel, FAR) >= best) continue;
    const cost = costAt(a, atX, atY, atC, atS, best);
    if (cost >= best) continue;
    best = cost;
    x = atX;
    y = atY;
    c = atC;
    s = atS;
  }
  if (best < own) putAt(a, x, y, c, s);
}

/** Neighbours of a shell that it lies too near to, kept from pass to pass: as many as there is room for, and how many. */
let depths: usize = 0;
const MOST_NEIGHBOURS: i32 = 24;
const DEPTHS: i32 = 2 * MOST_NEIGHBOURS + 1;
let deepestPair: f32 = 0;

/** @param room 196 bytes per shell */
export function settleSeparate(room: usize): void {
  depths = room;
  forgetWeights();
  for (let a: i32 = 0; a < count; a++) setChanged(a, true);
}

/**
 * Looks which shells lie too near to others.
 *
 * @param hit room for their numbers, mixed @param out the sum of the roots of all depths, f32
 * @returns how many there are
 */
export function settleHits(hit: usize, marks: usize, out: usize): i32 {
  let total: f32 = 0;
  deepestPair = 0;
  memory.fill(marks, 0, <usize>count);
  for (let a: i32 = 0; a < count; a++) {
    const own = depths + ((<usize>(DEPTHS * a)) << 2);
    if (isChanged(a)) {
      setChanged(a, false);
      putI32(own, 0, depthsOf(a, own + 4, MOST_NEIGHBOURS));
    }
    const n = i32At(own, 0);
    for (let k: i32 = 0; k < n; k++) {
      const depth = f32At(own, 2 + 2 * k);
      if (turnsOf(a) === 0 && turnsOf(i32At(own, 1 + 2 * k)) === 0) continue;
      total += sqrt<f32>(depth);
      deepestPair = max(deepestPair, depth);
      store<u8>(marks + <usize>a, 1);
      store<u8>(marks + <usize>i32At(own, 1 + 2 * k), 1);
    }
  }
  putF32(out, 0, total);
  let n: i32 = 0;
  for (let a: i32 = 0; a < count; a++) if (load<u8>(marks + <usize>a)) putI32(hit, n++, a);
  mixOrder(hit, n);
  return n;
}

/** Pairs that lie too near to each other weigh more, as the deeper they do; all others less. */
export function settleWeigh(): void {
  lessenWeights(FALL);
  for (let a: i32 = 0; a < count; a++) {
    const own = depths + ((<usize>(DEPTHS * a)) << 2);
    const n = i32At(own, 0);
    for (let k: i32 = 0; k < n; k++) {
      const b = i32At(own, 1 + 2 * k);
      // What it fell by is given back.
      const grow = GROW_LEAST + (GROW_MOST - GROW_LEAST) * sqrt<f32>(f32At(own, 2 + 2 * k) / deepestPair);
      setWeight(a, b, min(<f32>1e6, (weightOf(a, b) / FALL) * grow));
    }
  }
}
