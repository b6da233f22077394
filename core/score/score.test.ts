import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { checkArrangement } from '../check';
import { readAbc } from '../formats/abc';
import { noteAt } from '../instrument';
import {
  type Arrangement,
  change,
  findNote,
  firstAlike,
  type History,
  moveToString,
  perform,
  placeOptions,
  redo,
  removeNote,
  setFinger,
  setFret,
  startHistory,
  undo,
} from './index';

const ABC = 'X:1\nT:Edit\nM:4/4\nL:1/4\nQ:1/4=100\nK:C\n"C"cdef|"G"g2"C"e2|"C"cdef|"G"g4|]\n';
const { tune } = readAbc(ABC)[0]!;
const make = (): Arrangement =>
  arrange(tune, { id: 'e', instrument: 'guitar', style: 'fingerstyle', capo: 0 }).arrangement!;
const ok = (result: History | { error: string }): History => {
  if ('error' in result) throw new Error(result.error);
  return result;
};
const firstOf = (arrangement: Arrangement, voice: string) =>
  arrangement.measures[0]!.notes.find(n => n.voice === voice)!;

describe('edits', () => {
  it('a fret changes the pitch, pins the note and can be undone and redone', () => {
    const start = startHistory(make());
    const { id } = firstOf(start.present, 'melody');
    const edited = ok(setFret(start, id, 3));
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
    const moved = ok(moveToString(start, note.id, note.string + 1));
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
    const moved = ok(moveToString(startHistory(arrangement!), note.id, note.string + 1));
    const after = findNote(moved.present, note.id)!.note;
    const pitches = (n: typeof note) => n.graces!.map(fret => noteAt(arrangement!.setup, n.string, fret));
    expect(pitches(after)).toEqual(pitches(note));
  });
  it('refuses what is not on the neck and says why', () => {
    const start = startHistory(make());
    const { id } = firstOf(start.present, 'melody');
    expect(setFret(start, id, 30)).toEqual({ error: expect.stringContaining('fret 30 is not on this neck') });
    expect(moveToString(start, id, 9)).toEqual({ error: 'there is no string 9' });
    expect(removeNote(start, id)).toEqual({ error: expect.stringContaining('melody') });
    expect(setFret(start, 'nobody', 1)).toEqual({ error: 'there is no note here' });
  });
  it('a change that breaks the hand is found, with the reason', () => {
    const start = startHistory(make());
    const bass = firstOf(start.present, 'bass');
    const melody = firstOf(start.present, 'melody');
    const edited = ok(setFret(ok(setFret(start, melody.id, 1)), bass.id, 11));
    const finding = checkArrangement(edited.present).find(f => f.kind === 'reach');
    expect(finding).toMatchObject({ severity: 'error', measure: 0, start: 0 });
    expect(finding!.message).toMatch(/fingers \d and \d reach \d+ mm; this hand reaches \d+ mm/);
  });
  it('fingers set by hand are kept and checked', () => {
    const start = startHistory(make());
    const note = start.present.measures[0]!.notes.find(n => n.fret > 0)!;
    const edited = setFinger(start, note.id, 4);
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
                ? setFret(history, id, value)
                : kind === 1
                  ? moveToString(history, id, (value % 6) + 1)
                  : removeNote(history, id);
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

describe('ring', () => {
  const played = (arrangement: Arrangement) => perform(arrangement, [0, 1, 2, 3]);
  it('lasts at least as written and stops when its string is struck', () => {
    const notes = played(make());
    for (const note of notes) {
      expect(note.ringEnd).toBeGreaterThanOrEqual(note.writtenEnd);
      const next = notes.find(n => n.at > note.at && n.note.string === note.note.string);
      if (next) expect(note.ringEnd).toBeLessThanOrEqual(next.at);
    }
    expect(notes.some(n => n.ringEnd > n.writtenEnd)).toBe(true);
  });
  it('ends where its finger is needed elsewhere', () => {
    for (const note of played(make())) {
      if (!note.note.finger) continue;
      const taken = played(make()).find(
        n =>
          n.at > note.at &&
          n.note.finger === note.note.finger &&
          n.note.fret > 0 &&
          n.note.fret !== note.note.fret,
      );
      if (taken) expect(note.ringEnd).toBeLessThanOrEqual(taken.at);
    }
  });
  it('a barre lifts for an open string under it, and stops an open string it comes down on', () => {
    const base = make();
    const note = (id: string, start: number, string: number, fret: number, finger?: 1) => ({
      id,
      voice: 'inner' as const,
      start: start * 10080,
      ticks: 10080,
      string,
      fret,
      ...(finger && { finger }),
    });
    const played = (notes: ReturnType<typeof note>[]) =>
      perform({ ...base, measures: [{ ...base.measures[0]!, chords: [], notes }] }, [0]).map(n => [
        n.note.id,
        n.ringEnd / 10080,
      ]);
    expect(played([note('a', 0, 1, 2, 1), note('b', 0, 5, 2, 1), note('c', 2, 3, 0)])).toEqual([
      ['a', 2],
      ['b', 2],
      ['c', 4],
    ]);
    expect(played([note('a', 0, 3, 0), note('b', 2, 1, 2, 1), note('c', 2, 5, 2, 1)])).toEqual([
      ['a', 2],
      ['b', 4],
      ['c', 4],
    ]);
    expect(played([note('a', 0, 1, 2, 1), note('c', 2, 3, 0)])).toEqual([
      ['a', 4],
      ['c', 4],
    ]);
  });
  it('joins tied notes into one', () => {
    const tied = readAbc('X:1\nT:Tie\nM:4/4\nL:1/4\nK:C\nc4-|c4|]\n')[0]!.tune;
    const { arrangement } = arrange(tied, { id: 't', instrument: 'guitar', style: 'melody', capo: 0 });
    expect(perform(arrangement!, [0, 1])).toHaveLength(1);
  });
});

it('knows measures that are played alike', () => {
  const alike = firstAlike(
    arrange(readAbc('X:1\nT:A\nM:4/4\nL:1/4\nK:C\ncdef|gfed|cdef|gfed|]\n')[0]!.tune, {
      id: 'a',
      instrument: 'mandolin',
      style: 'melody',
      capo: 0,
    }).arrangement!,
  );
  expect(alike).toEqual([0, 1, 0, 1]);
});
