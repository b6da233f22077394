/** Ornaments by style: from a plain tune to a fiddle-like setting. */

import { degreeOf, parseChord } from '../../chord';
import type { Setup } from '../../instrument';
import { mod12 } from '../../pitch';
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
} from '../../score';
import { isCompound, measureTicks, pulseTicks, strongBeats, TICKS_PER_WHOLE } from '../../time';
import { type HymnLike, isHymn } from '../texture/texture';

/**
 * How much is ornamented: as asked, else a little in the full level and nothing below it, nor in a hymn.
 *
 * @example ornamentingOf({ level: 4 }, { rhythm: 'hymn' }) // 'plain'
 */
export function ornamentingOf(
  settings: Pick<ArrangeSettings, 'level' | 'ornaments'>,
  tune: HymnLike,
): Ornamenting {
  return settings.ornaments ?? (settings.level === 4 && !isHymn(tune) ? 'some' : 'plain');
}

const EIGHTH = TICKS_PER_WHOLE / 8;

/** Grace notes are named with all other parts at the end. */
const unnamed = () => '';

/** A note of the melody between its neighbours. */
interface Turning {
  measure: ScoreMeasure;
  note: ScoreNote;
  /** The note before has the same pitch. */
  repeats: boolean;
  /** The melody turns downwards here: the note is higher than both its neighbours. */
  turns: boolean;
}

/** What suits a note, best first (common practice of fiddle tunes); nothing where it has no time or weight for one. */
function suited({ measure, note, repeats, turns }: Turning, how: Exclude<Ornamenting, 'plain'>): Ornament[] {
  const place = note.start + measure.offset;
  const strong = strongBeats(measure.meter).includes(place);
  const onBeat = place % pulseTicks(measure.meter) === 0;
  const long = note.ticks >= 3 * EIGHTH;
  if (how === 'some') {
    if (repeats && note.ticks >= EIGHTH) return ['pull', 'hammer'];
    if (strong && long) return ['slide', 'hammer'];
    return onBeat && turns && note.ticks >= EIGHTH ? ['hammer', 'slide'] : [];
  }
  // A note of a whole jig group or longer has the time for a roll, a beat for a quick triplet.
  if (onBeat && long) return ['roll', 'slide', 'hammer'];
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

/** Measures from one ornament to the next: an ornament on every strong beat is sown, not played. Judgement. */
const APART = { some: 2, many: 0.25 };

/**
 * Adds grace notes to melody notes that have time for them: 'some' parts repeated notes, slides or hammers into long
 * notes and into those where the melody turns, a phrase apart; 'many' also rolls on long notes, and quick triplets on
 * beats. The last note stays plain, one kind does not follow itself where another can be played, and grace notes of
 * the source stay.
 */
function ornamentMelody(
  measures: readonly ScoreMeasure[],
  setup: Setup,
  how: Exclude<Ornamenting, 'plain'>,
  ornamented: Set<ScoreNote>,
): void {
  const notes: { measure: ScoreMeasure; note: ScoreNote; at: number }[] = [];
  let start = 0;
  for (const measure of measures) {
    for (const note of measure.notes.filter(n => n.role === 'melody').sort((a, b) => a.start - b.start))
      notes.push({ measure, note, at: start + note.start });
    start += measure.ticks;
  }
  const midi = notes.map(({ note }) => noteMidi(setup, note));
  let free = 0;
  let lastKind: Ornament | undefined;
  for (const [i, { measure, note, at }] of notes.slice(0, -1).entries()) {
    if (at < free || note.tie || note.tuplets || note.pinned) continue;
    if (measure.notes.some(n => n.start === note.start && n.graces)) continue;
    const own = midi[i]!;
    const turns = i > 0 && midi[i - 1]! < own && midi[i + 1]! < own;
    const kinds = suited({ measure, note, repeats: midi[i - 1] === own, turns }, how);
    const varied = [...kinds].sort((a, b) => Number(a === lastKind) - Number(b === lastKind));
    for (const wanted of varied) {
      const graces = gracesOf({ setup }, measure, note, wanted);
      if (!graces) continue;
      putGraces(note, graces, unnamed);
      ornamented.add(note);
      lastKind = wanted;
      free = at + APART[how] * measureTicks(measure.meter);
      break;
    }
  }
}
