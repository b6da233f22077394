import type { Setup } from '../instrument';
import { INSTRUMENTS, type InstrumentId } from '../instrument';
import type { Click, Performance } from './performance';
import { renderString, type StringPluck, type StringTone, seededNoise } from './string';

export interface RenderOptions {
  sampleRate: number;
  /** Metronome along with the music. */
  click: boolean;
  /** Clicks before the music (times below 0); empty for none. */
  countIn: readonly Click[];
}

export interface Rendering {
  /** Mono, −1 … 1. */
  samples: Float32Array<ArrayBuffer>;
  sampleRate: number;
  /** Sample at which the music begins (after the count-in) and at which it ends (before the last ring fades). */
  musicStart: number;
  musicEnd: number;
}

/** Seconds that the last notes may ring on. */
const TAIL = 2.5;

/** How each instrument speaks, and where its body resonates (Hz): judgement by ear and by size. */
const TONES: Record<InstrumentId, StringTone & { body: number[] }> = {
  guitar: { sustain: 6, damping: 0.32, pluckPoint: 0.19, softness: 0.45, body: [105, 205] },
  'twelve-string': { sustain: 5.5, damping: 0.28, pluckPoint: 0.17, softness: 0.35, body: [105, 205] },
  'tenor-guitar': { sustain: 5, damping: 0.3, pluckPoint: 0.18, softness: 0.4, body: [125, 245] },
  mandolin: { sustain: 3.2, damping: 0.2, pluckPoint: 0.14, softness: 0.2, body: [210, 420] },
  'octave-mandolin': { sustain: 4.6, damping: 0.26, pluckPoint: 0.15, softness: 0.28, body: [130, 260] },
  mandola: { sustain: 3.8, damping: 0.23, pluckPoint: 0.15, softness: 0.24, body: [165, 330] },
};

/** Two strings of a pair are never quite alike: each is off by cents, and plucked at a slightly other point. */
const PAIR = [
  { cents: -0.3, pluckPoint: 0 },
  { cents: 0.3, pluckPoint: 0.02 },
];

/** First sample of something that happens at a time. */
export function sampleAt(seconds: number, sampleRate: number): number {
  return Math.round(seconds * sampleRate);
}

/**
 * Renders a performance: string by string, so that a string plucked again stops and a held one rings on.
 * Onsets fall on the nearest sample. The result is scaled down where it would clip.
 */
export function renderPerformance(performance: Performance, setup: Setup, options: RenderOptions): Rendering {
  const { sampleRate } = options;
  const lead = options.countIn.length ? -Math.min(...options.countIn.map(click => click.time)) : 0;
  const musicStart = sampleAt(lead, sampleRate);
  const musicEnd = musicStart + sampleAt(performance.seconds, sampleRate);
  const samples = new Float32Array(musicEnd + sampleAt(TAIL, sampleRate));
  const instrument = INSTRUMENTS[setup.instrument];
  const tone = TONES[instrument.id];
  for (let string = 1; string <= setup.tuning.length; string++) {
    const plucks = performance.events
      .filter(event => event.string === string)
      .map(
        (event): StringPluck => ({
          onset: musicStart + sampleAt(event.time, sampleRate),
          release: musicStart + sampleAt(event.end, sampleRate),
          frequency: event.frequency,
          velocity: event.velocity,
        }),
      );
    if (!plucks.length) continue;
    const second = instrument.pairs[string - 1];
    if (second !== undefined) {
      for (const [index, twin] of PAIR.entries()) {
        const detuned = plucks.map(p => ({
          ...p,
          frequency: p.frequency * 2 ** (twin.cents / 1200 + (index * second) / 12),
          velocity: p.velocity * 0.6,
        }));
        renderString(
          samples,
          sampleRate,
          detuned,
          { ...tone, pluckPoint: tone.pluckPoint + twin.pluckPoint },
          string,
        );
      }
    } else renderString(samples, sampleRate, plucks, tone, string);
  }
  body(samples, sampleRate, tone.body);
  const clicks = [...options.countIn, ...(options.click ? performance.clicks : [])];
  for (const click of clicks)
    addClick(samples, sampleRate, musicStart + sampleAt(click.time, sampleRate), click.accented);
  limit(samples);
  return { samples, sampleRate, musicStart, musicEnd };
}

/** Adds the warmth of a body: two resonances, the air's and the top's, mixed to the strings. */
function body(samples: Float32Array, sampleRate: number, resonances: number[]): void {
  const dry = samples.slice();
  for (const frequency of resonances) {
    const omega = (2 * Math.PI * frequency) / sampleRate;
    const alpha = Math.sin(omega) / (2 * 3.5);
    const a0 = 1 + alpha;
    const b0 = alpha / a0;
    const a1 = (-2 * Math.cos(omega)) / a0;
    const a2 = (1 - alpha) / a0;
    let x1 = 0;
    let x2 = 0;
    let y1 = 0;
    let y2 = 0;
    for (let n = 0; n < dry.length; n++) {
      const x = dry[n]!;
      const y = b0 * (x - x2) - a1 * y1 - a2 * y2;
      x2 = x1;
      x1 = x;
      y2 = y1;
      y1 = y;
      samples[n]! += 0.8 * y;
    }
  }
}

function addClick(samples: Float32Array, sampleRate: number, onset: number, accented: boolean): void {
  const length = Math.round(sampleRate * 0.03);
  const noise = seededNoise(accented ? 11 : 12);
  const frequency = accented ? 1760 : 1175;
  for (let n = 0; n < length && onset + n < samples.length; n++) {
    if (onset + n < 0) continue;
    const fade = Math.exp((-6 * n) / length);
    samples[onset + n]! +=
      fade * (0.22 * Math.cos((2 * Math.PI * frequency * n) / sampleRate) + 0.05 * noise());
  }
}

function limit(samples: Float32Array): void {
  let peak = 0;
  for (const sample of samples) peak = Math.max(peak, Math.abs(sample));
  if (peak <= 0.97) return;
  const scale = 0.97 / peak;
  for (let n = 0; n < samples.length; n++) samples[n]! *= scale;
}
