/**
 * One plucked string, after Karplus & Strong and Jaffe & Smith (Computer Music Journal 7(2), 1983):
 * a burst circulates in a delay line through a low-pass filter. Interpolation makes up the part of a sample that the
 * delay line can't; low-pass and interpolation keep all partials in line, so that the note is in tune as a whole.
 */

import { type PitchPoint, semitonesAt } from './curve';

/** A pluck on one string. Times are in samples from the start of the buffer. */
export interface StringPluck {
  onset: number;
  /** The sound is damped from here on. */
  release: number;
  /** Fundamental in hertz. */
  frequency: number;
  /** 0–1 */
  velocity: number;
  /** How the pitch moves; times in samples too. */
  curve?: readonly PitchPoint[];
  /** Seconds to fall by 60 dB, where a hand on the string makes it sooner. */
  fall?: number;
}

/** Timbre of a string; judgement, by ear. */
export interface StringTone {
  /** Seconds to fall by 60 dB at 110 Hz; higher notes fall faster. */
  sustain: number;
  /** 0 bright … 0.5 dark: weight of the outer taps of the loop's low-pass. */
  damping: number;
  /** Where the string is plucked, as a part of its length from the bridge. */
  pluckPoint: number;
  /** 0 bright … 1 dark: how soft the plucking tip is. */
  softness: number;
}

/** Small seeded generator (mulberry32), so that the same piece always sounds the same. */
export function seededNoise(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 2147483648 - 1;
  };
}

/** Seconds in which a damped string falls by 60 dB. */
const DAMPED_FALL = 0.08;
/** Samples after which the length of a string whose pitch moves is set anew. */
const STEP = 16;

/**
 * One pluck as it sounds on and on: it can be rendered piece by piece, each piece going on where the last one ended. Its
 * pitch may move meanwhile, as the length of the delay line does.
 */
export class SoundingPluck {
  /** The first period as plucked, then what came out of the low-pass, for a period and a little more. */
  private readonly burst: Float64Array;
  private readonly line: Float64Array;
  private readonly mask: number;
  private readonly stop: number;
  private taps: [number, number, number, number] = [0, 0, 0, 0];
  private whole = 0;
  private side = 0;
  private middle = 0;
  private gain = 0;
  private dampedGain = 0;
  private n: number;
  private x1 = 0;
  private x2 = 0;

  /** @param end sample at which the string is plucked again, and this sound with it cut off */
  constructor(
    private readonly pluck: StringPluck,
    end: number,
    private readonly sampleRate: number,
    private readonly tone: StringTone,
    seed: number,
  ) {
    const { frequency, onset, release, velocity, curve = [] } = pluck;
    this.setLength(semitonesAt({ curve }, onset));
    const first = frequency * 2 ** (semitonesAt({ curve }, onset) / 12);
    this.burst = burst(this.whole, first, velocity, tone, seed);
    const lowest = curve.reduce((least, { semitones }) => Math.min(least, semitones), 0);
    const longest = sampleRate / (frequency * 2 ** (lowest / 12)) + 4;
    const size = 2 ** Math.ceil(Math.log2(longest));
    this.line = new Float64Array(size);
    this.mask = size - 1;
    this.stop = Math.min(end, release + Math.ceil(sampleRate * DAMPED_FALL * 1.2));
    this.n = onset;
  }

  /** Whether it has died away. */
  get over(): boolean {
    return this.n >= this.stop;
  }

  /** Makes the loop as long as a period of the pitch, so many semitones from where it was plucked. */
  private setLength(semitones: number): void {
    const { sampleRate, tone } = this;
    const frequency = this.pluck.frequency * 2 ** (semitones / 12);
    // Low-pass [d/2, 1−d, d/2]: delays every partial by exactly one sample, so none goes out of tune.
    const fall = Math.min(
      tone.sustain * (110 / frequency) ** 0.45,
      this.pluck.fall ?? Number.POSITIVE_INFINITY,
    );
    const perPeriod = 10 ** (-3 / (frequency * fall));
    // The low-pass may take at most a part of the fundamental's own loss; the gain makes up the rest exactly.
    const lossAtFundamental = 1 - Math.cos((2 * Math.PI * frequency) / sampleRate);
    const damping = Math.min(tone.damping, (0.7 * (1 - perPeriod)) / lossAtFundamental);
    this.side = damping / 2;
    this.middle = 1 - damping;
    this.gain = perPeriod / (1 - damping * lossAtFundamental);
    this.dampedGain = 10 ** (-3 / (frequency * DAMPED_FALL));
    const loop = sampleRate / frequency - 1;
    const whole = Math.floor(loop) - 1;
    // Third-order Lagrange interpolation, most accurate for a delay between one and two samples.
    const part = loop - whole;
    this.whole = whole;
    this.taps = [
      (-(part - 1) * (part - 2) * (part - 3)) / 6,
      (part * (part - 2) * (part - 3)) / 2,
      (-part * (part - 1) * (part - 3)) / 2,
      (part * (part - 1) * (part - 2)) / 6,
    ];
  }

