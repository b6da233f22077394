/** A shape that stays down: what lies in it rings on. */
import type { Draft } from 'immer';
import {
  type Arrangement,
  dropTechniques,
  has,
  isDead,
  measureIndex,
  putTechnique,
  type ScoreMeasure,
  type ScoreNote,
  scoreChordAt,
} from '../score';

/**
 * The notes of a measure that lie in the shape held there: that of its chord, and every string that is stopped at one
 * fret all through the measure (or sounds open).
 */
function inShape(arrangement: Arrangement, index: number): ScoreNote[] {
  const { notes }: ScoreMeasure = arrangement.measures[index]!;
  const played = new Map<number, Set<number>>();
  for (const { string, fret } of notes) played.set(string, (played.get(string) ?? new Set()).add(fret));
  return notes.filter(note => {
    if (isDead(note)) return false;
    const frets = scoreChordAt(arrangement, index, note.start)?.frets;
    return frets ? frets[note.string - 1] === note.fret : played.get(note.string)!.size === 1;
  });
}

/** Lets what lies in the shapes of measures ring on, or no longer. @returns why it can't be done */
export function holdShape(
  draft: Draft<Arrangement>,
  measureIds: readonly string[],
  on: boolean,
  before: Arrangement,
): string | undefined {
  const indexes = measureIds.map(id => measureIndex(before, id)).filter(index => index >= 0);
  if (!indexes.length) return 'there is no such measure';
  let touched = 0;
  for (const index of indexes)
    for (const { id } of inShape(before, index)) {
      const note = draft.measures[index]!.notes.find(own => own.id === id)!;
      if (has(note, 'let-ring') === on) continue;
      if (on) putTechnique(note, { kind: 'let-ring' });
      else dropTechniques(note, ['let-ring']);
      note.pinned = true;
      touched += 1;
    }
  if (touched) return undefined;
  return on ? 'nothing here lies in a shape that could stay down' : 'no shape stays down here';
}
