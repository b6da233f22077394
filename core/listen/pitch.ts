/** Pitch out of sound, by the general-purpose package pitchy (McLeod pitch method). */
import { PitchDetector } from 'pitchy';

/** A pitch that was heard. */
export interface Heard {
  /** In Hz. */
  frequency: number;
  /** 0 to 1: how clearly it is one pitch. */
  clarity: number;
}

const detectors = new Map<number, PitchDetector<Float32Array>>();

/** Pitches that strings of these instruments can have, in Hz. */
const LOWEST = 35;
const HIGHEST = 2000;

/**
 * The pitch of some samples; undefined where there is none that is clear.
 *
 * @param samples −1 to 1; their number is the window that is listened to
 * @param clarity the least that counts
 * @example hearPitch(new Float32Array(2048), 44100) // undefined
 */
export function hearPitch(samples: Float32Array, sampleRate: number, clarity = 0.85): Heard | undefined {
  const { length } = samples;
  const detector = detectors.get(length) ?? PitchDetector.forFloat32Array(length);
  detectors.set(length, detector);
  const [frequency, clear] = detector.findPitch(samples, sampleRate);
  return clear >= clarity && frequency >= LOWEST && frequency <= HIGHEST
    ? { frequency, clarity: clear }
    : undefined;
}

/**
 * How loud some samples are: their root mean square.
 *
 * @example loudness(new Float32Array([0.5, -0.5])) // 0.5
 */
export function loudness(samples: Float32Array): number {
  let sum = 0;
  for (const sample of samples) sum += sample * sample;
  return Math.sqrt(sum / samples.length);
}
