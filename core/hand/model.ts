/**
 * The hand model: how far the fretting fingers reach, in millimetres, and which fingers can hold which notes at once.
 *
 * The reach limits are judgement, set so that an adult's index and little finger comfortably span four frets in
 * first position of a 648 mm guitar (about 99 mm; common practice) and not five (127 mm).
 */
import { fingertipDistance, instrumentOf, type Place, type Setup, stringOffset } from '../instrument';

export const HAND_SIZES = ['small', 'medium', 'large'] as const;
export type HandSize = (typeof HAND_SIZES)[number];

/** Fretting fingers: 1 index … 4 little, 5 for the thumb over the neck (printed T), 6 for a bar that slides on the strings. */
export type Finger = 1 | 2 | 3 | 4 | 5 | 6;

export const THUMB = 5;
/** A straight bar of glass or metal, worn or held: it lies over any strings at one place, and nothing else stops one. */
export const BAR = 6;

export interface Hand {
  size: HandSize;
  /** Measured from the tip of the index to the tip of the little finger, stretched, in mm; it then counts instead of the size. */
  span?: number;
  /** A beginner's hand opens less and tires sooner on barres; absent for a trained one. */
  beginner?: boolean;
  /** Whether the thumb may come over the neck to the thickest string. */
  thumb?: boolean;
  /** Played with a bar that slides on the strings instead of with fingers. */
  slide?: boolean;
}

export const DEFAULT_HAND: Hand = { size: 'medium' };

/** Index to little finger, stretched flat, of the hand that the table below is for (an adult's; judgement). */
const MEDIUM_SPAN = 155;

/** Judgement: a small hand opens a tenth less, a large one an eighth more, a beginner's twelfth less than when trained. */
const SIZE_FACTOR: Record<HandSize, number> = { small: 0.9, medium: 1, large: 1.12 };
const BEGINNER_FACTOR = 0.92;

/** Furthest and comfortable reach between two fingers of a medium hand, in mm, by pair; judgement. */
const PAIR_REACH: Record<string, { limit: number; comfortable: number }> = {
  '12': { limit: 72, comfortable: 40 },
  '23': { limit: 62, comfortable: 36 },
  '34': { limit: 68, comfortable: 36 },
  '13': { limit: 98, comfortable: 74 },
  '24': { limit: 92, comfortable: 72 },
  '14': { limit: 116, comfortable: 102 },
  // The thumb lies across the neck from the index and middle finger; counted along the neck only.
  '15': { limit: 46, comfortable: 24 },
  '25': { limit: 52, comfortable: 32 },
  '35': { limit: 68, comfortable: 48 },
  '45': { limit: 88, comfortable: 66 },
};

export interface Reach {
  /** The furthest the hand can go, in mm. */
  limit: number;
  /** Where strain begins, in mm. */
  comfortable: number;
}

/**
 * How much wider than a medium trained hand a hand opens.
 *
 * @example handFactor(hand) // 1
 */
export function handFactor(hand: Hand): number {
  const size = hand.span === undefined ? SIZE_FACTOR[hand.size] : hand.span / MEDIUM_SPAN;
  return size * (hand.beginner ? BEGINNER_FACTOR : 1);
}

/** Reach tables by factor, then by both fingers (6 · a + b): looked up all through the searches. */
const reachKnown = new Map<number, Reach[]>();

let lastHand: Hand | undefined;
let lastReach: Reach[] = [];

function reachTable(hand: Hand): Reach[] {
  if (hand === lastHand) return lastReach;
  const factor = handFactor(hand);
  let table = reachKnown.get(factor);
  if (!table) {
    table = [];
    for (const [pair, reach] of Object.entries(PAIR_REACH)) {
      const [a, b] = [Number(pair[0]), Number(pair[1])];
      const scaled = { limit: reach.limit * factor, comfortable: reach.comfortable * factor };
      table[6 * a + b] = scaled;
      table[6 * b + a] = scaled;
    }
    reachKnown.set(factor, table);
  }
  lastHand = hand;
  lastReach = table;
  return table;
}

/**
 * Reach between two different fingers.
 *
 * @example reachBetween(hand, 1, 4) // { limit: 116, comfortable: 102 }
 */
export function reachBetween(hand: Hand, a: Finger, b: Finger): Reach {
  const reach = reachTable(hand)[6 * a + b];
  if (!reach) throw new RangeError(`fingers ${a} and ${b} are not a pair`);
  return reach;
}

