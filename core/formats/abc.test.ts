import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { tunes } from '../testing/tunes';
import { lengthFaults, melodyNotes } from '../tune';
import { readAbc } from './abc';

describe('reading generated ABC', () => {
  it('finds key, meter, every pitch and every measure length', () => {
    fc.assert(
      fc.property(tunes(), generated => {
        const [entry] = readAbc(generated.abc);
        expect(entry!.problems.filter(p => !/there are no notes/.test(p.message))).toEqual([]);
        const { tune } = entry!;
        expect(tune.key).toEqual(generated.key);
        expect(tune.meter).toEqual(generated.meter);
        expect(tune.measures.map(m => m.ticks)).toEqual(generated.lengths);
        expect(melodyNotes(tune).map(n => n.midi)).toEqual(generated.melody);
        expect(lengthFaults(tune)).toEqual([]);
      }),
      { numRuns: 300 },
    );
  });
});
