import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { readAbc } from '../formats/abc';
import type { Finger } from '../hand';
import type { Arrangement, ScoreNote } from '../score';
import { putTechnique } from '../score';
import { cases } from '../testing/setup';
import { tunes } from '../testing/tunes';
import { gripAt, handsIn, trackOf, trackWindow } from './index';

const ABC = 'X:1\nT:Edit\nM:4/4\nL:1/4\nQ:1/4=100\nK:C\n"C"cdef|"G"g2"C"e2|"C"cdef|"G"g4|]\n';
const make = (): Arrangement =>
  arrange(readAbc(ABC)[0]!.tune, { id: 'e', instrument: 'guitar', style: 'fingerstyle', capo: 0 })
    .arrangement!;
const QUARTER = 10080;
/** A note at a quarter of the measure, a quarter long. */
const note = (id: string, start: number, string: number, fret: number, finger?: Finger): ScoreNote => ({
  id,
  role: 'inner',
  start: start * QUARTER,
  ticks: QUARTER,
  string,
  fret,
  ...(finger && { finger }),
});
/** One measure of notes, with a chord's shape over it where one is given. */
const measureOf = (
  notes: ScoreNote[],
  shape?: { frets: (number | null)[]; fingers: (number | null)[] },
): Arrangement => {
  const base = make();
  const chord = { id: 'c1', start: 0, shape: 'C', sounding: 'C', ...shape };
  return { ...base, measures: [{ ...base.measures[0]!, chords: shape ? [chord] : [], notes }] };
};
const held = (arrangement: Arrangement) =>
  trackOf(arrangement).holds.map(
    h => `${h.finger}: ${h.from}-${h.to}/${h.fret} ${h.at / QUARTER}..${h.end / QUARTER}`,
  );

describe('ring', () => {
  const played = (arrangement: Arrangement) => trackOf(arrangement, [0, 1, 2, 3]).notes;
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
      role: 'inner' as const,
      start: start * 10080,
      ticks: 10080,
      string,
      fret,
      ...(finger && { finger }),
    });
    const played = (notes: ReturnType<typeof note>[]) =>
      trackOf({ ...base, measures: [{ ...base.measures[0]!, chords: [], notes }] }, [0]).notes.map(n => [
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
    expect(trackOf(arrangement!, [0, 1]).notes).toHaveLength(1);
  });
});

describe('techniques of the end of a note', () => {
  const rings = (kind: 'damp' | 'let-ring' | 'palm-mute' | 'dead') => {
    const own = note('a', 0, 2, 0);
    putTechnique(own, { kind });
    return trackOf(measureOf([own])).notes[0]!.ringEnd / QUARTER;
  };
  it('stopped short or muted it ends as written, left to ring it goes on, damped it hardly sounds', () => {
    expect(rings('damp')).toBe(1);
    expect(rings('palm-mute')).toBe(1);
    expect(rings('let-ring')).toBe(4);
    expect(rings('dead')).toBeLessThan(0.2);
  });
});

