import { describe, expect, it } from 'vitest';
import { applyEdit, startHistory } from '../edit';
import { standardSetup } from '../instrument';
import { type HandNote, handmade } from '../testing/handmade';
import { type LongNotes, rhythmOf } from './index';

const setup = standardSetup('guitar');
const signs = (notes: HandNote[], where: 'above' | 'below' = 'above', long: LongNotes = 'ties') =>
  rhythmOf(handmade({ setup, notes }).measures[0]!, long)[where].map(
    ({ type, dots, flags, beam, tied, rest }) =>
      `${tied ? '~' : ''}${rest ? 'rest ' : ''}${type}${'.'.repeat(dots)}${flags ? ` ${flags}` : ''}${beam === undefined ? '' : ` beam ${beam}`}`,
  );
const melody = (...quarters: number[]): HandNote[] =>
  quarters.map(length => ({ quarters: length, string: 2, fret: 1 }));

/** How rhythm is written: common practice of notation. */
describe('rhythm signs', () => {
  it('of quarters, a half, and what is dotted', () => {
    expect(signs(melody(1, 1, 2))).toEqual(['quarter', 'quarter', 'half']);
    expect(signs(melody(3))).toEqual(['half.']);
  });
  it('eighths of one beat hang on one beam, those of the next on another', () => {
    expect(signs(melody(0.5, 0.5, 0.5, 0.5))).toEqual([
      'eighth 1 beam 0',
      'eighth 1 beam 0',
      'eighth 1 beam 1',
      'eighth 1 beam 1',
    ]);
    expect(signs(melody(0.75, 0.25))).toEqual(['eighth. 1 beam 0', '16th 2 beam 0']);
  });
  it('an eighth by itself has a flag', () => {
    expect(signs(melody(0.5, 1, 0.5))).toEqual(['eighth 1', 'quarter', 'eighth 1']);
  });
  it('what takes two values is tied', () => {
    expect(signs(melody(2.5))).toEqual(['half', '~eighth 1']);
  });
  it('in the other school rests stand behind its longest value, and for what sounds over from before', () => {
    expect(signs(melody(2.5, 1.5), 'above', 'rests')).toEqual(['half', 'rest eighth 1', 'quarter.']);
    const over: HandNote[] = [
      { quarters: 1, string: 2, fret: 1 },
      { quarters: 1, string: 2, fret: 1, tie: 'n1' },
      { quarters: 2, string: 2, fret: 3 },
    ];
    expect(signs(over, 'above', 'rests')).toEqual(['quarter', 'rest quarter', 'half']);
    expect(signs(over)).toEqual(['quarter', '~quarter', 'half']);
  });
  it('the bass has its own, below', () => {
    const notes: HandNote[] = [
      ...melody(1, 1, 1, 1),
      { quarters: 2, start: 0, string: 5, fret: 3, role: 'bass' },
      { quarters: 2, start: 2, string: 6, fret: 3, role: 'bass' },
    ];
    expect(signs(notes, 'below')).toEqual(['half', 'half']);
    expect(signs(notes)).toHaveLength(4);
  });
  it('rests break beams', () => {
    const made = handmade({
      setup,
      notes: [0, 1.5].map(start => ({ quarters: 0.5, start, string: 2, fret: 0 })),
    });
    const rested = applyEdit(startHistory(made), {
      kind: 'rest',
      ids: [made.measures[0]!.id],
      values: { start: 5040, ticks: 10080, voice: 1, on: true },
    });
    if ('error' in rested) throw new Error(rested.error);
    const { above } = rhythmOf(rested.present.measures[0]!);
    expect(above.map(s => [s.type, s.rest, s.beam])).toEqual([
      ['eighth', false, undefined],
      ['quarter', true, undefined],
      ['eighth', false, undefined],
    ]);
  });
});
