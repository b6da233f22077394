import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readAbc } from '../formats/abc';
import { tunes } from '../testing/tunes';
import type { Bars } from '../tune';
import { playingOrder, roadOf } from './index';

/** The road through measures named by letters: "A B" with what stands at each. */
const road = (measures: (Bars & { name: string })[], order?: string[]) =>
  roadOf({ measures, ...(order && { order }) })
    .map(step => measures[step.index]!.name)
    .join(' ');
const tuneOf = (body: string, head = '') => readAbc(`X:1\nT:T\nM:4/4\nL:1/4\n${head}K:C\n${body}\n`)[0]!;
const played = (body: string, head = '') => playingOrder(tuneOf(body, head).tune).map(index => index + 1);

describe('the road (common practice of notation)', () => {
  it('as often as the repeat sign says', () => {
    expect(
      road([{ name: 'a', repeatStart: true }, { name: 'b', repeatEnd: true, passes: 4 }, { name: 'c' }]),
    ).toBe('a b a b a b a b c');
    expect(played('|:cccc::|dddd|]')).toEqual([1, 1, 1, 2]);
  });
  it('through first, second and further endings', () => {
    expect(played('|:cccc|1 dddd:|2 eeee|]')).toEqual([1, 2, 1, 3]);
    expect(played('|:cccc|1,2 dddd:|3 eeee|]')).toEqual([1, 2, 1, 2, 1, 3]);
  });
  it('D.C. al fine: back to the beginning, and to an end at "fine"', () => {
    expect(road([{ name: 'a' }, { name: 'b', marks: ['fine'] }, { name: 'c', marks: ['da-capo'] }])).toBe(
      'a b c a b',
    );
  });
  it('D.S. al coda: back to the sign, and at "to coda" on to the coda', () => {
    expect(
      road([
        { name: 'a' },
        { name: 'b', marks: ['segno'] },
        { name: 'c', marks: ['to-coda'] },
        { name: 'd', marks: ['dal-segno'] },
        { name: 'e', marks: ['coda'] },
      ]),
    ).toBe('a b c d b c e');
  });
  it('after a jump back repeats are not taken again and the last ending is played', () => {
    expect(
      road([
        { name: 'a', repeatStart: true },
        { name: 'b', ending: [1], repeatEnd: true },
        { name: 'c', ending: [2], marks: ['fine'] },
        { name: 'd', repeatStart: true },
        { name: 'e', repeatEnd: true, marks: ['da-capo'] },
      ]),
    ).toBe('a b a c d e d e a c');
  });
  it('the last time it ends where the cut stands', () => {
    expect(
      road([
        { name: 'a', repeatStart: true },
        { name: 'b', marks: ['last-time-end'] },
        { name: 'c', repeatEnd: true },
      ]),
    ).toBe('a b c a b');
  });
  it('parts in their own order, each with its repeats', () => {
    const measures = [
      { name: 'a', section: { id: 's1', name: 'A' } },
      { name: 'b', repeatEnd: true },
      { name: 'c', section: { id: 's2', name: 'B' } },
    ];
    expect(road(measures, ['s2', 's1', 's2'])).toBe('c a b a b c');
    expect(road(measures, ['s2', 'nobody'])).toBe('a b a b c');
  });
  it('parts in their own order: a cut and a way to the coda are for the last time', () => {
    const verse = { name: 'a', section: { id: 's1', name: 'Verse' } };
    const end = { name: 'e', section: { id: 's9', name: 'End' } };
    const cut = [verse, { name: 'b', marks: ['last-time-end' as const] }, { name: 'c' }, end];
    expect(road(cut, ['s1', 's1'])).toBe('a b c a b');
    expect(road(cut, ['s1', 's9', 's1', 's9'])).toBe('a b c e a b');
    const toCoda = [
      verse,
      { name: 'b', marks: ['to-coda' as const] },
      { name: 'c' },
      { name: 'd', section: { id: 's2', name: 'Chorus' } },
      { ...end, marks: ['coda' as const] },
    ];
    expect(road(toCoda, ['s1', 's2', 's1', 's2', 's9'])).toBe('a b c d a b e');
  });
  it('"as A, but the end": its own measures stand in for the last ones of the other section', () => {
    const measures = [
      { name: 'a', section: { id: 's1', name: 'A' }, repeatStart: true },
      { name: 'b' },
      { name: 'c', ending: [1], repeatEnd: true },
      { name: 'd', ending: [2] },
      { name: 'e', section: { id: 's2', name: 'B' } },
      { name: 'f', section: { id: 's3', name: 'C', as: 's1' } },
    ];
    expect(road(measures)).toBe('a b c a b d e a b f');
    expect(road(measures, ['s3', 's2'])).toBe('a b f e');
    expect(road([{ name: 'a', section: { id: 's1', name: 'A', as: 's1' } }])).toBe('a');
  });
  it('signs that lead nowhere are passed over', () => {
    expect(road([{ name: 'a', marks: ['dal-segno', 'to-coda'] }, { name: 'b' }])).toBe('a b');
  });
  it('is finite, and plays every measure of a tune with repeats and endings', () => {
    fc.assert(
      fc.property(tunes(), generated => {
        const { tune } = readAbc(generated.abc)[0]!;
        const order = playingOrder(tune);
        expect(new Set(order).size).toBe(tune.measures.length);
        expect(order.length).toBeLessThanOrEqual(tune.measures.length * 4);
      }),
      { numRuns: 200 },
    );
  });
  it('any marks whatever give an end', () => {
    const mark = fc.constantFrom('segno', 'coda', 'to-coda', 'fine', 'da-capo', 'dal-segno', 'last-time-end');
    const bars = fc.record(
      {
        repeatStart: fc.boolean(),
        repeatEnd: fc.boolean(),
        passes: fc.integer({ min: 1, max: 5 }),
        ending: fc.array(fc.integer({ min: 1, max: 4 }), { minLength: 1, maxLength: 3 }),
        marks: fc.array(mark, { maxLength: 3 }),
      },
      { requiredKeys: [] },
    );
    fc.assert(
      fc.property(fc.array(bars, { maxLength: 12 }), measures => {
        expect(roadOf({ measures: measures as Bars[] }).length).toBeLessThan(12 * 5 * 12);
      }),
      { numRuns: 2000 },
    );
  });
});

describe('what ABC says of the road', () => {
  it('D.C., segno, coda and fine', () => {
    expect(played('cccc|dddd!fine!|eeee!D.C.!|]')).toEqual([1, 2, 3, 1, 2]);
    expect(played('cccc|!segno!dddd|eeee!dacoda!|ffff!D.S.!|!coda!gggg|]')).toEqual([1, 2, 3, 4, 2, 3, 5]);
    // The coda sign twice, as it is printed: the first is where the leap begins.
    expect(played('cccc|!segno!dddd|!coda!eeee|ffff!D.S.!|!coda!gggg|]')).toEqual([1, 2, 3, 4, 2, 3, 5]);
  });
  it('the play order of its parts', () => {
    expect(played('P:A\ncccc|\nP:B\ndddd|]', 'P:A(AB)2\n')).toEqual([1, 1, 2, 1, 2]);
    const { problems } = tuneOf('P:A\ncccc|\nP:B\ndddd|]', 'P:ABC\n');
    expect(problems).toMatchObject([{ line: 5, message: expect.stringContaining('"C"') }]);
  });
});
