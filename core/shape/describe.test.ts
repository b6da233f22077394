import { describe, expect, it } from 'vitest';
import { type Chord, parseChord } from '../chord';
import { DEFAULT_HAND } from '../hand';
import { fretDistance, noteAt, standardSetup, tuningsOf } from '../instrument';
import { pitchClassOf } from '../pitch';
import {
  chosenShape,
  equivalentsOf,
  familyOf,
  findShapes,
  fingersText,
  MANDOLIN_CLOSED_SHAPES,
  MANDOLIN_SHAPES,
  mutesOf,
  nameShape,
  omittedAndDoubled,
  parseShapeText,
  rankBetween,
  shapeNotes,
  shapeText,
} from './index';

const guitar = standardSetup('guitar');
const frets = (text: string, setup = guitar) => {
  const parsed = parseShapeText(text, setup);
  if ('error' in parsed) throw new Error(parsed.error);
  return parsed;
};
const names = (text: string, setup = guitar) => nameShape(frets(text, setup), setup);
const midis = (text: string, symbol: string) =>
  shapeNotes({ frets: frets(text) }, parseChord(symbol)!, guitar)
    .flatMap(note => (note ? [note.midi] : []))
    .sort((a, b) => a - b);
const held = (text: string) => chosenShape(text, guitar, DEFAULT_HAND)!;

describe('names of shapes (common practice)', () => {
  it.each([
    ['x32010', 'C'],
    ['x32310', 'C7'],
    ['x02210', 'Am'],
    ['x02010', 'Am7'],
    ['x02212', 'Am6'],
    ['200232', 'D/F#'],
    ['320003', 'G'],
    ['x24432', 'Bm'],
    ['022000', 'Em'],
    ['xx0232', 'D'],
    ['xx0230', 'Dsus2'],
    ['x02230', 'Asus4'],
    ['x01212', 'Adim7'],
  ])('%s is %s', (shape, name) => expect(names(shape)[0]!.chord.symbol).toBe(name));
  it('4/6 3/7 2/5 1/7 holds E7 (G# D E B); strings 4, 3 and 1 down a fret a diminished seventh on G', () => {
    expect(names('xx6757')[0]!.chord.symbol).toBe('E7/G#');
    expect(names('xx5656')[0]!.chord.symbol).toBe('Gdim7');
  });
  it('4/0 3/2 2/0 = D A B is a D6, and "no third" is said', () => {
    const [best] = names('xx020x');
    expect(best!.chord.symbol).toBe('D6');
    expect(best!.remarks).toContain('no third');
  });
  it('A E A has no third: neither major nor minor', () => {
    const [best] = names('x022xx');
    expect(best!.chord.symbol).toBe('A5');
    expect(best!.remarks.join()).toMatch(/neither major nor minor/);
  });
  it('mandolin 2200 (A E A E) is a fifth chord too', () => {
    const mandolin = standardSetup('mandolin');
    expect(names('2200', mandolin)[0]!.remarks.join()).toMatch(/no third/);
  });
  it('the shapes of a mandolin are called as mandolinists call them, whatever note lies lowest (common practice)', () => {
    const mandolin = standardSetup('mandolin');
    /** However its root is spelled. */
    const chordOf = ({ root, quality }: Chord) => pitchClassOf(root) + quality;
    for (const [symbol, shapes] of Object.entries({ ...MANDOLIN_SHAPES, ...MANDOLIN_CLOSED_SHAPES }))
      for (const shape of shapes) {
        const called = names(shape, mandolin).map(n => chordOf(n.chord));
        const own = chordOf(parseChord(symbol)!);
        // Each note of a diminished seventh is its root, and what is a fourth in one is a second in another.
        if (/dim7|sus/.test(symbol)) expect(called, shape).toContain(own);
        else expect(called[0], shape).toBe(own);
      }
    expect(names('7523', mandolin)[0]!.chord.symbol).toBe('G');
    expect(names('x230', mandolin)[0]!.chord.symbol).toBe('C');
  });
  it('one note, or an octave, has no chord name', () => expect(names('0xxxx0')).toEqual([]));
  it('every shape found for a symbol is named by it, or by one with the same notes', () => {
    for (const symbol of ['C', 'Gm', 'D7', 'Amaj7', 'Em7', 'F6', 'Bdim7', 'Asus4', 'E9', 'Cadd9']) {
      const chord = parseChord(symbol)!;
      for (const shape of findShapes(chord, guitar, DEFAULT_HAND, { limit: 30 })) {
        const found = nameShape(shape.frets, guitar);
        const own = found.find(n => n.chord.symbol === symbol);
        const { omitted } = omittedAndDoubled(shape, chord, guitar);
        if (own) expect(own.remarks.length).toBe(omitted.length);
        else expect(omitted.length, `${symbol} ${shapeText(shape.frets)}`).toBeGreaterThan(0);
      }
    }
  });
  it('reads typed shapes and says which string is wrong', () => {
    expect(shapeText(frets('x-10-12-12-12-10'))).toBe('x-10-12-12-12-10');
    expect(parseShapeText('x3201', guitar)).toEqual({
      error: '6 strings are needed, from the thickest to the thinnest; 5 were given',
    });
    expect(parseShapeText('x3q010', guitar)).toEqual({
      error: 'string 4, D: "q" is neither a fret nor x',
    });
  });
});

