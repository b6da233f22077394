import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  beatsPerMinute,
  countSyllable,
  type Meter,
  measureTicks,
  nextLength,
  noteValues,
  pulseCount,
  quartersFromBeats,
  strongBeats,
  TICKS_PER_QUARTER,
  TICKS_PER_WHOLE,
  ticksToSeconds,
  tupletOf,
} from './index';

const eighth = TICKS_PER_QUARTER / 2;
const said = (meter: Meter, step: number) =>
  Array.from({ length: measureTicks(meter) / step }, (_, i) => countSyllable(meter, i * step)).join(' ');

describe('counting aloud (common practice)', () => {
  it('halves, quarters and triplets of a beat', () => {
    expect(said({ beats: 4, unit: 4 }, eighth)).toBe('1 & 2 & 3 & 4 &');
    expect(said({ beats: 2, unit: 4 }, eighth / 2)).toBe('1 e & a 2 e & a');
    expect(said({ beats: 3, unit: 4 }, TICKS_PER_QUARTER / 3)).toBe('1 trip let 2 trip let 3 trip let');
  });
  it('jigs and slip jigs count every eighth', () => {
    expect(said({ beats: 6, unit: 8 }, eighth)).toBe('1 2 3 4 5 6');
    expect(said({ beats: 9, unit: 8 }, eighth)).toBe('1 2 3 4 5 6 7 8 9');
    expect(countSyllable({ beats: 6, unit: 8 }, eighth / 2)).toBe('&');
  });
  it('cut time beats in halves', () => {
    expect(said({ beats: 2, unit: 2 }, eighth)).toBe('1 e & a 2 e & a');
    expect(pulseCount({ beats: 2, unit: 2 })).toBe(2);
  });
});

describe('weight of beats (common practice)', () => {
  it('first and middle of four, first of three, each of a jig, three and two of five', () => {
    expect(strongBeats({ beats: 4, unit: 4 })).toEqual([0, 2 * TICKS_PER_QUARTER]);
    expect(strongBeats({ beats: 3, unit: 4 })).toEqual([0]);
    expect(strongBeats({ beats: 6, unit: 8 })).toEqual([0, 3 * eighth]);
    expect(strongBeats({ beats: 5, unit: 4 })).toEqual([0, 3 * TICKS_PER_QUARTER]);
  });
});

describe('note values', () => {
  it('a dotted eighth and a sixteenth make a beat', () => {
    expect(noteValues(1.5 * eighth)).toEqual([{ type: 'eighth', dots: 1, ticks: 1.5 * eighth }]);
    expect(1.5 * eighth + eighth / 2).toBe(TICKS_PER_QUARTER);
  });
  it('a triplet is three equal notes in the time of two', () => {
    const third = (2 * eighth) / 3;
    expect(noteValues(third, [{ actual: 3, normal: 2 }])).toEqual([
      { type: 'eighth', dots: 0, ticks: eighth },
    ]);
  });
  it('any length on the grid of 128ths is written without a rest', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 256 }), n => {
        const ticks = (n * TICKS_PER_WHOLE) / 128;
        expect(noteValues(ticks).reduce((sum, v) => sum + v.ticks, 0)).toBe(ticks);
      }),
    );
  });
  it('says so when a length is no note value', () => {
    expect(() => noteValues(1)).toThrow(/can't be written/);
  });
});

it('sixty per cent of a tempo of 120 is 72: a quarter lasts 5/6 of a second', () => {
  expect(ticksToSeconds(TICKS_PER_QUARTER, 120 * 0.6)).toBeCloseTo(60 / 72, 12);
});

it('tempo is told in the beats that the foot taps', () => {
  const jig = { beats: 6, unit: 8 };
  expect(beatsPerMinute(jig, 150)).toBe(100);
  expect(beatsPerMinute({ beats: 2, unit: 2 }, 160)).toBe(80);
  expect(beatsPerMinute({ beats: 3, unit: 4 }, 108)).toBe(108);
  for (const meter of [jig, { beats: 5, unit: 4 }, { beats: 3, unit: 8 }]) {
    expect(quartersFromBeats(meter, beatsPerMinute(meter, 123))).toBeCloseTo(123, 9);
  }
});

describe('lengths step by step', () => {
  it('go to the next printed value, with a dot or as a triplet, and back', () => {
    expect(nextLength(TICKS_PER_QUARTER, 'longer')).toBe(2 * TICKS_PER_QUARTER);
    expect(nextLength(TICKS_PER_QUARTER * 1.5, 'shorter')).toBe(TICKS_PER_QUARTER / 2);
    expect(nextLength(TICKS_PER_QUARTER / 2, 'triplet')).toBe(TICKS_PER_QUARTER / 3);
    // A third of a quarter, then five and seven eighths in the time of four, then a plain eighth again.
    expect(nextLength(TICKS_PER_QUARTER / 3, 'triplet')).toBe((TICKS_PER_QUARTER / 2) * (4 / 5));
    expect(nextLength((TICKS_PER_QUARTER / 2) * (4 / 5), 'triplet')).toBe((TICKS_PER_QUARTER / 2) * (4 / 7));
    expect(nextLength((TICKS_PER_QUARTER / 2) * (4 / 7), 'triplet')).toBe(TICKS_PER_QUARTER / 2);
    expect(nextLength(TICKS_PER_QUARTER / 3, 'longer')).toBe((TICKS_PER_QUARTER * 2) / 3);
    expect(nextLength(TICKS_PER_QUARTER / 3, 'dot')).toBe(TICKS_PER_QUARTER / 2);
    for (const ticks of [2, 1, 1 / 2, 1 / 4].map(n => n * TICKS_PER_QUARTER))
      expect([1, 2 / 3, 4 / 5, 4 / 7].map(part => tupletOf(ticks * part)?.actual)).toEqual([
        undefined,
        3,
        5,
        7,
      ]);
  });
});