/** One finger on the neck; it holds every string from `from` (thinner) to `to` (thicker) at one fret. */
export interface FingerPlacement {
  finger: Finger;
  fret: number;
  from: number;
  to: number;
}

/** Fingers that hold one set of notes together. */
export type Grip = readonly FingerPlacement[];

/**
 * "1" … "4", "T" for the thumb, "B" for a bar.
 *
 * @example fingerLabel(5) // 'T'
 */
export function fingerLabel(finger: number): string {
  return finger === THUMB ? 'T' : finger === BAR ? 'B' : String(finger);
}

/**
 * "finger 3", "the thumb" or "the bar".
 *
 * @example fingerName(2) // 'finger 2'
 */
export function fingerName(finger: number): string {
  return finger === THUMB ? 'the thumb' : finger === BAR ? 'the bar' : `finger ${finger}`;
}

/**
 * Distance in mm between two placed fingers; a barre counts from its nearest string, the thumb along the neck only.
 *
 * @example
 * Math.round(placementSpan(setup, { finger: 1, fret: 1, from: 2, to: 2 }, { finger: 3, fret: 3, from: 5, to: 5 }))
 * // 72
 */
export function placementSpan(setup: Setup, a: FingerPlacement, b: FingerPlacement): number {
  const instrument = instrumentOf(setup);
  const da = fingertipDistance(instrument.scaleLength, a.fret + setup.capo);
  const db = fingertipDistance(instrument.scaleLength, b.fret + setup.capo);
  const along = db - da;
  if (a.finger === THUMB || b.finger === THUMB) return Math.abs(along);
  const stringA = Math.min(Math.max(b.from, a.from), a.to);
  const stringB = Math.min(Math.max(stringA, b.from), b.to);
  const across = stringOffset(instrument, stringB, db) - stringOffset(instrument, stringA, da);
  return Math.sqrt(along * along + across * across);
}

/** How far a grip stretches: the pair of fingers nearest to its limit, in mm. */
export interface Stretch {
  widest: number;
  limit: number;
  fingers?: [Finger, Finger];
  possible: boolean;
}

/**
 * The widest reach of a grip against what the hand reaches, in millimetres.
 *
 * @example stretchOf(setup, hand, [{ finger: 1, fret: 1, from: 2, to: 2 }, { finger: 3, fret: 3, from: 5, to: 5 }]).possible // true
 */
export function stretchOf(setup: Setup, hand: Hand, grip: Grip): Stretch {
  const table = reachTable(hand);
  const result: Stretch = { widest: 0, limit: table[6 * 1 + 4]!.limit, possible: true };
  let worst = -1;
  for (let i = 0; i < grip.length; i++) {
    for (let j = i + 1; j < grip.length; j++) {
      const a = grip[i]!;
      const b = grip[j]!;
      if (a.finger === b.finger) {
        result.possible = false;
        continue;
      }
      const span = placementSpan(setup, a, b);
      const reach = table[6 * a.finger + b.finger]!;
      if (span > reach.limit) result.possible = false;
      if (span / reach.limit > worst) {
        worst = span / reach.limit;
        result.widest = span;
        result.limit = reach.limit;
        result.fingers = a.finger < b.finger ? [a.finger, b.finger] : [b.finger, a.finger];
      }
    }
  }
  return result;
}

/** The part of its limit to which a hand opens with ease; judgement: one fret a finger anywhere on a guitar, on strings that are near. */
const EASY = 0.87;

/**
 * How far a grip opens the hand towards its limit beyond what is easy: the part of the limit of its widest pair of fingers.
 * 0 where it is easy. It can be held, but nobody takes it for a note that could be left out.
 *
 * @example overstretch(setup, hand, [{ finger: 1, fret: 2, from: 5, to: 5 }, { finger: 4, fret: 5, from: 1, to: 1 }]) // 0
 */
export function overstretch(setup: Setup, hand: Hand, grip: Grip): number {
  const { widest, limit } = stretchOf(setup, hand, grip);
  return Math.max(0, widest / limit - EASY);
}

/**
 * Strain beyond comfort summed over the pairs of fingers, in mm.
 *
 * @example strainOf(setup, hand, shapePlacements({ frets: [0, 1], fingers: [null, 1] })) // 0
 */
