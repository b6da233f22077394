import { describe, expect, it } from 'vitest';
import type { ScoreNote } from '../score';
import { TICKS_PER_QUARTER } from '../time';
import { assignPlucks } from './index';

const note = (string: number, start: number, role: ScoreNote['role'] = 'melody'): ScoreNote => ({
  id: `${string}-${start}`,
  role,
  start,
  ticks: 100,
  string,
  fret: 0,
});
const measure = (beats: number, unit: number, notes: ScoreNote[]) => ({
  meter: { beats, unit },
  offset: 0,
  ticks: (beats * 4 * TICKS_PER_QUARTER) / unit,
  notes,
});

describe('the plucking hand (common practice)', () => {
  const eighth = TICKS_PER_QUARTER / 2;
  it('ring finger string 1, middle 2, index 3, thumb 4 5 6', () => {
    const m = measure(
      4,
      4,
      [1, 2, 3, 4, 5, 6].map((string, i) => note(string, i * eighth, string > 3 ? 'bass' : 'melody')),
    );
    assignPlucks([m], { school: 'by-string', jig: 'group' }, 120);
    expect(m.notes.map(n => n.pluck)).toEqual(['a', 'm', 'i', 'p', 'p', 'p']);
  });
  it('a chord on 5 4 3 2 takes p i m a', () => {
    const m = measure(4, 4, [note(2, 0), note(3, 0, 'inner'), note(4, 0, 'inner'), note(5, 0, 'bass')]);
    assignPlucks([m], { school: 'by-string', jig: 'group' }, 120);
    expect(Object.fromEntries(m.notes.map(n => [n.string, n.pluck]))).toEqual({
      5: 'p',
      4: 'i',
      3: 'm',
      2: 'a',
    });
  });
  it('thumb and finger pinch a bass and a melody on thick strings', () => {
    const m = measure(4, 4, [note(4, 0), note(6, 0, 'bass')]);
    assignPlucks([m], { school: 'by-string', jig: 'group' }, 120);
    expect(m.notes.map(n => n.pluck)).toEqual(['i', 'p']);
  });
  it('a pick goes down on the beat and up off it', () => {
    const m = measure(
      4,
      4,
      Array.from({ length: 8 }, (_, i) => note(1, i * eighth)),
    );
    assignPlucks([m], { school: 'pick', jig: 'group' }, 120);
    expect(m.notes.map(n => n.pluck)).toEqual(['down', 'up', 'down', 'up', 'down', 'up', 'down', 'up']);
  });
  it('a jig goes down-up-down, down-up-down', () => {
    const m = measure(
      6,
      8,
      Array.from({ length: 6 }, (_, i) => note(1, i * eighth)),
    );
    assignPlucks([m], { school: 'pick', jig: 'group' }, 120);
    expect(m.notes.map(n => n.pluck)).toEqual(['down', 'up', 'down', 'down', 'up', 'down']);
  });
  it('a tied note is not plucked', () => {
    const m = measure(4, 4, [{ ...note(1, 0), tie: 'a', pluck: 'a' as const }]);
    assignPlucks([m], { school: 'by-string', jig: 'group' }, 120);
    expect(m.notes[0]).not.toHaveProperty('pluck');
  });
});
