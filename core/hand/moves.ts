import { fingertipDistance, instrumentOf, noteAt, type Setup, stringName } from '../instrument';
import { FIFTH } from '../pitch';
import { capital, listed } from '../words';
import { type Finger, type FingerPlacement, fingerLabel, fingerName, type Grip, isBarre } from './model';

/** What one finger does between two grips. */
export interface FingerMove {
  finger: Finger;
  kind: 'stays' | 'slides' | 'rolls' | 'moves' | 'lifts' | 'lands';
  from?: FingerPlacement;
  to?: FingerPlacement;
  /** Finger that held the same place before: the two are swapped. */
  takesOver?: Finger;
}

/**
 * How a finger gets from one place to another: it stays, slides along a string that both places share, rolls flat onto
 * a neighbouring string of its fret, or moves.
 *
 * @example travelOf({ finger: 1, fret: 2, from: 3, to: 3 }, { finger: 1, fret: 4, from: 3, to: 3 }) // 'slides'
 */
export function travelOf(from: FingerPlacement, to: FingerPlacement): 'stays' | 'slides' | 'rolls' | 'moves' {
  const sharesString = from.from <= to.to && to.from <= from.to;
  if (sharesString) return from.fret === to.fret ? 'stays' : 'slides';
  const beside = from.to + 1 === to.from || to.to + 1 === from.from;
  return from.fret === to.fret && beside ? 'rolls' : 'moves';
}

/**
 * Whether a finger hops to another string at its own fret: what it held is cut, where another finger could come down.
 *
 * @example hops({ finger: 3, fret: 3, from: 5, to: 5 }, { finger: 3, fret: 3, from: 2, to: 2 }) // true
 */
export function hops(from: FingerPlacement, to: FingerPlacement): boolean {
  return from.fret === to.fret && travelOf(from, to) === 'moves';
}

/** A finger that rolls from one string to the next, and one that crosses another; judgement. */
const ACROSS = { rolls: 0.3, crosses: 0.15 };

/**
 * Effort of going on to the neighbouring string at the same fret, beyond the fingers' own moves: the same finger cuts what it
 * held, and another one lies well where the thinner string is the higher finger's, as in the shape of A (common practice).
 * Nothing on strings a fifth apart, as of a mandolin, where a finger is at home on all of them.
 *
 * @example acrossEffort(standardSetup('guitar'), { finger: 2, fret: 2, from: 3, to: 3 }, { finger: 3, fret: 2, from: 2, to: 2 }) // 0
 */
export function acrossEffort(setup: Setup, from: FingerPlacement, to: FingerPlacement): number {
  if (from.from !== from.to || to.from !== to.to || travelOf(from, to) !== 'rolls') return 0;
  if (Math.abs(noteAt(setup, from.from, 0) - noteAt(setup, to.from, 0)) >= FIFTH) return 0;
  if (from.finger === to.finger) return ACROSS.rolls;
  return from.from > to.from === from.finger < to.finger ? 0 : ACROSS.crosses;
}

const FINGERS: readonly Finger[] = [1, 2, 3, 4, 5, 6];

/**
 * What each finger does between two grips; a finger in neither is not named.
 *
 * @example
 * fingerMoves([{ finger: 1, fret: 2, from: 3, to: 3 }], [{ finger: 1, fret: 4, from: 3, to: 3 }])[0].kind
 * // 'slides'
 */
export function fingerMoves(before: Grip, after: Grip): FingerMove[] {
  const moves: FingerMove[] = [];
  for (const finger of FINGERS) {
    const from = placementOf(before, finger);
    const to = placementOf(after, finger);
    if (from && to) moves.push({ finger, kind: travelOf(from, to), from, to });
    else if (from) moves.push({ finger, kind: 'lifts', from });
    else if (to) moves.push({ finger, kind: 'lands', to });
  }
  for (const move of moves) {
    if (!move.to || move.kind === 'stays') continue;
    const old = before.find(
      p => p.fret === move.to!.fret && p.from === move.to!.from && p.to === move.to!.to,
    );
    if (old && old.finger !== move.finger) move.takesOver = old.finger;
  }
  return moves;
}

/** Weights of finger motion; judgement, in units where holding one more finger costs 1. */
const MOVE = {
  roll: 0.45,
  slide: 0.4,
  slidePerMm: 0.015,
  move: 0.9,
  movePerMm: 0.012,
  land: 0.5,
  lift: 0.05,
};

/**
 * Effort of one finger's move; it lands without a place before, and lifts without one after.
 *
 * @example moveCost(setup, { finger: 1, fret: 2, from: 3, to: 3 }, { finger: 1, fret: 2, from: 3, to: 3 }) // 0
 */
export function moveCost(
  setup: Setup,
  from: FingerPlacement | undefined,
  to: FingerPlacement | undefined,
): number {
  if (!from) return to ? MOVE.land : 0;
  if (!to) return MOVE.lift;
  const kind = travelOf(from, to);
  if (kind === 'stays') return 0;
  if (kind === 'rolls') return MOVE.roll;
  const { scaleLength } = instrumentOf(setup);
  const distance = Math.abs(
    fingertipDistance(scaleLength, to.fret + setup.capo) -
      fingertipDistance(scaleLength, from.fret + setup.capo),
  );
  if (kind === 'slides') return MOVE.slide + MOVE.slidePerMm * distance;
  return MOVE.move + MOVE.movePerMm * distance;
}

