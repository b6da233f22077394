import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PLUCK_SCHOOLS, type Pluck, type PluckSchool, type ScoreNote } from '../score';
import { TICKS_PER_QUARTER } from '../time';
import { assignPlucks, pluckChange, pluckMoments, pluckWays } from './index';

const eighth = TICKS_PER_QUARTER / 2;
const note = (string: number, start: number, more: Partial<ScoreNote> = {}): ScoreNote => ({
  id: `${string}-${start}`,
  role: 'melody',
  start,
  ticks: eighth,
  string,
  fret: 0,
  ...more,
});
const bass = (string: number, start: number) => note(string, start, { role: 'bass' });
const measure = (notes: ScoreNote[], beats = 4, unit = 4) => ({
  meter: { beats, unit },
  offset: 0,
  ticks: (beats * 4 * TICKS_PER_QUARTER) / unit,
  notes,
});
/** Plucks at each moment, thickest string first: "pa" for thumb and ring finger together. */
const plucked = (
  notes: ScoreNote[],
  school: PluckSchool,
  {
    tempo = 120,
    jig = 'group',
    beats = 4,
    unit = 4,
  }: { tempo?: number; jig?: 'group' | 'alternate'; beats?: number; unit?: number } = {},
) => {
  const m = measure(notes, beats, unit);
  assignPlucks([m], { school, jig }, tempo);
  const starts = [...new Set(notes.map(n => n.start))].sort((a, b) => a - b);
  return starts
    .map(start =>
      notes
        .filter(n => n.start === start)
        .sort((a, b) => b.string - a.string)
        .map(n => ({ down: '↓', up: '↑' })[n.pluck as 'down'] ?? n.pluck ?? '-')
        .join(''),
    )
    .join(' ');
};
const run = (strings: number[], step = eighth) => strings.map((string, i) => note(string, i * step));

describe('plucking schools (common practice)', () => {
  it('by string: p on 6 5 4, i on 3, m on 2, a on 1', () =>
    expect(plucked(run([6, 5, 4, 3, 2, 1]), 'by-string')).toBe('p p p i m a'));
  it('by string, fast on one string: two fingers in turn', () => {
    const plucks = plucked(run([1, 1, 1, 1]), 'by-string', { tempo: 200 }).split(' ');
    for (let i = 1; i < plucks.length; i++) expect(plucks[i]).not.toBe(plucks[i - 1]);
  });
  it('thumb and index: the thumb reaches string 3, the index brushes what lies above', () => {
    expect(plucked(run([5, 3, 2, 1]), 'thumb-index')).toBe('p p i i');
    expect(
      plucked(
        [bass(5, 0), note(3, eighth, { role: 'inner' }), note(2, eighth), note(1, eighth)],
        'thumb-index',
      ),
    ).toMatch(/^p [pi]ii$/);
  });
  it('thumb, index and middle over an alternating thumb', () => {
    const notes = [bass(5, 0), note(2, eighth), bass(4, 2 * eighth), note(1, 3 * eighth)];
    expect(plucked(notes, 'thumb-two')).toBe('p i p m');
  });
  it('a pick goes down on the beat and up off it, through a triplet to and fro', () => {
    expect(plucked(run([1, 1, 2, 2]), 'pick')).toBe('↓ ↑ ↓ ↑');
    const triplet = [0, 1, 2].map(i =>
      note(1, (i * 2 * eighth) / 3, { tuplets: [{ actual: 3, normal: 2, group: 1 }] }),
    );
    expect(plucked([...triplet, note(1, 2 * eighth)], 'pick')).toBe('↓ ↑ ↓ ↓');
  });
  it('jigs: down-up-down in each group, or strictly in turn', () => {
    const six = [1, 1, 1, 1, 1, 1];
    expect(plucked(run(six), 'pick', { beats: 6, unit: 8 })).toBe('↓ ↑ ↓ ↓ ↑ ↓');
    expect(plucked(run(six), 'pick', { beats: 6, unit: 8, jig: 'alternate' })).toBe('↓ ↑ ↓ ↑ ↓ ↑');
  });
  it('pick and fingers: the pick takes the bass, middle and ring finger what lies above', () =>
    expect(plucked([bass(5, 0), note(2, 0), note(1, 0)], 'pick-fingers')).toBe('↓ma'));
  it('thumb and finger pinch bass and melody', () => {
    for (const school of ['by-string', 'thumb-index', 'thumb-two'] as const)
      expect(plucked([bass(6, 0), note(1, 0)], school)[0]).toBe('p');
  });
  it('what is tied, or sounded by the fretting hand, is not plucked', () =>
    expect(
      plucked(
        [
          note(1, 0),
          note(1, eighth, { techniques: [{ kind: 'hammer', from: 'a' }], fret: 2 }),
          note(1, 2 * eighth, { tie: 'a' }),
        ],
        'by-string',
      ),
    ).toBe('a - -'));
});

