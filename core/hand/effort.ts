/**
 * The effort of holding a grip, as a sum of named parts.
 *
 * What decides between the fingerings of one and the same shape are the fourteen weights of `GRIP_WEIGHTS`. They were
 * fitted (softmax regression, then coordinate search, `npm run fit`) to the left-hand fingerings of the open dataset
 * @tombatossals/chords-db 0.5.1, shapes of the roots C to F; `npm run bench` reports how often they agree with it on
 * the roots F♯ to B. They are in units where one more finger costs 1. What crowding spares fingers that lie strings apart is
 * judgement: it decides between places for one and the same notes, which no book of shapes tells.
 */
import { fingertipDistance, instrumentOf, type Setup } from '../instrument';
import {
  BAR,
  type FingerPlacement,
  fingerSpacing,
  type Grip,
  type Hand,
  handFactor,
  isBarre,
  isTucked,
  type StringDuty,
  strainOf,
  THUMB,
} from './model';

/** A named part of an effort figure. */
export type EffortPart =
  | 'fingers'
  | 'barre'
  | 'stretch'
  | 'crowding'
  | 'bent joint'
  | 'position'
  | 'thumb'
  | 'mutes'
  | 'unusual'
  | 'silent'
  | 'rings';
export type Effort = Partial<Record<EffortPart, number>>;

/** What is measured of a grip, each with the part of the effort it counts to. */
export const GRIP_TRAITS = {
  /** fingers down */
  finger: 'fingers',
  /** the little finger, the weakest, is down */
  littleFinger: 'fingers',
  /** the index lies flat over several strings */
  indexBarre: 'barre',
  /** another finger lies flat */
  otherBarre: 'barre',
  /** … and it is the little finger */
  littleBarre: 'barre',
  /** strings under an index barre that are held further up or are silent */
  bridgedString: 'barre',
  /** strings beyond the second under another finger's barre */
  otherBarreString: 'barre',
  /** mm beyond comfort, summed over the pairs of fingers */
  strainMm: 'stretch',
  /** frets by which index and middle finger lie further apart than one fret a finger */
  indexMiddleExtension: 'stretch',
  /** frets by which neighbouring fingers lie closer than one fret a finger */
  contraction: 'crowding',
  /** frets, beyond one, by which the lowest finger lies nearer to the nut or capo than the fingers before it have room */
  drawnIn: 'crowding',
  /** another finger's barre that must arch so that the next thinner string can sound */
  archedBarre: 'bent joint',
  /** a barre ends beside a string that must ring open (counts half on the thick side) */
  barreBesideOpen: 'bent joint',
  /** middle and ring finger reach over a barre to strings thinner than the third: strings away from it */
  overBarre: 'bent joint',
  /** the ring finger alone on string 1 over a barre, where the little finger lies nearer */
  ringOnFirst: 'bent joint',
} as const satisfies Record<string, EffortPart>;

export type GripTrait = keyof typeof GRIP_TRAITS;
const TRAITS = Object.keys(GRIP_TRAITS) as GripTrait[];
const PARTS = TRAITS.map(trait => GRIP_TRAITS[trait] as EffortPart);

export const GRIP_WEIGHTS: Record<GripTrait, number> = {
  finger: 1,
  littleFinger: 0.26,
  indexBarre: 1.49,
  otherBarre: 5.07,
  littleBarre: 2.2,
  bridgedString: 0.9,
  otherBarreString: 2.5,
  strainMm: 0.055,
  indexMiddleExtension: 1.87,
  contraction: 1.13,
  drawnIn: 2,
  archedBarre: 0.935,
  barreBesideOpen: 2.15,
  overBarre: 0.213,
  ringOnFirst: 1.15,
};
const WEIGHTS = TRAITS.map(trait => GRIP_WEIGHTS[trait]);
const AT = Object.fromEntries(TRAITS.map((trait, index) => [trait, index])) as Record<GripTrait, number>;

/** A beginner's index barre asks this much more; judgement. */
export const BEGINNER_BARRE = 1.5;
/** The thumb over the neck; judgement: less than a barre, more than two fingers. */
const THUMB_EFFORT = 2.4;
/** An index tucked in beside the middle finger at its fret; judgement: more than a finger in its shape saves, so that it is taken where it is taught so. */
const TUCKED = 2.5;
/** Effort of reaching up the neck, a mm from the first fret (after the capo) to the lowest finger. Judgement. */
const POSITION_PER_MM = 0.02;
/** Effort of a hand opened along the neck beyond three frets' width, a mm; judgement. The same for all grips of a shape. */
const SPREAD_PER_MM = 0.05;
const EASY_SPREAD = 62;
/** What two fingers at one fret are spared of crowding where strings lie between them, as ring and little finger in G; judgement. */
const ROOMY = 0.35;

