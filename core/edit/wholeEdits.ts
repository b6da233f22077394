/** Edits of the piece as a whole: its name and feel, other states of it, other ways to play a passage. */
import type { Draft } from 'immer';
import { BAR, type Finger } from '../hand';
import { type Arrangement, isDead, type LedgerLine, mendLinks, type ScoreMeasure } from '../score';
import { measureNumbers } from '../tune';
import type { Definitions } from './definition';
import { solveHands } from './entry';
import { dropVariant, keepVariant, nameFault, swapVariant } from './variants';

const variantName = ({ variants }: Arrangement, id: string) =>
  variants?.find(variant => variant.id === id)?.name ?? 'variant';

/** Measures in which nothing differs stay the very same records, so that what shows them need not draw again. */
function takeMeasures(
  draft: Draft<Arrangement>,
  measures: readonly ScoreMeasure[],
  before: Arrangement,
): void {
  const present = new Map(before.measures.map((measure, index) => [JSON.stringify(measure), index]));
  const own = [...draft.measures];
  draft.measures = measures.map(measure => {
    const same = present.get(JSON.stringify(measure));
    return same === undefined ? (measure as Draft<ScoreMeasure>) : own[same]!;
  });
}

/** A proposal's measures. What is made anew knows nothing of the teacher's remarks: they stay with their measures. */
function withRemarks(proposal: Arrangement, before: Arrangement): ScoreMeasure[] {
  const remarks = new Map(before.measures.map(measure => [measure.id, measure.remarks]));
  return proposal.measures.map(measure => {
    const own = measure.remarks ?? remarks.get(measure.id);
    return own ? { ...measure, remarks: own } : measure;
  });
}

/**
 * Takes some measures of a proposal; all else stays as it is.
 *
 * @returns why it can't be done
 */
function takeOnly(
  draft: Draft<Arrangement>,
  proposal: Arrangement,
  only: readonly string[],
  before: Arrangement,
): string | undefined {
  const strings = ({ setup, octaveShift, transposition }: Arrangement) =>
    JSON.stringify([setup, octaveShift, transposition]);
  if (strings(proposal) !== strings(before)) return 'it lies on other strings: take the whole of it';
  const wanted = withRemarks(proposal, before).filter(({ id }) => only.includes(id));
  const measures = before.measures.map((measure): ScoreMeasure => {
    const taken = wanted.find(({ id }) => id === measure.id) ?? measure;
    return { ...taken, notes: taken.notes.map(note => ({ ...note })) };
  });
  const tied = (measure: ScoreMeasure) =>
    measure.notes.filter(note => note.tie && note.role === 'melody').length;
  const ties = measures.map(tied);
  mendLinks(measures);
  const torn = measures.findIndex((measure, index) => tied(measure) < ties[index]!);
  if (torn >= 0) {
    const numbers = measureNumbers(before.measures);
    return `a note is tied from measure ${numbers[torn - 1]} into ${numbers[torn]} and would change its string: take both`;
  }
  const isTaken = (line: LedgerLine) =>
    line.measures.length > 0 && line.measures.every(id => wanted.some(measure => measure.id === id));
  draft.ledger = [...before.ledger.filter(line => !isTaken(line)), ...proposal.ledger.filter(isTaken)];
  draft.nextId = Math.max(proposal.nextId, before.nextId);
  takeMeasures(draft, measures, before);
  return undefined;
}

/** What is done to the whole. */
export const WHOLE_EDITS: Definitions<
  | 'feel'
  | 'slide-bar'
  | 'take'
  | 'name'
  | 'restore'
  | 'keep-variant'
  | 'swap-variant'
  | 'drop-variant'
  | 'last-variant'
