/** Counts that are spoken where else a click would be. */

/** The words, one after the other in equal slots of one recording. */
export const COUNT_WORDS = [
  'one',
  'two',
  'three',
  'four',
  'five',
  'six',
  'seven',
  'eight',
  'nine',
  'ten',
  'eleven',
  'twelve',
] as const;

/** Seconds of each slot. */
export const COUNT_SLOT = 0.5;

/** A recording of `COUNT_WORDS`. */
export interface SpokenCounts {
  /** Mono, −1 … 1. */
  samples: Float32Array;
  sampleRate: number;
}

/** Seconds in which a word fades where the next count cuts it short. */
const FADE = 0.02;

/**
 * Adds the word for a beat to a piece of sound, from the sample `onset` of it on; nothing where there is no such word.
 *
 * @param until sample at which the next count comes: the word is over by then
 * @example addWord(new Float32Array(4), 8, 0, 1, { counts: { samples: new Float32Array(4).fill(1), sampleRate: 8 }, level: 1, until: 4 }) // undefined
 */
export function addWord(
  out: Float32Array,
  sampleRate: number,
  onset: number,
  beat: number,
  { counts, level, until }: { counts: SpokenCounts; level: number; until: number },
): void {
  if (beat < 1 || beat > COUNT_WORDS.length) return;
  const slot = Math.round(COUNT_SLOT * counts.sampleRate);
  const first = (beat - 1) * slot;
  const step = counts.sampleRate / sampleRate;
  const length = Math.min(Math.floor(slot / step), until - onset);
  const fade = Math.max(1, Math.round(FADE * sampleRate));
  for (let n = Math.max(0, -onset); n < length && onset + n < out.length; n++) {
    const at = n * step;
    const before = Math.floor(at);
    const here = counts.samples[first + before] ?? 0;
    const next = before + 1 < slot ? (counts.samples[first + before + 1] ?? 0) : 0;
    out[onset + n]! += level * Math.min(1, (length - n) / fade) * (here + (next - here) * (at - before));
  }
}
