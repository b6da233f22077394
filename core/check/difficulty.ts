/**
 * How hard a measure is to play, as a sum of named parts. Taking notes away never makes a part larger, so an easier
 * level is never harder than a fuller one with the same fingers. The weights are judgement.
 */
import { type Finger, handFactor, handPosition, isBarre, reachBetween, THUMB } from '../hand';
import { fingertipDistance, instrumentOf } from '../instrument';
import { type Arrangement, gripOf, isStruck, momentsOf, type ScoreNote, soundingAt } from '../score';
import { ticksToSeconds } from '../time';

export const DIFFICULTY_PARTS = ['stretch', 'shifts', 'changes', 'barre', 'picking', 'independence'] as const;
export type DifficultyPart = (typeof DIFFICULTY_PARTS)[number];

export interface Difficulty {
  parts: Record<DifficultyPart, number>;
  total: number;
}

const WEIGHT = {
  stretch: 2.2,
  landing: 0.28,
  travelPerMm: 0.008,
  rangePerMm: 0.02,
  crossing: 0.05,
  grace: 0.2,
  barre: 1,
  otherBarre: 1.8,
  picking: 0.35,
  independence: 0.45,
};

/** Positions that lie no further apart are one: fingers make up for it, in mm. Judgement. */
const IN_POSITION = 18;

/**
 * Difficulty of a measure at the arrangement's tempo: the widest stretch along the neck; how far the fingers shift
 * along it a second (a finger rests where it was last) and how far apart its positions lie; how often a second a finger changes its place, grace notes
 * included; the hardest barre; strokes of the plucking hand a second; how often a second more than one voice sounds.
 *
 * @example measureDifficulty(arrangement, 0).parts.barre // 0
 */
export function measureDifficulty(
  arrangement: Pick<Arrangement, 'setup' | 'hand' | 'quartersPerMinute' | 'measures'>,
  index: number,
): Difficulty {
  const { setup, hand } = arrangement;
  const { scaleLength } = instrumentOf(setup);
  const measure = arrangement.measures[index]!;
  const seconds = Math.max(0.2, ticksToSeconds(measure.ticks, arrangement.quartersPerMinute));
  const parts: Difficulty['parts'] = {
    stretch: 0,
    shifts: 0,
    changes: 0,
    barre: 0,
    picking: 0,
    independence: 0,
  };
  const along = (fret: number) => fingertipDistance(scaleLength, fret + setup.capo);
  const rests = new Map<Finger, ScoreNote>();
  let lowest = Number.POSITIVE_INFINITY;
  let highest = Number.NEGATIVE_INFINITY;
  for (const moment of momentsOf(measure, index)) {
    const sounding = soundingAt(measure, moment.start);
    const grip = gripOf(sounding);
    for (const [i, a] of grip.entries()) {
      if (isBarre(a)) parts.barre = Math.max(parts.barre, a.finger === 1 ? WEIGHT.barre : WEIGHT.otherBarre);
      for (const b of grip.slice(i + 1)) {
        if (a.finger === b.finger || a.finger === THUMB || b.finger === THUMB) continue;
        const open = Math.abs(along(a.fret) - along(b.fret)) / reachBetween(hand, a.finger, b.finger).limit;
        parts.stretch = Math.max(parts.stretch, WEIGHT.stretch * open);
      }
    }
    for (const note of moment.notes) {
      parts.changes += ((note.graces?.length ?? 0) * WEIGHT.grace) / seconds;
      if (!note.finger || note.fret === 0 || note.tie) continue;
      const position = handPosition(setup, note.finger, note.fret);
      lowest = Math.min(lowest, position);
      highest = Math.max(highest, position);
      const last = rests.get(note.finger);
      rests.set(note.finger, note);
      if (last && last.fret === note.fret && last.string === note.string) continue;
      const travel = last ? Math.abs(along(last.fret) - along(note.fret)) / handFactor(hand) : 0;
      const crossing = last ? Math.abs(last.string - note.string) : 0;
      parts.shifts += (WEIGHT.travelPerMm * travel) / seconds;
      parts.changes += (WEIGHT.landing + WEIGHT.crossing * crossing) / seconds;
    }
    if (moment.notes.some(isStruck)) parts.picking += WEIGHT.picking / seconds;
    if (new Set(sounding.map(note => note.role)).size > 1)
      parts.independence += WEIGHT.independence / seconds;
  }
  if (highest - lowest > IN_POSITION)
    parts.shifts += (WEIGHT.rangePerMm * (highest - lowest - IN_POSITION)) / seconds;
  return { parts, total: Object.values(parts).reduce((sum, value) => sum + value, 0) };
}

/**
 * Difficulty of a whole arrangement: the mean of its measures, in parts too, and the hardest one (from 0).
 *
 * @param among the measures (from 0) that count; all when left out
 * @example difficultyOf(arrangement).hardest // 1
 */
export function difficultyOf(
  arrangement: Arrangement,
  among: readonly number[] = [...arrangement.measures.keys()],
): {
  mean: number;
  parts: Difficulty['parts'];
  hardest: number;
  worst: number;
} {
  const all = among.map(index => measureDifficulty(arrangement, index));
  const totals = all.map(difficulty => difficulty.total);
  const count = Math.max(1, all.length);
  const parts = Object.fromEntries(
    DIFFICULTY_PARTS.map(part => [part, all.reduce((sum, d) => sum + d.parts[part], 0) / count]),
  ) as Difficulty['parts'];
  const worst = Math.max(0, ...totals);
  return {
    mean: totals.reduce((sum, value) => sum + value, 0) / count,
    parts,
    hardest: among[totals.indexOf(worst)] ?? 0,
    worst,
  };
}
