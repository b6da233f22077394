/** Ids for the parts of a tune that has just been read. */
import { nextAfter, PREFIXES } from '../identity';
import { markSections } from './form';
import type { SectionMark, TuneMeasure } from './model';

/** A measure as a reader makes it: its parts have no ids yet, a section may have a name only. */
export type UnnamedMeasure = Omit<TuneMeasure, 'id' | 'events' | 'chords' | 'section' | 'others'> & {
  others?: { name?: string; events: Omit<TuneMeasure['events'][number], 'id'>[] }[];
  events: Omit<TuneMeasure['events'][number], 'id'>[];
  chords: Omit<TuneMeasure['chords'][number], 'id'>[];
  section?: string;
};

/**
 * Gives every part its id by its place, each kind counted from 1 (m1, m2 …, c1 …, e1 …), and marks the sections.
 *
 * @returns the measures, and the next free number of the record
 * @example identify([]).nextId // 1
 */
export function identify(measures: readonly UnnamedMeasure[]): { measures: TuneMeasure[]; nextId: number } {
  const counts = { measure: 0, chord: 0, event: 0, section: 0 };
  const give = (part: keyof typeof counts) => `${PREFIXES[part]}${++counts[part]}`;
  const named = measures.map(({ section, events, chords, others, ...bars }): TuneMeasure => {
    const measure: TuneMeasure = {
      id: give('measure'),
      ...bars,
      events: events.map(event => ({ id: give('event'), ...event })),
      chords: chords.map(chord => ({ id: give('chord'), ...chord })),
    };
    if (others)
      measure.others = others.map(voice => ({
        ...voice,
        events: voice.events.map(event => ({ id: give('event'), ...event })),
      }));
    if (section) measure.section = { id: '', name: section } satisfies SectionMark;
    return measure;
  });
  markSections(named, () => '');
  for (const { section } of named) if (section) section.id = give('section');
  return {
    measures: named,
    nextId: nextAfter(Object.entries(counts).map(([part, n]) => `${PREFIXES[part as 'measure']}${n}`)),
  };
}
