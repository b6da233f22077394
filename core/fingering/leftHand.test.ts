import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { applyEdit, startHistory } from '../edit';
import { readAbc } from '../formats/abc';
import { DEFAULT_HAND } from '../hand';
import { type Setup, standardSetup } from '../instrument';
import type { ScoreNote } from '../score';
import { committeeTunes } from '../testing/committee';
import { done, edit } from '../testing/edits';
import { faultsOf } from '../testing/findings';
import { cases } from '../testing/setup';
import { tunes } from '../testing/tunes';
import {
  fingerPassage,
  greedyFingering,
  heldShapes,
  holdChange,
  holdsOf,
  type PassageMoment,
  passageOf,
} from './index';

const guitar = standardSetup('guitar');

/** Short passages around one place of the neck: one to three strings a moment, some notes held on. */
const passages = (longest: number) =>
  fc
    .record({
      base: fc.integer({ min: 0, max: 6 }),
      moments: fc.array(
        fc.record({
          strings: fc.uniqueArray(fc.integer({ min: 1, max: 6 }), { minLength: 1, maxLength: 3 }),
          frets: fc.array(fc.integer({ min: 0, max: 4 }), { minLength: 3, maxLength: 3 }),
          hold: fc.boolean(),
          swaps: fc.boolean(),
          seconds: fc.constantFrom(0.1, 0.25, 0.5, 1),
        }),
        { minLength: 1, maxLength: longest },
      ),
    })
    .map(({ base, moments }) => {
      const made: PassageMoment[] = [];
      for (const { strings, frets, hold, swaps, seconds } of moments) {
        const before = made.at(-1)?.notes ?? [];
        const kept = hold ? before.slice(0, 1).map(note => ({ ...note, held: true, swaps })) : [];
        const struck = strings
          .filter(string => !kept.some(note => note.string === string))
          .map((string, i) => ({ string, fret: frets[i] ? base + frets[i]! : 0, held: false }));
        made.push({ notes: [...kept, ...struck], seconds });
      }
      return made;
    });

/** All ways to finger a passage, tried one by one. */
function exhaustive(moments: readonly PassageMoment[]) {
  const ways = moments.map(moment => holdsOf(guitar, DEFAULT_HAND, moment));
  let least = Number.POSITIVE_INFINITY;
  let mildest = { worst: Number.POSITIVE_INFINITY, total: Number.POSITIVE_INFINITY };
  const walk = (
    layer: number,
    before: (typeof ways)[number][number] | undefined,
    total: number,
    worst: number,
  ) => {
    if (layer === ways.length) {
      least = Math.min(least, total);
      if (worst < mildest.worst - 1e-9 || (worst < mildest.worst + 1e-9 && total < mildest.total))
        mildest = { worst, total };
      return;
    }
    for (const way of ways[layer]!) {
      let change = 0;
      if (before) {
        change = holdChange(guitar, moments[layer - 1]!, moments[layer]!, before, way);
        if (!Number.isFinite(change)) continue;
      }
      walk(layer + 1, way, total + way.cost + change, Math.max(worst, change));
    }
  };
  walk(0, undefined, 0, 0);
  return { least, mildest };
}

