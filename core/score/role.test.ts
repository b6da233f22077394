import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { readAbc } from '../formats/abc';
import { noteAt } from '../instrument';
import { intervalName, noteRole, roleWords } from './index';

const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:C\n"C"ceg^f|"G7"dfga|]\n')[0]!;
const { arrangement } = arrange(tune, { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 0 });
const roleOf = (measure: number, index: number) => {
  const melody = arrangement!.measures[measure]!.notes.filter(n => n.role === 'melody');
  return noteRole(arrangement!, melody[index]!.id)!;
};

describe('what a note is in the harmony', () => {
  it('degrees of the chord and steps of the key', () => {
    expect(roleOf(0, 0)).toMatchObject({ chord: 'C', degree: '1', step: 1 });
    expect(roleOf(0, 1)).toMatchObject({ degree: '3', step: 3 });
    expect(roleOf(0, 2)).toMatchObject({ degree: '5', step: 5 });
    expect(roleOf(1, 1)).toMatchObject({ chord: 'G7', degree: 'b7', step: 4 });
  });
  it('a foreign note outside the key that leads on is an approach', () => {
    const sharp = roleOf(0, 3);
    expect(sharp.degree).toBeUndefined();
    expect(sharp.step).toBeUndefined();
    expect(roleWords(sharp)).toMatch(/outside the key; foreign to C/);
    expect(roleOf(1, 3)).toMatchObject({ degree: undefined, step: 6 });
  });
  it('the interval over the bass that sounds', () => {
    for (const measure of arrangement!.measures)
      for (const note of measure.notes.filter(n => n.role === 'melody')) {
        const role = noteRole(arrangement!, note.id)!;
        const bass = measure.notes.find(
          n => n.role === 'bass' && n.start <= note.start && note.start < n.start + n.ticks,
        );
        const setup = arrangement!.setup;
        expect(role.overBass).toBe(
          bass && intervalName(noteAt(setup, note.string, note.fret) - noteAt(setup, bass.string, bass.fret)),
        );
      }
    expect(intervalName(7)).toBe('fifth');
    expect(intervalName(16)).toBe('major third');
  });
  it('there is none for a note that is not there', () =>
    expect(noteRole(arrangement!, 'nowhere')).toBeUndefined());
});
