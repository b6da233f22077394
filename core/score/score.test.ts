import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { checkArrangement } from '../check';
import { type History, placeOptions, redo, startHistory, undo } from '../edit';
import { readAbc } from '../formats/abc';
import { change } from '../history';
import { noteAt } from '../instrument';
import { done, edit } from '../testing/edits';
import { type Arrangement, findNote } from './index';

const ABC = 'X:1\nT:Edit\nM:4/4\nL:1/4\nQ:1/4=100\nK:C\n"C"cdef|"G"g2"C"e2|"C"cdef|"G"g4|]\n';
const { tune } = readAbc(ABC)[0]!;
const make = (): Arrangement =>
  arrange(tune, { id: 'e', instrument: 'guitar', style: 'fingerstyle', capo: 0 }).arrangement!;
const ok = (result: History | { error: string }): History => {
  if ('error' in result) throw new Error(result.error);
  return result;
};
const firstOf = (arrangement: Arrangement, voice: string) =>
  arrangement.measures[0]!.notes.find(n => n.role === voice)!;

describe('edits', () => {
  it('a fret changes the pitch, pins the note and can be undone and redone', () => {
    const start = startHistory(make());
    const { id } = firstOf(start.present, 'melody');
    const edited = ok(edit(start, 'fret', id, { fret: 3 }));
    const note = findNote(edited.present, id)!.note;
    expect(note).toMatchObject({ fret: 3, pinned: true });
    expect(undo(edited).present).toEqual(start.present);
    expect(redo(undo(edited)).present).toEqual(edited.present);
    expect(
      checkArrangement(edited.present, tune).some(f => f.kind === 'melody' && f.notes.includes(id)),
    ).toBe(true);
  });
  it('another string keeps the pitch', () => {
    const start = startHistory(make());
    const note = firstOf(start.present, 'melody');
    const moved = ok(edit(start, 'string', note.id, { string: note.string + 1 }));
    const after = findNote(moved.present, note.id)!.note;
    expect(after.string).toBe(note.string + 1);
    expect(noteAt(start.present.setup, after.string, after.fret)).toBe(
      noteAt(start.present.setup, note.string, note.fret),
    );
  });
  it('another string takes the grace notes along at their pitch', () => {
    const graced = readAbc('X:1\nT:G\nM:4/4\nL:1/4\nK:C\n{a}g4|]\n')[0]!.tune;
    const { arrangement } = arrange(graced, { id: 'g', instrument: 'guitar', style: 'melody', capo: 0 });
    const note = arrangement!.measures[0]!.notes[0]!;
    const moved = ok(edit(startHistory(arrangement!), 'string', note.id, { string: note.string + 1 }));
    const after = findNote(moved.present, note.id)!.note;
    const pitches = (n: typeof note) =>
      n.graces!.map(grace => noteAt(arrangement!.setup, n.string, grace.fret));
    expect(pitches(after)).toEqual(pitches(note));
  });
  it('refuses what is not on the neck and says why', () => {
    const start = startHistory(make());
    const { id } = firstOf(start.present, 'melody');
    expect(edit(start, 'fret', id, { fret: 30 })).toEqual({
      error: expect.stringContaining('fret 30 is not on this neck'),
    });
    expect(edit(start, 'string', id, { string: 9 })).toEqual({ error: 'there is no string 9' });
    expect(edit(start, 'fret', 'nobody', { fret: 1 })).toEqual({ error: 'there is no note here' });
  });
  it('a change that breaks the hand is found, with the reason', () => {
    const start = startHistory(make());
    const bass = firstOf(start.present, 'bass');
    const melody = firstOf(start.present, 'melody');
    const edited = ok(edit(ok(edit(start, 'fret', melody.id, { fret: 1 })), 'fret', bass.id, { fret: 11 }));
    const finding = checkArrangement(edited.present).find(f => f.kind === 'reach');
    expect(finding).toMatchObject({ severity: 'error', measure: 'm1', start: 0 });
    expect(finding!.message).toMatch(/fingers \d and \d reach \d+ mm; this hand reaches \d+ mm/);
  });
  it('fingers set by hand are kept and checked', () => {
    const start = startHistory(make());
    const note = start.present.measures[0]!.notes.find(n => n.fret > 0)!;
    const edited = done(edit(start, 'finger', note.id, { finger: 4 }));
    expect(findNote(edited.present, note.id)!.note.finger).toBe(4);
  });
  it('any run of edits is undone to the very beginning', () => {
    const original = make();
    const ids = original.measures.flatMap(m => m.notes.map(n => n.id));
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom(...ids), fc.nat(12), fc.nat(2)), { maxLength: 12 }),
        edits => {
          let history = startHistory(original);
          for (const [id, value, kind] of edits) {
            const result =
              kind === 0
                ? edit(history, 'fret', id, { fret: value })
                : kind === 1
                  ? edit(history, 'string', id, { string: (value % 6) + 1 })
                  : edit(history, 'remove', id, {});
            if (!('error' in result)) history = result;
          }
          const end = history.present;
          const steps = history.past.length;
          for (let i = 0; i < steps; i++) history = undo(history);
          expect(history.present).toEqual(original);
          for (let i = 0; i < steps; i++) history = redo(history);
          expect(history.present).toEqual(end);
        },
      ),
      { numRuns: 60 },
    );
  });
  it('a recipe that changes nothing is no step', () => {
    const start = startHistory(make());
    expect(change(start, 'nothing', () => undefined)).toBe(start);
  });
});

describe('places for a note', () => {
  it('are all of its pitch, faults explained, the present one marked', () => {
    const arrangement = make();
    const note = firstOf(arrangement, 'melody');
    const midi = noteAt(arrangement.setup, note.string, note.fret);
    const options = placeOptions(arrangement, note.id);
    expect(options.filter(o => o.here)).toHaveLength(1);
    for (const option of options) expect(noteAt(arrangement.setup, option.string, option.fret)).toBe(midi);
    expect(options.length).toBeGreaterThan(2);
  });
});
