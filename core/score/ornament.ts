import { highestFret, noteAt } from '../instrument';
import { mod12, scaleOf } from '../pitch';
import { change, type History } from './edit';
import { type Arrangement, findNote, type ScoreMeasure, type ScoreNote } from './model';

/** Ornaments made of grace notes on the note's own string: only the first of them is plucked. */
export const ORNAMENTS = ['none', 'hammer', 'pull', 'turn'] as const;
export type Ornament = (typeof ORNAMENTS)[number];

/**
 * The grace frets of an ornament on a note, in its key: a hammer-on from the scale note below, a pull-off from the one
 * above, or a turn over both. Undefined where the string, the neck or the holding finger does not allow it.
 */
export function graceFrets(
  arrangement: Pick<Arrangement, 'setup'>,
  measure: Pick<ScoreMeasure, 'key'>,
  note: ScoreNote,
  ornament: Ornament,
): number[] | undefined {
  if (ornament === 'none') return [];
  const { setup } = arrangement;
  const scale = scaleOf(measure.key);
  const inScale = (fret: number) => scale.includes(mod12(noteAt(setup, note.string, fret)));
  // An open string's own note with a partial capo is no fret below the first one.
  const below = [note.fret - 1, note.fret - 2].find(
    fret => fret >= (setup.capoStrings ? 1 : 0) && inScale(fret),
  );
  const above = [note.fret + 1, note.fret + 2].find(fret => fret <= highestFret(setup) && inScale(fret));
  // The grace needs a finger of its own beside the one that holds the note.
  const lower =
    below !== undefined && note.fret > 0 && (below === 0 || (note.finger ?? 0) > 1) ? below : undefined;
  const upper = above !== undefined && (note.finger ?? 0) < 4 ? above : undefined;
  if (ornament === 'hammer') return lower === undefined ? undefined : [lower];
  if (ornament === 'pull') return upper === undefined ? undefined : [upper];
  return upper === undefined || lower === undefined ? undefined : [note.fret, upper, note.fret, lower];
}

/** Which ornament a note carries: 'none', one of ours, or undefined for grace notes of the source. */
export function ornamentOf(
  arrangement: Pick<Arrangement, 'setup'>,
  measure: Pick<ScoreMeasure, 'key'>,
  note: ScoreNote,
): Ornament | undefined {
  const graces = (note.graces ?? []).join();
  return ORNAMENTS.find(o => graceFrets(arrangement, measure, note, o)?.join() === graces);
}

/** Puts an ornament on a note in place of what it carries, or takes it off. The note is pinned. */
export function setOrnament(history: History, id: string, ornament: Ornament): History | { error: string } {
  const found = findNote(history.present, id);
  if (!found) return { error: 'there is no note here' };
  const measure = history.present.measures[found.measure]!;
  const graces = graceFrets(history.present, measure, found.note, ornament);
  if (!graces) return { error: `no finger is free on string ${found.note.string} for that ornament` };
  return change(history, ornament === 'none' ? 'ornament taken off' : ornament, draft => {
    const note = findNote(draft as Arrangement, id)!.note as { graces?: number[]; pinned?: boolean };
    if (graces.length) note.graces = graces;
    else delete note.graces;
    note.pinned = true;
  });
}
