import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bassClass, chordClasses, parseChord } from '../chord';
import { type Finger, gripFault, isBarre, stretchOf, THUMB } from '../hand';
import { type Setup, standardSetup, tuningsOf } from '../instrument';
import { mod12 } from '../pitch';
import { findShapes, fingeringsOf, shapeFingers, shapeNotes, shapeText } from './index';

const guitar = standardSetup('guitar');
const ROOTS = ['C', 'C#', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'];
const QUALITIES = [
  '', 'm', '5', '6', 'm6', '7', 'm7', 'maj7', 'mmaj7', '9', 'm9', 'maj9', '11', 'm11', '13', 'maj13',
  'sus2', 'sus4', '7sus4', 'add9', 'madd9', '69', 'dim', 'dim7', 'm7b5', 'aug', '7b5', '7#5', '7b9', '7#9', '7#11',
]; // biome-ignore format: a table
const HANDS = [
  { size: 'small', beginner: true },
  { size: 'medium' },
  { size: 'large', thumb: true },
  { size: 'medium', span: 170, thumb: true },
] as const;

describe('all qualities, roots, six tunings and capo 0 to 7', () => {
  const TUNINGS = tuningsOf('guitar')
    .filter(t => t.name !== 'Double drop D')
    .map(t => t.tuning);
  it('no shape has a wrong note, misses its bass or an essential note, or lies beyond the hand', () => {
    expect(TUNINGS).toHaveLength(6);
    fc.assert(
      fc.property(
        fc.constantFrom(...ROOTS),
        fc.constantFrom(...QUALITIES),
        fc.constantFrom(...ROOTS, '', '', '', '', ''),
        fc.constantFrom(...TUNINGS),
        fc.integer({ min: 0, max: 7 }),
        fc.constantFrom(...HANDS),
        fc.option(fc.uniqueArray(fc.integer({ min: 1, max: 6 }), { minLength: 2, maxLength: 5 }), {
          nil: undefined,
          freq: 4,
        }),
        (root, quality, bass, tuning, capo, hand, capoStrings) => {
          const setup: Setup = { instrument: 'guitar', tuning, capo, ...(capoStrings && { capoStrings }) };
          const chord = parseChord(root + quality + (bass && `/${bass}`))!;
          const classes = chordClasses(chord);
          const shapes = findShapes(chord, setup, hand, { maxFret: 9 });
          for (const shape of shapes) {
            const notes = shapeNotes(shape, chord, setup).flatMap(n => (n ? [n.midi] : []));
            const sounding = notes.map(n => mod12(n - capo));
            const faults = [
              !sounding.every(pc => classes.includes(pc)) && 'wrong note',
              chord.degrees.some(d => d.essential && !sounding.includes(mod12(classes[0]! + d.semitones))) &&
                'misses a note',
              mod12(Math.min(...notes) - capo) !== bassClass(chord) && 'misses its bass',
              gripFault(setup, hand, shape.grip),
              shape.frets.some((f, i) => f && !shapeFingers(shape)[i]) && 'a string without finger',
            ].filter(Boolean);
            if (faults.length)
              throw new Error(`${chord.symbol} ${shapeText(shape.frets)}: ${faults.join(', ')}`);
          }
        },
      ),
      { numRuns: 500 },
    );
  });
});

describe('wishes', () => {
  const search = (symbol: string, wishes = {}, hand: (typeof HANDS)[number] = HANDS[1]) =>
    findShapes(parseChord(symbol)!, guitar, hand, wishes);
  it('no barre, a free finger, an open string, a fret window, a stretch are kept in every shape', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...ROOTS),
        fc.constantFrom('', 'm', '7', 'm7', 'maj7', 'sus4'),
        fc.record(
          {
            noBarre: fc.constant(true),
            freeFingers: fc.constantFrom<Finger[]>([1], [4], [2, 3]),
            openStrings: fc.constantFrom([1], [5], [3, 4]),
            maxStretch: fc.integer({ min: 30, max: 110 }),
            minFret: fc.integer({ min: 1, max: 6 }),
            maxFret: fc.integer({ min: 4, max: 12 }),
            maxStrings: fc.integer({ min: 4, max: 6 }),
          },
          { requiredKeys: [] },
        ),
        (root, quality, wishes) => {
          for (const shape of search(root + quality, wishes)) {
            if (wishes.noBarre) expect(shape.grip.some(isBarre)).toBe(false);
            for (const finger of wishes.freeFingers ?? [])
              expect(shape.grip.some(p => p.finger === finger)).toBe(false);
            for (const string of wishes.openStrings ?? []) expect(shape.frets[string - 1]).toBe(0);
            if (wishes.maxStretch !== undefined)
              expect(stretchOf(guitar, HANDS[1], shape.grip).widest).toBeLessThanOrEqual(wishes.maxStretch);
            for (const fret of shape.frets) {
              if (!fret) continue;
              expect(fret).toBeGreaterThanOrEqual(wishes.minFret ?? 1);
              expect(fret).toBeLessThanOrEqual(wishes.maxFret ?? 15);
            }
            if (wishes.maxStrings !== undefined)
              expect(shape.frets.filter(f => f !== null).length).toBeLessThanOrEqual(wishes.maxStrings);
          }
        },
      ),
      { numRuns: 150 },
    );
  });
  it('wishes only ever take shapes away', () => {
    const all = new Set(search('D').map(s => shapeText(s.frets)));
    for (const wishes of [
      { noBarre: true },
      { maxStretch: 70 },
      { openStrings: [4] },
      { freeFingers: [4 as Finger] },
    ])
      for (const shape of search('D', wishes)) expect(all.has(shapeText(shape.frets))).toBe(true);
  });
  it('another bass can be asked for: C with E lowest', () => {
    for (const shape of search('C', { bass: 4, limit: 20 })) {
      const notes = shapeNotes(shape, parseChord('C')!, guitar).flatMap(n => (n ? [n.midi] : []));
      expect(mod12(Math.min(...notes))).toBe(4);
    }
  });
  it('D/F# takes the thumb on string 6 fret 2, F its root on string 6 fret 1 (common practice)', () => {
    const hand = { size: 'medium', thumb: true } as const;
    for (const [symbol, shape] of [
      ['D/F#', '200232'],
      ['F', '133211'],
    ] as const) {
      const fingerings = fingeringsOf([...shape].reverse().map(Number), guitar, hand);
      expect(
        fingerings.some(f => f.grip.some(p => p.finger === THUMB && p.from === 6)),
        symbol,
      ).toBe(true);
    }
    const withoutThumb = fingeringsOf([...'133211'].reverse().map(Number), guitar, { size: 'medium' });
    expect(withoutThumb.some(f => f.grip.some(p => p.finger === THUMB))).toBe(false);
  });
  it('a small beginning hand finds no shape that a large trained one does not', () => {
    const large = new Set(search('F#m', {}, HANDS[2]).map(s => shapeText(s.frets)));
    const small = search('F#m', {}, HANDS[0]);
    expect(small.length).toBeLessThan(large.size);
    for (const shape of small) expect(large.has(shapeText(shape.frets))).toBe(true);
  });
});
