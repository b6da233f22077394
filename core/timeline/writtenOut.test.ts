import fc from 'fast-check';
import { expect, it } from 'vitest';
import { arrange } from '../arrange';
import { applyEdit, type Edit, startHistory } from '../edit';
import { writeMidi } from '../formats';
import { readAbc } from '../formats/abc';
import { faultOf } from '../records';
import type { Arrangement } from '../score';
import { cases } from '../testing/setup';
import { tunes } from '../testing/tunes';
import { asPlayed, Clock, playedNotes, playingOrder, writtenOut } from './index';

const made = (abc: string) =>
  arrange(readAbc(abc)[0]!.tune, { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 0 })
    .arrangement;
/** What is heard and when. */
const heard = (a: Arrangement) => {
  const order = playingOrder(a);
  const clock = new Clock(a, order);
  return playedNotes(a, order).map(({ at, writtenEnd, midi, note }) => [
    clock.seconds(at).toFixed(6),
    clock.seconds(writtenEnd).toFixed(6),
    midi,
    note.string,
  ]);
};

it('written out, repeats, endings and changes of tempo sound the same', () => {
  const first = made(
    'X:1\nT:R\nM:4/4\nL:1/4\nQ:1/4=100\nK:C\n|:"C"cdef|[Q:1/4=60]"G"gfed|1"C"c2G2:|2"C"c4|]\n',
  )!;
  const out = writtenOut(first);
  expect(out.measures).toHaveLength(6);
  expect(out.measures.some(m => m.repeatStart || m.repeatEnd || m.ending)).toBe(false);
  expect(heard(out)).toEqual(heard(first));
  expect(faultOf('arrangements', out)).toBeUndefined();
});

it('so does any tune', () => {
  fc.assert(
    fc.property(tunes({ low: -3, high: 12 }), generated => {
      const arrangement = made(generated.abc);
      if (!arrangement) return;
      const out = writtenOut(arrangement);
      expect(heard(out)).toEqual(heard(arrangement));
      expect(faultOf('arrangements', out)).toBeUndefined();
    }),
    { numRuns: cases(40) },
  );
});

it('a variant for the last time is heard the last time only, and in what is written out', () => {
  const first = made('X:1\nT:R\nM:4/4\nL:1/4\nQ:1/4=100\nK:C\n|:"C"cdef|"G"g4:|]\n')!;
  expect(asPlayed(first)).toEqual({ arrangement: first });
  const done = (a: Arrangement, edit: Edit) => {
    const result = applyEdit(startHistory(a), edit);
    if ('error' in result) throw new Error(result.error);
    return result.present;
  };
  const kept = done(first, {
    kind: 'keep-variant',
    ids: [first.measures[1]!.id],
    values: { name: 'plain', present: 'ending' },
  });
  // Measure 2 now ends on another note; the plain way is for the last time.
  const melody = kept.measures[1]!.notes.find(note => note.role === 'melody')!;
  const changed = done(kept, { kind: 'fret', ids: [melody.id], values: { fret: melody.fret + 2 } });
  const variant = changed.variants![0]!.id;
  const last = done(changed, { kind: 'last-variant', ids: [], values: { variant, last: true } });
  const { arrangement, origin } = asPlayed(last);
  expect(origin).toEqual([0, 1, 0, 1]);
  const frets = arrangement.measures.map(m => m.notes.find(note => note.role === 'melody')!.fret);
  expect(frets[3]).toBe(melody.fret);
  expect(frets[1]).toBe(melody.fret + 2);
  expect(faultOf('arrangements', arrangement)).toBeUndefined();
  expect(writeMidi(last)).not.toEqual(writeMidi(changed));
});
