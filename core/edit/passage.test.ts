/** Passages moved as a whole, and measures carried elsewhere. */
import { describe, expect, it } from 'vitest';
import { emptyArrangement } from '../arrange';
import { checkArrangement } from '../check';
import { standardSetup } from '../instrument';
import { faultOf } from '../records';
import { type Arrangement, has, noteMidi } from '../score';
import { done } from '../testing/edits';
import { handmade } from '../testing/handmade';
import { trackOf } from '../track';
import { blankTune } from '../tune';
import {
  applyEdit,
  copied,
  type Edit,
  fitted,
  type History,
  type PassageGoal,
  startHistory,
  undo,
} from './index';

const guitar = standardSetup('guitar');
/** A run over three strings, under a bass. */
const run = () =>
  handmade({
    setup: guitar,
    notes: [
      ...[
        [3, 0],
        [3, 2],
        [2, 0],
        [2, 1],
        [2, 3],
        [1, 0],
      ].map(([string, fret]) => ({ quarters: 0.5, string: string!, fret: fret! })),
      { quarters: 1, string: 1, fret: 3 },
      { quarters: 4, start: 0, string: 5, fret: 3, role: 'bass' as const },
    ],
  });
const move = (a: Arrangement, goal: PassageGoal, role?: 'melody' | 'bass'): Edit => ({
  kind: 'passage',
  ids: [a.measures[0]!.id],
  values: { goal, ...(role && { role }) },
});
const pitches = (a: Arrangement, measure = 0) =>
  a.measures[measure]!.notes.toSorted((x, y) => x.start - y.start || y.string - x.string).map(n =>
    noteMidi(a.setup, n),
  );

describe('a passage moved at once', () => {
  it('goes into a position, keeps its pitches, and is fingered as a hand plays it: a finger a fret', () => {
    const start = run();
    const history = done(applyEdit(startHistory(start), move(start, { position: 5 }, 'melody')));
    const after = history.present;
    expect(pitches(after)).toEqual(pitches(start));
    const melody = after.measures[0]!.notes.filter(n => n.role === 'melody');
    expect(melody.every(n => n.fret >= 4 && n.fret <= 9)).toBe(true);
    // Not one finger for all, and no finger that was not asked for is pinned.
    expect(new Set(melody.map(n => n.finger)).size).toBeGreaterThan(2);
    expect(melody.some(n => n.fingerPinned)).toBe(false);
    expect(faultOf('arrangements', after)).toBeUndefined();
    expect(undo(history).present).toEqual(start);
  });
  it('goes onto one string where it has all notes, and says which one has no place else', () => {
    const start = run();
    const { present } = done(applyEdit(startHistory(start), move(start, { string: 3 }, 'melody')));
    expect(present.measures[0]!.notes.filter(n => n.role === 'melody').map(n => n.string)).toEqual(
      Array(7).fill(3),
    );
    expect(pitches(present)).toEqual(pitches(start));
    expect(applyEdit(startHistory(start), move(start, { string: 1 }, 'melody'))).toEqual({
      error: 'measure 1: G3 is not on string 1, E',
    });
    expect(applyEdit(startHistory(start), move(start, { string: 9 }))).toEqual({
      error: 'there is no string 9',
    });
  });
  it('goes an octave lower, one role of it alone', () => {
    const start = run();
    const { present } = done(applyEdit(startHistory(start), move(start, { octaves: 1 }, 'melody')));
    const of = (a: Arrangement, role: string) =>
      a.measures[0]!.notes.filter(n => n.role === role).map(n => noteMidi(a.setup, n));
    expect(of(present, 'melody')).toEqual(of(start, 'melody').map(midi => midi + 12));
    expect(of(present, 'bass')).toEqual(of(start, 'bass'));
    expect(applyEdit(startHistory(start), move(start, { octaves: -2 }))).toMatchObject({
      error: expect.stringMatching(/this instrument has no .* an octave lower/),
    });
  });
  it('two notes at once never land on one string', () => {
    const pinch = handmade({
      setup: guitar,
      notes: [
        { quarters: 2, string: 1, fret: 0 },
        { quarters: 2, start: 0, string: 2, fret: 0 },
      ],
    });
    const result = applyEdit(startHistory(pinch), move(pinch, { string: 3 }));
    expect(result).toEqual({ error: 'measure 1: B3 finds its string taken by another note' });
    const { present } = done(applyEdit(startHistory(pinch), move(pinch, { position: 4 })));
    expect(new Set(present.measures[0]!.notes.map(n => n.string)).size).toBe(2);
    expect(checkArrangement(present).filter(f => f.severity === 'error')).toEqual([]);
  });
});

