import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Setup, standardSetup } from '../instrument';
import {
  barreKind,
  changeEffort,
  changeWords,
  DEFAULT_HAND,
  type Finger,
  type FingerPlacement,
  fingerMoves,
  gripCost,
  gripEffort,
  gripFault,
  gripsFor,
  guideFingers,
  type HandSize,
  handPosition,
  moveWords,
  placementSpan,
  type StringDuty,
  strainOf,
  stretchOf,
  tangledFingers,
  totalEffort,
} from './index';

const guitar = standardSetup('guitar');
const place = (finger: number, fret: number, string: number, to = string): FingerPlacement => ({
  finger: finger as Finger,
  fret,
  from: string,
  to,
});
/** Duties from frets written thickest string first, "x" silent, "." unplayed. */
const duties = (text: string): StringDuty[] =>
  [...text].reverse().map(c => (c === 'x' ? 'muted' : c === '.' ? 'free' : Number(c)));
const fingersOf = (text: string, setup = guitar) =>
  gripsFor(setup, DEFAULT_HAND, duties(text)).map(grip =>
    [...grip]
      .sort((a, b) => a.finger - b.finger)
      .map(p => `${p.finger}@${p.fret}:${p.to}-${p.from}`)
      .join(' '),
  );

describe('reach in millimetres', () => {
  it('four frets in first position are comfortable for an adult, five are beyond it (common practice)', () => {
    const four = stretchOf(guitar, DEFAULT_HAND, [place(1, 1, 3), place(4, 4, 3)]);
    const five = stretchOf(guitar, DEFAULT_HAND, [place(1, 1, 3), place(4, 5, 3)]);
    expect(four.possible).toBe(true);
    expect(strainOf(guitar, DEFAULT_HAND, [place(1, 1, 3), place(4, 4, 3)])).toBe(0);
    expect(five.possible).toBe(false);
  });
  it('the same five frets come within reach up the neck, and with a capo', () => {
    expect(stretchOf(guitar, DEFAULT_HAND, [place(1, 7, 3), place(4, 11, 3)]).possible).toBe(true);
    expect(
      stretchOf(standardSetup('guitar', 7), DEFAULT_HAND, [place(1, 1, 3), place(4, 5, 3)]).possible,
    ).toBe(true);
  });
  it('a mandolin hand covers seven frets', () => {
    expect(
      stretchOf(standardSetup('mandolin'), DEFAULT_HAND, [place(1, 1, 2), place(4, 7, 2)]).possible,
    ).toBe(true);
  });
  it('grows with the size of the hand', () => {
    const grip = [place(1, 1, 3), place(4, 5, 3)];
    const reaches = (['small', 'medium', 'large'] as HandSize[]).map(
      size => stretchOf(guitar, { size }, grip).limit,
    );
    expect(reaches).toEqual([...reaches].sort((a, b) => a - b));
    expect(new Set(reaches).size).toBe(3);
  });
  it('a barre counts from its nearest string, and distance is the same both ways', () => {
    const barre = place(1, 2, 1, 6);
    expect(placementSpan(guitar, barre, place(3, 4, 5))).toBeCloseTo(
      placementSpan(guitar, place(1, 2, 5), place(3, 4, 5)),
      9,
    );
    expect(placementSpan(guitar, barre, place(3, 4, 5))).toBeCloseTo(
      placementSpan(guitar, place(3, 4, 5), barre),
      9,
    );
  });
});

