import { expect, it } from 'vitest';
import { arrange } from '../arrange';
import { readAbc } from '../formats/abc';
import { pluckFaults } from './plucking';

it('a strum goes over a string that the shape silences, and not over one that it does not (common practice)', () => {
  const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:F\n"F6"z4|"F6"z4|"F6"z4|\n')[0]!;
  const { arrangement } = arrange(tune, {
    id: 'x',
    instrument: 'guitar',
    style: 'pattern',
    capo: 0,
    settings: { pattern: 'D D D D' },
  });
  const { measures } = arrangement!;
  const { frets } = measures[0]!.chords[0]!;
  // 1 x 3 2 3 x: the finger on string 6 damps string 5.
  expect(frets).toEqual([null, 3, 2, 3, null, 1]);
  expect(measures[0]!.notes.some(({ string }) => string === 6)).toBe(true);
  expect(pluckFaults(arrangement!)).toEqual([]);
  const open = measures.map(measure => ({
    ...measure,
    chords: measure.chords.map(chord => ({ ...chord, frets: [null, 3, 2, 3, 0, 1] })),
  }));
  expect(pluckFaults({ ...arrangement!, measures: open }).map(({ message }) => message)[0]).toContain(
    "can't take string 6, E and string 4, D without what lies between",
  );
});
