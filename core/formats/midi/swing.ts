/** Swung eighths: whether a line has them, and where they are written. */
import { TICKS_PER_QUARTER } from '../../time';
import type { Beats } from './rhythm';
import type { Track } from './tracks';

/**
 * Where within a quarter swung eighths fall, and between where they are looked for: at two thirds, more evenly when played
 * fast (common practice). What falls elsewhere between the beats speaks against it.
 */
const SWUNG = { at: [0.58, 0.72], offBeat: [0.2, 0.9], least: 4, part: 0.9 } as const;

/** Where in its quarter a time lies, 0 to 1. */
const placeOf = (time: number, quarters: Beats): number =>
  (time - quarters.beginOf(time)) / TICKS_PER_QUARTER;

/** Whether the notes between the beats of a line are swung eighths throughout. */
export function isSwung(starts: readonly number[], quarters: Beats): boolean {
  const places = [...new Set(starts)].map(start => placeOf(start, quarters));
  const off = places.filter(place => place > SWUNG.offBeat[0] && place < SWUNG.offBeat[1]);
  const swung = off.filter(place => place >= SWUNG.at[0] && place <= SWUNG.at[1]);
  return off.length >= SWUNG.least && swung.length >= SWUNG.part * off.length;
}

/** Moves the second eighths of swung tracks to where they are written. */
export function straighten(tracks: readonly Track[], quarters: Beats): void {
  const early = 2 / 3;
  const straight = (time: number) => {
    const place = placeOf(time, quarters);
    const moved = place <= early ? (place * 0.5) / early : 0.5 + ((place - early) * 0.5) / (1 - early);
    return Math.round(quarters.beginOf(time) + moved * TICKS_PER_QUARTER);
  };
  for (const note of tracks.flatMap(({ notes }) => notes)) {
    note.start = straight(note.start);
    note.end = straight(note.end);
  }
  // Channels of one track have their words in common.
  for (const word of new Set(tracks.flatMap(({ words }) => words))) word.at = straight(word.at);
}
