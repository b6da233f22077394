/**
 * A record with its past and future, so that every step can be taken back: steps are patches both ways.
 */
import {
  applyPatches,
  type Draft,
  enablePatches,
  type Objectish,
  type Patch,
  produceWithPatches,
} from 'immer';

enablePatches();

export interface History<T> {
  present: T;
  past: Step[];
  future: Step[];
}

export interface Step {
  /** What it did, for people: "fret 3 on string 2". */
  label: string;
  patches: Patch[];
  inverse: Patch[];
}

/**
 * A history with nothing to undo.
 *
 * @example startHistory(1).present // 1
 */
export function startHistory<T>(present: T): History<T> {
  return { present, past: [], future: [] };
}

/**
 * Applies a change. A recipe that changes nothing leaves the history as it was.
 *
 * @example change(startHistory({ a: 1 }), 'more', draft => { draft.a = 2; }).present // { a: 2 }
 */
export function change<T extends Objectish>(
  history: History<T>,
  label: string,
  recipe: (draft: Draft<T>) => void,
): History<T> {
  const [present, patches, inverse] = produceWithPatches(history.present, draft => recipe(draft as Draft<T>));
  if (!patches.length) return history;
  const step: Step = { label, patches, inverse };
  return { present: present as T, past: [...history.past, step], future: [] };
}

/**
 * Joins the newest step to the one before it: what one action did in two changes is taken back at once.
 *
 * @param label of the whole step; of the newest one where left out
 * @example
 * joinLast(change(change(startHistory({ a: 1 }), 'one', d => { d.a = 2; }), 'two', d => { d.a = 3; })).past.length
 * // 1
 */
export function joinLast<T>(history: History<T>, label?: string): History<T> {
  const [before, last] = history.past.slice(-2);
  if (!before || !last) return history;
  const step: Step = {
    label: label ?? last.label,
    patches: [...before.patches, ...last.patches],
    inverse: [...last.inverse, ...before.inverse],
  };
  return { ...history, past: [...history.past.slice(0, -2), step] };
}

/**
 * The state before the last step; the very same history where there is nothing to undo.
 *
 * @example undo(startHistory(1)).present // 1
 */
export function undo<T extends Objectish>(history: History<T>): History<T> {
  const step = history.past[history.past.length - 1];
  if (!step) return history;
  return {
    present: applyPatches(history.present, step.inverse),
    past: history.past.slice(0, -1),
    future: [...history.future, step],
  };
}

/**
 * The state after the step that was undone last; the very same history where there is none.
 *
 * @example redo(startHistory(1)).present // 1
 */
export function redo<T extends Objectish>(history: History<T>): History<T> {
  const step = history.future[history.future.length - 1];
  if (!step) return history;
  return {
    present: applyPatches(history.present, step.patches),
    past: [...history.past, step],
    future: history.future.slice(0, -1),
  };
}
