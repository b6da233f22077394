/** Small arrangements put together note by note, for tests. */
import { emptyArrangement } from '../arrange';
import type { Setup } from '../instrument';
import type { Arrangement, ScoreNote } from '../score';
import { TICKS_PER_QUARTER } from '../time';
import { blankTune } from '../tune';

/** A note as a test writes it: its length in quarters, its place, and whatever else of a note it needs. */
export type HandNote = { quarters: number; start?: number; measure?: number } & Pick<
  ScoreNote,
  'string' | 'fret'
> &
  Partial<Omit<ScoreNote, 'start'>>;

/**
 * An arrangement in 4/4 and G with just these notes, one after the other where no start (in quarters) is said; their ids
 * are n1, n2 … in their order.
 */
export function handmade({
  setup,
  notes,
  quartersPerMinute = 60,
}: {
  setup: Setup;
  notes: readonly HandNote[];
  quartersPerMinute?: number;
}): Arrangement {
  const measures = 1 + Math.max(0, ...notes.map(note => note.measure ?? 0));
  const tune = blankTune({
    id: 'tune',
    title: 'By hand',
    meter: { beats: 4, unit: 4 },
    key: { tonic: 'G', mode: 'major' },
    quartersPerMinute,
    measures,
  });
  const { instrument, capo } = setup;
  const made = emptyArrangement(tune, { id: 'a', instrument, setup, style: 'fingerstyle', capo });
  let at = 0;
  for (const [index, { quarters, start = at, measure = 0, ...note }] of notes.entries()) {
    at = start + quarters;
    made.measures[measure]!.notes.push({
      id: `n${index + 1}`,
      role: 'melody',
      ...note,
      start: start * TICKS_PER_QUARTER,
      ticks: quarters * TICKS_PER_QUARTER,
    });
  }
  return { ...made, nextId: Math.max(made.nextId, notes.length + 1) };
}