describe('what a hand can not do', () => {
  it('one finger at two frets, crossed fingers', () => {
    expect(gripFault(guitar, DEFAULT_HAND, [place(2, 3, 1), place(2, 5, 2)])).toBe(
      "finger 2 can't be at two frets at once",
    );
    expect(gripFault(guitar, DEFAULT_HAND, [place(1, 4, 1), place(2, 3, 2)])).toBe('fingers 1 and 2 cross');
  });
  it('at one fret the lower finger takes the thicker string', () => {
    expect(tangledFingers([place(1, 2, 4), place(2, 2, 3)])).toBeUndefined();
    expect(tangledFingers([place(2, 2, 3), place(3, 2, 4)])).toEqual([2, 3]);
    expect(tangledFingers([place(1, 2, 2), place(2, 2, 4)])).toEqual([1, 2]);
  });
  it('but for an index that is tucked in beside the middle finger: A as 2 1 3, where D has it (common practice)', () => {
    const tucked = [place(1, 2, 3), place(2, 2, 4), place(3, 2, 2)];
    expect(gripFault(guitar, DEFAULT_HAND, tucked)).toBeUndefined();
    expect(fingersOf('x02220')).toContain('1@2:3-3 2@2:4-4 3@2:2-2');
    const inOrder = [place(1, 2, 4), place(2, 2, 3), place(3, 2, 2)];
    const cost = (grip: FingerPlacement[]) => gripCost(guitar, DEFAULT_HAND, grip, duties('.02220'));
    expect(cost(tucked)).toBeGreaterThan(cost(inOrder) + 2);
    // It lies on the next string, at the same fret, on no other.
    expect(tangledFingers([place(1, 3, 3), place(2, 2, 4)])).toEqual([1, 2]);
    expect(tangledFingers([{ finger: 1, fret: 2, from: 2, to: 3 }, place(2, 2, 4)])).toEqual([1, 2]);
  });
  it('five notes at five frets, or a barre over an open string', () => {
    expect(fingersOf('x12345')).toEqual([]);
    expect(fingersOf('202222').every(grip => grip.split(' ').length > 1)).toBe(true);
  });
});

describe('fingers for a shape (common practice)', () => {
  it('an open C has one way with 3 2 1', () =>
    expect(fingersOf('x32010')).toContain('1@1:2-2 2@2:4-4 3@3:5-5'));
  it('an F takes a full barre', () =>
    expect(fingersOf('133211')).toContain('1@1:6-1 2@2:3-3 3@3:5-5 4@3:4-4'));
  it('a D takes 1 3 2', () => expect(fingersOf('xx0232')).toContain('1@2:3-3 2@2:1-1 3@3:2-2'));
  it('a rolled finger on two strings of a fret is one finger', () =>
    expect(fingersOf('....22')).toContain('1@2:2-1'));
  it('a fixed finger stays what it is', () => {
    const grips = gripsFor(guitar, DEFAULT_HAND, duties('x32...'), new Map([[5, 3 as Finger]]));
    expect(grips.length).toBeGreaterThan(0);
    for (const grip of grips) expect(grip.find(p => p.from <= 5 && 5 <= p.to)!.finger).toBe(3);
  });
});

describe('every grip that is offered', () => {
  it('can be held, stops each string at its fret and leaves open ones open; all single-finger ways are among them', () => {
    const duty = fc.oneof(
      fc.constant('free' as const),
      fc.constant('muted' as const),
      fc.integer({ min: 0, max: 5 }),
    );
    fc.assert(
      fc.property(
        fc.array(duty, { minLength: 6, maxLength: 6 }),
        fc.integer({ min: 0, max: 7 }),
        (wanted, capo) => {
          const setup = standardSetup('guitar', capo);
          const grips = gripsFor(setup, DEFAULT_HAND, wanted);
          for (const grip of grips) {
            expect(gripFault(setup, DEFAULT_HAND, grip)).toBeUndefined();
            for (const [i, d] of wanted.entries()) {
              const covering = grip.filter(p => p.from <= i + 1 && i + 1 <= p.to);
              const highest = Math.max(0, ...covering.map(p => p.fret));
              if (typeof d === 'number') expect(highest).toBe(d);
            }
          }
          // Without barres: each held string its own finger, tried in every order.
          const held = wanted.flatMap((d, i) =>
            typeof d === 'number' && d > 0 ? [{ string: i + 1, fret: d }] : [],
          );
          if (held.length > 4) return;
          const texts = new Set(
            grips.map(g =>
              [...g]
                .sort((a, b) => a.finger - b.finger)
                .map(p => `${p.finger}:${p.from}-${p.to}`)
                .join(),
            ),
          );
          const assign = (index: number, grip: FingerPlacement[]) => {
            if (index === held.length) {
              if (gripFault(setup, DEFAULT_HAND, grip)) return;
              expect(texts).toContain(
                [...grip]
                  .sort((a, b) => a.finger - b.finger)
                  .map(p => `${p.finger}:${p.from}-${p.to}`)
                  .join(),
              );
              return;
            }
            for (const finger of [1, 2, 3, 4]) {
              if (grip.some(p => p.finger === finger)) continue;
              assign(index + 1, [...grip, place(finger, held[index]!.fret, held[index]!.string)]);
            }
          };
          assign(0, []);
        },
      ),
      { numRuns: 400 },
    );
  });
});

