/** Chord shapes as they sound: brushed one after the other. */
import { noteAt, type Setup } from '../instrument';
import { frequencyOf } from '../pitch';
import type { Performance, SoundEvent } from './performance';

/** Seconds from string to string of a brush, slow enough to hear the notes; judgement. */
export const BRUSH_GAP = 0.03;

/**
 * Grips brushed from the thickest string to the thinnest, each after so many seconds.
 *
 * @param grips frets from the capo, string 1 first; null for a string that is not played
 * @example gripsPerformance(setup, [[0, 1, 0, 2, 3, null]], 2).events.length // 5
 */
export function gripsPerformance(
  setup: Setup,
  grips: readonly (readonly (number | null)[])[],
  seconds: number,
): Performance {
  const events = grips.flatMap((frets, i): SoundEvent[] =>
    frets
      .map((fret, index) => ({ fret, string: index + 1 }))
      .filter((held): held is { fret: number; string: number } => held.fret !== null)
      .reverse()
      .map(({ fret, string }, place) => {
        const midi = noteAt(setup, string, fret);
        const time = i * seconds + place * BRUSH_GAP;
        const end = (i + 1) * seconds;
        return { string, time, end, midi, frequency: frequencyOf(midi), velocity: 0.7, role: 'inner' };
      }),
  );
  return {
    events: events.sort((a, b) => a.time - b.time),
    cues: grips.map((_, i) => ({ time: i * seconds, position: i, measure: i, tick: 0 })),
    clicks: [],
    seconds: grips.length * seconds,
  };
}