describe('families (common practice: C A G E D)', () => {
  it.each([
    ['x32010', 'C', 'C'],
    ['x02220', 'A', 'A'],
    ['320003', 'G', 'G'],
    ['022100', 'E', 'E'],
    ['xx0232', 'D', 'D'],
    ['133211', 'F', 'E'],
    ['x13331', 'Bb', 'A'],
    ['x43121', 'C#', 'C'],
    ['xx3565', 'F', 'D'],
    ['9x666x', 'C#', 'G'],
    ['x24432', 'Bm', 'A'],
    ['131111', 'Fm7', 'E'],
  ])('%s as %s belongs to %s', (shape, symbol, family) =>
    expect(familyOf({ frets: frets(shape) }, parseChord(symbol)!, guitar)).toBe(family),
  );
  it('has no family in another tuning', () => {
    const openG = { ...guitar, tuning: ['D4', 'B3', 'G3', 'D3', 'G2', 'D2'] };
    expect(familyOf({ frets: [0, 0, 0, 0, 0, 0] }, parseChord('G')!, openG)).toBeUndefined();
  });
});

describe('the lower G family (common practice)', () => {
  it.each([
    [2, 'A'],
    [3, 'Bb'],
    [5, 'C'],
    [6, 'C#'],
    [7, 'D'],
  ])(
    'barre at %i on strings 4-3-2 with 6/(b+3) is %s: the pitches of the A-family barre without string 1',
    (b, symbol) => {
      const lower = [null, b, b, b, null, b + 3];
      const upper = [null, b, b, b, b - 2, null];
      const chord = parseChord(symbol)!;
      const notes = (f: (number | null)[]) =>
        shapeNotes({ frets: f }, chord, guitar)
          .flatMap(n => (n ? [n.midi] : []))
          .sort((x, y) => x - y);
      expect(notes(lower)).toEqual(notes(upper));
      expect(shapeNotes({ frets: lower }, chord, guitar).every(n => n === null || n.degree)).toBe(true);
    },
  );
  it('unmuted, string 5 adds the 9th and string 1 the 6th', () => {
    const chord = parseChord('C#69')!;
    const degrees = shapeNotes({ frets: frets('966666') }, chord, guitar).map(n => n?.degree);
    expect(degrees[4]).toBe('9');
    expect(degrees[0]).toBe('6');
  });
  it('comes out first by itself where a barre already lies there', () => {
    const [first] = equivalentsOf(held('x46664'), parseChord('C#')!, guitar, DEFAULT_HAND, {
      before: held('688666'),
    });
    expect(shapeText(first!.shape.frets)).toBe('9x666x');
    expect(first!.family).toBe('G');
    expect(first!.fromWords).toMatch(/^keeps 1/);
    expect(first!.barres).toBeLessThanOrEqual(0);
  });
});