describe('effort', () => {
  const FREE: StringDuty[] = new Array(6).fill('free');
  const effort = (...grip: FingerPlacement[]) => totalEffort(gripEffort(guitar, DEFAULT_HAND, grip, FREE));
  it('one more finger, a barre, a stretch and a higher place cost', () => {
    expect(effort(place(1, 1, 2))).toBeLessThan(effort(place(1, 1, 2), place(2, 2, 4)));
    expect(effort(place(1, 1, 1))).toBeLessThan(effort(place(1, 1, 1, 6)));
    expect(effort(place(1, 1, 2), place(2, 2, 3))).toBeLessThan(effort(place(1, 1, 2), place(2, 3, 3)));
    expect(effort(place(1, 1, 2))).toBeLessThan(effort(place(1, 9, 2)));
  });
  it('three fingers crowd one fret', () => {
    expect(
      gripEffort(guitar, DEFAULT_HAND, [place(1, 2, 4), place(2, 2, 3), place(3, 2, 2)], FREE),
    ).toHaveProperty('crowding');
  });
  it('two fingers of a fret with strings between them crowd it less, as ring and little finger in G, but beside the index or on a mandolin', () => {
    const crowded = (setup: Setup, low: Finger, thick: number, thin: number) =>
      gripEffort(setup, DEFAULT_HAND, [place(low, 3, thick), place((low + 1) as Finger, 3, thin)], FREE)
        .crowding!;
    expect(crowded(guitar, 3, 6, 1)).toBeLessThan(crowded(guitar, 3, 3, 2));
    expect(crowded(guitar, 3, 6, 1)).toBeGreaterThan(0);
    expect(crowded(guitar, 1, 6, 1)).toBe(crowded(guitar, 1, 3, 2));
    const mandolin = standardSetup('mandolin');
    expect(crowded(mandolin, 2, 4, 1)).toBeCloseTo(crowded(mandolin, 2, 3, 2), 9);
  });
  it('a hand is drawn in where its lowest finger lies nearer to the nut than those before it have room', () => {
    const crowded = (finger: Finger, fret: number) =>
      gripEffort(guitar, DEFAULT_HAND, [place(finger, fret, 2)], FREE).crowding ?? 0;
    // First position (common practice): a finger a fret, and neighbours may come a fret nearer.
    for (const [finger, fret] of [
      [1, 1],
      [2, 2],
      [3, 2],
      [3, 3],
      [4, 3],
    ] as const)
      expect(crowded(finger, fret), `finger ${finger} at fret ${fret}`).toBe(0);
    // The middle finger at the first fret, with the index at none, is where a player has the index.
    expect(crowded(2, 1)).toBeGreaterThan(0);
    expect(crowded(3, 1)).toBeGreaterThan(crowded(2, 1));
    expect(crowded(4, 1)).toBeGreaterThan(crowded(4, 2));
    // Up the neck there is room.
    expect(crowded(4, 5)).toBe(0);
  });
  it('nothing held is no effort', () => expect(effort()).toBe(0));
});