/** Scratch for the traits of one grip: searches measure thousands of grips, and none keeps them. */
const scratch = new Float64Array(TRAITS.length);
const sorted: FingerPlacement[] = [];

function measureTraits(
  setup: Setup,
  hand: Hand,
  grip: Grip,
  duties: readonly StringDuty[],
  traits: Float64Array,
): void {
  traits.fill(0);
  let count = 0;
  // Fingers by number, the thumb aside: insertion into a handful.
  for (const p of grip) {
    if (p.finger === THUMB) continue;
    let at = count;
    while (at > 0 && sorted[at - 1]!.finger > p.finger) {
      sorted[at] = sorted[at - 1]!;
      at -= 1;
    }
    sorted[at] = p;
    count += 1;
  }
  traits[AT.finger] = count;
  // A bar lies flat by itself: none of what makes a finger's barre hard.
  if (sorted[0]?.finger === BAR && count) return;
  let barre: FingerPlacement | undefined;
  let little = false;
  let middleOnThin = false;
  let ringOnFirst = false;
  for (let i = 0; i < count; i++) {
    const p = sorted[i]!;
    if (p.finger === 4) little = true;
    else if (p.finger === 3 && p.to === 1) ringOnFirst = true;
    else if (p.finger === 2 && p.from <= 2) middleOnThin = true;
    if (!isBarre(p)) continue;
    const thinner = duties[p.from - 2];
    if (thinner === 0) traits[AT.barreBesideOpen]! += 1;
    if (duties[p.to] === 0) traits[AT.barreBesideOpen]! += 0.5;
    if (p.finger === 1) {
      barre = p;
      traits[AT.indexBarre]! += 1;
      for (let string = p.from; string <= p.to; string++)
        if (duties[string - 1] !== p.fret) traits[AT.bridgedString]! += 1;
    } else {
      traits[AT.otherBarre]! += 1;
      if (p.finger === 4) traits[AT.littleBarre]! += 1;
      traits[AT.otherBarreString]! += p.to - p.from - 1;
      if (thinner !== undefined && thinner !== 'free') traits[AT.archedBarre]! += 1;
    }
  }
  if (little) traits[AT.littleFinger] = 1;
  if (barre) {
    for (let i = 0; i < count; i++) {
      const p = sorted[i]!;
      if ((p.finger === 2 || p.finger === 3) && p.from < 3) traits[AT.overBarre]! += 3 - p.from;
    }
    if (ringOnFirst && !little && !middleOnThin) traits[AT.ringOnFirst] = 1;
  }
  traits[AT.strainMm] = strainOf(setup, hand, grip);
  const { scaleLength } = instrumentOf(setup);
  if (count) {
    const { finger, fret } = sorted[0]!;
    const physical = fret + setup.capo;
    const along = fingertipDistance(scaleLength, physical) - fingertipDistance(scaleLength, setup.capo + 1);
    // Ring and little finger may come a fret nearer; the middle one, alone there, only takes the index's place.
    const within = finger === 2 ? 1.1 : 2;
    traits[AT.drawnIn] = Math.max(0, finger - within - along / fingerSpacing(setup, physical));
  }
  for (let i = 1; i < count; i++) {
    const a = sorted[i - 1]!;
    const b = sorted[i]!;
    const along =
      fingertipDistance(scaleLength, b.fret + setup.capo) -
      fingertipDistance(scaleLength, a.fret + setup.capo);
    const apart = along / fingerSpacing(setup, a.fret + setup.capo);
    const wanted = b.finger - a.finger;
    if (wanted > apart)
      traits[AT.contraction]! +=
        wanted - apart - (isRoomy(setup, a, b) ? ROOMY * Math.min(1, wanted - apart) : 0);
    if (a.finger === 1 && b.finger === 2 && apart > 1) traits[AT.indexMiddleExtension]! += apart - 1;
  }
}

/**
 * Whether two fingers at one fret have room: at least two strings between them, and the index, which would lie beside the
 * hand's place, is not one of them. On a mandolin's narrow neck they have none.
 */
