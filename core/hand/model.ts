/**
 * The hand model: how far the fretting fingers reach, in millimetres, and which fingers can hold which notes at once.
 *
 * The reach limits are judgement, set so that an adult's index and little finger comfortably span four frets in
 * first position of a 648 mm guitar (about 99 mm; common practice) and not five (127 mm).
 */
import { fingertipDistance, INSTRUMENTS, type Place, type Setup, stringOffset } from '../instrument';

export type HandSize = 'small' | 'medium' | 'large';

/** Fretting fingers: 1 index … 4 little. */
export type Finger = 1 | 2 | 3 | 4;

export interface Hand {
  size: HandSize;
}

export const DEFAULT_HAND: Hand = { size: 'medium' };

const SIZE_FACTOR: Record<HandSize, number> = { small: 0.9, medium: 1, large: 1.12 };

/** Furthest and comfortable reach between two fingers of a medium hand, in mm, by pair. */
const PAIR_REACH: Record<string, { limit: number; comfortable: number }> = {
  '12': { limit: 72, comfortable: 40 },
  '23': { limit: 56, comfortable: 36 },
  '34': { limit: 58, comfortable: 36 },
  '13': { limit: 96, comfortable: 74 },
  '24': { limit: 90, comfortable: 72 },
  '14': { limit: 116, comfortable: 102 },
};

interface Reach {
  /** The furthest the hand can go, in mm. */
  limit: number;
  /** Where strain begins, in mm. */
  comfortable: number;
}

/** Reach by hand size, then by both fingers (5 · a + b): looked up all through the searches. */
const REACH = Object.fromEntries(
  Object.entries(SIZE_FACTOR).map(([size, factor]) => {
    const table: Reach[] = [];
    for (const [pair, reach] of Object.entries(PAIR_REACH)) {
      const [a, b] = [Number(pair[0]), Number(pair[1])];
      const scaled = { limit: reach.limit * factor, comfortable: reach.comfortable * factor };
      table[5 * a + b] = scaled;
      table[5 * b + a] = scaled;
    }
    return [size, table];
  }),
) as Record<HandSize, Reach[]>;

