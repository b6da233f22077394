import { describe, expect, it } from 'vitest';
import { frequencyOf } from '../pitch';
import {
  fingertipSpan,
  fretDistance,
  INSTRUMENTS,
  noteAt,
  openNotes,
  parseTuning,
  placesOf,
  standardSetup,
  stringName,
} from './index';

const guitar = standardSetup('guitar');
const mandolin = standardSetup('mandolin');

describe('tunings (common practice)', () => {
  it('guitar E2 A2 D3 G3 B3 E4 from string 6 to 1; mandolin G3 D4 A4 E5 in pairs', () => {
    expect([...guitar.tuning].reverse()).toEqual(['E2', 'A2', 'D3', 'G3', 'B3', 'E4']);
    expect([...mandolin.tuning].reverse()).toEqual(['G3', 'D4', 'A4', 'E5']);
    expect(INSTRUMENTS.mandolin.pairs).toEqual([0, 0, 0, 0]);
    expect(openNotes(guitar)).toEqual([64, 59, 55, 50, 45, 40]);
  });
  it('the same pitch lies five frets up on the next thicker string, four between 2 and 3; seven on the mandolin', () => {
    for (let string = 1; string < 6; string++) {
      expect(noteAt(guitar, string + 1, 3 + (string === 2 ? 4 : 5))).toBe(noteAt(guitar, string, 3));
    }
    for (let string = 1; string < 4; string++)
      expect(noteAt(mandolin, string + 1, 9)).toBe(noteAt(mandolin, string, 2));
  });
  it('on strings 3 and 1 the interval is 9 + f1 − f3 semitones', () => {
    const interval = (f3: number, f1: number) => noteAt(guitar, 1, f1) - noteAt(guitar, 3, f3);
    expect(interval(4, 3)).toBe(8);
    expect(interval(7, 7)).toBe(9);
  });
  it('a capo moves the sound, not the frets', () => {
    const capo = standardSetup('guitar', 3);
    expect(noteAt(capo, 5, 3)).toBe(noteAt(guitar, 5, 3) + 3);
    expect(placesOf(capo, 64).every(p => noteAt(capo, p.string, p.fret) === 64)).toBe(true);
    expect(placesOf(capo, 42)).toEqual([]);
  });
  it('reads one by German names, in which H is B, and B is B♭ (common practice)', () => {
    const standard = parseTuning('E A D G B E', 'guitar');
    for (const text of ['E A D G H E', 'EADGHE', 'E2 A2 D3 G3 H3 E4'])
      expect(parseTuning(text, 'guitar')).toEqual(standard);
    expect(parseTuning('Es As Des Ges B Es', 'guitar')).toEqual(['Eb4', 'Bb3', 'Gb3', 'Db3', 'Ab2', 'Eb2']);
    expect(parseTuning('G D A E', 'mandolin')).toEqual(['E5', 'A4', 'D4', 'G3']);
  });
  it('reads a typed tuning and says which string is wrong', () => {
    expect(parseTuning('D2 A2 D3 G3 A3 D4', 'guitar')).toEqual(['D4', 'A3', 'G3', 'D3', 'A2', 'D2']);
    expect(parseTuning('D2 A2 J3 G3 A3 D4', 'guitar')).toEqual({
      error: 'string 4: "J3" is not a note such as D or E2',
    });
    expect(parseTuning('D2 A2', 'guitar')).toEqual({ error: '6 strings are needed, 2 were given' });
  });
  it('names strings with number and note', () => {
    expect(stringName(guitar, 5)).toBe('string 5, A');
    expect(stringName(mandolin, 4)).toBe('string 4, G');
  });
});

describe('geometry (equal temperament; Fletcher & Rossing, The Physics of Musical Instruments)', () => {
  it('fret 12 halves the string, each fret divides by the twelfth root of two', () => {
    expect(fretDistance(648, 12)).toBeCloseTo(324, 9);
    for (let fret = 1; fret < 20; fret++) {
      expect((648 - fretDistance(648, fret - 1)) / (648 - fretDistance(648, fret))).toBeCloseTo(
        2 ** (1 / 12),
        12,
      );
    }
  });
  it('natural harmonics: frets 12, 7 and 5 lie where the string divides in 2, 3 and 4 (common practice)', () => {
    for (const [fret, parts] of [
      [12, 2],
      [7, 3],
      [5, 4],
    ] as const) {
      expect(Math.abs(fretDistance(648, fret) - 648 / parts)).toBeLessThan(1);
    }
  });
  it("agrees with lutherie's 17.817 rule", () => {
    expect(fretDistance(648, 1)).toBeCloseTo(648 / 17.817, 2);
  });
  it('a stretch shrinks by 2^(−k/12) at capo k: 0.749 at 5, 0.667 at 7', () => {
    const span = (capo: number) =>
      fingertipSpan(standardSetup('guitar', capo), { string: 1, fret: 1 }, { string: 1, fret: 4 }).along;
    expect(span(5) / span(0)).toBeCloseTo(0.749, 3);
    expect(span(7) / span(0)).toBeCloseTo(0.667, 3);
  });
  it('index to little finger over four frets in first position is about a hand (common practice)', () => {
    const { along } = fingertipSpan(guitar, { string: 1, fret: 1 }, { string: 1, fret: 4 });
    expect(along).toBeGreaterThan(90);
    expect(along).toBeLessThan(105);
  });
});

it('open strings sound at their frequencies: 82.4 Hz for string 6', () => {
  expect(frequencyOf(openNotes(guitar)[5]!)).toBeCloseTo(82.407, 2);
});
