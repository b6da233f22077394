/**
 * The left-hand solver: fingers for a passage whose strings and frets are settled, as an optimum path over every grip
 * that can hold each moment (after Sayegh 1989; for the worst moment Hori and Sagayama 2016). No grip is left out, so
 * the answer is exact for the stated efforts.
 */
import {
  acrossEffort,
  changeEffort,
  type Finger,
  type FingerPlacement,
  fingerOn,
  gripCost,
  gripsFor,
  type Hand,
  handPosition,
  hops,
  type StringDuty,
  shiftEffort,
} from '../hand';
import type { Setup } from '../instrument';
import { bestPath, bestWorstPath } from '../path';
import type { Into } from '../score';

/** A note that sounds at a moment. */
export interface PassageNote {
  string: number;
  /** From the capo; 0 = open. */
  fret: number;
  /** Sounds on from the moment before: its finger must stay. */
  held: boolean;
  /** Held over a tie: another finger may take over from the one that holds it. */
  swaps?: boolean;
  /** Finger that was set by hand. */
  pinned?: Finger;
  /** How the fretting hand sounds it, and the fret that it comes from. */
  into?: { kind: Into; fret: number };
}

/** A moment of a passage: everything that sounds, and the time until the next one. */
export interface PassageMoment {
  notes: readonly PassageNote[];
  seconds: number;
}

export interface Fingering {
  /** How each moment is held. */
  holds: readonly Hold[];
  /** Finger of each note of each moment; undefined for open strings. */
  fingers: (Finger | undefined)[][];
  /** Holding and changing in all, and the hardest change. */
  total: number;
  worst: number;
}

/**
 * A change in a tenth of a second asks for about twice the effort of one in a leisurely half second; judgement.
 *
 * @example haste(0.25) // 1.2
 */
export function haste(seconds: number): number {
  return Math.min(2, Math.max(0.6, 0.3 / Math.max(0.05, seconds)));
}

/** One way for the hand to be: its fingers, and where the index lies, in mm from the nut. */
export interface Hold {
  grip: FingerPlacement[];
  position: number;
  cost: number;
}

/** Frets at which a hand may wait while only open strings sound: an open string buys time to change position. */
const WAITING_FRETS = [1, 2, 3, 4, 5, 7, 9, 12];
/** What is left of the effort of a shift while an open string sounds; judgement. At a half the hand went up the neck to spare the little finger. */
const SHIFT_ON_OPEN = 0.8;
/** A finger that hops; judgement. */
export const HOP = 1;
/** One finger taking over from another on a string that sounds on; judgement. */
const SWAP = 4;
/** Striking a note again with another finger than the one that has just held it: a change for nothing; judgement. */
export const OTHER_FINGER = 2.2;

/**
 * Every way to hold a moment: all grips, or all places to wait where only open strings sound.
 *
 * @example holdsOf(setup, hand, passageOf(arrangement, { from: 0, to: 0 }).moments[0])[0].grip.length // 2
 */
export function holdsOf(setup: Setup, hand: Hand, { notes }: PassageMoment): Hold[] {
  const duties: StringDuty[] = setup.tuning.map(() => 'free');
  const fixed = new Map<number, Finger>();
  for (const note of notes) {
    duties[note.string - 1] = note.fret;
    if (note.pinned && note.fret) fixed.set(note.string, note.pinned);
  }
  // Of two notes that meet on one string the later one counts: it may be open.
  if (!duties.some(duty => typeof duty === 'number' && duty > 0))
    return WAITING_FRETS.map(fret => ({ grip: [], position: handPosition(setup, 1, fret), cost: 0 }));
  return gripsFor(setup, hand, duties, fixed).map(grip => ({
    grip,
    position: handPosition(setup, grip[0]!.finger, grip[0]!.fret),
    cost: gripCost(setup, hand, grip, duties),
  }));
}

/** A slur by fingers that can't make it: judgement, more than any shift saves, so that it is left only where it must be. */
const UNSLURRED = 8;

/**
 * Whether the fingers of two holds make a slur: a hammer-on comes down with a higher finger than the one that holds, a
 * pull-off leaves a lower one that is down already, a slide is one finger's (common practice).
 */
function slursWell({ string, fret, into }: PassageNote, from: Hold, to: Hold): boolean {
  const before = into?.fret ? fingerOn(from.grip, string, into.fret) : undefined;
  const after = fret ? fingerOn(to.grip, string, fret) : undefined;
  if (!into || before === undefined || after === undefined) return true;
  if (into.kind === 'slide') return before === after;
  return into.kind === 'hammer' ? after > before : after < before;
}

/**
 * Effort of going from one hold to the next moment's; Infinity where a held note would lose its finger. Only over a tie,
 * where it can be written down, may another finger take over.
 */
