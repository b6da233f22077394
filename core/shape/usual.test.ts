/** The usual open shapes against the open dataset @tombatossals/chords-db 0.5.1 (standard guitar). */
import guitarShapes from '@tombatossals/chords-db/lib/guitar.json';
import { describe, expect, it } from 'vitest';
import { chordClasses, parseChord } from '../chord';
import { DEFAULT_HAND } from '../hand';
import { noteAt, standardSetup, withCapo } from '../instrument';
import { mod12 } from '../pitch';
import {
  bestShapePath,
  CLOSED_SHAPES,
  choppedShapes,
  chosenShape,
  findShapes,
  MANDOLIN_CLOSED_SHAPES,
  MANDOLIN_SHAPES,
  OCTAVE_MANDOLIN_SHAPES,
  OPEN_SHAPES,
  shapeText,
  unusualEffort,
} from './index';

const guitar = standardSetup('guitar');
const names = Object.keys(OPEN_SHAPES);

describe('the usual open shapes', () => {
  it('sound nothing but their chord', () => {
    for (const name of names)
      for (const text of OPEN_SHAPES[name]!) {
        const { frets } = chosenShape(text, guitar, DEFAULT_HAND)!;
        const classes = chordClasses(parseChord(name)!);
        for (const [i, fret] of frets.entries())
          if (fret !== null)
            expect([name, classes]).toEqual([
              name,
              expect.arrayContaining([mod12(noteAt(guitar, i + 1, fret))]),
            ]);
      }
  });
  it('are among the stored positions of the dataset, as the barres are', () => {
    const data = guitarShapes as unknown as {
      chords: Record<string, { suffix: string; positions: { frets: number[]; baseFret: number }[] }[]>;
    };
    const suffix: Record<string, string> = { '': 'major', m: 'minor', '6/9': '69', '7#5': 'aug7' };
    // Its roots have one name each.
    const stored: Record<string, string> = {
      Db: 'Csharp',
      'C#': 'Csharp',
      'D#': 'Eb',
      Gb: 'Fsharp',
      'F#': 'Fsharp',
    };
    const own: Record<string, string> = { 'G#': 'Ab' };
    const shapes = { ...OPEN_SHAPES, ...CLOSED_SHAPES };
    const strange = Object.keys(shapes).filter(name => {
      const [, root, quality] = /^([A-G][#b]?)(.*)$/.exec(name)!;
      const key = stored[root!] ?? own[root!] ?? root!;
      const entry = data.chords[key]?.find(e => e.suffix === (suffix[quality!] ?? quality));
      const positions = (entry?.positions ?? []).map(({ frets, baseFret }) =>
        shapeText(frets.map(fret => (fret < 0 ? null : fret && fret + baseFret - 1)).reverse()),
      );
      // Of a barre over all strings the dataset stores those beyond the root, too.
      const isStored = (text: string) =>
        positions.includes(text) ||
        (name in CLOSED_SHAPES && positions.some(own => own.slice(1) === text.slice(1) && text[0] === 'x'));
      return !shapes[name]!.some(isStored);
    });
    // The dataset stores Cmaj7 with its G on the first string only.
    expect(strange).toEqual(['Cmaj7']);
  });
  it.each([
    ['guitar', 0],
    ['guitar', 2],
    ['guitar', 5],
    ['twelve-string', 0],
  ] as const)('come first in the search on a %s at capo %i', (instrument, capo) => {
    const setup = standardSetup(instrument, capo);
    for (const name of names)
      expect(OPEN_SHAPES[name]).toContain(
        shapeText(findShapes(parseChord(name)!, setup, DEFAULT_HAND)[0]!.frets),
      );
  });
  it.each([0, 2, 4])('and the usual barres, where a chord has no open shape, at capo %i', capo => {
    const setup = withCapo(guitar, capo);
    for (const [name, usual] of Object.entries(CLOSED_SHAPES))
      expect(usual, name).toContain(shapeText(findShapes(parseChord(name)!, setup, DEFAULT_HAND)[0]!.frets));
  });
  it.each([0, 2, 4])(
    'a song keeps its barres, though easier shapes could be found for them, at capo %i',
    capo => {
      const setup = withCapo(guitar, capo);
      const chords = ['D', 'Bm', 'G', 'F#m', 'Bm', 'A', 'D'];
      const candidates = chords.map(name => findShapes(parseChord(name)!, setup, DEFAULT_HAND, { limit: 6 }));
      // Each is held for four seconds.
      const weights = chords.map(() => ({ hold: 1 / chords.length, change: 0.5 / chords.length }));
      const { path } = bestShapePath(setup, candidates, 'total', weights);
      const chosen = path.map((own, i) => shapeText(candidates[i]![own]!.frets));
      expect([chosen[1], chosen[3], chosen[4]]).toEqual(['x24432', '244222', 'x24432']);
    },
  );
  it('are what a chord takes however it is written, inner strings silent or not', () => {
    const first = (name: string) => shapeText(findShapes(parseChord(name)!, guitar, DEFAULT_HAND)[0]!.frets);
    expect(['Gb', 'DbM7', 'Bø', 'Bbmin7', 'Ab'].map(first)).toEqual(
      ['F#', 'Dbmaj7', 'Bm7b5', 'Bbm7', 'G#'].map(first),
    );
    // Players damp the fifth string with the finger on the sixth.
    expect(['Gdim7', 'G13'].map(first)).toEqual(['3x2320', '3x345x']);
    const none = findShapes(parseChord('G13')!, guitar, DEFAULT_HAND, { maxInnerMutes: 0 });
    expect(none.map(({ frets }) => shapeText(frets))).not.toContain('3x345x');
  });
  it('are as hard as those who learn them find them (common practice): open ones first, then F on four strings, then wide barres', () => {
    const steps = [
      ['022000', '022100', 'x02210', 'x02220', 'x32010', 'xx0232', 'xx0231', '320003'],
      ['xx3211'],
      ['133111', '244222', '355433', '133211', 'x24432', 'x13331'],
    ];
    for (const hand of [DEFAULT_HAND, { ...DEFAULT_HAND, beginner: true }]) {
      const costs = steps.map(texts => texts.map(text => chosenShape(text, guitar, hand)!.cost));
      expect(Math.max(...costs[0]!)).toBeLessThan(Math.min(...costs[1]!));
      expect(Math.max(...costs[1]!)).toBeLessThan(Math.min(...costs[2]!));
    }
  });
  it('ask nothing of other tunings, and of a capo on some strings', () => {
    const odd = [null, 5, 5, 2, 3, null];
    expect(unusualEffort(odd, parseChord('C')!, guitar)).toBeGreaterThan(0);
    expect(
      unusualEffort(odd, parseChord('C')!, { ...guitar, tuning: ['D4', ...guitar.tuning.slice(1)] }),
    ).toBeUndefined();
    expect(
      unusualEffort([0, 0, 0, 0], parseChord('C')!, {
        ...standardSetup('mandolin'),
        capo: 2,
        capoStrings: [1, 2],
      }),
    ).toBeUndefined();
  });
});

it.each([
  ['seven-string', 'x'],
  ['eight-string', 'xx'],
] as const)(
  'a %s guitar is held like one of six, its further basses left alone (common practice)',
  (instrument, more) => {
    const song = ['G', 'C', 'D', 'Em', 'Bm', 'A', 'Am', 'F', 'G'];
    const candidates = song.map(name =>
      findShapes(parseChord(name)!, standardSetup(instrument), DEFAULT_HAND, { limit: 8 }),
    );
    const { path } = bestShapePath(standardSetup(instrument), candidates);
    const six = ['320003', 'x32010', 'xx0232', '022000', 'x24432', 'x02220', 'x02210', 'xx3211', '320003'];
    expect(path.map((own, i) => shapeText(candidates[i]![own]!.frets))).toEqual(six.map(text => more + text));
  },
);

/** G, C, D, E and A are facts of the trade; the others common practice, from memory. */
describe.each([
  ['mandolin', { ...MANDOLIN_SHAPES, ...MANDOLIN_CLOSED_SHAPES }],
  ['octave-mandolin', { ...OCTAVE_MANDOLIN_SHAPES, ...MANDOLIN_CLOSED_SHAPES }],
] as const)('the usual shapes of the %s', (instrument, shapes) => {
  const setup = standardSetup(instrument);
  it('sound nothing but their chord, and what makes it', () => {
    for (const [name, texts] of Object.entries(shapes))
      for (const text of texts) {
        const sounding = [...text].reverse().map((fret, i) => mod12(noteAt(setup, i + 1, Number(fret))));
        const chord = parseChord(name)!;
        const classes = chordClasses(chord);
        expect(classes, `${name} ${text}`).toEqual(expect.arrayContaining(sounding));
        const needed = chord.degrees
          .filter(own => own.essential)
          .map(own => mod12(classes[0]! + own.semitones));
        expect(sounding, `${name} ${text}`).toEqual(expect.arrayContaining(needed));
      }
  });
  it.each([0, 2])('come first in the search at capo %i, whatever lies lowest', capo => {
    for (const [name, usual] of Object.entries(shapes)) {
      const [first] = findShapes(parseChord(name)!, withCapo(setup, capo), DEFAULT_HAND);
      expect(usual, name).toContain(shapeText(first!.frets));
    }
  });
  it('G 0023, C 0230, D 2002, E 1220 and A 2245 or 2240 are what a song is held with', () => {
    const song = ['G', 'C', 'D', 'Em', 'Am', 'D7', 'G', 'E', 'A', 'D'];
    const candidates = song.map(name => findShapes(parseChord(name)!, setup, DEFAULT_HAND, { limit: 8 }));
    const { path } = bestShapePath(setup, candidates);
    const chosen = path.map((own, i) => shapeText(candidates[i]![own]!.frets));
    expect(chosen.map(text => (text === '2245' ? '2240' : text))).toEqual([
      '0023',
      '0230',
      '2002',
      '0220',
      '2230',
      '2032',
      '0023',
      '1220',
      '2240',
      '2002',
    ]);
  });
  it.each([
    ['mandola', '5301'],
    ['tenor-guitar', '2301'],
  ] as const)('a %s has the same a fifth lower: C 0023, F 0230, G 2002', (lower, bFlat) => {
    const shapes = ['C', 'F', 'G', 'Dm', 'Bb'].map(
      name => findShapes(parseChord(name)!, standardSetup(lower), DEFAULT_HAND)[0]!,
    );
    expect(shapes.map(({ frets }) => shapeText(frets))).toEqual(['0023', '0230', '2002', '2230', bFlat]);
  });
  it('five courses are held like four, the fifth left alone, or open where its C is in the chord', () => {
    const held = ['C', 'G', 'D', 'Am', 'Em', 'F'].map(
      name => findShapes(parseChord(name)!, standardSetup('five-string-mandolin'), DEFAULT_HAND)[0]!,
    );
    expect(held.map(({ frets }) => shapeText(frets))).toEqual([
      '00230',
      'x0023',
      'x2002',
      '02230',
      'x0220',
      '05301',
    ]);
  });
  it('what is chopped sounds its chord, wherever it is moved to, on any instrument in fifths', () => {
    for (const instrument of ['mandolin', 'mandola', 'octave-mandolin'] as const) {
      const own = standardSetup(instrument);
      for (const name of ['G', 'C#', 'Ab', 'Fm', 'Bbm', 'Em', 'Eb7', 'C7', 'A7']) {
        const chord = parseChord(name)!;
        const chops = findShapes(chord, own, DEFAULT_HAND, { chopped: true }).filter(({ usual }) => usual);
        expect(chops.length, `${instrument} ${name}`).toBeGreaterThan(0);
        for (const { frets } of chops)
          for (const [i, fret] of frets.entries())
            if (fret !== null) expect(chordClasses(chord)).toContain(mod12(noteAt(own, i + 1, fret)));
      }
    }
    const chopped = (frets: (number | null)[], name: string) =>
      choppedShapes(parseChord(name)!, setup)?.effort(frets);
    expect([chopped([3, 2, 5, 7], 'G'), chopped([5, 4, 7, 9], 'A'), chopped([3, 2, 0, 0], 'G')]).toEqual([
      0, 0, 2,
    ]);
    expect(chopped([3, 2, 5, null], 'Gdim')).toBeUndefined();
    expect(choppedShapes(parseChord('G')!, guitar)).toBeUndefined();
  });
  it('a slash is the bass player’s: the shape is that of the chord, unless its bass is asked for', () => {
    const first = (name: string) => shapeText(findShapes(parseChord(name)!, setup, DEFAULT_HAND)[0]!.frets);
    expect(['G/B', 'D/F#', 'C/G', 'Am/C'].map(first)).toEqual(['G', 'D', 'C', 'Am'].map(first));
    for (const { frets } of findShapes(parseChord('C/G')!, setup, DEFAULT_HAND, {
      bass: 'chord',
      limit: 5,
    })) {
      const lowest = frets.findLastIndex(fret => fret !== null);
      expect(mod12(noteAt(setup, lowest + 1, frets[lowest]!))).toBe(7);
    }
  });
});
