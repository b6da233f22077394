import { useCallback, useMemo, useState } from 'react';
import { carryOver, type Edit, editedMeasure, type History, twinsFor } from '#core/edit';
import type { Arrangement } from '#core/score';
import { measureNumbers } from '#core/tune';

/** What was done in a measure that others were just like. */
interface Offer {
  /** Before the first of the edits. */
  before: Arrangement;
  measure: string;
  edits: Edit[];
  /** Ids of the measures that were alike. */
  twins: string[];
}

const NONE: readonly string[] = [];
const NO_PLACES: readonly number[] = [];

/** Keeps what is done in a measure that others are just like, so that it can be done there too. */
export function useTwins(arrangement: Arrangement) {
  const [offer, setOffer] = useState<Offer>();
  /** Ids of the measures in which the same could be done. */
  const twins = useMemo(() => {
    if (!offer) return NONE;
    const byId = new Map(arrangement.measures.map(measure => [measure.id, measure]));
    const known = new Map(offer.before.measures.map(measure => [measure.id, measure]));
    if (byId.get(offer.measure) === known.get(offer.measure)) return NONE;
    // A twin that was changed meanwhile is none any more.
    return offer.twins.filter(id => byId.has(id) && byId.get(id) === known.get(id));
  }, [offer, arrangement]);

  /** Remembers an edit that was done. */
  const note = useCallback((before: Arrangement, edit: Edit) => {
    setOffer(present => {
      const index = editedMeasure(before, edit);
      const measure = index === undefined ? undefined : before.measures[index]!.id;
      if (measure !== undefined && present?.measure === measure)
        return { ...present, edits: [...present.edits, edit] };
      const found = measure === undefined ? [] : twinsFor(before, edit);
      return found.length ? { before, measure: measure!, edits: [edit], twins: found } : undefined;
    });
  }, []);
  const forget = useCallback(() => setOffer(undefined), []);
  /** Does the same in the twins; tells what could not be done. */
  const carry = (history: History): { history: History; message: string } => {
    if (!offer || !twins.length) return { history, message: '' };
    const { history: carried, left } = carryOver(history, offer.before, offer.edits, twins);
    const numbers = measureNumbers(arrangement.measures);
    const numberOf = (id: string) => numbers[arrangement.measures.findIndex(m => m.id === id)];
    return {
      history: carried,
      message: left.map(({ measure, why }) => `Not in measure ${numberOf(measure)}: ${why}.`).join(' '),
    };
  };
  return {
    /** Places of the measures in which the same could be done. */
    places: useMemo(() => {
      const alike = new Set(twins);
      return alike.size
        ? arrangement.measures.flatMap((m, index) => (alike.has(m.id) ? [index] : []))
        : NO_PLACES;
    }, [twins, arrangement]),
    note,
    forget,
    carry,
  };
}