describe('finger moves', () => {
  it('from C to Am: 1 and 2 stay, 3 moves (common practice)', () => {
    const moves = fingerMoves(
      [place(1, 1, 2), place(2, 2, 4), place(3, 3, 5)],
      [place(1, 1, 2), place(2, 2, 4), place(3, 2, 3)],
    );
    expect(moves.map(m => `${m.finger} ${m.kind}`)).toEqual(['1 stays', '2 stays', '3 moves']);
  });
  it('a finger on its string slides; others lift and land', () => {
    const moves = fingerMoves([place(1, 2, 3), place(2, 3, 5)], [place(1, 5, 3), place(4, 8, 1)]);
    expect(moves.map(m => `${m.finger} ${m.kind}`)).toEqual(['1 slides', '2 lifts', '4 lands']);
  });
  it('a finger that rolls to the next string of its fret is one finger (common practice)', () => {
    const [move] = fingerMoves([place(3, 5, 2)], [place(3, 5, 1)]);
    expect(move!.kind).toBe('rolls');
    expect(moveWords(guitar, move!)).toBe('Finger 3 rolls over to string 1, E, at the same fret.');
    expect(changeEffort(guitar, [place(3, 5, 2)], [place(3, 5, 1)])).toBeLessThan(
      changeEffort(guitar, [place(3, 5, 3)], [place(3, 5, 1)]),
    );
  });
  it('barres are full, partial or a hinge with the tip lifted', () => {
    expect(barreKind(place(1, 1, 1, 6), [1, 1, 2, 3, 3, 1])).toBe('full');
    expect(barreKind(place(1, 2, 2, 4), [0, 2, 2, 2, 0, 'free'])).toBe('partial');
    expect(barreKind(place(1, 2, 1, 2), [2, 2, 0, 'free', 'free', 'free'])).toBe('hinge');
    expect(barreKind(place(2, 2, 3), [0, 0, 2, 0, 0, 0])).toBeUndefined();
  });
  it('staying costs nothing, sliding less than moving as far', () => {
    const one = [place(1, 2, 3)];
    expect(changeEffort(guitar, one, one)).toBe(0);
    expect(changeEffort(guitar, one, [place(1, 4, 3)])).toBeLessThan(
      changeEffort(guitar, one, [place(1, 4, 2)]),
    );
  });
});

it('changes are told in a few words, with the fingers that guide them', () => {
  const c = [place(1, 1, 2), place(2, 2, 4), place(3, 3, 5)];
  expect(changeWords(c, [place(1, 1, 2), place(2, 2, 4), place(3, 2, 3)])).toBe('keeps 1 and 2, moves 3');
  expect(changeWords(c, [place(3, 5, 5)])).toBe('slides 3, lifts 1 and 2');
  expect(guideFingers(c, [place(3, 5, 5)])).toEqual([3]);
  expect(changeWords([], [place(5, 2, 6)])).toBe('sets T');
  expect(changeWords(c, c)).toBe('holds still');
  expect(moveWords(guitar, fingerMoves([], [place(5, 2, 6)])[0]!)).toBe(
    'The thumb lands on string 6, E, fret 2.',
  );
});

it('the thumb only reaches the thickest string, and only where the hand uses it', () => {
  const withThumb = { size: 'medium', thumb: true } as const;
  expect(gripFault(guitar, withThumb, [place(5, 2, 6), place(1, 2, 3)])).toBeUndefined();
  expect(gripFault(guitar, DEFAULT_HAND, [place(5, 2, 6)])).toMatch(/thumb/);
  expect(gripFault(guitar, withThumb, [place(5, 2, 5)])).toMatch(/thickest/);
  expect(gripFault(guitar, withThumb, [place(5, 1, 6), place(1, 1, 1, 5)])).toMatch(/barre/);
  expect(gripFault(guitar, withThumb, [place(5, 1, 6), place(1, 6, 1)])).toMatch(/T/);
});

it('one finger a fret: index at n, little finger at n + 3, is one position of the hand (common practice)', () => {
  for (const fret of [1, 2, 5]) {
    expect(Math.abs(handPosition(guitar, 4, fret + 3) - handPosition(guitar, 1, fret))).toBeLessThan(18);
  }
});

it('in the first position the hand stays there: a little finger at fret 3 lies nearer, the nut or capo is never behind it', () => {
  for (const capo of [0, 5]) {
    const setup = { ...guitar, capo };
    const index = handPosition(setup, 1, 1);
    for (const [finger, fret] of [
      [4, 3],
      [3, 2],
      [2, 1],
    ] as const)
      expect(handPosition(setup, finger, fret)).toBe(index);
    expect(handPosition(setup, 4, 5)).toBeGreaterThan(index);
  }
});
