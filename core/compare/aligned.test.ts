import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { readAbc } from '../formats/abc';
import type { Level } from '../score';
import { alignedRows } from '.';

const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:C\n"C"cegc|"G7"dfgd|"F"fagf|"C"c4|"G"gdBd|]\n')[0]!;
const made = (level: Level, instrument: 'guitar' | 'mandolin' = 'guitar') =>
  arrange(tune, { id: 'a', instrument, style: 'chord-melody', capo: 0, settings: { level } }).arrangement!;

describe('an easy and a full arrangement beside each other', () => {
  it('every row holds the same measures of the tune in both, and every measure stands once', () => {
    for (const [full, easy] of [
      [made(4), made(1)],
      [made(3), made(3, 'mandolin')],
    ] as const)
      for (const count of [1, 2, 3]) {
        const rows = alignedRows(full, easy, count);
        expect(rows.flatMap(row => row.own)).toEqual([0, 1, 2, 3, 4]);
        for (const { own, other } of rows)
          expect(other.map(place => easy.measures[place]!.from!.id)).toEqual(
            own.map(place => full.measures[place]!.from!.id),
          );
      }
  });
  it('a measure that one of them has not leaves its place empty', () => {
    const full = made(3);
    const short = { measures: full.measures.filter((_, i) => i !== 1) };
    expect(alignedRows(full, short, 2).slice(0, 2)).toEqual([
      { own: [0, 1], other: [0] },
      { own: [2, 3], other: [1, 2] },
    ]);
  });
});
