/** Ornaments by style: from a plain tune to a fiddle-like setting. */

import { degreeOf, parseChord } from '../chord';
import type { Setup } from '../instrument';
import { mod12 } from '../pitch';
import {
  type ArrangeSettings,
  gracesOf,
  type LedgerDraft,
  noteMidi,
  type Ornament,
  type Ornamenting,
  putGraces,
  type ScoreMeasure,
  type ScoreNote,
  type Style,
} from '../score';
import { isCompound, pulseTicks, strongBeats, TICKS_PER_WHOLE } from '../time';

/**
 * How much is ornamented: as asked, else a little in the full level and nothing below it.
 *
 * @example ornamentingOf({ level: 3, ornaments: 'plain' }) // 'plain'
 */
export function ornamentingOf(settings: Pick<ArrangeSettings, 'level' | 'ornaments'>): Ornamenting {
  return settings.ornaments ?? (settings.level === 4 ? 'some' : 'plain');
}

const EIGHTH = TICKS_PER_WHOLE / 8;

/** Grace notes are named with all other parts at the end. */
const unnamed = () => '';

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
 * Slides or hammers into the major third of a grip from the minor one, where the chord begins (common practice of chord
 * melody).
 */
function approachThirds(measures: readonly ScoreMeasure[], setup: Setup, ornamented: Set<ScoreNote>): void {
  for (const measure of measures)
    for (const { start, sounding } of measure.chords) {
      const chord = parseChord(sounding);
      const struck = measure.notes.filter(n => n.start === start && !n.tie);
      if (!chord || struck.length < 2 || struck.some(n => n.graces)) continue;
      const third = struck.find(n => degreeOf(chord, mod12(noteMidi(setup, n))) === '3');
      if (!third || third.pinned || third.ticks < 2 * EIGHTH) continue;
      const graces = gracesOf({ setup }, measure, third, 'semitone');
      if (!graces) continue;
      putGraces(third, graces, unnamed);
      ornamented.add(third);
    }
}

/**
 * Ornaments an arrangement: the thirds of a chord melody's grips first, then its melody, which is left plain where a
 * third is approached.
 *
 * @returns the notes that were ornamented
 */
export function ornament(
  measures: readonly ScoreMeasure[],
  setup: Setup,
  style: Style,
  how: Ornamenting,
): Set<ScoreNote> {
  const ornamented = new Set<ScoreNote>();
  if (how === 'plain') return ornamented;
  if (style === 'chord-melody') approachThirds(measures, setup, ornamented);
  ornamentMelody(measures, setup, how, ornamented);
  return ornamented;
}

/** What was ornamented, for the ledger; notes that a level leaves out do not count. */
export function ornamentWords(
  measures: readonly ScoreMeasure[],
  ornamented: ReadonlySet<ScoreNote>,
): LedgerDraft[] {
  const count = measures.reduce((sum, m) => sum + m.notes.filter(note => ornamented.has(note)).length, 0);
  if (!count) return [];
  return [
    {
      measures: [],
      text: `${count} note${count > 1 ? 's are' : ' is'} ornamented with grace notes; each can be exchanged or taken off`,
    },
  ];
}

/**
 * Adds grace notes to melody notes that have time for them: 'some' hammers or slides into long notes of strong beats
 * from below; 'many' also rolls on long notes, quick triplets on beats and pull-offs that part repeated notes. Grace
 * notes of the source stay.
 */
function ornamentMelody(
  measures: readonly ScoreMeasure[],
  setup: Setup,
  how: Exclude<Ornamenting, 'plain'>,
  ornamented: Set<ScoreNote>,
): void {
  let before: ScoreNote | undefined;
  for (const measure of measures) {
    for (const note of measure.notes.filter(n => n.role === 'melody').sort((a, b) => a.start - b.start)) {
      const repeats = before !== undefined && noteMidi(setup, before) === noteMidi(setup, note);
      before = note;
      if (note.tie || note.tuplets || note.pinned) continue;
      if (measure.notes.some(n => n.start === note.start && n.graces)) continue;
      for (const wanted of suited(measure, note, how, repeats)) {
        const graces = gracesOf({ setup }, measure, note, wanted);
        if (!graces) continue;
        putGraces(note, graces, unnamed);
        ornamented.add(note);
        break;
      }
    }
  }
}