/**
 * Effort of going from one grip to another: the sum over the fingers.
 *
 * @example
 * changeEffort(setup, [{ finger: 1, fret: 2, from: 3, to: 3 }], [{ finger: 1, fret: 2, from: 3, to: 3 }])
 * // 0
 */
export function changeEffort(setup: Setup, before: Grip, after: Grip): number {
  let total = 0;
  // Searches ask for it thousands of times: nothing is made for it.
  for (const finger of FINGERS) {
    const from = placementOf(before, finger);
    const to = placementOf(after, finger);
    if (from || to) total += moveCost(setup, from, to);
  }
  return total;
}

function placementOf(grip: Grip, finger: Finger): FingerPlacement | undefined {
  for (const placement of grip) if (placement.finger === finger) return placement;
  return undefined;
}

/** Weights of moving the whole hand along the neck; judgement. The first mm are taken up by the fingers. */
const SHIFT = { shift: 0.8, perMm: 0.03, free: 18 };

/**
 * Effort of shifting the hand from one grip to another: none where a finger stays down, for the others move around it.
 *
 * @param from where the index lies with the first grip, in mm from the nut (see `handPosition`)
 * @param to the same with the second
 * @example shiftEffort([], [], 5, 5) // 0
 */
export function shiftEffort(before: Grip, after: Grip, from: number, to: number): number {
  const beyond = Math.abs(to - from) - SHIFT.free;
  if (beyond <= 0) return 0;
  for (const a of before)
    for (const b of after) if (a.finger === b.finger && travelOf(a, b) === 'stays') return 0;
  return SHIFT.shift + SHIFT.perMm * beyond;
}

/**
 * Fingers that lead a change along their string: they slide and the others follow.
 *
 * @example guideFingers([{ finger: 3, fret: 3, from: 2, to: 2 }], [{ finger: 3, fret: 5, from: 2, to: 2 }]) // [3]
 */
export function guideFingers(before: Grip, after: Grip): Finger[] {
  return fingerMoves(before, after)
    .filter(move => move.kind === 'slides')
    .map(move => move.finger);
}

function placementWords(setup: Pick<Setup, 'tuning'>, placement: FingerPlacement): string {
  if (!isBarre(placement)) return `${stringName(setup, placement.from)}, fret ${placement.fret}`;
  return `strings ${placement.from} to ${placement.to} at fret ${placement.fret}, flat across them`;
}

/**
 * A finger move as a sentence: "Finger 3 slides on string 5, A up to fret 4."
 *
 * @example
 * moveWords(setup, fingerMoves([{ finger: 1, fret: 2, from: 3, to: 3 }], [{ finger: 1, fret: 4, from: 3, to: 3 }])[0])
 * // 'Finger 1 slides on string 3, G up to fret 4.'
 */
export function moveWords(setup: Pick<Setup, 'tuning'>, move: FingerMove): string {
  const name = capital(fingerName(move.finger));
  if (move.takesOver)
    return `${name} takes over from ${fingerName(move.takesOver)} on ${placementWords(setup, move.to!)}.`;
  switch (move.kind) {
    case 'stays':
      if (isBarre(move.to!) && move.to!.to - move.to!.from > move.from!.to - move.from!.from) {
        return `${name} stays and lies flat across strings ${move.to!.from} to ${move.to!.to}.`;
      }
      return `${name} stays.`;
    case 'lifts':
      return `${name} lifts.`;
    case 'slides':
      return `${name} slides on ${stringName(setup, move.to!.from)} ${move.to!.fret > move.from!.fret ? 'up' : 'back'} to fret ${move.to!.fret}.`;
    case 'rolls':
      return `${name} rolls over to ${stringName(setup, move.to!.from)}, at the same fret.`;
    case 'moves':
      return `${name} moves to ${placementWords(setup, move.to!)}.`;
    case 'lands':
      return `${name} lands on ${placementWords(setup, move.to!)}.`;
  }
}

const KEEPS: [FingerMove['kind'], string][] = [
  ['stays', 'keeps'],
  ['slides', 'slides'],
  ['rolls', 'rolls'],
  ['moves', 'moves'],
  ['lands', 'sets'],
  ['lifts', 'lifts'],
];

/**
 * A change in a few words: "keeps 1 and 2, slides 3, lifts 4"; "holds still" where nothing moves.
 *
 * @example
 * changeWords([{ finger: 1, fret: 2, from: 3, to: 3 }], [{ finger: 1, fret: 4, from: 3, to: 3 }])
 * // 'slides 1'
 */
export function changeWords(before: Grip, after: Grip): string {
  const moves = fingerMoves(before, after);
  if (moves.every(move => move.kind === 'stays')) return moves.length ? 'holds still' : 'all strings open';
  const words: string[] = [];
  for (const [kind, verb] of KEEPS) {
    const fingers = moves.filter(move => move.kind === kind).map(move => fingerLabel(move.finger));
    if (!fingers.length) continue;
    words.push(`${verb} ${listed(fingers)}`);
  }
  return words.join(', ');
}
