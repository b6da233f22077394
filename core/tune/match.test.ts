import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readAbc } from '../formats/abc';
import { faultOf } from '../records';
import { tunes } from '../testing/tunes';
import { rereadTune, type Tune } from './index';

const read = (body: string, head = 'M:4/4\nL:1/4\nK:G') => readAbc(`X:1\nT:T\n${head}\n${body}\n`)[0]!.tune;
const ids = (tune: Tune) => tune.measures.map(m => m.id);

describe('a corrected source', () => {
  it('gives measures, notes and chords of a tune just read ids by their place', () => {
    const tune = read('"G"GABc|"D"d4|]');
    expect(ids(tune)).toEqual(['m1', 'm2']);
    expect(tune.measures[1]!.events[0]!.id).toBe('e5');
    expect(tune.measures[1]!.chords[0]!.id).toBe('c2');
    expect(tune.measures[0]!.section).toEqual({ id: 's1', name: 'A' });
    expect(tune.nextId).toBe(6);
  });
  it('a measure put in between gets a new id, all others keep theirs', () => {
    const before = read('"G"GABc|"D"dcBA|"G"G4|]');
    const after = rereadTune(before, read('"G"GABc|"C"cege|"D"dcBA|"G"G4|]'));
    expect(ids(after)).toEqual(['m1', `m${before.nextId}`, 'm2', 'm3']);
    expect(after.measures[2]).toEqual(before.measures[1]);
  });
  it('a measure taken out leaves its id unused for ever', () => {
    const before = read('"G"GABc|"D"dcBA|"G"G4|]');
    const less = rereadTune(before, read('"G"GABc|"G"G4|]'));
    expect(ids(less)).toEqual(['m1', 'm3']);
    const again = rereadTune(less, read('"G"GABc|"D"dcBA|"G"G4|]'));
    expect(ids(again)[1]).not.toBe('m2');
  });
  it('a corrected note or chord keeps its measure, and the other notes of it', () => {
    const before = read('"G"GABc|"D"dcBA|"G"G4|]');
    const after = rereadTune(before, read('"G"GABc|"Am"dcBe|"G"G4|]'));
    expect(ids(after)).toEqual(ids(before));
    expect(after.measures[1]!.events.map(e => e.id)).toEqual(before.measures[1]!.events.map(e => e.id));
    expect(after.measures[1]!.chords).toEqual([{ ...before.measures[1]!.chords[0], symbol: 'Am' }]);
  });
  it('of measures that are just alike each keeps its own', () => {
    const before = read('GABc|GABc|GABc|d4|]');
    const after = rereadTune(before, read('GABc|GABc|GABc|GABc|d4|]'));
    expect(ids(after).filter(id => ids(before).includes(id))).toEqual(ids(before));
  });
  it('sections keep their ids through a new name and a measure put before them', () => {
    const before = read('P:Verse\nGABc|d4||\nP:Chorus\ncccc|G4|]');
    const after = rereadTune(before, read('P:Verse\nGABc|d4||\nP:Refrain\nffff|cccc|G4|]'));
    const sections = (tune: Tune) => tune.measures.flatMap(m => m.section ?? []);
    expect(sections(after).map(s => s.name)).toEqual(['Verse', 'Refrain']);
    expect(sections(after)[0]!.id).toBe(sections(before)[0]!.id);
    expect(new Set(sections(after).map(s => s.id)).size).toBe(2);
  });
  it('any tune read again is the very same; any change leaves ids unique and is the same every time', () => {
    fc.assert(
      fc.property(tunes(), tunes(), fc.nat(9), fc.nat(3), (a, b, at, out) => {
        const before = readAbc(a.abc)[0]!.tune;
        expect(rereadTune(before, readAbc(a.abc)[0]!.tune)).toEqual(before);
        // A corrected text: some measures fall out, others come in, the rest stays.
        const cut = Math.min(at, before.measures.length);
        const other = readAbc(b.abc)[0]!.tune;
        const mixed: Tune = {
          ...other,
          measures: [
            ...before.measures.slice(0, cut),
            ...other.measures.slice(0, 2),
            ...before.measures.slice(cut + out),
          ],
        };
        const after = rereadTune(before, mixed);
        expect(rereadTune(before, mixed)).toEqual(after);
        expect(faultOf('tunes', after)).toBeUndefined();
        expect(after.nextId).toBeGreaterThanOrEqual(before.nextId);
        const stays = [...ids(before).slice(0, cut), ...ids(before).slice(cut + out)];
        expect(ids(after).filter(id => stays.includes(id)).length).toBe(stays.length);
      }),
      { numRuns: 300 },
    );
  });
});
