/**
 * How hard a measure is to play, as a sum of named parts. Taking notes away never makes a part larger, so an easier
 * level is never harder than a fuller one with the same fingers. The weights are judgement.
 */
import { fingerMoves, isBarre, moveCost, strainOf, stretchOf } from '../hand';
import { type Arrangement, gripOf, momentsOf, soundingAt } from '../score';
import { ticksToSeconds } from '../time';

export type DifficultyPart = 'stretch' | 'moves' | 'barre' | 'picking' | 'independence';

export interface Difficulty {
  parts: Record<DifficultyPart, number>;
  total: number;
}

const WEIGHT = {
  stretch: 2,
  strainPerMm: 0.06,
  moves: 0.5,
  barre: 1,
  otherBarre: 1.8,
  picking: 0.35,
  independence: 0.45,
};

/**
 * Difficulty of a measure at the arrangement's tempo: the widest stretch, finger travel a second, the hardest barre,
 * strokes a second, and how often a second more than one voice sounds.
 */
export function measureDifficulty(arrangement: Arrangement, index: number): Difficulty {
  const { setup, hand } = arrangement;
  const measure = arrangement.measures[index]!;
  const seconds = Math.max(0.2, ticksToSeconds(measure.ticks, arrangement.quartersPerMinute));
  const parts: Difficulty['parts'] = { stretch: 0, moves: 0, barre: 0, picking: 0, independence: 0 };
  let before: ReturnType<typeof gripOf> | undefined;
  for (const moment of momentsOf(measure, index)) {
    const sounding = soundingAt(measure, moment.start);
    const grip = gripOf(sounding);
    const { widest, limit } = stretchOf(setup, hand, grip);
    parts.stretch = Math.max(
      parts.stretch,
      (WEIGHT.stretch * widest) / limit + WEIGHT.strainPerMm * strainOf(setup, hand, grip),
    );
    for (const placement of grip)
      if (isBarre(placement))
        parts.barre = Math.max(parts.barre, placement.finger === 1 ? WEIGHT.barre : WEIGHT.otherBarre);
    for (const move of fingerMoves(before ?? [], grip))
      parts.moves +=
        (WEIGHT.moves * moveCost(setup, move.kind, move.from?.fret ?? 0, move.to?.fret ?? 0)) / seconds;
    before = grip;
    if (moment.notes.some(note => !note.tied)) parts.picking += WEIGHT.picking / seconds;
    if (new Set(sounding.map(note => note.voice)).size > 1)
      parts.independence += WEIGHT.independence / seconds;
  }
  return { parts, total: Object.values(parts).reduce((sum, value) => sum + value, 0) };
}

/** Difficulty of a whole arrangement: the mean of its measures and the hardest one (from 0). */
export function difficultyOf(arrangement: Arrangement): { mean: number; hardest: number; worst: number } {
  const totals = arrangement.measures.map((_, index) => measureDifficulty(arrangement, index).total);
  const worst = Math.max(0, ...totals);
  return {
    mean: totals.reduce((sum, value) => sum + value, 0) / Math.max(1, totals.length),
    hardest: Math.max(0, totals.indexOf(worst)),
    worst,
  };
}
