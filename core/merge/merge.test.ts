import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { checkArrangement } from '../check';
import { readAbc } from '../formats/abc';
import { standardSetup } from '../instrument';
import { faultOf } from '../records';
import { ledgerWords, noteMidi } from '../score';
import { handmade } from '../testing/handmade';
import { cases } from '../testing/setup';
import { tunes } from '../testing/tunes';
import {
  doubleStopsOf,
  MERGE_WAYS,
  type MergeAsked,
  merged,
  type Part,
  partOfArrangement,
  partOfTune,
} from './index';

const setup = standardSetup('guitar');
const Q = 10080;
const asked: MergeAsked = { at: 0, role: 'bass', octaves: 0, way: 'octave' };
/** A part of quarters by their MIDI notes, in one measure of 4/4. */
const part = (...midis: number[]): Part => ({
  name: 'the bass',
  measures: [{ ticks: 4 * Q, notes: midis.map((midi, i) => ({ start: i * Q, ticks: Q, midi })) }],
});
/** G4 F4 G4 E4 on the first string. */
const melody = handmade({
  setup,
  notes: [3, 1, 3, 0].map(fret => ({ quarters: 1, string: 1, fret })),
});

describe('two parts on one instrument', () => {
  it('both are played, note for note, and the hand can hold them', () => {
    const { arrangement, added, problems } = merged(melody, part(48, 43, 48, 47), asked);
    expect([added, problems]).toEqual([4, []]);
    const bass = arrangement.measures[0]!.notes.filter(note => note.role === 'bass');
    expect(bass.map(note => noteMidi(setup, note))).toEqual([48, 43, 48, 47]);
    expect(checkArrangement(arrangement).filter(f => f.severity === 'error')).toEqual([]);
    expect(faultOf('arrangements', arrangement)).toBeUndefined();
    // The given arrangement stays as it is.
    expect(melody.measures[0]!.notes).toHaveLength(4);
  });
  it('what lies too low goes an octave up, or is left out; both ways are told and recorded', () => {
    // Low D (MIDI 38) is below a guitar's lowest string.
    const up = merged(melody, part(38, 43), asked);
    expect(up.problems).toEqual([
      expect.objectContaining({
        done: 'octave',
        text: 'Measure 1, beat 1: D2 is played an octave higher: it lies beyond the neck',
        others: [{ way: 'leave-out', words: 'left out' }],
      }),
    ]);
    expect(up.arrangement.ledger.map(line => ledgerWords(up.arrangement, line))).toContain(
      'Measure 1: D2 of the bass is played an octave higher.',
    );
    const out = merged(melody, part(38, 43), { ...asked, way: 'leave-out' });
    expect(out.added).toBe(1);
    expect(out.problems[0]).toMatchObject({
      done: 'leave-out',
      others: [{ way: 'octave', words: 'an octave higher' }],
    });
    // One note is treated otherwise than the rest.
    const { key } = out.problems[0]!;
    const single = merged(melody, part(38, 43), { ...asked, way: 'leave-out', ways: { [key]: 'octave' } });
    expect(single.problems).toEqual(up.problems);
  });
  it('a note that is in the way goes to another string at its pitch, and the other has its string', () => {
    // A guitar's low G# (MIDI 44) is on string 6 alone, where an open E sounds that could not move; the A at fret 5 can.
    const low = (fret: number) =>
      handmade({ setup, notes: [{ string: 6, fret, quarters: 4, role: 'inner' as const }] });
    const { arrangement, problems } = merged(low(5), part(44), { ...asked, way: 'other-string' });
    expect(problems[0]).toMatchObject({
      done: 'other-string',
      others: [{ way: 'octave' }, { way: 'leave-out' }],
    });
    expect(problems[0]!.text).toContain('is played with A2 on string 5');
    const [first] = arrangement.measures;
    expect(first!.notes.map(note => [note.string, note.fret])).toEqual([
      [5, 0],
      [6, 4],
    ]);
    expect(checkArrangement(arrangement).filter(f => f.severity === 'error')).toEqual([]);
    // What the teacher has placed, and what has no other string, stays: the new note goes elsewhere.
    expect(merged(low(0), part(44), { ...asked, way: 'other-string' }).problems[0]!.done).toBe('octave');
    const placed = low(5);
    placed.measures[0]!.notes[0]!.pinned = true;
    expect(merged(placed, part(44), { ...asked, way: 'other-string' }).problems[0]!.done).toBe('octave');
  });
  it('a note that is played already is not played twice', () => {
    expect(merged(melody, part(67, 65), { ...asked, role: 'inner' })).toMatchObject({ added: 0, shared: 2 });
  });
  it('measures of another length are left out and named', () => {
    const short: Part = {
      name: 'a waltz',
      measures: [{ ticks: 3 * Q, notes: [{ start: 0, ticks: Q, midi: 48 }] }],
    };
    const { added, problems } = merged(melody, short, asked);
    expect(added).toBe(0);
    expect(problems[0]!.text).toMatch(/^Measure 1 of a waltz is left out: it is of another length there/);
  });
  it('double stops of a source are a part, and so is the melody of an arrangement', () => {
    const { tune } = readAbc('X:1\nT:D\nM:4/4\nL:1/4\nK:G\n[GB][Ac]Bd|]\n')[0]!;
    expect(doubleStopsOf(tune).measures[0]!.notes.map(n => [n.start / Q, n.midi])).toEqual([
      [0, 67],
      [1, 69],
    ]);
    expect(partOfTune(tune, 0).measures[0]!.notes.map(n => n.midi)).toEqual([67, 71, 69, 72, 71, 74]);
    expect(partOfArrangement(melody, 'melody').measures[0]!.notes.map(n => n.midi)).toEqual([67, 65, 67, 64]);
    expect(partOfArrangement(melody, 'bass').measures[0]!.notes).toEqual([]);
  });
  it('any tune under any other: in order, without an error, each note placed or told', () => {
    fc.assert(
      fc.property(
        tunes({ low: -3, high: 12 }),
        tunes({ low: -10, high: 5 }),
        fc.constantFrom('bass' as const, 'inner' as const),
        fc.constantFrom(...MERGE_WAYS),
        (upper, lower, role, way) => {
          const { arrangement } = arrange(readAbc(upper.abc)[0]!.tune, {
            id: 'a',
            instrument: 'guitar',
            style: 'melody',
            capo: 0,
          });
          if (!arrangement) return;
          const other = partOfTune(readAbc(lower.abc)[0]!.tune, 0, -12);
          const result = merged(arrangement, other, { at: 0, role, octaves: 0, way });
          expect(faultOf('arrangements', result.arrangement)).toBeUndefined();
          const errors = (a: typeof arrangement) =>
            checkArrangement(a).filter(f => f.severity === 'error').length;
          expect(errors(result.arrangement)).toBe(errors(arrangement));
          const lines = result.arrangement.ledger.length - arrangement.ledger.length;
          expect(lines).toBe(result.problems.length);
        },
      ),
      { numRuns: cases(40) },
    );
  });
});
