import type { Pluck, ScoreMeasure, ScoreNote } from '../score';
import { isCompound, pulseTicks, TICKS_PER_WHOLE } from '../time';

/** Fingers of the plucking hand, or a pick. */
export type PluckingHand = 'fingers' | 'pick';

/** Ring finger string 1, middle 2, index 3, thumb the thicker ones (common practice). */
const HOME: Pluck[] = ['a', 'm', 'i', 'p', 'p', 'p'];

/**
 * Says who plucks each note of a measure. By fingers: the thumb takes the bass, the others their home strings; where
 * a chord asks more of one finger than it has, its notes are dealt out from the thumb up. By pick: down on the beat,
 * up off it; a jig goes down-up-down in each group of three.
 */
export function assignPlucks(
  measure: Pick<ScoreMeasure, 'meter' | 'offset' | 'notes'>,
  hand: PluckingHand,
): void {
  const byStart = new Map<number, ScoreNote[]>();
  for (const note of measure.notes) {
    if (note.tied) {
      delete note.pluck;
      continue;
    }
    byStart.set(note.start, [...(byStart.get(note.start) ?? []), note]);
  }
  for (const [start, notes] of byStart) {
    if (hand === 'pick') {
      const stroke = pickStroke(measure, start);
      for (const note of notes) note.pluck = stroke;
      continue;
    }
    notes.sort((a, b) => a.string - b.string);
    for (const note of notes) note.pluck = note.voice === 'bass' ? 'p' : (HOME[note.string - 1] ?? 'p');
    const distinct = new Set(notes.map(note => note.pluck));
    if (distinct.size === notes.length) continue;
    const order: Pluck[] = notes.length > 3 ? ['a', 'm', 'i', 'p'] : ['m', 'i', 'p'];
    for (const [i, note] of notes.entries())
      note.pluck = order[Math.min(3, order.length - notes.length + i)] ?? 'p';
  }
}

function pickStroke(measure: Pick<ScoreMeasure, 'meter' | 'offset'>, start: number): Pluck {
  const place = start + measure.offset;
  if (isCompound(measure.meter)) {
    const unit = TICKS_PER_WHOLE / measure.meter.unit;
    const inGroup = place % (3 * unit);
    if (inGroup % unit !== 0) return 'up';
    return inGroup / unit === 1 ? 'up' : 'down';
  }
  // Alternate strokes follow the eighths, whatever note the meter counts in.
  const eighth = Math.min(pulseTicks(measure.meter), TICKS_PER_WHOLE / 4) / 2;
  const step = place / eighth;
  if (!Number.isInteger(step))
    return place % (eighth / 2) === 0 && (place / (eighth / 2)) % 2 === 0 ? 'down' : 'up';
  return step % 2 === 0 ? 'down' : 'up';
}