export function strainOf(setup: Setup, hand: Hand, grip: Grip): number {
  const table = reachTable(hand);
  let strain = 0;
  for (let i = 0; i < grip.length; i++) {
    for (let j = i + 1; j < grip.length; j++) {
      const reach = table[6 * grip[i]!.finger + grip[j]!.finger];
      if (!reach) continue;
      const beyond = placementSpan(setup, grip[i]!, grip[j]!) - reach.comfortable;
      if (beyond > 0) strain += beyond;
    }
  }
  return strain;
}

/**
 * How far apart neighbouring fingers lie by themselves, in mm, where the hand lies at a physical fret: about a fret,
 * but never closer than 26 mm nor wider than 34 mm (so on a mandolin's short frets each finger minds about two).
 *
 * @example fingerSpacing(setup, 1) // 34
 */
export function fingerSpacing(setup: Setup, physical: number): number {
  const { scaleLength } = instrumentOf(setup);
  const width = fingertipDistance(scaleLength, physical + 1) - fingertipDistance(scaleLength, physical);
  return Math.min(34, Math.max(26, width));
}

/**
 * Where the index finger would lie for a finger placed at a fret, in mm from the nut: the hand's position. It never lies
 * behind the first fret over the nut or capo: the little finger at fret 3 is drawn in, and the hand stays where it is
 * (common practice of the first position).
 *
 * @example Math.round(handPosition(setup, 3, 7)) // 156
 */
export function handPosition(setup: Setup, finger: Finger, fret: number): number {
  const physical = fret + setup.capo;
  const { scaleLength } = instrumentOf(setup);
  const at = fingertipDistance(scaleLength, physical);
  // The thumb over the neck lies about opposite the index.
  const fingersAbove = finger === THUMB || finger === BAR ? 0 : finger - 1;
  const first = fingertipDistance(scaleLength, setup.capo + 1);
  return Math.max(Math.min(at, first), at - fingersAbove * fingerSpacing(setup, physical));
}

/** What a string must do while a grip is held. */
export type StringDuty =
  /** sounds at this fret, 0 for open */
  | number
  /** must stay silent */
  | 'muted'
  /** nobody plays it: a finger may lie on it */
  | 'free';

/**
 * Whether the index is tucked in at the fret of the middle finger, on the next thinner string: A as 2 1 3, with the index
 * where D has it (common practice).
 *
 * @example isTucked({ finger: 1, fret: 2, from: 3, to: 3 }, { finger: 2, fret: 2, from: 4, to: 4 }) // true
 */
export function isTucked(index: FingerPlacement, middle: FingerPlacement): boolean {
  return (
    index.finger === 1 &&
    middle.finger === 2 &&
    index.fret === middle.fret &&
    index.to + 1 === middle.from &&
    !isBarre(index) &&
    !isBarre(middle)
  );
}

/**
 * Fingers that no hand could put so: one at two frets, or a lower finger above a higher one.
 *
 * @example tangledFingers([{ finger: 1, fret: 3, from: 1, to: 1 }, { finger: 2, fret: 1, from: 2, to: 2 }]) // [1, 2]
 */
export function tangledFingers(grip: Grip): [Finger, Finger] | undefined {
  for (const [i, a] of grip.entries()) {
    for (const b of grip.slice(i + 1)) {
      const [low, high] = a.finger < b.finger ? [a, b] : [b, a];
      if (low.finger === high.finger) return [low.finger, high.finger];
      if (high.finger === THUMB) continue;
      // At one fret the lower finger takes the thicker string, but for an index that is tucked in.
      const crossed = low.fret > high.fret || (low.fret === high.fret && low.from <= high.to);
      if (crossed && !isTucked(low, high)) return [low.finger, high.finger];
    }
  }
  return undefined;
}

/** Strings that an index barre may cover while the thumb is over the neck: the palm no longer lies behind it. Judgement. */
const BARRE_WITH_THUMB = 3;

/**
 * Why a grip can't be held; undefined when it can.
 *
 * @example
 * gripFault(setup, hand, [{ finger: 1, fret: 1, from: 1, to: 1 }, { finger: 2, fret: 9, from: 2, to: 2 }])
 * // 'fingers 1 and 2 reach 231 mm; this hand reaches 72 mm'
 */