function isRoomy(setup: Setup, a: FingerPlacement, b: FingerPlacement): boolean {
  return (
    a.finger !== 1 &&
    a.fret === b.fret &&
    Math.abs(a.from - b.from) >= 3 &&
    instrumentOf(setup).kind === 'guitar'
  );
}

function hasTucked(grip: Grip): boolean {
  for (const low of grip) if (low.finger === 1) for (const high of grip) if (isTucked(low, high)) return true;
  return false;
}

/** The measured traits of a grip, in the order of `GRIP_TRAITS`. */
export function gripTraits(
  setup: Setup,
  hand: Hand,
  grip: Grip,
  duties: readonly StringDuty[],
): Float64Array {
  const traits = new Float64Array(TRAITS.length);
  measureTraits(setup, hand, grip, duties, traits);
  return traits;
}

/** Effort of reaching up the neck, and of opening the hand along it: what all grips of a shape have in common. */
function placeEffort(setup: Setup, hand: Hand, grip: Grip): { position: number; spread: number } {
  let lowest = Number.POSITIVE_INFINITY;
  let highest = 0;
  for (const p of grip) {
    lowest = Math.min(lowest, p.fret);
    highest = Math.max(highest, p.fret);
  }
  const { scaleLength } = instrumentOf(setup);
  const low = fingertipDistance(scaleLength, lowest + setup.capo);
  const up = low - fingertipDistance(scaleLength, 1 + setup.capo);
  const open = fingertipDistance(scaleLength, highest + setup.capo) - low;
  return {
    position: Math.max(0, up) * POSITION_PER_MM,
    spread: Math.max(0, open / handFactor(hand) - EASY_SPREAD) * SPREAD_PER_MM,
  };
}

/**
 * Effort of holding a grip, in named parts.
 *
 * @param duties what each string does, index 0 = string 1: a barre beside an open string is harder
 * @example
 * gripEffort(setup, hand, [{ finger: 1, fret: 1, from: 2, to: 2 }], dutiesOf([0, 1, null, null, null, null]))
 * // { fingers: 1 }
 */
export function gripEffort(setup: Setup, hand: Hand, grip: Grip, duties: readonly StringDuty[]): Effort {
  const effort: Effort = {};
  if (!grip.length) return effort;
  measureTraits(setup, hand, grip, duties, scratch);
  for (let i = 0; i < scratch.length; i++) {
    if (scratch[i]! <= 0) continue;
    const part = PARTS[i]!;
    effort[part] = (effort[part] ?? 0) + scratch[i]! * WEIGHTS[i]!;
  }
  if (hasTucked(grip)) effort.crowding = (effort.crowding ?? 0) + TUCKED;
  if (hand.beginner && effort.barre) effort.barre *= BEGINNER_BARRE;
  if (grip.some(p => p.finger === THUMB)) effort.thumb = THUMB_EFFORT;
  const { position, spread } = placeEffort(setup, hand, grip);
  if (position > 0) effort.position = position;
  if (spread > 0) effort.stretch = (effort.stretch ?? 0) + spread;
  return effort;
}

/**
 * The sum of `gripEffort` without its parts: searches ask for it thousands of times.
 *
 * @example
 * gripCost(setup, hand, [{ finger: 1, fret: 1, from: 2, to: 2 }], dutiesOf([0, 1, null, null, null, null]))
 * // 1
 */
export function gripCost(setup: Setup, hand: Hand, grip: Grip, duties: readonly StringDuty[]): number {
  if (!grip.length) return 0;
  measureTraits(setup, hand, grip, duties, scratch);
  const { position, spread } = placeEffort(setup, hand, grip);
  let total = position + spread;
  for (let i = 0; i < scratch.length; i++) {
    const harder = hand.beginner && PARTS[i] === 'barre' ? BEGINNER_BARRE : 1;
    total += scratch[i]! * WEIGHTS[i]! * harder;
  }
  for (const p of grip) if (p.finger === THUMB) total += THUMB_EFFORT;
  return hasTucked(grip) ? total + TUCKED : total;
}

/**
 * The parts of an effort summed up.
 *
 * @example totalEffort({ fingers: 2, stretch: 0.5 }) // 2.5
 */
export function totalEffort(effort: Effort): number {
  let total = 0;
  for (const part in effort) total += effort[part as EffortPart]!;
  return total;
}
