import type { Setup } from '../instrument';
import { INSTRUMENTS, type InstrumentId } from '../instrument';
import { addWord, COUNT_SLOT, type SpokenCounts } from './counts';
import type { Click, Performance } from './performance';
import { SoundingPluck, type StringPluck, type StringTone, seededNoise } from './string';

/** What a guitar is strung with. */
export type Strings = 'steel' | 'nylon';

export interface RenderOptions {
  sampleRate: number;
  /** Metronome along with the music. */
  click: boolean;
  /** How loud clicks are, 0 to 1; 1 when left out. */
  clickLevel?: number;
  /** Words that are said instead of clicks. */
  spoken?: SpokenCounts;
  /** A guitar's strings; steel when left out. */
  strings?: Strings;
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
const TONES: Record<InstrumentId, StringTone & { body: [air: number, top: number] }> = {
  guitar: { sustain: 6, damping: 0.32, pluckPoint: 0.19, softness: 0.45, body: [105, 205] },
  'twelve-string': { sustain: 5.5, damping: 0.28, pluckPoint: 0.17, softness: 0.35, body: [105, 205] },
  'seven-string': { sustain: 6, damping: 0.32, pluckPoint: 0.19, softness: 0.45, body: [100, 200] },
  'eight-string': { sustain: 6, damping: 0.32, pluckPoint: 0.19, softness: 0.45, body: [95, 190] },
  'tenor-guitar': { sustain: 5, damping: 0.3, pluckPoint: 0.18, softness: 0.4, body: [125, 245] },
  mandolin: { sustain: 3.2, damping: 0.2, pluckPoint: 0.14, softness: 0.2, body: [210, 420] },
  'octave-mandolin': { sustain: 4.6, damping: 0.26, pluckPoint: 0.15, softness: 0.28, body: [130, 260] },
  'five-string-mandolin': {
    sustain: 3.4,
    damping: 0.21,
    pluckPoint: 0.14,
    softness: 0.22,
    body: [195, 390],
  },
  mandola: { sustain: 3.8, damping: 0.23, pluckPoint: 0.15, softness: 0.24, body: [165, 330] },
};

/** A guitar with nylon strings: rounder, and sooner silent. */
const NYLON: StringTone & { body: [number, number] } = {
  sustain: 3.6,
  damping: 0.45,
  pluckPoint: 0.24,
  softness: 0.75,
  body: [100, 195],
};

/** Two strings of a pair are never quite alike: each is off by cents, and plucked at a slightly other point. */
const PAIR = [
  { cents: -0.3, pluckPoint: 0 },
  { cents: 0.3, pluckPoint: 0.02 },
];

/**
 * First sample of something that happens at a time.
 *
 * @example sampleAt(0.5, 44100) // 22050
 */
export function sampleAt(seconds: number, sampleRate: number): number {
  return Math.round(seconds * sampleRate);
}

/** Level above which samples are bent instead of clipped. */
const KNEE = 0.72;

/** A pluck that waits for its onset, with what it takes to sound it. */
interface Waiting {
  pluck: StringPluck;
  /** Onset of the next pluck of its string. */
  end: number;
  tone: StringTone;
  seed: number;
}

/**
 * Renders a performance piece by piece, so that playing can begin at once however long the music is: a string plucked
 * again stops, a held one rings on, from piece to piece without a seam. Onsets fall on the nearest sample.
 */
export class Renderer {
  /** Sample at which the music begins (after the count-in), at which it ends, and at which the last ring has faded. */
  readonly musicStart: number;
  readonly musicEnd: number;
  readonly length: number;
  private readonly plucks: Waiting[] = [];
  private readonly clicks: { onset: number; accented: boolean; beat: number }[];
  private readonly body: Body;
  private sounding: SoundingPluck[] = [];
  private next = 0;
  private at = 0;

