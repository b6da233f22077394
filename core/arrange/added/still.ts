/** Where the melody leaves room: it is held, or silent. */
import type { ScoreMeasure } from '../../score';
import { pulseTicks, TICKS_PER_QUARTER, ticksToSeconds } from '../../time';

/**
 * Beats (quarters where eighths are counted), or seconds at a slow tempo, from one melody note to the next that are long:
 * what lies still there is filled. Judgement.
 */
const LONG = { beats: 2, seconds: 1.1 };

/**
 * Whether the melody is held or silent for long around a place of a measure (ticks from its start), whatever comes before
 * and after the measure: equal ones are filled alike.
 */
export function standsStill(
  { notes, ticks, meter }: Pick<ScoreMeasure, 'notes' | 'ticks' | 'meter'>,
  place: number,
  quartersPerMinute: number,
): boolean {
  const starts = notes.filter(note => note.role === 'melody').map(note => note.start);
  const from = Math.max(0, ...starts.filter(start => start <= place));
  const still = Math.min(ticks, ...starts.filter(start => start > place)) - from;
  const beat = Math.max(pulseTicks(meter), TICKS_PER_QUARTER);
  return still >= LONG.beats * beat || ticksToSeconds(still, quartersPerMinute) >= LONG.seconds;
}
