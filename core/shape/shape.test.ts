import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bassClass, chordClasses, parseChord } from '../chord';
import { changeEffort, DEFAULT_HAND, gripFault } from '../hand';
import { type InstrumentId, standardSetup } from '../instrument';
import { mod12 } from '../pitch';
import { cases } from '../testing/setup';
import {
  bestShapePath,
  findShapes,
  getTo,
  heldEffort,
  type Shape,
  shapeFingers,
  shapeNotes,
  shapeText,
} from './index';

const guitar = standardSetup('guitar');
const mandolin = standardSetup('mandolin');
const search = (symbol: string, setup = guitar, wishes = {}) =>
  findShapes(parseChord(symbol)!, setup, DEFAULT_HAND, wishes);
const texts = (symbol: string, setup = guitar, wishes = {}) =>
  search(symbol, setup, wishes).map(s => shapeText(s.frets));

describe('shapes every player knows (common practice)', () => {
  it.each([
    ['C', 'x32010'],
    ['G', '320003'],
    ['D', 'xx0232'],
    ['Am', 'x02210'],
    ['E', '022100'],
    ['Em', '022000'],
    ['A', 'x02220'],
    ['Dm', 'xx0231'],
    ['F', '133211'],
    ['Bm', 'x24432'],
    ['C7', 'x32310'],
    ['Am7', 'x02010'],
    ['Am6', 'x02212'],
    ['D/F#', '200232'],
    ['B7', 'x21202'],
  ])('%s: %s', (symbol, shape) => {
    expect(texts(symbol)).toContain(shape);
  });
  it('open C A G E D, Am Em Dm come first among shapes that sound as many strings', () => {
    for (const [symbol, shape] of [
      ['C', 'x32010'],
      ['A', 'x02220'],
      ['E', '022100'],
      ['D', 'xx0232'],
      ['Am', 'x02210'],
      ['Em', '022000'],
      ['Dm', 'xx0231'],
      ['G', '320003'],
    ] as const) {
      const minStrings = [...shape].filter(c => c !== 'x').length;
      expect(texts(symbol, guitar, { maxFret: 4, minStrings })[0], symbol).toBe(shape);
    }
  });
  it('mandolin G 0023, C 0230, D 2002, E 1220 (strings 4 to 1)', () => {
    for (const [symbol, shape] of [
      ['G', '0023'],
      ['C', '0230'],
      ['D', '2002'],
      ['E', '1220'],
    ] as const) {
      expect(texts(symbol, mandolin, { bass: 'any' }), symbol).toContain(shape);
    }
  });
  it('the neglected lower G family: 9x666x is C#, the same notes as x4666x', () => {
    const setup = guitar;
    const lower = search('C#', setup, { maxInnerMutes: 1 }).find(s => shapeText(s.frets) === '9x666x');
    const upper = search('C#', setup).find(s => shapeText(s.frets) === 'x4666x');
    const notes = (s: typeof lower) =>
      shapeNotes(s!, parseChord('C#')!, setup)
        .filter(n => n !== null)
        .map(n => n.midi)
        .sort();
    expect(notes(lower)).toEqual(notes(upper));
  });
  it('C as x32010 takes fingers 3 2 1', () => {
    const shape = search('C').find(s => shapeText(s.frets) === 'x32010')!;
    expect(shapeFingers(shape)).toEqual([null, 1, null, 2, 3, null]);
  });
});