  constructor(
    performance: Performance,
    setup: Setup,
    private readonly options: RenderOptions,
  ) {
    const { sampleRate, countIn, click } = options;
    const lead = countIn.reduce((most, c) => Math.max(most, -c.time), 0);
    this.musicStart = sampleAt(lead, sampleRate);
    this.musicEnd = this.musicStart + sampleAt(performance.seconds, sampleRate);
    this.length = this.musicEnd + sampleAt(TAIL, sampleRate);
    const instrument = INSTRUMENTS[setup.instrument];
    const nylon = options.strings === 'nylon' && instrument.id === 'guitar';
    const tone = nylon ? NYLON : TONES[instrument.id];
    this.body = new Body(tone.body, sampleRate);
    this.clicks = [...countIn, ...(click ? performance.clicks : [])]
      .map(c => ({ ...c, onset: this.musicStart + sampleAt(c.time, sampleRate) }))
      .sort((a, b) => a.onset - b.onset);
    const following: number[] = [];
    for (const event of performance.events.toReversed()) {
      const { string } = event;
      const onset = this.musicStart + sampleAt(event.time, sampleRate);
      const release = this.musicStart + sampleAt(event.end, sampleRate);
      const end = following[string] ?? this.length;
      following[string] = onset;
      const { frequency, velocity, fall } = event;
      const shape = {
        ...(fall !== undefined && { fall }),
        ...(event.curve && {
          curve: event.curve.map(({ time, semitones }) => ({
            time: this.musicStart + sampleAt(time, sampleRate),
            semitones,
          })),
        }),
      };
      const second = instrument.pairs[string - 1];
      if (second === undefined)
        this.plucks.push({
          pluck: { onset, release, frequency, velocity, ...shape },
          end,
          tone,
          seed: string,
        });
      else
        for (const [index, twin] of PAIR.entries())
          this.plucks.push({
            pluck: {
              onset,
              release,
              frequency: frequency * 2 ** (twin.cents / 1200 + (index * second) / 12),
              velocity: velocity * 0.6,
              ...shape,
            },
            end,
            tone: { ...tone, pluckPoint: tone.pluckPoint + twin.pluckPoint },
            seed: string,
          });
    }
    this.plucks.sort((a, b) => a.pluck.onset - b.pluck.onset);
  }

  /**
   * The samples from one to another. Pieces that follow each other cost only themselves; another place is gone to by
   * sounding what is heard there from its own onset.
   *
   * @returns mono, −1 … 1
   */
  render(from: number, to: number): Float32Array<ArrayBuffer> {
    if (from !== this.at) this.seek(from);
    const out = new Float32Array(Math.max(0, to - from));
    for (const voice of this.sounding) voice.render(out, from, to);
    while (this.next < this.plucks.length && this.plucks[this.next]!.pluck.onset < to) {
      const voice = this.soundOf(this.plucks[this.next]!);
      this.next += 1;
      voice.render(out, from, to);
      this.sounding.push(voice);
    }
    this.sounding = this.sounding.filter(voice => !voice.over);
    this.at = to;
    this.body.sound(out);
    this.count(out, from, to);
    soften(out);
    return out;
  }

  /** Clicks, or what is said instead. */
  private count(out: Float32Array, from: number, to: number): void {
    const { sampleRate, spoken, clickLevel: level = 1 } = this.options;
    const lasts = sampleAt(spoken ? COUNT_SLOT : CLICK_SECONDS, sampleRate);
    for (const [i, { onset, accented, beat }] of this.clicks.entries()) {
      if (onset >= to || onset + lasts <= from) continue;
      const next = this.clicks[i + 1]?.onset ?? this.length;
      if (spoken) addWord(out, sampleRate, onset - from, beat, { counts: spoken, level, until: next - from });
      else addClick(out, sampleRate, onset - from, accented, level);
    }
  }

  private soundOf({ pluck, end, tone, seed }: Waiting): SoundingPluck {
    return new SoundingPluck(pluck, end, this.options.sampleRate, tone, seed);
  }

