import { describe, expect, it } from 'vitest';
import { readAbc } from '../formats/abc';
import { TICKS_PER_QUARTER } from '../time';
import { Clock, playingOrder } from './index';

const Q = TICKS_PER_QUARTER;
const tuneOf = (body: string, meter = '4/4') =>
  readAbc(`X:1\nT:T\nM:${meter}\nL:1/4\nQ:1/4=60\nK:C\n${body}\n`)[0]!.tune;
const clockOf = (body: string, percent = 100) => {
  const tune = tuneOf(body);
  return new Clock(tune, playingOrder(tune), percent);
};

describe('the clock', () => {
  it('counts quarters at the tempo, and at a part of it', () => {
    expect(clockOf('cccc|cccc|]').seconds(6 * Q)).toBeCloseTo(6);
    expect(clockOf('cccc|cccc|]', 50).seconds(6 * Q)).toBeCloseTo(12);
  });
  it('takes another tempo from its place on, in every pass anew', () => {
    const clock = clockOf('|:cccc|[Q:1/4=120]cccc:|]');
    // 4 s at 60, 2 s at 120, and the same again.
    expect(clock.seconds(4 * Q)).toBeCloseTo(4);
    expect(clock.seconds(8 * Q)).toBeCloseTo(6);
    expect(clock.seconds(16 * Q)).toBeCloseTo(12);
  });
  it('slows down over a while', () => {
    const tune = tuneOf('cccc|cccc|]');
    tune.measures[1]!.tempos = [{ start: 4 * Q, quartersPerMinute: 30, over: 4 * Q }];
    const clock = new Clock(tune, [0, 1]);
    // By the mean of many small steps: four quarters from 60 down to 30 take 4 · ln 2 / (1 − ½) s.
    expect(clock.seconds(8 * Q) - clock.seconds(4 * Q)).toBeCloseTo(4 * 2 * Math.LN2, 1);
    const beats = [4, 5, 6, 7].map(beat => clock.seconds((beat + 1) * Q) - clock.seconds(beat * Q));
    expect(beats).toEqual([...beats].sort((a, b) => a - b));
  });
  it('holds a fermata twice as long, to where the next note begins', () => {
    const clock = clockOf('cc!fermata!c2|cccc|]');
    expect(clock.seconds(2 * Q)).toBeCloseTo(2);
    expect(clock.seconds(4 * Q)).toBeCloseTo(6);
    expect(clock.seconds(5 * Q)).toBeCloseTo(7);
  });
  it('swings eighths and leaves beats, triplets and sixteenths where they are', () => {
    const tune = { ...tuneOf('c/c/c c/4c/4c/4c/4 (3c/c/c/|]'), feel: 'swing' as const };
    const clock = new Clock(tune, [0]);
    expect(clock.felt(0)).toBe(0);
    expect(clock.felt(Q / 2)).toBeGreaterThan(Q / 2);
    expect(clock.felt(Q / 2)).toBeLessThanOrEqual((2 / 3) * Q);
    for (const place of [Q, 2 * Q, 2.25 * Q, 2.5 * Q, 3 * Q, (3 + 1 / 3) * Q])
      expect(clock.felt(place)).toBe(place);
  });
  it('gives a jig its lilt: the first of three longer, the second shorter', () => {
    const jig = readAbc('X:1\nT:J\nM:6/8\nL:1/8\nK:G\nGAB d3|]\n')[0]!.tune;
    const clock = new Clock({ ...jig, feel: 'lilt' }, [0]);
    const [first, second, third] = [1, 2, 3].map(
      n => clock.felt((n * Q) / 2) - clock.felt(((n - 1) * Q) / 2),
    );
    expect(first).toBeGreaterThan(third!);
    expect(third).toBeGreaterThan(second!);
    expect(clock.felt(1.5 * Q)).toBe(1.5 * Q);
  });
});
