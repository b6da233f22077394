import { PitchDetector } from 'pitchy';
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { readAbc } from '../formats/abc';
import { highestFret, noteAt, standardSetup } from '../instrument';
import { frequencyOf } from '../pitch';
import { playingOrder } from '../timeline';
import type { Performance } from './index';
import {
  countIn,
  FULL_MIX,
  gripsPerformance,
  melodyPerformance,
  mixed,
  performanceOf,
  Renderer,
  renderPerformance,
  sampleAt,
  within,
  withPause,
} from './index';

const RATE = 44100;

function single(string: number, midi: number, time = 0, end = time + 1.5): Performance {
  return {
    events: [{ string, time, end, midi, frequency: frequencyOf(midi), velocity: 1, role: 'melody' }],
    cues: [],
    clicks: [],
    seconds: end,
  };
}
const quiet = { sampleRate: RATE, click: false, countIn: [] };

describe('rendered strings, measured by the independent pitch detector pitchy', () => {
  for (const instrument of ['guitar', 'mandolin'] as const) {
    it(`${instrument}: every string, several frets and capos, within 2 cents`, () => {
      const size = 16384;
      const detector = PitchDetector.forFloat32Array(size);
      const worst: [number, string][] = [];
      for (const capo of [0, 3]) {
        const setup = standardSetup(instrument, capo);
        for (let string = 1; string <= setup.tuning.length; string++) {
          for (const fret of [0, 1, 5, 7, highestFret(setup)]) {
            const midi = noteAt(setup, string, fret);
            const { samples } = renderPerformance(single(string, midi), setup, quiet);
            const [found] = detector.findPitch(samples.slice(4410, 4410 + size), RATE);
            const cents = 1200 * Math.log2(found / frequencyOf(midi));
            worst.push([Math.abs(cents), `string ${string} fret ${fret} capo ${capo}`]);
          }
        }
      }
      worst.sort((a, b) => b[0] - a[0]);
      expect(worst[0]![0], worst[0]![1]).toBeLessThan(2);
    });
  }
});

describe('timing in the buffer', () => {
  it('starts each note on its sample and not before', () => {
    const setup = standardSetup('guitar');
    const at = 0.1234;
    const { samples } = renderPerformance(single(2, 62, at), setup, quiet);
    const onset = sampleAt(at, RATE);
    expect(samples.slice(0, onset).every(s => s === 0)).toBe(true);
    expect(Math.abs(samples[onset]!)).toBeGreaterThan(0);
  });

  it('a string plucked again stops its last note, another string rings on', () => {
    const setup = standardSetup('guitar');
    const energyAt = (frequency: number, samples: Float32Array, from: number) => {
      let re = 0;
      let im = 0;
      for (let n = 0; n < 8192; n++) {
        re += samples[from + n]! * Math.cos((2 * Math.PI * frequency * n) / RATE);
        im += samples[from + n]! * Math.sin((2 * Math.PI * frequency * n) / RATE);
      }
      return Math.hypot(re, im);
    };
    const two = (second: number): Performance => ({
      events: [...single(3, 55, 0, 2).events, ...single(second, 62, 0.5, 2).events],
      cues: [],
      clicks: [],
      seconds: 2,
    });
    const same = renderPerformance(two(3), setup, quiet).samples;
    const other = renderPerformance(two(2), setup, quiet).samples;
    const from = sampleAt(0.6, RATE);
    expect(energyAt(frequencyOf(55), other, from)).toBeGreaterThan(8 * energyAt(frequencyOf(55), same, from));
  });

  it('a damped note is gone within a tenth of a second', () => {
    const { samples } = renderPerformance(
      { ...single(3, 55, 0, 0.5), seconds: 1 },
      standardSetup('guitar'),
      quiet,
    );
    const loudest = (from: number, to: number) =>
      Math.max(...samples.slice(sampleAt(from, RATE), sampleAt(to, RATE)).map(Math.abs));
    expect(loudest(0.62, 1)).toBeLessThan(0.01 * loudest(0.3, 0.5));
  });
});