export function gripFault(setup: Setup, hand: Hand, grip: Grip): string | undefined {
  const tangled = tangledFingers(grip);
  if (tangled) {
    const [low, high] = tangled;
    return low === high
      ? `${fingerName(low)} can't be at two frets at once`
      : `fingers ${low} and ${high} cross`;
  }
  if (grip.some(p => (p.finger === BAR) !== (hand.slide === true)))
    return hand.slide
      ? 'a bar lies on the strings: no finger stops one'
      : 'a bar is only on the strings where it is played with one';
  const thumb = grip.find(p => p.finger === THUMB);
  if (thumb) {
    if (!hand.thumb) return 'the thumb is not to come over the neck';
    if (thumb.from !== setup.tuning.length) return 'the thumb only reaches the thickest string';
    if (grip.some(p => p.to - p.from >= BARRE_WITH_THUMB))
      return 'the thumb leaves no hold for so wide a barre';
  }
  const stretch = stretchOf(setup, hand, grip);
  if (!stretch.possible) {
    const [a, b] = stretch.fingers!;
    return `fingers ${fingerLabel(a)} and ${fingerLabel(b)} reach ${Math.round(stretch.widest)} mm; this hand reaches ${Math.round(stretch.limit)} mm`;
  }
  return undefined;
}

/**
 * Every way to hold a set of strings with four fingers (and the thumb, where the hand uses it), respecting reach,
 * crossing and barres.
 *
 * A barre by the index may lie over strings that are held further up, are silent or unplayed; a barre by another
 * finger only over strings at its own fret or unplayed ones. No finger may lie on a string that must ring open. Where it
 * is played with a bar, that is all there is, straight over the strings at one fret.
 *
 * @param duties what each string does, index 0 = string 1
 * @param fixed fingers already down that must stay where they are
 * @returns grips, one finger placement per finger used; empty when the hand can't hold it
 * @example
 * gripsFor(setup, hand, dutiesOf([null, 1, null, null, null, null]))[0]
 * // [{ finger: 1, fret: 1, from: 2, to: 2 }]
 */
export function gripsFor(
  setup: Setup,
  hand: Hand,
  duties: readonly StringDuty[],
  fixed: ReadonlyMap<number, Finger> = new Map(),
): FingerPlacement[][] {
  const held: Place[] = [];
  for (let index = duties.length - 1; index >= 0; index--) {
    const duty = duties[index];
    if (typeof duty === 'number' && duty > 0) held.push({ string: index + 1, fret: duty });
  }
  // Stable sort: by fret, and within a fret from the thick string to the thin one, as fingers lie.
  held.sort((a, b) => a.fret - b.fret);
  if (hand.slide) return barOver(duties, held, fixed);
  const search: GripSearch = { setup, duties, fixed, table: reachTable(hand), grips: [], grip: [] };
  placeFingers(search, held, 0, 1, false);
  const thickest = held.find(p => p.string === setup.tuning.length);
  const pinnedThick = thickest && fixed.get(thickest.string);
  if (hand.thumb && thickest && (pinnedThick === undefined || pinnedThick === THUMB)) {
    search.grip.push({ finger: THUMB, fret: thickest.fret, from: thickest.string, to: thickest.string });
    const others = held.filter(p => p !== thickest);
    placeFingers(search, others, 0, 1, true);
  }
  return search.grips;
}

/** A search for grips: what is asked, what was found, and the fingers that are down. */
interface GripSearch {
  setup: Setup;
  duties: readonly StringDuty[];
  fixed: ReadonlyMap<number, Finger>;
  table: readonly Reach[];
  grips: FingerPlacement[][];
  grip: FingerPlacement[];
}

/** Whether a finger may lie over these strings at a fret. */
function covers(
  duties: readonly StringDuty[],
  finger: number,
  fret: number,
  from: number,
  to: number,
): boolean {
  for (let string = from; string <= to; string++) {
    const duty = duties[string - 1]!;
    if (duty === 'free') continue;
    if (duty === 'muted') {
      if (finger !== 1) return false;
    } else if (duty < fret || (finger !== 1 && duty !== fret)) return false;
  }
  return true;
}

