/** The bass of notes that are struck together: all of a chord that one microphone can tell for certain. */
import { frequencyOf } from '../pitch';

/** A sound as it was taken up. */
export interface Recording {
  /** −1 to 1. */
  samples: Float32Array;
  sampleRate: number;
}

/** Seconds that are listened to behind a beginning, and how many at least. */
const SETTLED = 0.04;
const WINDOW = 0.4;
const SHORTEST = 0.22;
/** Semitones around the bass in which another one is sought: frets beside it, and the next string's. */
const AROUND = [-3, -2, -1, 1, 2, 3];
/** Another note is the bass where it is so many times as strong, and no less than this part of all that sounds; judgement. */
const CLEARLY = 4;
const PART = 0.003;
/** Of what sounded as long before so much still rings, and is not what was struck: a string an octave lower has the same tone. Judgement. */
const RINGS_ON = 0.5;

/** How strong a frequency is in some samples (Goertzel's algorithm under a Hann window), and all that sounds in them. */
function heardAt(
  samples: Float32Array,
  sampleRate: number,
  frequency: number,
): { tone: number; all: number } {
  const turn = 2 * Math.cos((2 * Math.PI * frequency) / sampleRate);
  const { length } = samples;
  let [one, two, sum] = [0, 0, 0];
  for (let i = 0; i < length; i++) {
    const sample = samples[i]! * (0.5 - 0.5 * Math.cos((2 * Math.PI * i) / (length - 1)));
    const now = sample + turn * one - two;
    two = one;
    one = now;
    sum += sample * sample;
  }
  return { tone: (one * one + two * two - turn * one * two) / length, all: sum };
}

/**
 * The note that is the bass instead of the one that should be; undefined where it is that one, or where it can't be told:
 * the next beginning comes too soon, or nothing stands out.
 *
 * @param time at which the notes begin, and the next ones, in seconds
 * @param bass MIDI note that should be the lowest
 * @example otherBass({ samples: new Float32Array(44100), sampleRate: 44100 }, 0, 1, 45) // undefined
 */
export function otherBass(
  { samples, sampleRate }: Recording,
  time: number,
  next: number,
  bass: number,
): number | undefined {
  const from = Math.round((time + SETTLED) * sampleRate);
  const seconds = Math.min(WINDOW, next - time - SETTLED);
  if (seconds < SHORTEST) return undefined;
  const length = Math.round(seconds * sampleRate);
  const part = samples.subarray(from, from + length);
  if (part.length < SHORTEST * sampleRate) return undefined;
  const start = Math.round(time * sampleRate);
  const before = start < part.length ? undefined : samples.subarray(start - part.length, start);
  /** What of a note is new, as a part of all that sounds. */
  const strengthOf = (midi: number) => {
    const frequency = frequencyOf(midi);
    const { tone, all } = heardAt(part, sampleRate, frequency);
    const rings = before ? RINGS_ON * heardAt(before, sampleRate, frequency).tone : 0;
    return all > 0 ? Math.max(0, tone - rings) / all : 0;
  };
  const wanted = strengthOf(bass);
  const [best] = AROUND.map(semitones => ({
    midi: bass + semitones,
    strong: strengthOf(bass + semitones),
  })).sort((a, b) => b.strong - a.strong);
  return best && best.strong > PART && best.strong > CLEARLY * wanted ? best.midi : undefined;
}