describe('measures carried elsewhere', () => {
  const linked = () =>
    handmade({
      setup: guitar,
      notes: [
        { quarters: 1, string: 2, fret: 5 },
        { quarters: 1, string: 2, fret: 7, techniques: [{ kind: 'slide', from: 'n1' }, { kind: 'vibrato' }] },
        { quarters: 2, string: 2, fret: 8, graces: [{ id: 'g1', string: 2, fret: 7 }] },
        { quarters: 4, start: 0, measure: 1, string: 2, fret: 8, tie: 'n3' },
      ],
    });
  it('are the same in another place: links lead within the copy, a tie over its barline', () => {
    const start = linked();
    const clip = copied(start, 0, 1);
    const last = start.measures.at(-1)!.id;
    const { present } = done(
      applyEdit(startHistory(start), { kind: 'write', ids: [last], values: { measures: clip.measures } }),
    );
    expect(present.measures).toHaveLength(3);
    const [a, b, c] = present.measures[1]!.notes;
    expect([a, b, c].map(n => [n!.string, n!.fret])).toEqual([
      [2, 5],
      [2, 7],
      [2, 8],
    ]);
    expect(b!.techniques).toEqual([{ kind: 'slide', from: a!.id }, { kind: 'vibrato' }]);
    expect(c!.graces).toMatchObject([{ string: 2, fret: 7 }]);
    expect(present.measures[2]!.notes[0]!.tie).toBe(c!.id);
    expect(faultOf('arrangements', present)).toBeUndefined();
    expect(copied(present, 1, 2).measures.map(m => m.notes)).toEqual(clip.measures.map(m => m.notes));
  });
  it('go in as new measures behind another; what stood behind it stays as it was', () => {
    const start = linked();
    const [first, second] = start.measures;
    const { measures } = copied(start, 0, 0);
    const { present } = done(
      applyEdit(startHistory(start), { kind: 'write', ids: [first!.id], values: { measures, behind: true } }),
    );
    expect(present.measures.map(m => m.notes.length)).toEqual([3, 3, 1]);
    expect(present.measures[0]).toEqual(first);
    expect(present.measures[2]!.id).toBe(second!.id);
    expect(new Set(present.measures.flatMap(m => m.notes.map(n => n.id))).size).toBe(7);
  });
  it('keep their pitches on another instrument, or say what has no place there', () => {
    const start = run();
    const mandolin = standardSetup('mandolin');
    const fit = fitted(copied(start, 0, 0), mandolin);
    // The bass C3 lies below the mandolin's lowest string.
    expect(fit).toEqual({ error: 'measure 1 of what was copied: a note has no place on these strings' });
    const high = done(applyEdit(startHistory(start), move(start, { octaves: 1 }))).present;
    const measures = fitted(copied(high, 0, 0), mandolin);
    if ('error' in measures) throw new Error(measures.error);
    const tune = blankTune({
      id: 't',
      title: 'Other',
      meter: { beats: 4, unit: 4 },
      key: { tonic: 'C', mode: 'major' },
      quartersPerMinute: 80,
      measures: 1,
    });
    const empty = emptyArrangement(tune, { id: 'm', instrument: 'mandolin', style: 'melody', capo: 0 });
    const { present } = done(
      applyEdit(startHistory(empty), { kind: 'write', ids: [empty.measures[0]!.id], values: { measures } }),
    );
    expect(pitches(present).toSorted()).toEqual(pitches(high).toSorted());
  });
});

describe('a shape that stays down', () => {
  const made = handmade({
    setup: guitar,
    notes: [
      { quarters: 1, start: 0, string: 5, fret: 3 },
      { quarters: 1, start: 1, string: 2, fret: 1 },
      { quarters: 1, start: 2, string: 1, fret: 0 },
      { quarters: 1, start: 3, string: 1, fret: 3 },
    ],
  });
  const id = made.measures[0]!.id;
  const hold = (history: History, on: boolean): History => {
    const result = applyEdit(history, { kind: 'hold-shape', ids: [id], values: { on } });
    if ('error' in result) throw new Error(result.error);
    return result;
  };
  const ringing = ({ present }: History) =>
    present.measures[0]!.notes.flatMap(note => (has(note, 'let-ring') ? `${note.string}/${note.fret}` : []));
  it('rings on where a string is stopped at one fret throughout, or lies in the chord’s shape', () => {
    expect(ringing(hold(startHistory(made), true))).toEqual(['5/3', '2/1']);
    const chord = applyEdit(startHistory(made), {
      kind: 'chord',
      ids: [id],
      values: { start: 0, name: 'C' },
    });
    if ('error' in chord) throw new Error(chord.error);
    // In the open C shape string 1 is open: its fret 3 is not in it.
    expect(ringing(hold(chord, true))).toEqual(['5/3', '2/1', '1/0']);
    expect(ringing(hold(hold(chord, true), false))).toEqual([]);
  });
  it('rings on where it would end by itself: over a change of chord that its note is not in', () => {
    const chords = [
      [0, 'C'],
      [20160, 'G'],
    ] as const;
    const changing = chords.reduce((history, [start, name]) => {
      const next = applyEdit(history, { kind: 'chord', ids: [id], values: { start, name } });
      if ('error' in next) throw new Error(next.error);
      return next;
    }, startHistory(made));
    const ring = (history: History) =>
      trackOf(history.present, [0]).notes.find(n => n.note.string === 5)!.ringEnd;
    expect(ring(changing)).toBe(20160);
    expect(ring(hold(changing, true))).toBe(40320);
    expect(applyEdit(startHistory(made), { kind: 'hold-shape', ids: [id], values: { on: false } })).toEqual({
      error: 'no shape stays down here',
    });
  });
});

describe('grace notes by hand', () => {
  const made = handmade({ setup: guitar, notes: [{ quarters: 2, string: 2, fret: 5 }] });
  const { id } = made.measures[0]!.notes[0]!;
  const graces = (frets: number[]) =>
    applyEdit(startHistory(made), { kind: 'graces', ids: [id], values: { frets, by: 'slide' } });
  it('stand before the note on its string, fingered; none takes them off', () => {
    const result = graces([3]);
    if ('error' in result) throw new Error(result.error);
    const note = result.present.measures[0]!.notes[0]!;
    expect(note).toMatchObject({ graceBy: 'slide', graces: [{ string: 2, fret: 3 }] });
    expect(note.graces![0]!.finger).toBeDefined();
    const off = applyEdit(result, { kind: 'graces', ids: [id], values: { frets: [] } });
    if ('error' in off) throw new Error(off.error);
    expect(off.present.measures[0]!.notes[0]).not.toHaveProperty('graces');
  });
  it('not beyond the neck, nor on the fret of the note', () => {
    expect(graces([40])).toEqual({ error: expect.stringContaining('fret 40 is not on this neck') });
    expect(graces([5])).toHaveProperty('error');
  });
});