/** Measures with made-up moments of one to four strings. */
const moments = fc
  .array(
    fc.record({
      strings: fc.uniqueArray(fc.integer({ min: 1, max: 6 }), { minLength: 1, maxLength: 4 }),
      gap: fc.constantFrom(eighth / 2, eighth, 2 * eighth),
      thumb: fc.boolean(),
    }),
    { minLength: 2, maxLength: 5 },
  )
  .map(list => {
    let at = 0;
    return list.flatMap(({ strings, gap, thumb }) => {
      const start = at;
      at += gap;
      const thickest = Math.max(...strings);
      return strings.map(string =>
        note(string, start, {
          role: thumb && string === thickest && strings.length > 1 ? 'bass' : 'melody',
        }),
      );
    });
  });

describe('the right-hand solver', () => {
  it('equals exhaustive search over thousands of passages in every school', () => {
    fc.assert(
      fc.property(
        moments,
        fc.constantFrom(...PLUCK_SCHOOLS),
        fc.constantFrom(60, 120, 220),
        (notes, school, tempo) => {
          const choice = { school, jig: 'group' as const };
          const m = [measure(notes)];
          const all = pluckMoments(m, choice, tempo);
          const ways = all.map(moment => pluckWays(moment, choice));
          let least = Number.POSITIVE_INFINITY;
          const walk = (layer: number, before: number, total: number) => {
            if (total >= least) return;
            if (layer === ways.length) {
              least = total;
              return;
            }
            for (const [i, way] of ways[layer]!.entries()) {
              const change = layer
                ? pluckChange(all[layer - 1]!, ways[layer - 1]![before]!, all[layer]!, way)
                : 0;
              walk(layer + 1, i, total + way.cost + change);
            }
          };
          walk(0, 0, 0);
          assignPlucks(m, choice, tempo);
          const chosen = all.map(
            (moment, i) => ways[i]!.find(way => way.plucks.every((p, j) => p === moment.notes[j]!.pluck))!,
          );
          const total = chosen.reduce(
            (sum, way, i) =>
              sum + way.cost + (i ? pluckChange(all[i - 1]!, chosen[i - 1]!, all[i]!, way) : 0),
            0,
          );
          expect(total).toBeCloseTo(least, 9);
        },
      ),
      { numRuns: 2500 },
    );
  });
  it('never crosses fingers, and gives every note one', () => {
    const order: Pluck[] = ['p', 'i', 'm', 'a'];
    fc.assert(
      fc.property(moments, fc.constantFrom(...PLUCK_SCHOOLS), (notes, school) => {
        assignPlucks([measure(notes)], { school, jig: 'group' }, 120);
        for (const a of notes) {
          expect(a.pluck).toBeDefined();
          for (const b of notes) {
            if (a.start !== b.start || a.string >= b.string) continue;
            const [thin, thick] = [order.indexOf(a.pluck!), order.indexOf(b.pluck!)];
            if (thin >= 0 && thick >= 0) expect(thin).toBeGreaterThanOrEqual(thick);
          }
        }
      }),
      { numRuns: 1000 },
    );
  });
  it('by string, at any tempo: up to four strings at once take thumb and three fingers, a finger each (common practice)', () => {
    fc.assert(
      fc.property(moments, fc.integer({ min: 50, max: 260 }), (notes, tempo) => {
        assignPlucks([measure(notes)], { school: 'by-string', jig: 'group' }, tempo);
        for (const start of new Set(notes.map(n => n.start))) {
          const plucks = notes.filter(n => n.start === start).map(n => n.pluck);
          if (plucks.length <= 4) expect(new Set(plucks).size).toBe(plucks.length);
        }
      }),
      { numRuns: 1000 },
    );
  });
  it('leaves an exception set by hand, and plans around it', () => {
    const notes = [note(1, 0), note(1, eighth, { pluck: 'a', pluckPinned: true }), note(1, 2 * eighth)];
    const plucks = plucked(notes, 'by-string', { tempo: 200 }).split(' ');
    expect(plucks[1]).toBe('a');
    expect(plucks[0]).not.toBe('a');
    expect(plucks[2]).not.toBe('a');
    // Also where the school would never have it.
    expect(plucked([note(1, 0, { pluck: 'up', pluckPinned: true })], 'by-string')).toBe('↑');
  });
  it('leaves measures alone that stay', () => {
    const settled = measure([note(1, 0, { pluck: 'm' })]);
    const other = measure([note(1, 0)]);
    assignPlucks([settled, other], { school: 'by-string', jig: 'group' }, 120, index => index === 0);
    expect([settled.notes[0]!.pluck, other.notes[0]!.pluck]).toEqual(['m', 'a']);
  });
});
