import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { readAbc } from '../formats';
import { readWav, writeWav } from '../formats/wav';
import { playingOrder } from '../timeline';
import { addWord, COUNT_SLOT, COUNT_WORDS, countIn, performanceOf, renderPerformance } from './index';

const recording = readWav(readFileSync(new URL('../../web/src/engine/sounds/counts.wav', import.meta.url)));
const RATE = 8000;
/** A recording in which each word is its own level throughout. */
const levels = {
  sampleRate: RATE,
  samples: Float32Array.from(
    { length: COUNT_WORDS.length * COUNT_SLOT * RATE },
    (_, i) => (1 + Math.floor(i / (COUNT_SLOT * RATE))) / 100,
  ),
};
const { tune } = readAbc('X:1\nT:C\nM:3/4\nL:1/4\nQ:1/4=180\nK:C\nG|"C"c2e|"G"d3|]\n')[0]!;
const arrangement = arrange(tune, { id: 'c', instrument: 'guitar', style: 'melody', capo: 0 }).arrangement!;

describe('spoken counts', () => {
  it('the recording that ships has every word at the start of its slot, and ends it in silence', () => {
    const slot = Math.round(COUNT_SLOT * recording.sampleRate);
    expect(recording.samples).toHaveLength(slot * COUNT_WORDS.length);
    for (const [i, word] of COUNT_WORDS.entries()) {
      const own = recording.samples.subarray(i * slot, (i + 1) * slot);
      const loudest = (from: number, to: number) =>
        own.subarray(from, to).reduce((most, s) => Math.max(most, Math.abs(s)), 0);
      expect(loudest(0, Math.round(0.01 * recording.sampleRate)), word).toBeGreaterThan(0.01);
      expect(loudest(0, slot), word).toBeCloseTo(0.6, 2);
    }
  });
  it('are said beat by beat, the pickup’s beats too, each cut short by the next', () => {
    const lead = countIn(arrangement, 0, 100);
    const performance = performanceOf(arrangement, playingOrder(arrangement), 100);
    // A pickup of the third beat: a whole measure is counted, and its two beats before the pickup.
    expect(lead.map(click => click.beat)).toEqual([1, 2, 3, 1, 2]);
    expect(performance.clicks.map(click => click.beat)).toEqual([3, 1, 2, 3, 1, 2, 3]);
    const silent = { ...performance, events: [] };
    const { samples, musicStart } = renderPerformance(silent, arrangement.setup, {
      sampleRate: RATE,
      click: true,
      countIn: lead,
      spoken: levels,
    });
    // 180 quarters a minute: a third of a second each. Measured in the middle of each.
    const said = [...lead, ...performance.clicks].map(({ time }) =>
      Math.round(100 * samples[musicStart + Math.round((time + 1 / 6) * RATE)]!),
    );
    expect(said).toEqual([1, 2, 3, 1, 2, 3, 1, 2, 3, 1, 2, 3]);
  });
  it('a beat beyond the words is silent, and a word is said at the pitch it was spoken at', () => {
    const out = new Float32Array(RATE);
    addWord(out, RATE, 0, COUNT_WORDS.length + 1, { counts: levels, level: 1, until: RATE });
    expect(out.every(sample => sample === 0)).toBe(true);
    // 500 Hz in a recording at 16 kHz crosses zero as often when it is heard at 8 kHz.
    const tone = {
      sampleRate: 16000,
      samples: Float32Array.from({ length: 96000 }, (_, n) => Math.sin((2 * Math.PI * 500 * n) / 16000)),
    };
    addWord(out, RATE, 0, 1, { counts: tone, level: 1, until: RATE });
    const half = out.subarray(0, RATE / 4);
    const crossings = half.filter((s, n) => n > 0 && s >= 0 && half[n - 1]! < 0).length;
    expect(Math.abs(crossings - 125)).toBeLessThanOrEqual(1);
  });
});

describe('a WAV file', () => {
  it('reads back as it was written, to the step of its 16 bits', () => {
    const samples = Float32Array.from({ length: 100 }, (_, n) => Math.sin(n));
    const read = readWav(writeWav(samples, 22050));
    expect(read.sampleRate).toBe(22050);
    for (const [n, sample] of read.samples.entries()) expect(sample).toBeCloseTo(samples[n]!, 4);
  });
  it('what is none, or of another kind, says so', () => {
    expect(() => readWav(new Uint8Array(60))).toThrow('this is no WAV file');
    const stereo = writeWav(new Float32Array(4), 44100);
    stereo[22] = 2;
    expect(() => readWav(stereo)).toThrow('one channel and 16 bits');
    expect(() => readWav(writeWav(new Float32Array(0), 44100).subarray(0, 36))).toThrow('no WAV file');
  });
});
