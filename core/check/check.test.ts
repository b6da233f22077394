import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { readAbc } from '../formats/abc';
import type { Arrangement, ScoreNote } from '../score';
import { checkArrangement, placeName } from './index';

const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:C\n"C"cdef|"G"gfed|]\n')[0]!;
const base = arrange(tune, { id: 'c', instrument: 'guitar', style: 'melody', capo: 0 }).arrangement!;
const note = (
  id: string,
  string: number,
  fret: number,
  finger: number | undefined,
  start = 0,
  ticks = 10080,
): ScoreNote => ({
  id,
  voice: 'inner',
  start,
  ticks,
  string,
  fret,
  ...(finger && { finger: finger as 1 }),
});
/** The first measure with other notes. */
const withNotes = (notes: ScoreNote[]): Arrangement => ({
  ...base,
  measures: [{ ...base.measures[0]!, notes }, ...base.measures.slice(1)],
});
const messages = (notes: ScoreNote[]) =>
  checkArrangement(withNotes(notes)).map(f => `${f.kind}: ${f.message}`);

describe('findings', () => {
  it('none in what the arranger made', () => expect(checkArrangement(base, tune)).toEqual([]));
  it('a finger at two frets, fingers that cross, a reach too wide', () => {
    expect(messages([note('a', 1, 3, 2), note('b', 3, 5, 2)])).toEqual([
      "reach: finger 2 can't be at two frets at once",
    ]);
    expect(messages([note('a', 1, 5, 1), note('b', 3, 3, 2)])).toEqual(['reach: fingers 1 and 2 cross']);
    expect(messages([note('a', 1, 1, 1), note('b', 3, 9, 4)])[0]).toMatch(
      /fingers 1 and 4 reach \d+ mm; this hand reaches \d+ mm/,
    );
  });
  it('a barre over a string that must ring lower', () => {
    expect(messages([note('a', 1, 3, 1), note('b', 2, 0, undefined), note('c', 3, 3, 1)])[0]).toMatch(
      /finger 1 lies across string 2, B/,
    );
  });
  it('a string needed twice, one that does not exist, a fret that does not', () => {
    expect(messages([note('a', 2, 1, 1), note('b', 2, 3, 3)])).toContain(
      'string: string 2, B is needed twice at once',
    );
    expect(messages([note('a', 7, 1, 1)])).toEqual(['string: there is no string 7']);
    expect(messages([note('a', 1, 25, 1)])).toEqual(['fret: string 1, E has no fret 25']);
  });
  it('a note without a finger, or over the barline', () => {
    expect(messages([note('a', 1, 3, undefined)])).toEqual(['finger: string 1, E fret 3 has no finger']);
    expect(messages([note('a', 1, 0, undefined, 30240, 20160)])).toEqual([
      'length: a note sounds over the barline without a tie',
    ]);
  });
  it('a melody note that is missing, changed or added', () => {
    const lost = {
      ...base,
      measures: base.measures.map((m, i) => (i ? m : { ...m, notes: m.notes.slice(1) })),
    };
    expect(checkArrangement(lost, tune)).toMatchObject([
      { kind: 'melody', measure: 0, start: 0, message: expect.stringContaining('C4 is missing') },
    ]);
    const changed = {
      ...base,
      measures: base.measures.map((m, i) =>
        i ? m : { ...m, notes: m.notes.map((n, j) => (j ? n : { ...n, fret: n.fret + 1 })) },
      ),
    };
    expect(checkArrangement(changed, tune)[0]!.message).toMatch(/the melody has C4 here, C♯4 is played/);
  });
  it('names places as they are counted', () => {
    expect(placeName(base, 1, 10080)).toBe('Measure 2, beat 2');
    expect(placeName(base, 0, 5040)).toBe('Measure 1, on "&"');
  });
});