describe('piece by piece', () => {
  const { tune } = readAbc('X:1\nT:P\nM:4/4\nL:1/8\nQ:1/4=140\nK:G\n"G"GBdg "C"ecGE|"D"AFDF "G"G4|]\n')[0]!;
  const made = arrange(tune, { id: 'a', instrument: 'mandolin', style: 'chord-melody', capo: 0 })
    .arrangement!;
  const performance = performanceOf(made, [0, 1], 100);
  const options = { sampleRate: RATE, click: true, countIn: countIn(made, 0, 100) };
  const whole = renderPerformance(performance, made.setup, options);

  it('sounds just as at once, wherever it is cut', () => {
    const renderer = new Renderer(performance, made.setup, options);
    expect([renderer.musicStart, renderer.musicEnd]).toEqual([whole.musicStart, whole.musicEnd]);
    let at = 0;
    for (const size of [1, 700, 44100, 3, 20000, 99999]) {
      const piece = renderer.render(at, at + size);
      expect(piece).toEqual(whole.samples.slice(at, at + size));
      at += size;
    }
  });
  it('from another place on, what sounds over from before is heard too', () => {
    const renderer = new Renderer(performance, made.setup, options);
    const from = whole.musicStart + 30000;
    const piece = renderer.render(from, from + 30000);
    // The body's resonance begins anew; after a moment nothing tells the two apart.
    for (let n = 8000; n < 30000; n += 97)
      expect(Math.abs(piece[n]! - whole.samples[from + n]!)).toBeLessThan(2e-3);
    expect(renderer.render(0, 1000)).toEqual(whole.samples.slice(0, 1000));
  });
  it('never leaves the range of a sample', () => {
    expect(whole.samples.every(s => Math.abs(s) < 1)).toBe(true);
  });
});

describe('a performance of a tune', () => {
  const abc = 'X:1\nT:Two\nM:3/4\nL:1/4\nQ:1/4=120\nK:G\nD|:"G"G2B|"D"A3:|';
  const { tune } = readAbc(abc)[0]!;
  const arrangement = arrange(tune, { id: 'a', instrument: 'guitar', style: 'melody', capo: 0 }).arrangement!;

  it('plays the repeats at the tempo asked for', () => {
    const order = playingOrder(tune);
    const played = performanceOf(arrangement, order, 50);
    // 1 + 2 × (3 + 3) quarters at 60 a minute.
    expect(order).toEqual([0, 1, 2, 1, 2]);
    expect(played.seconds).toBeCloseTo(13, 9);
    expect(played.events.map(e => e.time)).toEqual([0, 1, 3, 4, 7, 9, 10]);
    expect(played.clicks).toHaveLength(13);
    expect(played.clicks.filter(c => c.accented).map(c => c.time)).toEqual([1, 4, 7, 10]);
  });

  it('counts in a measure and what a pickup leaves free of one', () => {
    const clicks = countIn(arrangement, 0, 100);
    expect(clicks.map(c => c.time)).toEqual([-2.5, -2, -1.5, -1, -0.5]);
    expect(clicks.filter(c => c.accented).map(c => c.time)).toEqual([-2.5, -1]);
  });
});

