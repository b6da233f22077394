/** The arranger's second choice in the place of its first. */
import type { Draft } from 'immer';
import { IdGiver } from '../identity';
import { stringName } from '../instrument';
import { type Arrangement, findNote, isStruck, type ScoreMeasure, type ScoreNote } from '../score';
import { solveHands } from './entry';
import { clashOn, place } from './places';

/**
 * Puts what was weighed as next best in the place of a melody note, of a bass, or of the grip whose bass is named. What
 * comes in is pinned and fingered with its measure.
 *
 * @returns why it can't be done
 */
export function takeNextBest(
  draft: Draft<Arrangement>,
  noteId: string,
  before: Arrangement,
): string | undefined {
  const found = findNote(before, noteId);
  if (!found?.note.nextBest) return 'nothing else was weighed there';
  const { note, measure: index } = found;
  const { places } = found.note.nextBest;
  const written = before.measures[index]!;
  const group =
    note.role === 'melody'
      ? [note]
      : written.notes.filter(
          own =>
            own.start === note.start &&
            own.role !== 'melody' &&
            isStruck(own) &&
            (before.style === 'fingerstyle' ? own === note : !own.pinned),
        );
  const taken = (string: number) => `${stringName(before.setup, string)} already sounds at this moment`;
  if (note.role === 'melody') {
    const { string, fret } = places[0]!;
    if (clashOn(before, index, { ...note, string })) return taken(string);
    place(draft, before, note.id, string, fret);
    return undefined;
  }
  const others = written.notes.filter(own => !group.includes(own));
  const sounding = (own: ScoreNote) => own.start <= note.start && own.start + own.ticks > note.start;
  const lies = (own: ScoreNote) => places.some(({ string }) => string === own.string);
  const hit = others.find(
    own => lies(own) && sounding(own) && (own.role === 'melody' || own.start === note.start),
  );
  if (hit) return taken(hit.string);
  const ids = new IdGiver(before.nextId);
  const added = places.map(({ string, fret }, i): ScoreNote => {
    const next = written.notes.filter(own => own.string === string && own.start > note.start);
    const end = Math.min(note.start + note.ticks, ...next.map(own => own.start));
    return {
      id: ids.give('note'),
      role: i === places.length - 1 ? note.role : 'inner',
      start: note.start,
      ticks: end - note.start,
      string,
      fret,
      pinned: true,
      ...(note.tuplets && end === note.start + note.ticks && { tuplets: note.tuplets }),
    };
  });
  const measure: ScoreMeasure = {
    ...written,
    notes: [...written.notes.filter(own => !group.includes(own)).map(own => ({ ...own })), ...added].sort(
      (a, b) => a.start - b.start || a.string - b.string,
    ),
  };
  solveHands(before, index, [measure]);
  draft.measures[index] = measure as Draft<ScoreMeasure>;
  draft.nextId = ids.nextId;
  return undefined;
}
