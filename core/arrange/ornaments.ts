/** Ornaments by style: from a plain tune to a fiddle-like setting. */

import type { Setup } from '../instrument';
import {
  type ArrangeSettings,
  gracesOf,
  noteMidi,
  type Ornament,
  type Ornamenting,
  putGraces,
  type ScoreMeasure,
  type ScoreNote,
} from '../score';
import { isCompound, pulseTicks, strongBeats, TICKS_PER_WHOLE } from '../time';

/** How much is ornamented: as asked, else a little in the full level and nothing below it. */
export function ornamentingOf(settings: Pick<ArrangeSettings, 'level' | 'ornaments'>): Ornamenting {
  return settings.ornaments ?? (settings.level === 4 ? 'some' : 'plain');
}

const EIGHTH = TICKS_PER_WHOLE / 8;

/** What suits a note, best first (common practice of fiddle tunes); nothing where it has no time or weight for one. */
function suited(
  measure: ScoreMeasure,
  note: ScoreNote,
  how: Exclude<Ornamenting, 'plain'>,
  repeats: boolean,
): Ornament[] {
  const place = note.start + measure.offset;
  const strong = strongBeats(measure.meter).includes(place);
  if (how === 'some') return strong && note.ticks >= 2 * EIGHTH ? ['hammer', 'slide'] : [];
  const onBeat = place % pulseTicks(measure.meter) === 0;
  // A note of a whole jig group or longer has the time for a roll, a beat for a quick triplet.
  if (onBeat && note.ticks >= 3 * EIGHTH) return ['roll', 'slide', 'hammer'];
  if (repeats && note.ticks >= EIGHTH) return ['pull', 'hammer'];
  if (onBeat && !strong && note.ticks >= 2 * EIGHTH && !isCompound(measure.meter))
    return ['triplet', 'hammer', 'slide'];
  return onBeat && note.ticks >= EIGHTH ? ['hammer', 'slide'] : [];
}

/**
 * Adds grace notes to melody notes that have time for them: 'some' hammers or slides into long notes of strong beats
 * from below; 'many' also rolls on long notes, quick triplets on beats and pull-offs that part repeated notes. Grace
 * notes of the source stay.
 *
 * @returns how many notes were ornamented
 */
export function ornament(measures: readonly ScoreMeasure[], setup: Setup, how: Ornamenting): number {
  if (how === 'plain') return 0;
  let added = 0;
  let before: ScoreNote | undefined;
  for (const measure of measures) {
    for (const note of measure.notes.filter(n => n.voice === 'melody').sort((a, b) => a.start - b.start)) {
      const repeats = before !== undefined && noteMidi(setup, before) === noteMidi(setup, note);
      before = note;
      if (note.tied || note.graces || note.tuplet || note.pinned) continue;
      for (const wanted of suited(measure, note, how, repeats)) {
        const graces = gracesOf({ setup }, measure, note, wanted);
        if (!graces) continue;
        putGraces(note, graces);
        added += 1;
        break;
      }
    }
  }
  return added;
}
