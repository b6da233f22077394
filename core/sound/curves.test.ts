/** How the pitch of bends, slides and vibrato moves, measured in the rendered sound by the pitch detector pitchy. */
import { PitchDetector } from 'pitchy';
import { describe, expect, it } from 'vitest';
import { standardSetup } from '../instrument';
import { type Arrangement, BEND_SHAPES, type Technique } from '../score';
import { handmade } from '../testing/handmade';
import { performanceOf, renderPerformance, type SoundEvent, sampleAt } from './index';

const RATE = 44100;
const SIZE = 2048;
const detector = PitchDetector.forFloat32Array(SIZE);

/** Cents above a MIDI note that are heard in a window with its middle at a time. */
function heardCents(samples: Float32Array, seconds: number, midi: number): number {
  const from = sampleAt(seconds, RATE) - SIZE / 2;
  const [hertz] = detector.findPitch(samples.slice(from, from + SIZE), RATE);
  return 1200 * Math.log2(hertz / (440 * 2 ** ((midi - 69) / 12)));
}

/** Cents of a curve at a time, worked out here anew. */
function meantCents({ curve = [] }: SoundEvent, seconds: number): number {
  const after = curve.findIndex(point => point.time > seconds);
  if (after === 0 || !curve.length) return 100 * (curve[0]?.semitones ?? 0);
  const a = curve.at(after < 0 ? -1 : after - 1)!;
  const b = curve.at(after)!;
  const part = after < 0 ? 0 : (seconds - a.time) / (b.time - a.time);
  return 100 * (a.semitones + part * (b.semitones - a.semitones));
}

/** A half note on the second string's fifth fret at sixty a minute, sounded so, and what is rendered of it. */
function sounded(techniques: Technique[]) {
  const arrangement: Arrangement = handmade({
    setup: standardSetup('guitar'),
    quartersPerMinute: 60,
    notes: [{ start: 0, quarters: 3, string: 2, fret: 5, techniques }],
  });
  const performance = performanceOf(arrangement, [0], 100);
  const { samples } = renderPerformance(performance, arrangement.setup, {
    sampleRate: RATE,
    click: false,
    countIn: [],
  });
  return { events: performance.events, samples };
}

describe('the pitch of', () => {
  const cases: [string, Technique[]][] = [
    ...BEND_SHAPES.flatMap(shape =>
      [1, 2].map((semitones): [string, Technique[]] => [
        `a bend of ${semitones} (${shape})`,
        [{ kind: 'bend', semitones, shape }],
      ]),
    ),
    ['a slide off', [{ kind: 'slide-off', way: 'below' }]],
    ['vibrato on a bend', [{ kind: 'bend', semitones: 2, shape: 'up' }, { kind: 'vibrato' }]],
  ];
  it.each(cases)('%s is within 3 cents of what is meant', (_, techniques) => {
    const { events, samples } = sounded(techniques);
    const event = events.find(e => e.time === 0)!;
    let checked = 0;
    for (let time = 0.08; time < event.end - 0.05; time += 0.02) {
      // In the half width of the window the pitch must keep its way: at a turn it has no one pitch.
      const [a, b, c] = [-0.03, 0, 0.03].map(off => meantCents(event, time + off)) as [
        number,
        number,
        number,
      ];
      if (Math.abs(a + c - 2 * b) > 1) continue;
      checked += 1;
      expect(Math.abs(heardCents(samples, time, event.midi) - b), `at ${time.toFixed(2)} s`).toBeLessThan(3);
    }
    expect(checked).toBeGreaterThan(20);
  });
});

describe('a slide to another fret', () => {
  const arrangement = handmade({
    setup: standardSetup('guitar'),
    notes: [
      { quarters: 1, string: 2, fret: 5 },
      { quarters: 1, string: 2, fret: 8, techniques: [{ kind: 'slide', from: 'n1' }] },
    ],
  });
  const { events } = performanceOf(arrangement, [0], 100);
  it('leads the string on up to the beat, where the other note begins', () => {
    expect(events.map(e => [e.time, e.midi])).toEqual([
      [0, 64],
      [1, 67],
    ]);
    expect(events[0]!.curve).toEqual([
      { time: 0.92, semitones: 0 },
      { time: 1, semitones: 3 },
    ]);
  });
  it('a slide into a note sets out from below and arrives on the beat', () => {
    const { events: into } = sounded([{ kind: 'slide-in', way: 'below' }]);
    expect(into.map(e => [e.time < 0, e.midi, e.curve?.at(-1)?.semitones])).toEqual([
      [true, 61, 3],
      [false, 64, undefined],
    ]);
  });
});

describe('a hand on the string', () => {
  const loudest = (samples: Float32Array, from: number, to: number) =>
    samples
      .slice(sampleAt(from, RATE), sampleAt(to, RATE))
      .reduce((most, s) => Math.max(most, Math.abs(s)), 0);
  const faded = (techniques: Technique[], at: number) => {
    const { samples } = sounded(techniques);
    return loudest(samples, at, at + 0.05) / loudest(samples, 0, 0.05);
  };
  it('a damped stroke is a knock, a palm mute is short, an open note rings', () => {
    expect(faded([{ kind: 'dead' }], 0.1)).toBeLessThan(0.01);
    expect(faded([{ kind: 'palm-mute' }], 0.1)).toBeGreaterThan(0.1);
    expect(faded([{ kind: 'palm-mute' }], 0.6)).toBeLessThan(0.01);
    expect(faded([], 0.6)).toBeGreaterThan(0.05);
  });
});
