/** Edits carried to the twins of their measure: the same done wherever the same is played. */
import { twinsOf } from '../compare';
import { joinLast, startHistory } from '../history';
import { type Arrangement, findNote, measureIndex } from '../score';
import { applyEdit, type History } from './apply';
import type { Edit } from './definition';

/** What the step is called. */
const CARRIED = 'the same in measures that were alike';

/** Kinds of edits of a measure as a whole that can be done in another one just so. */
const OF_MEASURES = new Set<Edit['kind']>(['insert', 'chord', 'rest', 'refinger', 'fingers']);

/**
 * The measure that an edit is about, where it could be carried to a twin of it; undefined where it stands for itself.
 *
 * @example editedMeasure(arrangement, { kind: 'fret', ids: ['none'], values: { fret: 3 } }) // undefined
 */
export function editedMeasure(arrangement: Arrangement, edit: Edit): number | undefined {
  if (OF_MEASURES.has(edit.kind)) {
    const index = edit.ids.length === 1 ? measureIndex(arrangement, edit.ids[0]!) : -1;
    return index < 0 ? undefined : index;
  }
  const places = new Set(edit.ids.map(id => findNote(arrangement, id)?.measure));
  const [only] = places;
  return places.size === 1 ? only : undefined;
}

/**
 * The measures (by id) that were played just as the measure of an edit, before it was done: its twins.
 *
 * @example twinsFor(arrangement, { kind: 'fret', ids: ['none'], values: { fret: 3 } }) // []
 */
export function twinsFor(arrangement: Arrangement, edit: Edit): string[] {
  const index = editedMeasure(arrangement, edit);
  return index === undefined ? [] : twinsOf(arrangement, index).map(twin => arrangement.measures[twin]!.id);
}

/** An edit of one measure as it is done in another one; undefined where a note has no counterpart there. */
function mapped(own: Arrangement, edit: Edit, other: Arrangement, twin: string): Edit | undefined {
  const from = editedMeasure(own, edit);
  const to = measureIndex(other, twin);
  if (from === undefined || to < 0) return undefined;
  const counterpart = (id: string) => {
    const note = findNote(own, id)?.note;
    return (
      note && other.measures[to]!.notes.find(n => n.start === note.start && n.string === note.string)?.id
    );
  };
  if (edit.kind === 'fingers') {
    const fingers = Object.entries(edit.values.fingers).map(([id, finger]) => [counterpart(id), finger]);
    if (fingers.some(([id]) => id === undefined)) return undefined;
    return { ...edit, ids: [twin], values: { fingers: Object.fromEntries(fingers) } };
  }
  if (OF_MEASURES.has(edit.kind)) return { ...edit, ids: [twin] };
  const ids = edit.ids.map(counterpart);
  return ids.includes(undefined) ? undefined : { ...edit, ids: ids as string[] };
}

/**
 * Does in other measures what was done in one, as one step of its own.
 *
 * @param history with the edits done
 * @param before the arrangement as it was before them
 * @param edits as they were done, one after the other, in the one measure
 * @param twins ids of the measures that they are carried to
 * @returns the history, and the measures (by id) in which something could not be done, with the reason
 */
export function carryOver(
  history: History,
  before: Arrangement,
  edits: readonly Edit[],
  twins: readonly string[],
): { history: History; left: { measure: string; why: string }[] } {
  let present = history;
  const steps = history.past.length;
  // All that is carried over is taken back at once.
  const joined = (next: History): History => (next.past.length > steps + 1 ? joinLast(next, CARRIED) : next);
  const left: { measure: string; why: string }[] = [];
  for (const twin of twins) {
    // What each edit was about is known by the state that it was done in.
    let own = startHistory(before);
    let now = present;
    let why: string | undefined;
    for (const edit of edits) {
      const there = mapped(own.present, edit, now.present, twin);
      const result = there ? applyEdit(now, there) : { error: 'there is no such note there' };
      if ('error' in result) {
        why = result.error;
        break;
      }
      now = joined(result);
      const done = applyEdit(own, edit);
      if (!('error' in done)) own = done;
    }
    if (why) left.push({ measure: twin, why });
    else present = now;
  }
  return { history: present, left };
}