  /**
   * Sounds on up to a sample.
   *
   * @param out mono samples, added to; undefined to pass over what is not wanted
   * @param from sample at which `out` begins
   */
  render(out: Float32Array | undefined, from: number, to: number): void {
    const { onset, curve } = this.pluck;
    const end = Math.min(to, this.stop);
    if (!curve?.length) this.sound(out, from, end);
    else
      while (this.n < end) {
        const step = Math.floor((this.n - onset) / STEP);
        if (step * STEP === this.n - onset) this.setLength(semitonesAt({ curve }, this.n));
        this.sound(out, from, Math.min(end, onset + (step + 1) * STEP));
      }
  }

  /** Sounds on at the length that the string has now: as plucked, then freely, then damped. */
  private sound(out: Float32Array | undefined, from: number, end: number): void {
    const { onset, release } = this.pluck;
    this.strike(out, from, Math.min(end, onset + this.burst.length));
    // What is heard was damped a period ago.
    this.ring(out, from, Math.min(end, release + this.whole), this.gain);
    this.ring(out, from, end, this.dampedGain);
  }

  /** The first period, as it was plucked. */
  private strike(out: Float32Array | undefined, from: number, end: number): void {
    const { line, mask, side, middle, burst: plucked } = this;
    const { onset } = this.pluck;
    for (; this.n < end; this.n++) {
      const { n } = this;
      const sample = plucked[n - onset]!;
      if (out && n >= from) out[n - from]! += sample;
      line[(n - onset) & mask] = side * (sample + this.x2) + middle * this.x1;
      this.x2 = this.x1;
      this.x1 = sample;
    }
  }

  /** What comes round of what the low-pass gave a period ago. */
  private ring(out: Float32Array | undefined, from: number, end: number, gain: number): void {
    if (this.n >= end) return;
    const { line, mask, side, middle, whole } = this;
    const { onset } = this.pluck;
    const [h0, h1, h2, h3] = this.taps;
    let { n, x1, x2 } = this;
    let to = n - onset;
    let at = to - whole;
    // From the newest on.
    let y1 = line[(at - 1) & mask]!;
    let y2 = line[(at - 2) & mask]!;
    let y3 = line[(at - 3) & mask]!;
    for (; n < end; n++, at++, to++) {
      const y0 = line[at & mask]!;
      const sample = (h0 * y0 + h1 * y1 + h2 * y2 + h3 * y3) * gain;
      y3 = y2;
      y2 = y1;
      y1 = y0;
      if (out && n >= from) out[n - from]! += sample;
      line[to & mask] = side * (sample + x2) + middle * x1;
      x2 = x1;
      x1 = sample;
    }
    this.n = n;
    this.x1 = x1;
    this.x2 = x2;
  }
}

/** The first period: noise softened by the fingertip and hollowed by the place of the pluck, without offset. */
function burst(
  length: number,
  frequency: number,
  velocity: number,
  tone: StringTone,
  seed: number,
): Float64Array {
  const noise = seededNoise(seed * 7919 + Math.round(12 * Math.log2(frequency)));
  const raw = new Float64Array(length);
  let smooth = 0;
  for (let n = 0; n < length; n++) {
    smooth += (1 - tone.softness) * (noise() - smooth);
    raw[n] = smooth;
  }
  const shift = Math.max(1, Math.round(length * tone.pluckPoint));
  const line = new Float64Array(length);
  let mean = 0;
  let power = 0;
  for (let n = 0; n < length; n++) {
    line[n] = raw[n]! - raw[(n + length - shift) % length]!;
    mean += line[n]! / length;
  }
  for (let n = 0; n < length; n++) {
    line[n]! -= mean;
    power += line[n]! ** 2 / length;
  }
  const level = (velocity * 0.2) / Math.sqrt(power || 1);
  for (let n = 0; n < length; n++) line[n]! *= level;
  // The very first sample must be heard, so that the onset is where it was asked for.
  if (Math.abs(line[0]!) < level * 0.05) line[0] = level * 0.05;
  return line;
}