describe('the left-hand solver', () => {
  it('equals exhaustive search over thousands of short passages, in total and in the worst change', () => {
    let solved = 0;
    fc.assert(
      fc.property(passages(4), moments => {
        const { least, mildest } = exhaustive(moments);
        const found = fingerPassage(guitar, DEFAULT_HAND, moments);
        if (!Number.isFinite(least)) {
          expect(found).toBeUndefined();
          return;
        }
        solved += 1;
        expect(found!.total).toBeCloseTo(least, 9);
        const mild = fingerPassage(guitar, DEFAULT_HAND, moments, 'worst')!;
        expect(mild.worst).toBeCloseTo(mildest.worst, 9);
        expect(mild.total).toBeCloseTo(mildest.total, 9);
      }),
      { numRuns: cases(2000) },
    );
    expect(solved).toBeGreaterThan(1500);
  });
  it('is never worse than looking only one moment ahead, and every moment can be held', () => {
    fc.assert(
      fc.property(passages(14), moments => {
        const found = fingerPassage(guitar, DEFAULT_HAND, moments);
        const greedy = greedyFingering(guitar, DEFAULT_HAND, moments);
        if (greedy) expect(found!.total).toBeLessThanOrEqual(greedy.total + 1e-9);
        if (!found) return;
        for (const [i, { notes }] of moments.entries())
          for (const [j, note] of notes.entries())
            expect(found.fingers[i]![j] !== undefined).toBe(note.fret > 0);
      }),
      { numRuns: 400 },
    );
  });
  it('sends another finger to a string further off, rather than the one that has just played that fret (common practice)', () => {
    const single = [{ string: 2, fret: 3, held: false }];
    const c = [
      [5, 3],
      [4, 2],
      [2, 1],
    ].map(([string, fret]) => ({ string: string!, fret: fret!, held: false }));
    const passage: PassageMoment[] = [single, c].map(notes => ({ notes, seconds: 0.6 }));
    const [first, chord] = fingerPassage(guitar, DEFAULT_HAND, passage)!.fingers;
    expect(chord).toEqual([3, 2, 1]);
    expect(first).toEqual([4]);
  });
  it('gives notes of one fret on neighbouring strings a finger each, the higher one on the thinner string, and where strings lie a fifth apart one finger (common practice)', () => {
    const run = (setup: Setup, ...strings: number[]) =>
      fingerPassage(
        setup,
        DEFAULT_HAND,
        strings.map(string => ({ notes: [{ string, fret: 2, held: false }], seconds: 0.3 })),
      )!.fingers.map(([finger]) => finger!);
    const [a, b] = run(guitar, 3, 2);
    expect(a).toBeLessThan(b!);
    const [c, d] = run(guitar, 2, 3);
    expect(c).toBeGreaterThan(d!);
    for (const instrument of ['mandolin', 'tenor-guitar'] as const) {
      const [e, f] = run(standardSetup(instrument), 3, 2);
      expect(e, instrument).toBe(f);
    }
  });

  it('keeps fingers that are pinned', () => {
    const moments: PassageMoment[] = [
      { notes: [{ string: 2, fret: 1, held: false, pinned: 2 }], seconds: 0.5 },
      { notes: [{ string: 2, fret: 3, held: false }], seconds: 0.5 },
    ];
    expect(fingerPassage(guitar, DEFAULT_HAND, moments)!.fingers[0]).toEqual([2]);
  });
  it('one finger a fret on a scale in position (common practice)', () => {
    const scale = [
      [5, 3],
      [4, 0],
      [4, 2],
      [4, 3],
      [3, 0],
      [3, 2],
      [2, 0],
      [2, 1],
    ].map(
      ([string, fret]): PassageMoment => ({
        notes: [{ string: string!, fret: fret!, held: false }],
        seconds: 0.3,
      }),
    );
    expect(fingerPassage(guitar, DEFAULT_HAND, scale)!.fingers.flat()).toEqual([
      3,
      undefined,
      2,
      3,
      undefined,
      2,
      undefined,
      1,
    ]);
  });
});

describe('fingering an arrangement anew', () => {
  it('changes fingers only, never makes it harder, and leaves nothing to find', () => {
    fc.assert(
      fc.property(
        tunes({ low: -5, high: 9 }),
        fc.constantFrom('fingerstyle', 'chord-melody'),
        (generated, style) => {
          const { tune } = readAbc(generated.abc)[0]!;
          const { arrangement } = arrange(tune, {
            id: 'a',
            instrument: 'guitar',
            style: style as 'fingerstyle',
            capo: 0,
          });
          if (!arrangement) return;
          const range = { from: 0, to: arrangement.measures.length - 1 };
          const result = applyEdit(startHistory(arrangement), {
            kind: 'refinger',
            ids: arrangement.measures.slice(range.from, range.to + 1).map(m => m.id),
            values: { goal: 'total' },
          });
          if ('error' in result) throw new Error(result.error);
          const plain = (notes: { finger?: number }[]) => notes.map(({ finger: _finger, ...note }) => note);
          for (const [i, measure] of result.present.measures.entries())
            expect(plain(measure.notes)).toEqual(plain(arrangement.measures[i]!.notes));
          expect(faultsOf(result.present, tune)).toEqual([]);
        },
      ),
      { numRuns: cases(20) },
    );
  });
  it('leaves a pinned finger alone', () => {
    const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:C\n"C"cdef|gfed|]\n')[0]!;
    const { arrangement } = arrange(tune, { id: 'a', instrument: 'guitar', style: 'melody', capo: 0 });
    const target = arrangement!.measures[0]!.notes.find(n => n.fret > 0)!;
    const pinned = done(edit(startHistory(arrangement!), 'finger', target.id, { finger: 4 }));
    const result = applyEdit(pinned, { kind: 'refinger', ids: ['m1', 'm2'], values: { goal: 'total' } });
    if ('error' in result) throw new Error(result.error);
    expect(result.present.measures[0]!.notes.find(n => n.id === target.id)!.finger).toBe(4);
    const { moments } = passageOf(result.present, { from: 0, to: 1 });
    expect(moments.flatMap(m => m.notes).some(n => n.pinned === 4)).toBe(true);
  });
});