describe('the fingers', () => {
  it('stay down while nothing needs them and nothing is smothered', () => {
    // Finger 1 stays beside finger 3 on the same string: it is needed for nothing else.
    expect(held(measureOf([note('a', 0, 2, 1, 1), note('b', 1, 2, 3, 3)]))).toEqual([
      '1: 2-2/1 0..4',
      '3: 2-2/3 1..4',
    ]);
    // It lifts for the open string that it lies on.
    expect(held(measureOf([note('a', 0, 2, 1, 1), note('b', 1, 2, 0)]))).toEqual(['1: 2-2/1 0..1']);
  });
  it('lift where the hand would have to open further than is easy, but for that of the bass', () => {
    // The ring finger on C and the little finger on A two frets up: a hand reaches it just so, across all strings.
    const [low, high] = [note('a', 0, 5, 3, 3), note('b', 1, 1, 5, 4)];
    expect(held(measureOf([low, high]))).toEqual(['3: 5-5/3 0..1', '4: 1-1/5 1..4']);
    const bass: ScoreNote = { ...low, role: 'bass' };
    expect(held(measureOf([bass, high]))).toEqual(['3: 5-5/3 0..4', '4: 1-1/5 1..4']);
    // A new bass takes its part, so does what comes under it.
    const next: ScoreNote = { ...note('c', 1, 6, 0), role: 'bass' };
    expect(held(measureOf([bass, high, next]))[0]).toBe('3: 5-5/3 0..1');
    expect(held(measureOf([bass, high, note('c', 1, 6, 0)]))[0]).toBe('3: 5-5/3 0..1');
    // One fret a finger both lie as long as they like.
    expect(held(measureOf([low, { ...high, string: 3, fret: 4 }]))[0]).toBe('3: 5-5/3 0..4');
  });
  it('hold a chord shape from its beginning as far as it is used, and a barre over all its strings', () => {
    const f = { frets: [1, 1, 2, 3, 3, 1], fingers: [1, 1, 2, 4, 3, 1] };
    expect(held(measureOf([note('a', 0, 6, 1, 1), note('b', 1, 4, 3, 4), note('c', 2, 3, 2, 2)], f))).toEqual(
      ['1: 1-6/1 0..4', '2: 3-3/2 0..4', '4: 4-4/3 0..4'],
    );
  });
  it('what held a note of the chord before lets go where the next shape is taken, but for a melody note that rings', () => {
    const base = make();
    const [first, second] = base.measures as [Arrangement['measures'][0], Arrangement['measures'][0]];
    const am = { frets: [0, 1, 2, 2, 0, null], fingers: [null, 1, 3, 2, null, null] };
    const e = { frets: [0, 0, 1, 2, 2, 0], fingers: [null, null, 1, 3, 2, null] };
    const shaped = (chord: string, shape: typeof am) => [
      { id: `c${chord}`, start: 0, shape: chord, sounding: chord, ...shape },
    ];
    const c = { frets: [0, 1, 0, 2, 3, null], fingers: [null, 1, null, 2, 3, null] };
    const over = (last: ScoreNote, next: ScoreNote[], [name, shape]: [string, typeof am] = ['E', e]) =>
      handsIn(
        {
          ...base,
          measures: [
            { ...first, chords: shaped('Am', am), notes: [note('b', 0, 5, 0), note('a', 1, 2, 1, 1), last] },
            { ...second, chords: shaped(name, shape), notes: [note('x', 0, 6, 0), ...next] },
          ],
        },
        1,
      )(0).now.map(({ finger, fret, from }) => `${finger}: ${from}/${fret}`);
    const index = note('i', 1, 3, 1, 1);
    // E rings in both chords, under the middle finger where E has the ring finger; C in Am and C under the little finger.
    const low = note('m', 3, 4, 2, 2);
    const high = note('m', 3, 3, 5, 4);
    expect(over(low, [index, note('r', 2, 4, 2, 3)])).toEqual(['1: 3/1', '3: 4/2']);
    const ring = note('i', 1, 5, 3, 3);
    expect(over(high, [ring], ['C', c])).toEqual(['3: 5/3']);
    expect(over({ ...high, role: 'melody' }, [ring], ['C', c])).toEqual(['3: 5/3', '4: 3/5']);
    expect(over({ ...low, role: 'melody' }, [index, note('r', 2, 4, 2, 3)])).toEqual(['1: 3/1', '3: 4/2']);
  });
  it('a finger that is needed elsewhere leaves, and the string stops with it', () => {
    const arrangement = measureOf([note('a', 0, 5, 3, 3), note('b', 2, 1, 3, 3)]);
    expect(held(arrangement)).toEqual(['3: 5-5/3 0..2', '3: 1-1/3 2..4']);
    expect(trackOf(arrangement).notes.map(n => n.ringEnd / QUARTER)).toEqual([2, 4]);
  });
  it('one finger goes on to the next string by a hop, and lies flat where both are to sound or the hand comes back', () => {
    // Common practice: a barre is for what sounds together; one finger's two notes in a run are not one.
    const [a, b, c] = [note('a', 0, 3, 2, 1), note('b', 1, 2, 2, 1), note('c', 2, 4, 2, 1)];
    expect(held(measureOf([a, b]))).toEqual(['1: 3-3/2 0..1', '1: 2-2/2 1..4']);
    expect(trackOf(measureOf([a, b])).notes.map(n => n.ringEnd / QUARTER)).toEqual([1, 4]);
    const over = ['1: 3-3/2 0..1', '1: 2-3/2 1..4'];
    expect(held(measureOf([{ ...a, ticks: 2 * QUARTER }, b]))).toEqual(over);
    expect(held(measureOf([{ ...a, techniques: [{ kind: 'let-ring' }] }, b]))).toEqual(over);
    expect(
      held(measureOf([a, b], { frets: [2, 2, 2, 0, 0, null], fingers: [1, 1, 1, null, null, null] })),
    ).toEqual(['1: 1-3/2 0..4']);
    expect(held(measureOf([a, b, { ...a, id: 'd', start: 2 * QUARTER }]))).toEqual([...over]);
    expect(held(measureOf([a, b, c]))).toEqual([...over.slice(0, 1), '1: 2-3/2 1..2', '1: 2-4/2 2..4']);
    // Nor does a ring finger reach over from string 4 to string 1.
    const run = [note('a', 0, 5, 3, 3), note('b', 1, 4, 3, 3), note('c', 2, 1, 3, 3)];
    expect(held(measureOf(run))).toEqual(['3: 5-5/3 0..1', '3: 4-4/3 1..2', '3: 1-1/3 2..4']);
    // Once it has gone to another fret it has left both.
    const away = note('d', 2, 2, 4, 1);
    expect(held(measureOf([a, b, away, { ...a, id: 'e', start: 3 * QUARTER }]))[1]).toBe('1: 2-2/2 1..2');
  });
  it('one finger hops between the basses of an alternating thumb, and where it has stayed on one string before', () => {
    // Common practice: in C the ring finger goes from string 5 to string 6 and back; it does not lie over both.
    const at = (start: number, string: number, role: 'bass' | 'inner') => ({
      ...note(`${role}${start}`, start, string, 3, 3),
      role,
    });
    const strings = (list: ReturnType<typeof at>[]) => held(measureOf(list)).map(hold => hold.split('/')[0]);
    expect(strings([at(0, 5, 'bass'), at(1, 6, 'bass'), at(2, 5, 'bass')])).toEqual([
      '3: 5-5',
      '3: 6-6',
      '3: 5-5',
    ]);
    expect(strings([at(0, 2, 'inner'), at(1, 1, 'inner'), at(2, 2, 'inner')])).toEqual(['3: 2-2', '3: 1-2']);
    const stays = [at(0, 2, 'inner'), at(1, 1, 'inner'), at(2, 1, 'inner'), at(3, 2, 'inner')];
    expect(strings(stays)).toEqual(['3: 2-2', '3: 1-1', '3: 2-2']);
  });
  it('a window of a piece shows what the whole shows', () => {
    fc.assert(
      fc.property(tunes({ low: -3, high: 12 }), fc.nat(20), (generated, at) => {
        const { arrangement } = arrange(readAbc(generated.abc)[0]!.tune, {
          id: 'w',
          instrument: 'guitar',
          style: 'fingerstyle',
          capo: 0,
          settings: { level: 4 },
        });
        if (!arrangement) return;
        const index = at % arrangement.measures.length;
        const lead = arrangement.measures.slice(0, index).reduce((sum, m) => sum + m.ticks, 0);
        const whole = trackOf(arrangement);
        const own = trackWindow(arrangement, index, index);
        const times = arrangement.measures[index]!.notes.map(n => n.start);
        for (const time of times) expect(gripAt(own, time)).toEqual(gripAt(whole, lead + time));
        const ring = (notes: typeof whole.notes, from: number) =>
          notes
            .filter(n => n.at - from >= 0 && n.at - from < arrangement.measures[index]!.ticks)
            .map(n => `${n.note.id} ${n.at - from} ${n.ringEnd - from}`);
        expect(ring(own.notes, 0)).toEqual(ring(whole.notes, lead));
      }),
      { numRuns: cases(36) },
    );
  });
  it('the hand before a measure is where the measure before left it', () => {
    const arrangement = make();
    const last = arrangement.measures[0]!.notes.reduce((most, n) => Math.max(most, n.start), 0);
    expect(handsIn(arrangement, 1)(0).before).toEqual(handsIn(arrangement, 0)(last).now);
    expect(handsIn(arrangement, 0)(0).before).toEqual([]);
  });
});
