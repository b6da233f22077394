/** The usual open shapes against the open dataset @tombatossals/chords-db 0.5.1 (standard guitar). */
import guitarShapes from '@tombatossals/chords-db/lib/guitar.json';
import { describe, expect, it } from 'vitest';
import { chordClasses, parseChord } from '../chord';
import { DEFAULT_HAND } from '../hand';
import { noteAt, standardSetup, withCapo } from '../instrument';
import { mod12 } from '../pitch';
import {
  BARRE_SHAPES,
  bestShapePath,
  chosenShape,
  findShapes,
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
  it('are among the first stored positions of the dataset', () => {
    const data = guitarShapes as unknown as {
      chords: Record<string, { suffix: string; positions: { frets: number[]; baseFret: number }[] }[]>;
    };
    const suffix: Record<string, string> = { '': 'major', m: 'minor' };
    const strange = names.filter(name => {
      const [, root, quality] = /^([A-G])(.*)$/.exec(name)!;
      const entry = data.chords[root!]?.find(e => e.suffix === (suffix[quality!] ?? quality));
      const stored = (entry?.positions ?? [])
        .filter(p => p.baseFret === 1)
        .map(p => shapeText(p.frets.map(f => (f < 0 ? null : f)).reverse()));
      return !OPEN_SHAPES[name]!.some(text => stored.includes(text));
    });
    // The dataset stores Cmaj7 with its G on the first string only.
    expect(strange).toEqual(['Cmaj7']);
  });
  it.each([0, 2, 5])('come first in the search at capo %i', capo => {
    const setup = withCapo(guitar, capo);
    for (const name of names)
      expect(OPEN_SHAPES[name]).toContain(
        shapeText(findShapes(parseChord(name)!, setup, DEFAULT_HAND)[0]!.frets),
      );
  });
  it.each([0, 2, 4])('and the usual barres, where a chord has no open shape, at capo %i', capo => {
    const setup = withCapo(guitar, capo);
    for (const [name, usual] of Object.entries(BARRE_SHAPES))
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
  it('ask nothing of other tunings and instruments', () => {
    const odd = [null, 5, 5, 2, 3, null];
    expect(unusualEffort(odd, parseChord('C')!, guitar)).toBeGreaterThan(0);
    expect(
      unusualEffort(odd, parseChord('C')!, { ...guitar, tuning: ['D4', ...guitar.tuning.slice(1)] }),
    ).toBeUndefined();
    expect(unusualEffort([0, 0, 0, 0], parseChord('C')!, standardSetup('mandolin'))).toBeUndefined();
  });
});