  private seek(at: number): void {
    this.body.rest();
    this.next = this.plucks.findIndex(({ pluck }) => pluck.onset >= at);
    if (this.next < 0) this.next = this.plucks.length;
    this.sounding = this.plucks
      .slice(0, this.next)
      .filter(({ pluck, end }) => Math.min(end, pluck.release + this.options.sampleRate) > at)
      .map(waiting => this.soundOf(waiting));
    for (const voice of this.sounding) voice.render(undefined, at, at);
    this.at = at;
  }
}

/** A whole performance at once. */
export function renderPerformance(performance: Performance, setup: Setup, options: RenderOptions): Rendering {
  const renderer = new Renderer(performance, setup, options);
  const { musicStart, musicEnd, length } = renderer;
  return { samples: renderer.render(0, length), sampleRate: options.sampleRate, musicStart, musicEnd };
}

/** A band-pass and what it is in the midst of. */
interface Resonance {
  b0: number;
  a1: number;
  a2: number;
  y1: number;
  y2: number;
}

function resonance(frequency: number, sampleRate: number): Resonance {
  const omega = (2 * Math.PI * frequency) / sampleRate;
  const alpha = Math.sin(omega) / (2 * 3.5);
  const a0 = 1 + alpha;
  return { b0: alpha / a0, a1: (-2 * Math.cos(omega)) / a0, a2: (1 - alpha) / a0, y1: 0, y2: 0 };
}

/** The two resonances of a body, the air's and the top's, that go on from piece to piece. */
class Body {
  private readonly air: Resonance;
  private readonly top: Resonance;
  private x1 = 0;
  private x2 = 0;

  constructor([air, top]: readonly [number, number], sampleRate: number) {
    this.air = resonance(air, sampleRate);
    this.top = resonance(top, sampleRate);
  }

  /** Adds the warmth of the body to the sound of the strings. */
  sound(out: Float32Array): void {
    const { air, top } = this;
    const { b0, a1, a2 } = air;
    const { b0: c0, a1: d1, a2: d2 } = top;
    let { x1, x2 } = this;
    let { y1, y2 } = air;
    let { y1: z1, y2: z2 } = top;
    // Both in one pass: each waits for its own last sample, and the other is worked out meanwhile.
    for (let n = 0; n < out.length; n++) {
      const x = out[n]!;
      const y = b0 * (x - x2) - a1 * y1 - a2 * y2;
      const z = c0 * (x - x2) - d1 * z1 - d2 * z2;
      x2 = x1;
      x1 = x;
      y2 = y1;
      y1 = y;
      z2 = z1;
      z1 = z;
      out[n] = Math.fround(x + 0.8 * y) + 0.8 * z;
    }
    Object.assign(this, { x1, x2 });
    Object.assign(air, { y1, y2 });
    Object.assign(top, { y1: z1, y2: z2 });
  }

  /** Nothing of what sounded before rings on. */
  rest(): void {
    Object.assign(this, { x1: 0, x2: 0 });
    Object.assign(this.air, { y1: 0, y2: 0 });
    Object.assign(this.top, { y1: 0, y2: 0 });
  }
}

const CLICK_SECONDS = 0.03;

function addClick(
  samples: Float32Array,
  sampleRate: number,
  onset: number,
  accented: boolean,
  level: number,
): void {
  const length = Math.round(sampleRate * CLICK_SECONDS);
  const noise = seededNoise(accented ? 11 : 12);
  const frequency = accented ? 1760 : 1175;
  for (let n = 0; n < length && onset + n < samples.length; n++) {
    const grain = noise();
    if (onset + n < 0) continue;
    const fade = Math.exp((-6 * n) / length);
    samples[onset + n]! +=
      level * fade * (0.22 * Math.cos((2 * Math.PI * frequency * n) / sampleRate) + 0.05 * grain);
  }
}

/** Bends what would clip; the same for every sample wherever a piece begins. */
function soften(samples: Float32Array): void {
  for (let n = 0; n < samples.length; n++) {
    const level = Math.abs(samples[n]!);
    if (level <= KNEE) continue;
    const bent = KNEE + (1 - KNEE) * Math.tanh((level - KNEE) / (1 - KNEE));
    samples[n] = Math.sign(samples[n]!) * bent;
  }
}
