/** How single notes are sounded: edits that a teacher makes by hand. */
import { change, type History } from './edit';
import { type Arrangement, findNote, type Into, type Pluck, type ScoreNote } from './model';

/** The note that sounds on a string up to where another begins on it: what it can be hammered, pulled or slid out of. */
export function noteBefore(
  arrangement: Pick<Arrangement, 'measures'>,
  measure: number,
  note: ScoreNote,
): ScoreNote | undefined {
  const endsHere = (other: ScoreNote, end: number) =>
    other.string === note.string && other.id !== note.id && other.start + other.ticks === end;
  const own = arrangement.measures[measure]!;
  if (note.start > 0) return own.notes.find(n => endsHere(n, note.start));
  const before = arrangement.measures[measure - 1];
  return before?.notes.find(n => endsHere(n, before.ticks));
}

/** Why a note can't be sounded so out of the one before it; undefined when it can. */
export function intoFault(before: ScoreNote | undefined, note: ScoreNote, into: Into): string | undefined {
  if (!before || before.dead) return 'no note sounds on its string up to it';
  if (into === 'hammer' && before.fret >= note.fret) return 'a hammer-on goes to a higher fret';
  if (into === 'pull' && before.fret <= note.fret) return 'a pull-off goes to a lower fret';
  if (into === 'slide' && (!before.fret || !note.fret)) return 'an open string is no end of a slide';
  if (into === 'slide' && before.fret === note.fret) return 'a slide goes to another fret';
  return undefined;
}

/** Changes one note and pins it. */
function withNote(history: History, id: string, label: string, recipe: (note: ScoreNote) => void): History {
  return change(history, label, draft => {
    const note = findNote(draft as Arrangement, id)!.note;
    recipe(note);
    note.pinned = true;
  });
}

/** Lets the fretting hand sound a note, or has it plucked again. */
export function setInto(history: History, id: string, into: Into | undefined): History | { error: string } {
  const found = findNote(history.present, id);
  if (!found) return { error: 'there is no note here' };
  const fault = into && intoFault(noteBefore(history.present, found.measure, found.note), found.note, into);
  if (fault) return { error: fault };
  return withNote(history, id, into ?? 'plucked', note => {
    if (into) {
      note.into = into;
      delete note.pluck;
      delete note.pluckPinned;
    } else delete note.into;
  });
}

/**
 * Sets the plucking finger or stroke of a note: an exception to the school that is left alone until it is given back.
 *
 * @param pluck undefined gives the note back to its school
 */
export function setPluck(
  history: History,
  id: string,
  pluck: Pluck | undefined,
): History | { error: string } {
  const found = findNote(history.present, id);
  if (!found) return { error: 'there is no note here' };
  if (found.note.tied || found.note.into) return { error: 'this note is not plucked' };
  return change(history, pluck ? `plucked by ${pluck}` : 'plucked as the school has it', draft => {
    const { note } = findNote(draft as Arrangement, id)!;
    if (pluck) {
      note.pluck = pluck;
      note.pluckPinned = true;
    } else delete note.pluckPinned;
  });
}

/** Accents a note or takes the accent off. */
export function setAccent(history: History, id: string, accent: boolean): History | { error: string } {
  if (!findNote(history.present, id)) return { error: 'there is no note here' };
  return withNote(history, id, accent ? 'accent' : 'accent taken off', note => {
    if (accent) note.accent = true;
    else delete note.accent;
  });
}
