/** Measures that come and go. */
import type { Draft } from 'immer';
import { IdGiver } from '../identity';
import { type Arrangement, measureIndex, type ScoreMeasure } from '../score';
import { measureTicks } from '../time';

/** Measures that can be put in at once. */
const MOST_ADDED = 400;

/**
 * Puts empty measures in before or after one, in its meter and key.
 *
 * @returns why it can't be done
 */
export function addMeasures(
  draft: Draft<Arrangement>,
  measureId: string,
  { count, before: inFront }: { count: number; before: boolean },
  present: Arrangement,
): string | undefined {
  const index = measureIndex(present, measureId);
  const beside = present.measures[index];
  if (!beside) return 'there is no such measure';
  if (!Number.isInteger(count) || count < 1 || count > MOST_ADDED)
    return `1 to ${MOST_ADDED} measures can be put in at once`;
  const ids = new IdGiver(present.nextId);
  const { meter, key, ending } = beside;
  const made = Array.from(
    { length: count },
    (): ScoreMeasure => ({
      id: ids.give('measure'),
      meter,
      key,
      ticks: measureTicks(meter),
      offset: 0,
      ...(ending && { ending }),
      chords: [],
      words: [],
      notes: [],
    }),
  );
  const own = draft.measures[index]!;
  const first = made[0]!;
  const last = made[made.length - 1]!;
  // What stands at the edge of a part stays at its edge.
  if (inFront) {
    if (own.section) {
      first.section = own.section;
      delete own.section;
    }
    if (own.repeatStart) {
      first.repeatStart = true;
      delete own.repeatStart;
    }
  } else {
    for (const field of ['repeatEnd', 'passes', 'barline'] as const)
      if (own[field] !== undefined) {
        Object.assign(last, { [field]: own[field] });
        delete own[field];
      }
  }
  draft.measures.splice(inFront ? index : index + 1, 0, ...(made as Draft<ScoreMeasure>[]));
  draft.nextId = ids.nextId;
  return undefined;
}

/**
 * Takes measures out; what they held at the edge of a part goes to the measure beside.
 *
 * @returns why it can't be done
 */
export function removeMeasures(
  draft: Draft<Arrangement>,
  measureIds: readonly string[],
  present: Arrangement,
): string | undefined {
  const gone = new Set(measureIds);
  if (!present.measures.some(measure => gone.has(measure.id))) return 'there is no such measure';
  if (present.measures.every(measure => gone.has(measure.id))) return 'one measure has to stay';
  for (const [index, measure] of present.measures.entries()) {
    if (!gone.has(measure.id)) continue;
    const next = draft.measures.slice(index + 1).find(m => !gone.has(m.id));
    const previous = draft.measures.slice(0, index).findLast(m => !gone.has(m.id));
    if (measure.section && next && !next.section) next.section = { ...measure.section };
    if (measure.repeatStart && next) next.repeatStart = true;
    if (measure.repeatEnd && previous) {
      previous.repeatEnd = true;
      if (measure.passes) previous.passes = measure.passes;
    }
    if (measure.barline && previous && !previous.barline) previous.barline = measure.barline;
  }
  draft.measures = draft.measures.filter(measure => !gone.has(measure.id));
  const sections = new Set(draft.measures.map(measure => measure.section?.id));
  if (draft.order) {
    draft.order = draft.order.filter(id => sections.has(id));
    if (!draft.order.length) delete draft.order;
  }
  draft.ledger = draft.ledger.filter(
    line => !line.measures.length || line.measures.some(id => !gone.has(id)),
  );
  return undefined;
}