describe('every shape found', () => {
  const roots = ['C', 'C#', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'];
  const qualities = ['', 'm', '7', 'm7', 'maj7', '6', '9', '13', 'sus4', 'dim7', 'aug', '5', 'm7b5', 'add9'];
  it('has only notes of its chord, its essential ones, its bass lowest, and fits the hand', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...roots),
        fc.constantFrom(...qualities),
        fc.constantFrom('guitar', 'mandolin') as fc.Arbitrary<InstrumentId>,
        fc.integer({ min: 0, max: 7 }),
        (root, quality, instrument, capo) => {
          const setup = standardSetup(instrument, capo);
          const chord = parseChord(root + quality)!;
          const classes = chordClasses(chord);
          for (const shape of findShapes(chord, setup, DEFAULT_HAND)) {
            const notes = shapeNotes(shape, chord, setup).filter(n => n !== null);
            const sounding = notes.map(n => mod12(n.midi - capo));
            expect(sounding.every(pc => classes.includes(pc))).toBe(true);
            for (const degree of chord.degrees.filter(d => d.essential))
              expect(sounding).toContain(mod12(classes[0]! + degree.semitones));
            // On four strings any note may lie lowest.
            const lowest = mod12(Math.min(...notes.map(n => n.midi)) - capo);
            expect(instrument === 'guitar' ? [bassClass(chord)] : classes).toContain(lowest);
            expect(gripFault(setup, DEFAULT_HAND, shape.grip)).toBeUndefined();
            expect(shape.frets.every((f, i) => !f || shapeFingers(shape)[i])).toBe(true);
          }
        },
      ),
      { numRuns: cases(75) },
    );
  });
  it('a top note that is asked for lies on top', () => {
    for (const shape of search('C', guitar, { topNote: 67 })) {
      expect(Math.max(...shapeNotes(shape, parseChord('C')!, guitar).flatMap(n => (n ? [n.midi] : [])))).toBe(
        67,
      );
    }
    expect(search('C', guitar, { topNote: 67 }).length).toBeGreaterThan(0);
  });
});

describe('the path through a progression', () => {
  const symbols = ['C', 'G', 'Am', 'F', 'D', 'Em', 'E7', 'Bm', 'A', 'Dm', 'B7', 'Gsus4'];
  const pool = new Map(symbols.map(symbol => [symbol, search(symbol, guitar, { maxFret: 7, limit: 12 })]));
  const choices = fc.array(
    fc.tuple(fc.constantFrom(...symbols), fc.uniqueArray(fc.nat(11), { minLength: 1, maxLength: 4 })),
    { minLength: 1, maxLength: 5 },
  );
  it('is the best of all by exhaustive search, in total and in its worst change', () => {
    fc.assert(
      fc.property(choices, progression => {
        const candidates = progression.map(([symbol, picks]) =>
          picks.map(pick => pool.get(symbol)![pick % pool.get(symbol)!.length]!),
        );
        let least = Number.POSITIVE_INFINITY;
        let mildest = { worst: Number.POSITIVE_INFINITY, total: Number.POSITIVE_INFINITY };
        const walk = (index: number, before: Shape | undefined, total: number, worst: number) => {
          if (index === candidates.length) {
            least = Math.min(least, total);
            const milder = worst < mildest.worst - 1e-9;
            if (milder || (worst < mildest.worst + 1e-9 && total < mildest.total)) mildest = { worst, total };
            return;
          }
          for (const shape of candidates[index]!) {
            const change = before ? getTo(before, shape, changeEffort(guitar, before.grip, shape.grip)) : 0;
            const hold = before ? heldEffort(shape) : shape.cost;
            walk(index + 1, shape, total + hold + change, Math.max(worst, change));
          }
        };
        walk(0, undefined, 0, 0);
        const byTotal = bestShapePath(guitar, candidates);
        expect(byTotal.total).toBeCloseTo(least, 9);
        const byWorst = bestShapePath(guitar, candidates, 'worst');
        expect(byWorst.worst).toBeCloseTo(mildest.worst, 9);
        expect(byWorst.total).toBeCloseTo(mildest.total, 9);
        expect(byWorst.worst).toBeLessThanOrEqual(byTotal.worst + 1e-9);
        expect(byTotal.total).toBeLessThanOrEqual(byWorst.total + 1e-9);
      }),
      { numRuns: 2500 },
    );
  });
  it('leans to easy changes where they come fast', () => {
    const candidates = [pool.get('G')!, pool.get('C')!, pool.get('G')!, pool.get('C')!];
    const slow = bestShapePath(guitar, candidates);
    const fast = bestShapePath(
      guitar,
      candidates,
      'total',
      candidates.map(() => ({ hold: 1, change: 8 })),
    );
    const effort = (path: number[]) =>
      path
        .slice(1)
        .reduce(
          (sum, choice, i) =>
            sum + changeEffort(guitar, candidates[i]![path[i]!]!.grip, candidates[i + 1]![choice]!.grip),
          0,
        );
    expect(effort(fast.path)).toBeLessThanOrEqual(effort(slow.path));
  });
});