describe('other holds', () => {
  it('say what they add, give up and change', () => {
    const c = held('x32010');
    const found = equivalentsOf(c, parseChord('C')!, guitar, DEFAULT_HAND, { before: held('x02210') });
    expect(found.some(e => shapeText(e.shape.frets) === 'x32010')).toBe(false);
    const fuller = found.find(e => shapeText(e.shape.frets) === 'x35553')!;
    expect(fuller.barres).toBeGreaterThan(0);
    expect(fuller.added).toContain(67);
    expect(fuller.from).toBeGreaterThan(0);
    const moved = found.find(e => e.relation === 'same pitches');
    if (moved) expect(moved.added).toEqual([]);
    const order = ['known', 'other', 'part'];
    for (const [i, now] of found.entries()) {
      const last = found[i - 1];
      if (last?.standing === now.standing) expect(now.cost).toBeGreaterThanOrEqual(last.cost);
      else if (last) expect(order.indexOf(now.standing)).toBeGreaterThan(order.indexOf(last.standing));
    }
  });
  it.each([
    ['guitar', 'C', 'x32010', 'x-x-10-9-8-8 875558 8-10-10-9-8-8 x35553'],
    ['guitar', 'F', 'xx3211', '133211 1x3211 xx3565 x-8-10-10-10-8'],
    ['guitar', 'G', '320003', '320033 3x0003 355433 x-10-12-12-12-10'],
    ['guitar', 'Am', 'x02210', '577555 x-12-14-14-13-12'],
    ['guitar', 'Bm', 'x24432', '799777'],
    ['guitar', 'D7', 'xx0212', 'x5453x x57575 10-12-10-11-10-10'],
    // The closed chords that are chopped, moved from F, E and C.
    ['mandolin', 'G', '0023', '7523 4553 7-9-10-7'],
    ['mandolin', 'C', '0230', '5233'],
    ['mandolin', 'D', '2002', '2452'],
    ['mandolin', 'Bm', '4022', '4457'],
  ] as const)(
    'on a %s those of %s begin with the forms that players know (common practice)',
    (instrument, symbol, present, known) => {
      const setup = standardSetup(instrument);
      const shape = chosenShape(present, setup, DEFAULT_HAND)!;
      const found = equivalentsOf(shape, parseChord(symbol)!, setup, DEFAULT_HAND);
      const first = found.filter(({ standing }) => standing === 'known').map(e => shapeText(e.shape.frets));
      expect(first).toEqual(expect.arrayContaining(known.split(' ')));
      expect(first.length).toBeLessThan(20);
    },
  );
  it('come last where strings are left out for nothing', () => {
    const of = (symbol: string, present: string, other: string) =>
      equivalentsOf(held(present), parseChord(symbol)!, guitar, DEFAULT_HAND).find(
        e => shapeText(e.shape.frets) === other,
      )!.standing;
    expect(of('C', 'x32010', 'x3x010')).toBe('part');
    expect(of('C', 'x32010', 'x3201x')).toBe('part');
    expect(of('Am', 'x02210', 'x02x10')).toBe('part');
    // It spares a finger.
    expect(of('G', '320003', '32000x')).toBe('known');
    // String 5 is muted by the finger beside it.
    expect(of('G', '320003', '3x0003')).toBe('known');
    expect(of('C', 'x32010', 'x32013')).toBe('other');
  });
  it('are held by the fingers that suit what comes before and after', () => {
    const fingersFor = (before: string, after: string) => {
      const around = { before: held(before), after: held(after) };
      const found = equivalentsOf(held('355433'), parseChord('G')!, guitar, DEFAULT_HAND, around);
      return fingersText(found.find(e => shapeText(e.shape.frets) === '320003')!.shape);
    };
    expect(fingersFor('x32010', 'x32010')).toBe('32---4');
    expect(fingersFor('x24432', 'x24432')).toBe('21---3');
  });
  it('same pitches means the same pitches', () => {
    for (const e of equivalentsOf(held('x46664'), parseChord('C#')!, guitar, DEFAULT_HAND)) {
      const same = midis(shapeText(e.shape.frets), 'C#').join() === midis('x46664', 'C#').join();
      if (same) expect(e.relation).toBe('same pitches');
    }
  });
  it('rank between neighbours by holding, coming and going', () => {
    const shapes = findShapes(parseChord('G')!, guitar, DEFAULT_HAND, { maxFret: 5, limit: 12 });
    const ranked = rankBetween(guitar, shapes, held('x32010'), held('xx0232'));
    expect(ranked.length).toBe(shapes.length);
    for (const r of ranked) expect(r.cost).toBeCloseTo(r.shape.cost + r.from + r.to, 9);
  });
});

describe('silent strings', () => {
  it('are muted by the finger on the next string, or by one lying over them', () => {
    const g = held('3x0003');
    const [mute] = mutesOf(g.frets, g.grip).filter(m => m.inner);
    expect(mute).toMatchObject({ string: 5, inner: true });
    expect(mute!.by?.to).toBe(6);
    const lower = held('9x666x');
    expect(mutesOf(lower.frets, lower.grip).find(m => m.string === 5)!.by).toBeDefined();
  });
});

describe('harmonics (common practice)', () => {
  it.each([
    [12, 2],
    [7, 3],
    [5, 4],
  ])('fret %i lies at a node that gives %i times the open frequency', (fret, times) => {
    expect(fretDistance(648, fret) * times).toBeCloseTo(648, -1);
    expect(Math.abs(fretDistance(648, fret) * times - 648)).toBeLessThan(4);
  });
  it('in D-A-D-G-A-D the octave harmonic of string 5 is the open string 2', () => {
    const dadgad = { ...guitar, tuning: tuningsOf('guitar').find(t => t.name === 'D-A-D-G-A-D')!.tuning };
    expect(noteAt(dadgad, 5, 12)).toBe(noteAt(dadgad, 2, 0));
  });
});
