/** The rhythm of a measure as signs beside the strings: what the melody has above, what is under it below. */
import {
  isCompound,
  type NoteType,
  type NoteValue,
  noteValues,
  pulseTicks,
  TICKS_PER_QUARTER,
} from '../time';
import { type LaneEntry, type LongNotes, lanesOf } from './lanes';
import type { ScoreMeasure } from './model';

/** One printed value. */
export interface RhythmSign {
  /** Ticks from the start of what is written. */
  start: number;
  type: NoteType;
  dots: number;
  rest: boolean;
  /** Flags or beams: 1 for an eighth, 2 for a sixteenth … */
  flags: number;
  /** Goes on with the sign before it: one note that takes two values. */
  tied: boolean;
  /** Signs that hang on one beam have the same number; none for a sign by itself. */
  beam?: number;
}

const FLAGS: Partial<Record<NoteType, number>> = { eighth: 1, '16th': 2, '32nd': 3, '64th': 4, '128th': 5 };

/** Values of an entry; none where its length can't be printed, which the findings tell. */
function valuesOf({ ticks, tuplets }: LaneEntry): NoteValue[] {
  try {
    return noteValues(ticks, tuplets);
  } catch {
    return [];
  }
}

function signsOf(entries: readonly LaneEntry[], { meter, offset }: ScoreMeasure): RhythmSign[] {
  const group = isCompound(meter) ? pulseTicks(meter) : TICKS_PER_QUARTER;
  const signs: (RhythmSign & { end: number })[] = [];
  for (const entry of entries) {
    const values = valuesOf(entry);
    const written = values.reduce((sum, value) => sum + value.ticks, 0);
    let start = entry.start;
    for (const [i, { type, dots, ticks }] of values.entries()) {
      const lasts = (ticks / written) * entry.ticks;
      signs.push({
        start,
        type,
        dots,
        rest: entry.notes.length === 0,
        flags: FLAGS[type] ?? 0,
        tied: (i > 0 && entry.notes.length > 0) || entry.notes.some(note => note.tie !== undefined),
        end: start + lasts,
      });
      start += lasts;
    }
  }
  // Neighbours of one beat hang on one beam.
  const beatOf = (sign: RhythmSign) => Math.floor((sign.start + offset) / group);
  let beam = 0;
  for (const [i, sign] of signs.entries()) {
    const before = signs[i - 1];
    if (!before || sign.rest || before.rest || !sign.flags || !before.flags) continue;
    if (beatOf(before) !== beatOf(sign) || Math.abs(before.end - sign.start) > 1) continue;
    before.beam ??= beam++;
    sign.beam = before.beam;
  }
  return signs.map(({ end: _end, ...sign }) => sign);
}

/**
 * The signs above the strings (the first voice) and below them (the first lane of the others).
 *
 * @param long how notes that take more than one value are written
 * @example rhythmOf(arrangement.measures[0]).above.map(sign => sign.type) // ['quarter', 'quarter', 'quarter', 'quarter']
 */
export function rhythmOf(
  measure: ScoreMeasure,
  long: LongNotes = 'ties',
): { above: RhythmSign[]; below: RhythmSign[] } {
  const lanes = lanesOf(measure, long);
  const above = lanes.find(lane => lane.voice === 1)?.entries ?? [];
  const below = lanes.find(lane => lane.voice !== 1)?.entries ?? [];
  return { above: signsOf(above, measure), below: signsOf(below, measure) };
}
