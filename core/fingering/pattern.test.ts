import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { followingRoot, type PatternToken, parsePattern, patternText, patternUnder, silentIn } from './index';

const under = (text: string, shape: string, bass?: number) => {
  const pattern = parsePattern(text, 6);
  if ('error' in pattern) throw new Error(pattern.error);
  const frets = [...shape].reverse().map(c => (c === 'x' ? null : Number(c)));
  return patternText(patternUnder(pattern, frets, bass).map(play => ({ play })));
};

describe('picking patterns', () => {
  it('are strings in order, with brackets for together', () => {
    const plays = (text: string) => {
      const strokes = parsePattern(text, 6);
      return 'error' in strokes ? strokes.error : strokes.map(stroke => stroke.play);
    };
    expect(plays('4 3 2 1 2 3')).toEqual([[4], [3], [2], [1], [2], [3]]);
    expect(plays('(52) 3')).toEqual([[5, 2], [3]]);
    expect(plays('4321')).toEqual([[4], [3], [2], [1]]);
    expect(plays('B (A 1)')).toEqual([['B'], ['A', 1]]);
    expect(plays('D.XU')).toEqual([['D'], [], ['X'], ['U']]);
    expect(plays('.c.C')).toEqual([[], ['C'], [], ['C']]);
  });
  it('may be written in arrows, or in the fingers that pluck (common practice: a on string 1, m 2, i 3)', () => {
    const text = (written: string, strings = 6) => {
      const strokes = parsePattern(written, strings);
      return 'error' in strokes ? strokes.error : patternText(strokes);
    };
    expect(text('p i m a m i')).toBe('B 3 2 1 2 3');
    expect(text('p(im).a')).toBe('B (32) . 1');
    expect(text('↓ ↓↑ ↑↓↑')).toBe('D D U U D U');
    // By itself "a" is the thumb's other string; four strings have other homes.
    expect(text('b a 3 a')).toBe('B A 3 A');
    expect(text('p i m a', 4)).toMatch(/"p" is no string/);
    expect(text('p (im')).toMatch(/the bracket is not closed/);
  });
  it('accents what follows ">", and damps with X', () => {
    expect(parsePattern('>D x >(B1)', 6)).toEqual([
      { play: ['D'], accent: true },
      { play: ['X'] },
      { play: ['B', 1], accent: true },
    ]);
    expect(parsePattern('B >', 6)).toMatchObject({ error: /accents the stroke after it/ });
    expect(parsePattern('B >.', 6)).toMatchObject({ error: /"\."/ });
  });
  it('written over one chord in string numbers, follow the root of every other (common practice)', () => {
    const strokes = parsePattern('5 3 2 (31)', 6);
    if ('error' in strokes) throw new Error(strokes.error);
    expect(patternText(followingRoot(strokes))).toBe('B 3 2 (31)');
    const relative = parsePattern('B 5 2', 6);
    if ('error' in relative) throw new Error(relative.error);
    expect(followingRoot(relative)).toBe(relative);
  });
  it('follow the root string of the chord (common practice: C 5, G 6, D 4)', () => {
    expect(under('B 3 2 1', 'x32010')).toBe('5 3 2 1');
    expect(under('B 3 2 1', '320003')).toBe('6 3 2 1');
    expect(under('B 3 2 1', 'xx0232')).toBe('4 3 2 1');
    expect(under('B 3 (21)', '200232', 6)).toBe('6 3 (21)');
    // An alternating thumb goes from 6 and 5 to 4, from 4 to 3 (common practice).
    expect(under('B A B A', 'x02210')).toBe('5 4 5 4');
    expect(under('B A B A', '320003')).toBe('6 4 6 4');
    expect(under('B A B A', 'xx0232')).toBe('4 3 4 3');
  });
  it('strings are plucked as they are typed, and what a shape silences is named', () => {
    expect(under('5 3 2', 'xx0232')).toBe('. 3 2');
    const strokes = parsePattern('6 (53) 1 B', 6);
    if ('error' in strokes) throw new Error(strokes.error);
    expect(silentIn(strokes, [2, 3, 2, 0, null, null])).toEqual([6, 5]);
    expect(silentIn(strokes, [0, 2, 2, 2, 0, 0])).toEqual([]);
  });
  it('under a melody a silent string gives way to the nearest that sounds', () => {
    const frets = [null, 3, 2, 0, null, null];
    expect(patternUnder([{ play: [6] }, { play: [1] }], frets, 4, true)).toEqual([[4], [2]]);
    expect(patternUnder([{ play: [2, 1] }], [null, null, 2, null, null, null], 3, true)).toEqual([[3]]);
  });
  it('say what is wrong', () => {
    expect(parsePattern('4 7', 6)).toEqual({
      error: expect.stringContaining('"7" is no string: 1 to 6, B for the bass string'),
    });
    expect(parsePattern('(4 3', 6)).toEqual({ error: '"(4 3": the bracket is not closed' });
    expect(parsePattern('(44)', 6)).toEqual({ error: '"(44)" asks for a string twice' });
    expect(parsePattern('  ', 6)).toMatchObject({ error: /write the strings/ });
  });
  it('come back from their text', () => {
    const token = fc.oneof(fc.integer({ min: 1, max: 6 }), fc.constantFrom<'B' | 'A'>('B', 'A'));
    fc.assert(
      fc.property(
        fc.array(
          fc
            .record({
              play: fc.oneof(
                fc.uniqueArray(token, { minLength: 1, maxLength: 4 }),
                fc.constantFrom<PatternToken[]>(['D'], ['U'], ['T'], ['X'], ['C']),
              ),
              accent: fc.boolean(),
            })
            .map(({ play, accent }) => (accent ? { play, accent } : { play })),
          { minLength: 1, maxLength: 16 },
        ),
        strokes => {
          expect(parsePattern(patternText(strokes), 6)).toEqual(strokes);
        },
      ),
    );
  });
  it('under any shape pluck only strings that sound, none twice at once', () => {
    fc.assert(
      fc.property(
        fc.array(fc.option(fc.integer({ min: 0, max: 5 }), { nil: null }), { minLength: 6, maxLength: 6 }),
        fc.constantFrom('B 3 2 1 2 3', '(6 5 4 3 2 1)', 'B (A 1) B (32)'),
        (frets, text) => {
          const pattern = parsePattern(text, 6);
          if ('error' in pattern) throw new Error(pattern.error);
          for (const stroke of patternUnder(pattern, frets)) {
            expect(new Set(stroke).size).toBe(stroke.length);
            for (const string of stroke) expect(frets[string - 1]).not.toBeNull();
          }
        },
      ),
    );
  });
});
