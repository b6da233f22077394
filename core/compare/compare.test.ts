import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { applyEdit, startHistory } from '../edit';
import { readAbc } from '../formats/abc';
import { standardSetup } from '../instrument';
import { edit } from '../testing/edits';
import { type HandNote, handmade } from '../testing/handmade';
import { TICKS_PER_QUARTER } from '../time';
import {
  changedMeasures,
  changesSince,
  differencesOf,
  firstAlike,
  likenessOf,
  likenessWords,
  likePhrases,
  likeSections,
  phraseWords,
  relaidMeasures,
  sectionWords,
} from './index';

const setup = standardSetup('guitar');

/** Measures of four quarters each, by frets on string 2; a change overrides one of them. */
const quarters = (measures: number, changes: Record<string, Partial<HandNote>> = {}) =>
  handmade({
    setup,
    notes: Array.from({ length: measures * 4 }, (_, i): HandNote => {
      const [measure, beat] = [Math.floor(i / 4), i % 4];
      return {
        quarters: 1,
        start: beat,
        measure,
        string: 2,
        fret: [0, 1, 3, 1][beat]!,
        ...changes[`${measure + 1}.${beat + 1}`],
      };
    }),
  });

it('knows measures that are played alike', () => {
  const alike = firstAlike(
    arrange(readAbc('X:1\nT:A\nM:4/4\nL:1/4\nK:C\ncdef|gfed|cdef|gfed|]\n')[0]!.tune, {
      id: 'a',
      instrument: 'mandolin',
      style: 'melody',
      capo: 0,
    }).arrangement!,
  );
  expect(alike).toEqual([0, 1, 0, 1]);
});

describe('the measures that two arrangements play unlike', () => {
  // The B of string 2 on string 3: the same note at another place.
  const elsewhere = quarters(3, { '2.1': { string: 3, fret: 4 } });
  it('are those with another note, place or finger; what was weighed beside them is not played', () => {
    expect(changedMeasures(quarters(3), elsewhere)).toEqual([1]);
    const present = quarters(3);
    const weighed = {
      measures: present.measures.map(measure => ({
        ...measure,
        notes: measure.notes.map(note => ({ ...note, nextBest: { places: [], more: { place: 1 } } })),
      })),
    };
    expect(changedMeasures(present, weighed)).toEqual([]);
  });

  it('have their melody elsewhere where a note of the melody lies on another string, not where one goes under it', () => {
    expect(relaidMeasures(quarters(3), elsewhere)).toEqual([1]);
    expect(relaidMeasures(quarters(3), quarters(3))).toEqual([]);
    const bass = quarters(3, { '3.1': { role: 'bass' } });
    const other = quarters(3, { '3.1': { role: 'bass', string: 3, fret: 4 } });
    expect(changedMeasures(bass, other)).toEqual([2]);
    expect(relaidMeasures(bass, other)).toEqual([]);
  });
});

describe('in what two measures differ', () => {
  it.each<[string, Partial<HandNote>, string]>([
    ['a fret', { fret: 5 }, 'beat 4: fret 5 on string 2 instead of fret 1'],
    ['an open string', { fret: 0 }, 'beat 4: string 2 open instead of fret 1'],
    // C4: string 2 (B3) at fret 1, string 3 (G3) at fret 5.
    [
      'the same note elsewhere',
      { string: 3, fret: 5 },
      'beat 4: fret 5 on string 3 instead of fret 1 on string 2, the same note',
    ],
    ['a technique', { techniques: [{ kind: 'vibrato' }] }, 'beat 4: vibrato on string 2'],
    ['a finger', { finger: 2 }, 'beat 4: finger 2 on string 2'],
    ['a length', { quarters: 0.5 }, 'beat 4: string 2 lasts an eighth instead of a quarter'],
  ])('%s', (_, change, words) => {
    const { measures } = quarters(2, { '2.4': change });
    const found = differencesOf(setup, measures[0]!, measures[1]!);
    expect(found).toHaveLength(1);
    expect(found[0]!.text).toContain(words);
  });
  it('a length that can’t be printed, too', () => {
    const { measures } = quarters(2, { '2.4': { quarters: 0.2 }, '1.4': { quarters: 0.123 } });
    expect(differencesOf(setup, measures[0]!, measures[1]!).map(d => d.text)).toEqual([
      'beat 4: string 2 lasts a quintuplet 16th instead of an odd length',
    ]);
  });
  it('none between measures that are played alike, whatever their ids', () => {
    const { measures } = quarters(2);
    expect(differencesOf(setup, measures[0]!, measures[1]!)).toEqual([]);
  });
  it('are told whichever of the two is looked at', () => {
    const { measures } = handmade({
      setup,
      notes: [
        { quarters: 1, string: 1, fret: 0 },
        { quarters: 1, string: 1, fret: 0, start: 0, measure: 1 },
        { quarters: 1, string: 5, fret: 3, start: 0, measure: 1 },
      ],
    });
    expect(differencesOf(setup, measures[0]!, measures[1]!).map(d => d.text)).toEqual([
      'beat 1: fret 3 on string 5 comes in',
    ]);
    expect(differencesOf(setup, measures[1]!, measures[0]!).map(d => d.text)).toEqual([
      'beat 1: nothing on string 5',
    ]);
  });
});

