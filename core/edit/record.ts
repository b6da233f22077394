import type { Draft } from 'immer';
import { IdGiver } from '../identity';
import type { Arrangement } from '../score';

/** Writes a substitution into the ledger, with its measure (from 0). */
export function record(draft: Draft<Arrangement>, measure: number, what: string): void {
  const ids = new IdGiver(draft.nextId);
  draft.ledger.push({ id: ids.give('line'), measures: [draft.measures[measure]!.id], text: what });
  draft.nextId = ids.nextId;
}
