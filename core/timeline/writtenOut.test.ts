import fc from 'fast-check';
import { expect, it } from 'vitest';
import { arrange } from '../arrange';
import { readAbc } from '../formats/abc';
import { faultOf } from '../records';
import type { Arrangement } from '../score';
import { cases } from '../testing/setup';
import { tunes } from '../testing/tunes';
import { Clock, playedNotes, playingOrder, writtenOut } from './index';

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