> = {
  feel: {
    name: 'Feel',
    on: 'whole',
    label: ({ values }) => `${values.feel} feel`,
    all: (draft, { values: { feel } }) => {
      if (feel === 'straight') delete draft.feel;
      else draft.feel = feel;
      return undefined;
    },
  },
  'slide-bar': {
    name: 'Played with a bar on the strings',
    on: 'whole',
    label: ({ values }) => (values.on ? 'played with a bar' : 'played with fingers'),
    all: (draft, { values: { on } }, before) => {
      if (on === (before.hand.slide === true))
        return on ? 'it is played with a bar' : 'it is played with fingers';
      const { slide: _slide, ...fingers } = before.hand;
      const hand = on ? { ...fingers, slide: true } : fingers;
      const measures = before.measures.map(measure => ({
        ...measure,
        notes: measure.notes.map(note => {
          // Another hand: what was said of fingers says nothing any more.
          const { finger: _finger, fingerPinned: _pinned, ...rest } = note;
          return note.fret > 0 && on && !isDead(note) ? { ...rest, finger: BAR as Finger } : rest;
        }),
      }));
      if (!on) solveHands({ ...before, hand, measures: [] }, 0, measures);
      draft.hand = hand;
      draft.measures = measures as Draft<ScoreMeasure>[];
      return undefined;
    },
  },
  take: {
    name: 'Take a proposal over',
    on: 'whole',
    label: ({ values }) => values.what,
    all: (draft, { values: { proposal, only } }, before) => {
      if (only) return takeOnly(draft, proposal, only, before);
      const { measures: _measures, id: _id, tuneId: _tuneId, ...rest } = proposal;
      Object.assign(draft, rest);
      takeMeasures(draft, withRemarks(proposal, before), before);
      return undefined;
    },
  },
  name: {
    name: 'Name of the arrangement',
    on: 'whole',
    label: ({ values: { name } }) => (name?.trim() ? `called “${name.trim()}”` : 'name taken off'),
    all: (draft, { values: { name } }) => {
      if (!name?.trim()) {
        delete draft.name;
        return undefined;
      }
      const fault = nameFault(name);
      if (!fault) draft.name = name.trim();
      return fault;
    },
  },
  restore: {
    name: 'Back to a version',
    on: 'whole',
    label: ({ values }) => `back to “${values.what}”`,
    all: (draft, { values: { state } }, before) => {
      const { measures, id: _id, tuneId: _tuneId, nextId, ...rest } = state;
      for (const field of Object.keys(before) as (keyof Arrangement)[])
        if (!(field in state)) delete draft[field];
      // Ids that were given meanwhile are never given again.
      Object.assign(draft, rest, { nextId: Math.max(nextId, before.nextId) });
      takeMeasures(draft, measures, before);
      return undefined;
    },
  },
  'keep-variant': {
    name: 'Keep a passage as a variant',
    on: 'measures',
    label: ({ values }) => `kept as “${values.name}”`,
    all: (draft, { ids, values }, before) => keepVariant(draft, ids, values, before),
  },
  'swap-variant': {
    name: 'Play a variant instead',
    on: 'whole',
    label: ({ values: { variant } }, before) => `“${variantName(before, variant)}” instead`,
    moves: 'all',
    all: (draft, { values: { variant } }, before) => swapVariant(draft, variant, before),
  },
  'last-variant': {
    name: 'Play a variant the last time',
    on: 'whole',
    label: ({ values: { variant, last } }, before) =>
      `“${variantName(before, variant)}” ${last ? 'the last time' : 'no longer the last time'}`,
    all: (draft, { values: { variant, last } }) => {
      const own = draft.variants?.find(({ id }) => id === variant);
      if (!own) return 'there is no such variant';
      if (last) own.last = true;
      else delete own.last;
      return undefined;
    },
  },
  'drop-variant': {
    name: 'Forget a variant',
    on: 'whole',
    label: ({ values: { variant } }, before) => `“${variantName(before, variant)}” forgotten`,
    all: (draft, { values: { variant } }, before) => dropVariant(draft, variant, before),
  },
};