describe('likeness', () => {
  it('is told with what differs, of the measure that is nearest', () => {
    const made = quarters(4, {
      '2.1': { fret: 7 },
      '2.2': { fret: 8 },
      '3.4': { fret: 5 },
      '4.4': { fret: 5 },
    });
    // Half of measure 2 is another: it is new.
    expect(likenessOf(made, 1)).toBeUndefined();
    expect(likenessWords(made, likenessOf(made, 2)!)).toBe(
      'As measure 1, but beat 4: fret 5 on string 2 instead of fret 1.',
    );
    expect(likenessWords(made, likenessOf(made, 3)!)).toBe('Just like measure 3.');
  });
  it('of sections, measure by measure', () => {
    const made = quarters(8, { '8.4': { fret: 5 } });
    const namedBy = (names: string) =>
      [0, 4].reduce((history, index, i) => {
        const next = applyEdit(history, {
          kind: 'bars',
          ids: [history.present.measures[index]!.id],
          values: { section: names[i]! },
        });
        if ('error' in next) throw new Error(next.error);
        return next;
      }, startHistory(made)).present;
    const told = (names: string) => {
      const present = namedBy(names);
      return sectionWords(present, likeSections(present)[0]!);
    };
    expect(told('AB')).toBe('B is as A, but measure 8 differs.');
    expect(told('AA')).toBe('A from measure 5 is as A from measure 1, but measure 8 differs.');
    expect(likeSections(quarters(8))).toEqual([]);
  });
});

it('a named passage is told by the stretch that it is like', () => {
  const passage = (made: ReturnType<typeof quarters>) => ({
    ...made,
    phrases: [{ id: 'p99', name: 'the lick', from: made.measures[3]!.id, to: made.measures[5]!.id }],
  });
  // Of three measures only one is as before: that is no likeness.
  expect(likePhrases(passage(quarters(6, { '5.4': { fret: 5 }, '6.4': { fret: 5 } })))).toEqual([]);
  const near = passage(quarters(6, { '6.4': { fret: 5 } }));
  expect(phraseWords(near, likePhrases(near)[0]!)).toBe(
    'The lick is as measures 1–3, but measure 6 differs.',
  );
  // What differs behind its end is no part of it.
  const [named] = near.phrases!;
  const upTo = { ...near, phrases: [{ ...named!, end: TICKS_PER_QUARTER * 3 }] };
  expect(phraseWords(upTo, likePhrases(upTo)[0]!)).toBe(
    'The lick is just like measure 1 to beat 3 of measure 3.',
  );
});

it('what changed since an earlier state is told by measure', () => {
  const before = quarters(3);
  const history = edit(startHistory(before), 'fret', before.measures[1]!.notes[2]!.id, { fret: 5 });
  if ('error' in history) throw new Error(history.error);
  const added = applyEdit(history, {
    kind: 'add-measures',
    ids: [before.measures[0]!.id],
    values: { count: 1, before: false },
  });
  if ('error' in added) throw new Error(added.error);
  const gone = applyEdit(added, { kind: 'remove-measures', ids: [before.measures[2]!.id], values: {} });
  if ('error' in gone) throw new Error(gone.error);
  expect(changesSince(before, gone.present).map(({ text }) => text)).toEqual([
    'Measure 2 is new',
    'Measure 3, beat 3: fret 5 on string 2 instead of fret 3',
    'What was measure 3 is taken out',
  ]);
  expect(changesSince(before, before)).toEqual([]);
});