describe('what is made of a performance', () => {
  const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nQ:1/4=120\nK:C\n"C"cdef|"G"gfed|]\n')[0]!;
  const arrangement = arrange(tune, { id: 'm', instrument: 'guitar', style: 'fingerstyle', capo: 0 })
    .arrangement!;
  const whole = performanceOf(arrangement, playingOrder(arrangement), 100);
  it('parts are heard alone, softer, or not', () => {
    expect(mixed(whole, FULL_MIX)).toBe(whole);
    const alone = mixed(whole, { melody: 1, bass: 0, inner: 0 });
    expect(alone.events.length).toBeGreaterThan(0);
    expect(alone.events.every(event => event.role === 'melody')).toBe(true);
    const soft = mixed(whole, { melody: 1, bass: 0.5, inner: 1 });
    const bass = (from: Performance) => from.events.filter(e => e.role === 'bass').map(e => e.velocity);
    expect(bass(soft)).toEqual(bass(whole).map(velocity => velocity / 2));
  });
  it('a piece of it: from the third beat to the next measure’s second', () => {
    const piece = within(whole, 1, 2.5);
    expect(piece.seconds).toBe(1.5);
    expect(piece.clicks.map(click => click.time)).toEqual([0, 0.5, 1]);
    expect(piece.events.every(event => event.time >= 0 && event.time < 1.5)).toBe(true);
    expect(piece.events.filter(e => e.role === 'melody').map(e => e.midi % 12)).toEqual([4, 5, 7]);
  });
  it('a pause of one measure behind it, counted', () => {
    const paused = withPause(whole, countIn(arrangement, 0, 100));
    expect(paused.seconds).toBe(whole.seconds + 2);
    expect(paused.clicks.slice(-4).map(click => click.time)).toEqual([4, 4.5, 5, 5.5]);
  });
  it('grips are brushed from the thick strings to the thin ones, one after the other', () => {
    const grips = gripsPerformance(
      standardSetup('guitar'),
      [
        [0, 1, 0, 2, 3, null],
        [3, 0, 0, 0, 2, 3],
      ],
      2,
    );
    expect(grips.events.map(event => event.string)).toEqual([5, 4, 3, 2, 1, 6, 5, 4, 3, 2, 1]);
    // C major and G major, as guitars sound them (MIDI 60 is the middle C).
    expect(grips.events.slice(0, 5).map(event => event.midi)).toEqual([48, 52, 55, 60, 64]);
    expect(grips.events[5]).toMatchObject({ time: 2, midi: 43 });
  });
  it('nylon is rounder than steel: less of what is high, at the same pitch', () => {
    const setup = standardSetup('guitar');
    const bright = (strings: 'steel' | 'nylon') => {
      const { samples } = renderPerformance(single(2, 62), setup, { ...quiet, strings });
      let [all, steps] = [0, 0];
      for (let n = 2000; n < 12000; n++) {
        all += samples[n]! ** 2;
        steps += (samples[n]! - samples[n - 1]!) ** 2;
      }
      return steps / all;
    };
    expect(bright('nylon')).toBeLessThan(0.7 * bright('steel'));
    const detector = PitchDetector.forFloat32Array(16384);
    const { samples } = renderPerformance(single(2, 62), setup, { ...quiet, strings: 'nylon' });
    const [found] = detector.findPitch(samples.slice(4410, 4410 + 16384), RATE);
    expect(Math.abs(1200 * Math.log2(found / frequencyOf(62)))).toBeLessThan(2);
  });
  it('further voices of the source sound with the melody where they are asked for, each at its time', () => {
    const duet = readAbc('X:1\nT:T\nM:2/4\nL:1/4\nQ:1/4=60\nK:C\nV:1\n|:EF|G2:|\nV:2\nC2-|C E|]\n')[0]!.tune;
    const heard = (voices: boolean) =>
      melodyPerformance(duet, 100, { voices }).events.map(({ midi, time, end }) => [midi, time, end]);
    const melody = [0, 4].flatMap(at => [
      [64, at, at + 1],
      [65, at + 1, at + 2],
      [67, at + 2, at + 4],
    ]);
    const second = [0, 4].flatMap(at => [
      [60, at, at + 3],
      [64, at + 3, at + 4],
    ]);
    const inTime = (all: number[][]) => all.toSorted((a, b) => a[1]! - b[1]! || b[0]! - a[0]!);
    expect(inTime(heard(false))).toEqual(inTime(melody));
    expect(inTime(heard(true))).toEqual(inTime([...melody, ...second]));
    // What sounds together never shares a string.
    const { events } = melodyPerformance(duet, 100, { voices: true });
    for (const a of events)
      for (const b of events)
        if (a !== b && a.string === b.string) expect(a.end <= b.time || b.end <= a.time).toBe(true);
  });
  it('a song sounds in another key, with its chords where they stand', () => {
    const setup = standardSetup('guitar', 2);
    const plain = melodyPerformance(tune, 100);
    const grips = new Map(tune.measures.flatMap(m => m.chords).map(c => [c.id, [0, 1, 0, 2, 3, null]]));
    const moved = melodyPerformance(tune, 100, { transposition: 2, held: { setup, grips } });
    const melody = (from: Performance) => from.events.filter(e => e.role === 'melody').map(e => e.midi);
    expect(melody(moved)).toEqual(melody(plain).map(midi => midi + 2));
    const held = moved.events.filter(e => e.role === 'inner');
    // The open C shape at capo 2 sounds D; it is brushed at the two chords.
    expect(held.map(e => e.midi)).toEqual([50, 54, 57, 62, 66, 50, 54, 57, 62, 66]);
    expect([held[0]!.time, held[5]!.time]).toEqual([0, 2]);
  });
});
