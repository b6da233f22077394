/** Short hands of single edits for tests. */
import { applyEdit, type Edit, type EditKind, type EditValues, type History } from '../edit';

/** Does an edit of one note, or says why not. */
export function edit<K extends EditKind>(
  history: History,
  kind: K,
  id: string,
  values: EditValues[K],
): History | { error: string } {
  return applyEdit(history, { kind, ids: [id], values } as unknown as Edit);
}

/** The history after an edit that must succeed. */
export function done(result: History | { error: string }): History {
  if ('error' in result) throw new Error(result.error);
  return result;
}
