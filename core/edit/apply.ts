/** Doing an edit. */
import { current, type Draft, isDraft } from 'immer';
import { change, type History as HistoryOf } from '../history';
import { type Arrangement, findNote, linksOf, mendLinks, type ScoreMeasure, type ScoreNote } from '../score';
import type { Edit } from './definition';
import { draftNote } from './places';
import { EDITS } from './registry';

/** An arrangement with its past and future. */
export type History = HistoryOf<Arrangement>;

/** What the registry says of one kind, with the kind itself forgotten. */
interface AnyDefinition {
  label: (edit: Edit, arrangement: Arrangement) => string;
  fault?: (
    arrangement: Arrangement,
    found: ReturnType<typeof findNote>,
    values: Edit['values'],
  ) => string | undefined;
  moves?: true | 'all' | ((edit: Edit, before: Arrangement) => readonly string[]);
  each?: (
    draft: Draft<Arrangement>,
    found: NonNullable<ReturnType<typeof findNote>>,
    values: Edit['values'],
    before: Arrangement,
  ) => void;
  all?: (draft: Draft<Arrangement>, edit: Edit, before: Arrangement) => string | undefined;
}

/**
 * Does an edit, or says why it can't be done. What it did is one step, which `undo` takes back.
 *
 * `applyEdit(history, { kind: 'fret', ids: ['n12'], values: { fret: 3 } })` gives the history with the fret set, or
 * `{ error: 'fret 30 is not on this neck: it has frets 0 to 19 from the capo' }`.
 *
 * @example
 * applyEdit(startHistory(arrangement), { kind: 'pin', ids: ['none'], values: { pinned: true } })
 * // { error: 'there is no note here' }
 */
export function applyEdit(history: History, edit: Edit): History | { error: string } {
  const { label, fault, each, all, moves } = EDITS[edit.kind] as unknown as AnyDefinition;
  const before = history.present;
  if (each) {
    if (!edit.ids.length) return { error: 'there is no note here' };
    for (const id of edit.ids) {
      const found = findNote(before, id);
      if (!found) return { error: 'there is no note here' };
      const why = fault?.(before, found, edit.values);
      if (why) return { error: why };
    }
  }
  let error: string | undefined;
  const after = change(history, label(edit, before), draft => {
    if (all) error = all(draft, edit, before);
    // Places are looked up in the plain record: in a draft every measure passed over would cost a proxy.
    else
      for (const id of edit.ids) {
        const { measure } = findNote(before, id)!;
        const note = draftNote(draft, measure, id);
        if (note) each!(draft, { measure, note: note as ScoreNote }, edit.values, before);
      }
    if (error !== undefined || !moves) return;
    if (moves === 'all') relinkAll(draft);
    else relink(draft, before, moves === true ? edit.ids : moves(edit, before));
  });
  return error === undefined ? after : { error };
}

/**
 * Why an edit can't be done; undefined when it can, as far as can be told without doing it.
 *
 * @example
 * editFault(arrangement, { kind: 'fret', ids: [arrangement.measures[0].notes[0].id], values: { fret: 99 } })
 * // 'fret 99 is not on this neck: it has frets 0 to 19 from the capo'
 */
export function editFault(arrangement: Arrangement, edit: Edit): string | undefined {
  const { fault } = EDITS[edit.kind] as unknown as AnyDefinition;
  for (const id of edit.ids) {
    const found = findNote(arrangement, id);
    const why = found && fault?.(arrangement, found, edit.values);
    if (why) return why;
  }
  return undefined;
}

/** Ids of the notes of a measure and of those they are linked to; kept while it stays the same, as an edit changes one of hundreds. */
const named = new WeakMap<ScoreMeasure, ReadonlySet<string>>();
function idsIn(measure: ScoreMeasure): ReadonlySet<string> {
  const ids = named.get(measure) ?? new Set(measure.notes.flatMap(note => [note.id, ...linksOf(note)]));
  named.set(measure, ids);
  return ids;
}

/** Puts the links of notes right that were moved or taken out, and of those that lead to them. */
function relink(draft: Draft<Arrangement>, before: Arrangement, ids: readonly string[]): void {
  const touched = new Set<number>();
  for (const [index, measure] of before.measures.entries()) {
    const own = idsIn(measure);
    if (ids.some(id => own.has(id))) touched.add(index);
  }
  const view = [...before.measures];
  for (const index of touched) {
    const measure = draft.measures[index]!;
    const now = (isDraft(measure) ? current(measure) : measure) as ScoreMeasure;
    view[index] = { ...now, notes: now.notes.map(note => ({ ...note })) };
  }
  mendLinks(view, touched);
  for (const index of touched) takeLinks(draft, index, view[index]!);
}

/** Puts all links right, after measures came or went. */
function relinkAll(draft: Draft<Arrangement>): void {
  const view = (current(draft) as Arrangement).measures.map(measure => ({
    ...measure,
    notes: measure.notes.map(note => ({ ...note })),
  }));
  mendLinks(view);
  for (const [index, measure] of view.entries()) takeLinks(draft, index, measure);
}

/** Takes over the links of a measure's notes where they are others now. */
function takeLinks(draft: Draft<Arrangement>, index: number, mended: ScoreMeasure): void {
  for (const [i, note] of mended.notes.entries()) {
    const own = draft.measures[index]!.notes[i]!;
    for (const field of ['tie', 'techniques', 'slurs'] as const) {
      if (note[field] === undefined) delete own[field];
      else if (JSON.stringify(own[field]) !== JSON.stringify(note[field]))
        Object.assign(own, { [field]: note[field] });
    }
  }
}
