/** Levels of one arrangement: the same hands with fewer notes. */
import type { Hand } from '../../hand';
import type { Setup } from '../../instrument';
import { LEVELS, type LedgerDraft, type Level, type ScoreMeasure, type ScoreNote } from '../../score';
import { handHolds } from './holdOn';

/**
 * Takes out what a level leaves out of a measure. Melody notes always stay, and so does a note by which a finger lies
 * as a barre, where the hand could not hold the rest without it.
 *
 * @param from the lowest level at which each accompanying note is played; 4 for those not named
 */
export function thinTo(
  level: Level,
  measure: ScoreMeasure,
  from: ReadonlyMap<ScoreNote, Level>,
  setup: Setup,
  hand: Hand,
): void {
  const kept: ScoreNote[] = [];
  const dropped: ScoreNote[] = [];
  for (const note of measure.notes) {
    const stays = note.role === 'melody' || note.pinned || (from.get(note) ?? 4) <= level;
    (stays ? kept : dropped).push(note);
  }
  for (const note of dropped) {
    const barred = kept.some(
      other =>
        note.fret && other.start === note.start && other.fret === note.fret && other.finger === note.finger,
    );
    if (barred && !handHolds(measure, kept, note, setup, hand)) kept.push(note);
  }
  measure.notes = kept;
  if (level < 3) measure.chords = measure.chords.filter(chord => !chord.passing);
}

/**
 * The level of each measure: the highest one, up to `highest`, at which it is no harder than a pupil manages.
 *
 * @param hardest difficulty of a measure at most
 * @param difficultyAt how hard a measure (from 0) is at a level
 * @returns the levels, and what had to be left out or is too hard even so
 */
export function levelsWithin(
  highest: Level,
  hardest: number,
  count: number,
  difficultyAt: (measure: number, level: Level) => number,
): { levels: Level[]; told: LedgerDraft[] } {
  const offered = LEVELS.filter(level => level <= highest).reverse();
  const lowered = new Map<Level, number[]>();
  const tooHard: number[] = [];
  const levels = Array.from({ length: count }, (_, index): Level => {
    const level = offered.find(own => difficultyAt(index, own) <= hardest);
    if (level === undefined) tooHard.push(index);
    const taken = level ?? LEVELS[0];
    if (taken < highest) lowered.set(taken, [...(lowered.get(taken) ?? []), index]);
    return taken;
  });
  const told = [...lowered].map(([level, measures]) => ({
    measures: measures.filter(index => !tooHard.includes(index)),
    text: `only as level ${level} has it: fuller it is harder than ${hardest}`,
  }));
  told.push({ measures: tooHard, text: `harder than ${hardest} even as the melody alone` });
  return { levels, told: told.filter(({ measures }) => measures.length) };
}