/** Puts fingers down on the places from an index on, in every way. */
function placeFingers(
  search: GripSearch,
  places: readonly Place[],
  index: number,
  lowestFinger: number,
  thumb: boolean,
): void {
  const { setup, duties, fixed, table, grip } = search;
  if (index === places.length) {
    search.grips.push(grip.slice());
    return;
  }
  const first = places[index]!;
  // No finger lies at two frets: one is left for each fret further up.
  let further = 0;
  for (let i = index + 1; i < places.length; i++) if (places[i]!.fret > places[i - 1]!.fret) further += 1;
  const next = places[index + 1];
  if (lowestFinger === 1 && next?.fret === first.fret && next.string + 1 === first.string)
    placeTucked(search, places, index, thumb);
  for (let finger = lowestFinger; finger <= 4 - further; finger++) {
    for (let end = index; end < places.length && places[end]!.fret === first.fret; end++) {
      const thin = places[end]!.string;
      if (end > index && !covers(duties, finger, first.fret, thin, first.string)) break;
      if (thumb && first.string - thin >= BARRE_WITH_THUMB) break;
      const pinned = fixed.size > 0 ? fixed.get(thin) : undefined;
      if (pinned !== undefined && pinned !== finger) break;
      const placement: FingerPlacement = {
        finger: finger as Finger,
        fret: first.fret,
        from: thin,
        to: first.string,
      };
      let reachable = true;
      for (const other of grip) {
        if (placementSpan(setup, other, placement) <= table[6 * other.finger + finger]!.limit) continue;
        reachable = false;
        break;
      }
      if (!reachable) continue;
      grip.push(placement);
      placeFingers(search, places, end + 1, finger + 1, thumb);
      grip.pop();
    }
  }
}

/** Puts middle finger and index down on two neighbouring places of a fret, the index tucked in on the thinner string, and goes on. */
function placeTucked(search: GripSearch, places: readonly Place[], index: number, thumb: boolean): void {
  const { setup, fixed, table, grip } = search;
  const pair = [2, 1].map((finger, i): FingerPlacement => {
    const { string, fret } = places[index + i]!;
    return { finger: finger as Finger, fret, from: string, to: string };
  });
  const isAsked = pair.every(({ from, finger }) => (fixed.get(from) ?? finger) === finger);
  const reaches = grip.every(other =>
    pair.every(own => placementSpan(setup, other, own) <= table[6 * other.finger + own.finger]!.limit),
  );
  if (!isAsked || !reaches) return;
  grip.push(...pair);
  placeFingers(search, places, index + 2, 3, thumb);
  grip.length -= 2;
}

/** The bar that stops all that is held; none where that lies at two frets, or an open string lies under it. */
function barOver(
  duties: readonly StringDuty[],
  held: readonly Place[],
  fixed: ReadonlyMap<number, Finger>,
): FingerPlacement[][] {
  const [first] = held;
  if (!first) return [[]];
  if (held.some(({ string, fret }) => fret !== first.fret || (fixed.get(string) ?? BAR) !== BAR)) return [];
  const strings = held.map(({ string }) => string);
  const [from, to] = [Math.min(...strings), Math.max(...strings)];
  if (duties.slice(from - 1, to).includes(0)) return [];
  return [[{ finger: BAR, fret: first.fret, from, to }]];
}

/**
 * The finger that holds a string in a grip, if any.
 *
 * @example fingerOn([{ finger: 1, fret: 2, from: 1, to: 3 }], 2, 2) // 1
 */
export function fingerOn(grip: Grip, string: number, fret: number): Finger | undefined {
  return grip.find(p => p.fret === fret && p.from <= string && string <= p.to)?.finger;
}

/**
 * Kind of barre: full over all strings, partial over some, or a hinge, where the index stands on its base over the thin
 * strings and its tip is lifted off a thicker one that rings open. Undefined for a fingertip.
 *
 * @param duties what each string does, index 0 = string 1
 * @example barreKind({ finger: 1, fret: 2, from: 1, to: 6 }, dutiesOf([2, 2, 3, 4, 4, 2])) // 'full'
 */
export function barreKind(
  placement: FingerPlacement,
  duties: readonly StringDuty[],
): 'full' | 'partial' | 'hinge' | undefined {
  if (!isBarre(placement)) return undefined;
  if (placement.finger === 1 && placement.from === 1 && duties[placement.to] === 0) return 'hinge';
  return placement.from === 1 && placement.to === duties.length ? 'full' : 'partial';
}

/**
 * Whether a placement covers more than one string.
 *
 * @example isBarre({ finger: 1, fret: 2, from: 1, to: 2 }) // true
 */
export function isBarre(placement: FingerPlacement): boolean {
  return placement.to > placement.from;
}