it('two notes that meet on one string, an open one last, leave the hand where it waits', () => {
  const meeting: PassageMoment = {
    seconds: 0.5,
    notes: [
      { string: 2, fret: 5, held: true },
      { string: 2, fret: 0, held: false },
    ],
  };
  const holds = holdsOf(guitar, DEFAULT_HAND, meeting);
  expect(holds.length).toBeGreaterThan(0);
  expect(holds.every(hold => hold.grip.length === 0)).toBe(true);
});

describe('the shape of a chord under a melody', () => {
  // G as it is taught, 320003, by its middle, index and ring finger.
  const taught = (_: string, string: number, fret: number) =>
    (({ '6/3': 2, '5/2': 1, '1/3': 3 }) as const)[`${string}/${fret}` as '6/3'];
  const melody = (string: number, fret: number) => ({ role: 'melody', string, fret }) as const;
  const bass = { role: 'bass', string: 6, fret: 3 } as const;
  const inner = { role: 'inner', string: 5, fret: 2 } as const;
  const counts = (...moments: Pick<ScoreNote, 'role' | 'string' | 'fret'>[][]) =>
    heldShapes(
      moments.map(notes => ({ notes, chord: 'G', measure: 0 })),
      taught,
    );
  it('is held while the chord goes on, less strictly over a bass alone', () => {
    expect(counts([bass, inner, melody(2, 0)], [melody(2, 1)])).toEqual([1, 1]);
    expect(counts([bass, melody(2, 0)], [melody(2, 1)])).toEqual([0.5, 0.5]);
    expect(counts([melody(2, 0)], [melody(2, 1)])).toEqual([0, 0]);
  });
  it('is held whole in a measure whose fretted notes are all of it, on more strings than one', () => {
    expect(counts([bass, melody(2, 0)], [melody(1, 3)])).toEqual([2, 2]);
    expect(counts([bass, melody(2, 0)], [melody(3, 0)])).toEqual([0.5, 0.5]);
    expect(counts([melody(6, 3)], [melody(1, 3)])).toEqual([0, 0]);
  });
  it('so D is held by ring, index and middle finger while its notes come one by one (common practice)', () => {
    const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:D\n"D"d e f d|"D"d e f d|]\n')[0]!;
    const made = arrange(tune, { id: 'd', instrument: 'guitar', style: 'chord-melody', capo: 0 })
      .arrangement!;
    const fingers = made.measures.map(({ notes }) =>
      notes
        .filter(({ fret }) => fret > 0)
        .map(({ string, fret, finger }) => `${string}/${fret} by ${finger}`),
    );
    expect([...new Set(fingers.flat())].sort()).toEqual(['1/2 by 2', '2/3 by 3', '3/2 by 1']);
  });
  it('so that a bass struck again keeps its finger, whatever the melody takes between', () => {
    const tune = committeeTunes().find(({ title }) => title === 'Banks of the Ohio')!;
    const { arrangement } = arrange(tune, {
      id: 'g',
      instrument: 'guitar',
      style: 'fingerstyle',
      capo: 'auto',
    });
    const basses = arrangement!.measures[3]!.notes.filter(n => n.role === 'bass' && n.fret > 0);
    expect(basses.length).toBeGreaterThan(1);
    expect(new Set(basses.map(n => `${n.string}/${n.fret} by ${n.finger}`)).size).toBe(1);
  });
});