export function holdChange(
  setup: Setup,
  before: PassageMoment,
  moment: PassageMoment,
  from: Hold,
  to: Hold,
): number {
  let extra = 0;
  for (const note of moment.notes) {
    if (note.into && !slursWell(note, from, to)) extra += UNSLURRED;
    if (!note.fret) continue;
    const finger = fingerOn(from.grip, note.string, note.fret);
    if (finger === fingerOn(to.grip, note.string, note.fret)) continue;
    if (!note.held) {
      const again = before.notes.some(own => own.string === note.string && own.fret === note.fret);
      if (again) extra += OTHER_FINGER;
      continue;
    }
    if (!note.swaps) return Number.POSITIVE_INFINITY;
    extra += SWAP;
  }
  for (const a of from.grip)
    for (const b of to.grip) {
      if (a.finger === b.finger && hops(a, b)) extra += HOP;
      extra += acrossEffort(setup, a, b);
    }
  const eased = from.grip.length && to.grip.length ? 1 : SHIFT_ON_OPEN;
  const shift = shiftEffort(from.grip, to.grip, from.position, to.position);
  const motion = changeEffort(setup, from.grip, to.grip) + eased * shift;
  return extra + motion * haste(before.seconds);
}

/**
 * Fingers for a passage.
 *
 * @param goal least effort in all, or first of all the easiest hardest change
 * @param prefer how much less a way to hold a moment is to count, such as one that was used before
 * @returns undefined when no hand like this can hold every moment
 * @example fingerPassage(setup, hand, passageOf(arrangement, { from: 0, to: 3 }).moments)?.total // the least effort
 */
export function fingerPassage(
  setup: Setup,
  hand: Hand,
  moments: readonly PassageMoment[],
  goal: 'total' | 'worst' = 'total',
  prefer: (hold: Hold, moment: number) => number = () => 0,
): Fingering | undefined {
  const found = solved(setup, hand, moments, goal, prefer);
  const stayed = found && withStayed(moments, found);
  return (stayed && solved(setup, hand, stayed, goal, prefer)) ?? found;
}

/**
 * The passage with the fingers pinned that stayed down under a slur: what is pulled off back to a fret of the same chain
 * (5, hammered to 7, pulled to 5) lands on the finger that lies there, which no path from moment to moment remembers.
 *
 * @returns undefined where the fingers found do so already
 */
function withStayed(moments: readonly PassageMoment[], { fingers }: Fingering): PassageMoment[] | undefined {
  /** Fingers of the chain that goes on on each string, by fret. */
  const chains = new Map<number, Map<number, Finger>>();
  let changed = false;
  const pinned = moments.map((moment, i) => ({
    ...moment,
    notes: moment.notes.map((note, j) => {
      const finger = fingers[i]![j];
      if (note.held || !finger) return note;
      const chain = (note.into && chains.get(note.string)) ?? new Map<number, Finger>();
      const stays = note.into?.kind === 'pull' ? chain.get(note.fret) : undefined;
      chain.set(note.fret, stays ?? finger);
      chains.set(note.string, chain);
      if (!stays || stays === finger || note.pinned) return note;
      changed = true;
      return { ...note, pinned: stays };
    }),
  }));
  return changed ? pinned : undefined;
}

function solved(
  setup: Setup,
  hand: Hand,
  moments: readonly PassageMoment[],
  goal: 'total' | 'worst',
  prefer: (hold: Hold, moment: number) => number,
): Fingering | undefined {
  const layers = moments.map(moment => holdsOf(setup, hand, moment));
  const change = (from: Hold, to: Hold, layer: number) =>
    holdChange(setup, moments[layer - 1]!, moments[layer]!, from, to);
  const found = (goal === 'worst' ? bestWorstPath : bestPath)(
    layers,
    (hold, layer) => hold.cost - prefer(hold, layer),
    change,
  );
  return (
    found &&
    described(
      setup,
      moments,
      found.path.map((choice, i) => layers[i]![choice]!),
    )
  );
}

/**
 * Fingers as a hand takes them that only looks one moment ahead: at each moment the hold that is easiest to come to.
 * The baseline that the solver is measured against.
 */
export function greedyFingering(
  setup: Setup,
  hand: Hand,
  moments: readonly PassageMoment[],
): Fingering | undefined {
  const chosen: Hold[] = [];
  for (const [layer, moment] of moments.entries()) {
    const holds = holdsOf(setup, hand, moment);
    const before = chosen.at(-1);
    let best: Hold | undefined;
    let least = Number.POSITIVE_INFINITY;
    for (const hold of holds) {
      const cost = hold.cost + (before ? holdChange(setup, moments[layer - 1]!, moment, before, hold) : 0);
      if (cost >= least) continue;
      least = cost;
      best = hold;
    }
    if (!best) return undefined;
    chosen.push(best);
  }
  return described(setup, moments, chosen);
}

function described(setup: Setup, moments: readonly PassageMoment[], holds: readonly Hold[]): Fingering {
  let total = 0;
  let worst = 0;
  for (const [i, hold] of holds.entries()) {
    total += hold.cost;
    if (i === 0) continue;
    const change = holdChange(setup, moments[i - 1]!, moments[i]!, holds[i - 1]!, hold);
    total += change;
    worst = Math.max(worst, change);
  }
  return {
    holds,
    fingers: moments.map(({ notes }, i) =>
      notes.map(note => (note.fret ? fingerOn(holds[i]!.grip, note.string, note.fret) : undefined)),
    ),
    total,
    worst,
  };
}
