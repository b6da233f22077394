import { Note, Chord as TonalChord } from 'tonal';
import { describe, expect, it } from 'vitest';
import { mod12 } from '../pitch';
import { bassClass, chordClasses, degreeOf, noSuchChord, parseChord, transposeChord } from './index';

const QUALITIES = [
  '',
  'm',
  '7',
  'm7',
  'maj7',
  'M7',
  'dim',
  'dim7',
  'm7b5',
  'aug',
  '6',
  'm6',
  '9',
  'm9',
  'maj9',
  'sus2',
  'sus4',
  '7sus4',
  'add9',
  '7b9',
  '7#9',
  '7b5',
  '7#5',
  'mMaj7',
  '5',
  '69',
];
const ROOTS = ['C', 'D', 'Eb', 'F#', 'G', 'Ab', 'Bb', 'B'];

describe('chord symbols against tonal, a general music theory package', () => {
  for (const quality of QUALITIES) {
    it(`"${quality}"`, () => {
      for (const root of ROOTS) {
        const ours = parseChord(root + quality);
        expect(ours, root + quality).toBeDefined();
        const theirs = TonalChord.get(root + quality).notes.map(n => Note.chroma(n)!);
        expect(theirs.length).toBeGreaterThan(0);
        expect([...chordClasses(ours!)].sort()).toEqual([...theirs].sort());
      }
    });
  }
});

describe('reading', () => {
  it('takes accidentals as signs or letters, slash basses, brackets', () => {
    expect(parseChord('F♯m/C♯')).toMatchObject({ root: 'F#', quality: 'm', bass: 'C#' });
    expect(parseChord('B♭')).toMatchObject({ root: 'Bb', quality: '' });
    expect(parseChord('G7(b9)')!.degrees.map(d => d.name)).toEqual(['1', '3', '5', 'b7', 'b9']);
    expect(bassClass(parseChord('D/F#')!)).toBe(6);
    expect(parseChord('C/C')).not.toHaveProperty('bass');
  });
  it('a foreign slash bass belongs to the chord', () => {
    expect(chordClasses(parseChord('C/D')!)).toEqual([0, 4, 7, 2]);
  });
  it('knows the short forms of chord sheets (common practice)', () => {
    const notes = (symbol: string) => chordClasses(parseChord(symbol)!).sort((a, b) => a - b);
    for (const [short, long] of [
      ['C2', 'Cadd9'],
      ['C/9', 'Cadd9'],
      ['Am/add9', 'Amadd9'],
      ['D4', 'Dsus4'],
      ['C∆', 'Cmaj7'],
      ['CΔ7', 'Cmaj7'],
      ['F△7', 'Fmaj7'],
      ['C7alt', 'Calt'],
      ['Gma7', 'Gmaj7'],
      ['Cma9', 'Cmaj9'],
      ['C^7', 'Cmaj7'],
      ['D/f#', 'D/F#'],
    ] as const)
      expect(notes(short), short).toEqual(notes(long));
    expect(notes('Csus24')).toEqual([0, 2, 5, 7]);
    expect(parseChord('C6/9')!.degrees.map(d => d.name)).toEqual(['1', '3', '5', '6', '9']);
    expect(parseChord('C9')!.degrees.map(d => d.name)).toContain('b7');
  });
  it('refuses what is no chord', () => {
    for (const text of ['', 'N.C.', 'H7', 'slowly', 'Cfoo', 'C/H', 'x', 'Fine'])
      expect(parseChord(text), text).toBeUndefined();
  });
  it('Am6 is A C E F# (common practice)', () => {
    expect(chordClasses(parseChord('Am6')!)).toEqual([9, 0, 4, 6]);
    expect(degreeOf(parseChord('Am6')!, 6)).toBe('6');
  });
});

describe('shape and sounding names (common practice)', () => {
  const sounding = (shapes: string[], capo: number, fifths: number) =>
    shapes.map(s => transposeChord(parseChord(s)!, capo, fifths).symbol);
  it('a G shape sounds A at capo 2, B at 4, C at 5', () => {
    expect([2, 4, 5].map(capo => transposeChord(parseChord('G')!, capo, 0).root)).toEqual(['A', 'B', 'C']);
  });
  it('C Am G F at capo 6 sounds F# D#m C# B; Am C Dm Em G at capo 2 sounds Bm D Em F#m A', () => {
    expect(sounding(['C', 'Am', 'G', 'F'], 6, 6)).toEqual(['F#', 'D#m', 'C#', 'B']);
    expect(sounding(['Am', 'C', 'Dm', 'Em', 'G'], 2, 2)).toEqual(['Bm', 'D', 'Em', 'F#m', 'A']);
  });
  it('going up and back gives the same notes', () => {
    for (const quality of QUALITIES) {
      const chord = parseChord(`D${quality}/F#`) ?? parseChord(`D${quality}`)!;
      for (let capo = 0; capo < 12; capo++) {
        const up = transposeChord(chord, capo, 2);
        expect(chordClasses(up)).toEqual(chordClasses(chord).map(c => mod12(c + capo)));
      }
    }
  });
});

describe('a name that is no chord', () => {
  it.each([
    ['Hm', 'Bm'],
    ['H7', 'B7'],
    ['Fis', 'F#'],
    ['Es7', 'Eb7'],
    ['em', 'Em'],
    ['gis', 'G#m'],
    ['G/H', 'G/B'],
  ])('%s is told to be called %s in English (German names from memory)', (name, english) => {
    expect(noSuchChord(name)).toMatch(
      new RegExp(`“${name}” is no chord .*: in English it is called ${english}$`),
    );
    expect(parseChord(english)).toBeDefined();
  });
  it.each(['Tango', 'x', 'H8', '7'])('%s is told as it is, with nothing guessed', name => {
    expect(noSuchChord(name)).toBe(`“${name}” is no chord that is known here`);
  });
});
