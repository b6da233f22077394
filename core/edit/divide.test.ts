import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { readAbc } from '../formats/abc';
import { standardSetup } from '../instrument';
import { faultOf } from '../records';
import type { Arrangement } from '../score';
import { handmade } from '../testing/handmade';
import { cases } from '../testing/setup';
import { tunes } from '../testing/tunes';
import { TICKS_PER_QUARTER as Q } from '../time';
import { playedNotes } from '../timeline';
import { applyEdit, type Edit, startHistory } from './index';

const setup = standardSetup('guitar');
const done = (arrangement: Arrangement, edit: Edit) => {
  const result = applyEdit(startHistory(arrangement), edit);
  if ('error' in result) throw new Error(result.error);
  return result.present;
};
const split = (a: Arrangement, index: number, start: number) =>
  done(a, { kind: 'split', ids: [a.measures[index]!.id], values: { start } });
const join = (a: Arrangement, index: number) =>
  done(a, { kind: 'join', ids: [a.measures[index]!.id], values: {} });

/** What is heard, wherever the bar lines stand. */
const heard = (a: Arrangement) =>
  playedNotes(
    a,
    a.measures.map((_, index) => index),
  )
    .map(({ at, writtenEnd, note: { string, fret } }) => [at, writtenEnd, string, fret])
    .sort((x, y) => x[0]! - y[0]! || x[2]! - y[2]!);

describe('a measure divided', () => {
  const made = handmade({
    setup,
    notes: [
      { quarters: 3, string: 5, fret: 3, start: 0 },
      { quarters: 1, string: 1, fret: 0, start: 0 },
      { quarters: 1, string: 1, fret: 3, start: 1 },
      { quarters: 1, string: 2, fret: 1, start: 2 },
      { quarters: 1, string: 3, fret: 0, start: 3 },
    ],
  });
  it('gives two of the lengths, the notes in their places, what sounds over it tied', () => {
    const { measures } = split(made, 0, 2 * Q);
    expect(measures.map(m => [m.meter, m.ticks])).toEqual([
      [{ beats: 2, unit: 4 }, 2 * Q],
      [{ beats: 2, unit: 4 }, 2 * Q],
    ]);
    const tied = measures[1]!.notes.find(note => note.string === 5)!;
    expect(tied).toMatchObject({
      start: 0,
      ticks: Q,
      fret: 3,
      tie: measures[0]!.notes.find(n => n.string === 5)!.id,
    });
  });
  it('takes a smaller unit where it must: an eighth and seven eighths', () => {
    expect(split(made, 0, Q / 2).measures.map(m => m.meter)).toEqual([
      { beats: 1, unit: 8 },
      { beats: 7, unit: 8 },
    ]);
  });
  it.each([0, 4 * Q, -1, 1.5])('not at %s ticks', start => {
    const result = applyEdit(startHistory(made), {
      kind: 'split',
      ids: [made.measures[0]!.id],
      values: { start },
    });
    expect(result).toHaveProperty('error');
  });
});

it('divided or joined, any tune sounds as before, and is in order', () => {
  fc.assert(
    fc.property(tunes({ low: -3, high: 12 }), fc.nat(500), fc.nat(500), (generated, x, y) => {
      const { arrangement } = arrange(readAbc(generated.abc)[0]!.tune, {
        id: 'a',
        instrument: 'guitar',
        style: 'fingerstyle',
        capo: 0,
        settings: { level: 4 },
      });
      if (!arrangement) return;
      const index = x % arrangement.measures.length;
      const own = arrangement.measures[index]!;
      const id = own.id;
      for (const edit of [
        { kind: 'split', ids: [id], values: { start: own.notes[y % (own.notes.length || 1)]?.start ?? 0 } },
        { kind: 'join', ids: [id], values: {} },
      ] satisfies Edit[]) {
        const result = applyEdit(startHistory(arrangement), edit);
        if ('error' in result) continue;
        expect(faultOf('arrangements', result.present)).toBeUndefined();
        expect(heard(result.present)).toEqual(heard(arrangement));
      }
    }),
    { numRuns: cases(24) },
  );
});

it('what was divided is joined again: the same meter, the same sound', () => {
  const made = handmade({
    setup,
    notes: [0, 1, 2, 3].map(start => ({ quarters: 1, string: 2, fret: start, start })),
  });
  const again = join(split(made, 0, Q), 0);
  expect(again.measures).toHaveLength(1);
  expect(again.measures[0]!.meter).toEqual({ beats: 4, unit: 4 });
  expect(heard(again)).toEqual(heard(made));
});

it('nothing is joined over a repeat, a section or a mark of the road', () => {
  const plain = handmade({
    setup,
    notes: [0, 1].map(measure => ({ quarters: 4, string: 2, fret: 0, start: 0, measure })),
  });
  const second = plain.measures[1]!.id;
  for (const values of [
    { repeatStart: true },
    { section: 'B' },
    { mark: { mark: 'coda' as const, on: true } },
  ]) {
    const marked = done(plain, { kind: 'bars', ids: [second], values });
    expect(
      applyEdit(startHistory(marked), { kind: 'join', ids: [plain.measures[0]!.id], values: {} }),
    ).toHaveProperty('error');
  }
});
