import { fingertipDistance, INSTRUMENTS, type Setup } from '../instrument';
import type { Finger, FingerPlacement, Grip } from './model';

/** What one finger does between two grips. */
export interface FingerMove {
  finger: Finger;
  kind: 'stays' | 'slides' | 'moves' | 'lifts' | 'lands';
  from?: FingerPlacement;
  to?: FingerPlacement;
}

/** What each finger does between two grips; a finger in neither is not named. */
export function fingerMoves(before: Grip, after: Grip): FingerMove[] {
  const moves: FingerMove[] = [];
  for (const finger of [1, 2, 3, 4] as Finger[]) {
    const from = before.find(p => p.finger === finger);
    const to = after.find(p => p.finger === finger);
    if (from && to) {
      const sharesString = from.from <= to.to && to.from <= from.to;
      const kind = from.fret === to.fret && sharesString ? 'stays' : sharesString ? 'slides' : 'moves';
      moves.push({ finger, kind, from, to });
    } else if (from) moves.push({ finger, kind: 'lifts', from });
    else if (to) moves.push({ finger, kind: 'lands', to });
  }
  return moves;
}

/** Weights of finger motion; judgement, in units where holding one more finger costs 1. */
const MOVE = { slide: 0.4, slidePerMm: 0.015, move: 0.9, movePerMm: 0.012, land: 0.5, lift: 0.05 };

/** Effort of one finger's move. */
export function moveCost(setup: Setup, kind: FingerMove['kind'], fromFret: number, toFret: number): number {
  if (kind === 'stays') return 0;
  if (kind === 'lands') return MOVE.land;
  if (kind === 'lifts') return MOVE.lift;
  const { scaleLength } = INSTRUMENTS[setup.instrument];
  const distance = Math.abs(
    fingertipDistance(scaleLength, toFret + setup.capo) -
      fingertipDistance(scaleLength, fromFret + setup.capo),
  );
  return kind === 'slides' ? MOVE.slide + MOVE.slidePerMm * distance : MOVE.move + MOVE.movePerMm * distance;
}

/** Effort of going from one grip to another: the sum over the fingers. */
export function transitionCost(setup: Setup, before: Grip, after: Grip): number {
  return fingerMoves(before, after).reduce(
    (sum, move) => sum + moveCost(setup, move.kind, move.from?.fret ?? 0, move.to?.fret ?? 0),
    0,
  );
}