/** Reach between two different fingers. */
export function reachBetween(hand: Hand, a: Finger, b: Finger): Reach {
  const reach = REACH[hand.size][5 * a + b];
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

/** Distance in mm between two placed fingers; a barre counts from its nearest string. */
export function placementSpan(setup: Setup, a: FingerPlacement, b: FingerPlacement): number {
  const instrument = INSTRUMENTS[setup.instrument];
  const stringA = Math.min(Math.max(b.from, a.from), a.to);
  const stringB = Math.min(Math.max(stringA, b.from), b.to);
  const da = fingertipDistance(instrument.scaleLength, a.fret + setup.capo);
  const db = fingertipDistance(instrument.scaleLength, b.fret + setup.capo);
  const along = db - da;
  const across = stringOffset(instrument, stringB, db) - stringOffset(instrument, stringA, da);
  return Math.sqrt(along * along + across * across);
}

/** How far a grip stretches: the widest pair in mm, its limit, and the strain beyond comfort summed in mm. */
export interface Stretch {
  widest: number;
  limit: number;
  fingers?: [Finger, Finger];
  strain: number;
  possible: boolean;
}

export function stretchOf(setup: Setup, hand: Hand, grip: Grip): Stretch {
  const result: Stretch = { widest: 0, limit: reachBetween(hand, 1, 4).limit, strain: 0, possible: true };
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
      const reach = reachBetween(hand, a.finger, b.finger);
      result.strain += Math.max(0, span - reach.comfortable);
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

/**
 * Where the index finger would lie for a finger placed at a fret, in mm from the nut: the hand's position.
 * Neighbouring fingers lie about a fret apart, but never closer than 26 mm nor wider than 34 mm
 * (so on a mandolin's short frets each finger minds about two).
 */
export function handPosition(setup: Setup, finger: Finger, fret: number): number {
  const { scaleLength } = INSTRUMENTS[setup.instrument];
  const physical = fret + setup.capo;
  const width = fingertipDistance(scaleLength, physical + 1) - fingertipDistance(scaleLength, physical);
  const spacing = Math.min(34, Math.max(26, width));
  return fingertipDistance(scaleLength, physical) - (finger - 1) * spacing;
}

/** What a string must do while a grip is held. */
export type StringDuty =
  /** sounds at this fret, 0 for open */
  | number
  /** must stay silent */
  | 'muted'
  /** nobody plays it: a finger may lie on it */
  | 'free';

/** Fingers that no hand could put so: one at two frets, or a lower finger above a higher one. */
export function tangledFingers(grip: Grip): [Finger, Finger] | undefined {
  for (const [i, a] of grip.entries()) {
    for (const b of grip.slice(i + 1)) {
      const [low, high] = a.finger < b.finger ? [a, b] : [b, a];
      // At one fret the lower finger takes the thicker string.
      const crossed = low.fret > high.fret || (low.fret === high.fret && low.from <= high.to);
      if (low.finger === high.finger || crossed) return [low.finger, high.finger];
    }
  }
  return undefined;
}

/** Why a grip can't be held; undefined when it can. */
export function gripFault(setup: Setup, hand: Hand, grip: Grip): string | undefined {
  const tangled = tangledFingers(grip);
  if (tangled) {
    const [low, high] = tangled;
    return low === high ? `finger ${low} can't be at two frets at once` : `fingers ${low} and ${high} cross`;
  }
  const stretch = stretchOf(setup, hand, grip);
  if (!stretch.possible) {
    const [a, b] = stretch.fingers!;
    return `fingers ${a} and ${b} reach ${Math.round(stretch.widest)} mm; this hand reaches ${Math.round(stretch.limit)} mm`;
  }
  return undefined;
}

/**
 * Every way to hold a set of strings with four fingers, respecting reach, crossing and barres.
 *
 * A barre by the index may lie over strings that are held further up, are silent or unplayed; a barre by another
 * finger only over strings at its own fret or unplayed ones. No finger may lie on a string that must ring open.
 *
 * @param duties what each string does, index 0 = string 1
 * @param fixed fingers already down that must stay where they are
 * @returns grips, one finger placement per finger used; empty when the hand can't hold it
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
  const grips: FingerPlacement[][] = [];
  const grip: FingerPlacement[] = [];

  const covers = (finger: number, fret: number, from: number, to: number): boolean => {
    for (let string = from; string <= to; string++) {
      const duty = duties[string - 1]!;
      if (duty === 'free') continue;
      if (duty === 'muted') {
        if (finger !== 1) return false;
      } else if (duty < fret || (finger !== 1 && duty !== fret)) return false;
    }
    return true;
  };

  const place = (index: number, lowestFinger: number): void => {
    if (index === held.length) {
      grips.push(grip.map(placement => ({ ...placement })));
      return;
    }
    const first = held[index]!;
    for (let finger = lowestFinger; finger <= 4; finger++) {
      for (let end = index; end < held.length && held[end]!.fret === first.fret; end++) {
        const thin = held[end]!.string;
        if (end > index && !covers(finger, first.fret, thin, first.string)) break;
        const wanted = held.slice(index, end + 1).every(p => {
          const pinned = fixed.get(p.string);
          return pinned === undefined || pinned === finger;
        });
        if (!wanted) break;
        const placement: FingerPlacement = {
          finger: finger as Finger,
          fret: first.fret,
          from: thin,
          to: first.string,
        };
        const reachable = grip.every(
          other =>
            placementSpan(setup, other, placement) <=
            reachBetween(hand, other.finger, placement.finger).limit,
        );
        if (!reachable) continue;
        grip.push(placement);
        place(end + 1, finger + 1);
        grip.pop();
      }
    }
  };
  place(0, 1);
  return grips;
}

/** The finger that holds a string in a grip, if any. */
export function fingerOn(grip: Grip, string: number, fret: number): Finger | undefined {
  return grip.find(p => p.fret === fret && p.from <= string && string <= p.to)?.finger;
}

/** Strings a placement covers, thin to thick. */
export function isBarre(placement: FingerPlacement): boolean {
  return placement.to > placement.from;
}

/** A named part of an effort figure. */
export type EffortPart = 'fingers' | 'barre' | 'stretch' | 'crowding' | 'position' | 'bent joint' | 'mutes';
export type Effort = Partial<Record<EffortPart, number>>;

/** Weights of the effort of holding a grip; judgement, in units where one more finger costs 1. */
const WEIGHTS = {
  finger: 1,
  littleFinger: 0.35,
  barreIndex: 1.1,
  barreOther: 2.2,
  barreString: 0.25,
  strainPerMm: 0.12,
  crowding: 1.2,
  bentJoint: 1.6,
  positionPerMm: 0.004,
};

/** Effort of holding a grip, in named parts. */
export function gripEffort(setup: Setup, hand: Hand, grip: Grip): Effort {
  const effort: Effort = {};
  const add = (part: EffortPart, value: number) => {
    if (value > 0) effort[part] = (effort[part] ?? 0) + value;
  };
  const instrument = INSTRUMENTS[setup.instrument];
  add('fingers', grip.length * WEIGHTS.finger);
  const sameFret = new Map<number, number>();
  for (const placement of grip) {
    if (placement.finger === 4) add('fingers', WEIGHTS.littleFinger);
    sameFret.set(placement.fret, (sameFret.get(placement.fret) ?? 0) + 1);
    if (isBarre(placement)) {
      const strings = placement.to - placement.from + 1;
      add(
        'barre',
        (placement.finger === 1 ? WEIGHTS.barreIndex : WEIGHTS.barreOther) +
          (strings - 2) * WEIGHTS.barreString,
      );
      // A flattened finger below another held string on its thin side has to bend its last joint back.
      if (
        placement.finger !== 1 &&
        grip.some(p => p.finger < placement.finger && p.from < placement.from && p.fret < placement.fret)
      ) {
        add('bent joint', WEIGHTS.bentJoint);
      }
    }
  }
  add('stretch', stretchOf(setup, hand, grip).strain * WEIGHTS.strainPerMm);
  for (const [fret, count] of sameFret) {
    if (count < 3) continue;
    // Three fingertips of about 13 mm each need room across one fret and along it.
    const distance = fingertipDistance(instrument.scaleLength, fret + setup.capo);
    const spacing = stringOffset(instrument, 2, distance);
    add('crowding', (WEIGHTS.crowding * (count - 2) * 9) / spacing);
  }
  const lowest = Math.min(...grip.map(p => p.fret));
  if (grip.length) {
    const along =
      fingertipDistance(instrument.scaleLength, lowest + setup.capo) -
      fingertipDistance(instrument.scaleLength, 1);
    add('position', Math.max(0, along) * WEIGHTS.positionPerMm);
  }
  return effort;
}

export function totalEffort(effort: Effort): number {
  let total = 0;
  for (const value of Object.values(effort)) total += value;
  return total;
}
