import { chordClasses, parseChord } from '../chord';
import { type FingerPlacement, gripFault, type Hand } from '../hand';
import type { Setup } from '../instrument';
import { mod12 } from '../pitch';
import { TICKS_PER_WHOLE } from '../time';
import { type Arrangement, noteMidi, type ScoreNote } from './model';

/** A note as it is played: struck once, with its ties joined. Ticks run from the start of what is played. */
export interface PerformedNote {
  note: ScoreNote;
  /** Written measure, and its place in the playing order. */
  measure: number;
  position: number;
  at: number;
  /** End as written. */
  writtenEnd: number;
  /** End of the sound: never before the written end unless the string or the finger is needed. */
  ringEnd: number;
  midi: number;
}

/**
 * Plays an arrangement on paper: every struck note with the time it truly rings. A note rings until its string is
 * struck again, its finger is needed elsewhere, the hand can no longer hold it beside what comes, or the chord changes
 * to one it does not belong to; a note foreign to its own chord is let go at its written end. An undisturbed note
 * counts as ringing for one measure beyond its written end at most.
 *
 * @param order written measures in the order in which they are played
 */
export function perform(arrangement: Arrangement, order: readonly number[]): PerformedNote[] {
  const { setup, hand } = arrangement;
  const performed: PerformedNote[] = [];
  const chordAt: { at: number; classes: Set<number> }[] = [];
  const lastOnString: (PerformedNote | undefined)[] = [];
  let at = 0;
  for (const [position, index] of order.entries()) {
    const measure = arrangement.measures[index]!;
    for (const chord of measure.chords) {
      const parsed = parseChord(chord.sounding);
      if (parsed) chordAt.push({ at: at + chord.start, classes: new Set(chordClasses(parsed)) });
    }
    const notes = [...measure.notes].sort((a, b) => a.start - b.start || a.string - b.string);
    for (const note of notes) {
      const start = at + note.start;
      const before = lastOnString[note.string];
      if (note.tied && before && before.writtenEnd === start && before.note.fret === note.fret) {
        before.writtenEnd = start + note.ticks;
        continue;
      }
      const midi = noteMidi(setup, note);
      const entry = {
        note,
        measure: index,
        position,
        at: start,
        writtenEnd: start + note.ticks,
        ringEnd: 0,
        midi,
      };
      lastOnString[note.string] = entry;
      performed.push(entry);
    }
    at += measure.ticks;
  }

  const end = at;
  let chordIndex = -1;
  for (const [i, entry] of performed.entries()) {
    while (chordAt[chordIndex + 1] && chordAt[chordIndex + 1]!.at <= entry.at) chordIndex += 1;
    const pitchClass = mod12(entry.midi);
    const own = chordAt[chordIndex];
    const measureLength = arrangement.measures[entry.measure]!.ticks;
    if (entry.note.dead) {
      // A damped stroke has no ring.
      entry.ringEnd = Math.min(entry.writtenEnd, entry.at + DEAD_TICKS);
      continue;
    }
    let limit = own && !own.classes.has(pitchClass) ? entry.writtenEnd : entry.writtenEnd + measureLength;
    for (let c = chordIndex + 1; c < chordAt.length && chordAt[c]!.at < limit; c++) {
      if (!chordAt[c]!.classes.has(pitchClass)) limit = Math.max(entry.writtenEnd, chordAt[c]!.at);
    }
    entry.ringEnd = Math.min(end, letGo(setup, hand, performed, i, limit));
  }
  return performed;
}

/** How long a damped stroke is heard: a thirty-second. */
const DEAD_TICKS = TICKS_PER_WHOLE / 32;

/** How many notes around one can lie under the same finger or still be held: more than two hands' worth. */
const NEIGHBOURS = 12;

/** The strings that a performed note's finger lies across: its own, and those it holds at the same fret by then. */
function fingerSpan(all: readonly PerformedNote[], index: number): FingerPlacement | undefined {
  const { note, at } = all[index]!;
  if (!note.finger || note.fret === 0) return undefined;
  const span: FingerPlacement = { finger: note.finger, fret: note.fret, from: note.string, to: note.string };
  for (let i = Math.max(0, index - NEIGHBOURS); i < all.length && all[i]!.at <= at; i++) {
    const other = all[i]!;
    const together = other.at === at || other.writtenEnd > at;
    if (!together || other.note.finger !== note.finger || other.note.fret !== note.fret) continue;
    span.from = Math.min(span.from, other.note.string);
    span.to = Math.max(span.to, other.note.string);
  }
  return span;
}

/**
 * How long melody notes truly sound against how long they are written, on average: 1 where each stops as written,
 * more where neighbours overlap like a harp.
 */
export function ringFactor(arrangement: Arrangement): number {
  const order = arrangement.measures.map((_, i) => i);
  const melody = perform(arrangement, order).filter(entry => entry.note.voice === 'melody');
  if (!melody.length) return 1;
  const factors = melody.map(entry => (entry.ringEnd - entry.at) / Math.max(1, entry.writtenEnd - entry.at));
  return factors.reduce((sum, value) => sum + value, 0) / factors.length;
}

/** When a performed note is stopped by what comes after it, at the latest at `limit`. */
function letGo(
  setup: Setup,
  hand: Hand,
  all: readonly PerformedNote[],
  index: number,
  limit: number,
): number {
  const entry = all[index]!;
  const { finger, string, fret } = entry.note;
  const held = fingerSpan(all, index);
  for (let later = index + 1; later < all.length; later++) {
    const next = all[later]!;
    if (next.at >= limit) break;
    if (next.at === entry.at) continue;
    if (next.note.string === string) return next.at;
    // A barre that comes down over a string that sounds lower stops it …
    const other = fingerSpan(all, later);
    if (other && other.from <= string && string <= other.to && fret < other.fret) return next.at;
    if (!held) continue;
    // … and one that lies over a string that must sound lower has to lift.
    if (held.from <= next.note.string && next.note.string <= held.to && next.note.fret < fret) return next.at;
    if (!other) continue;
    if (other.finger === finger) {
      // The same finger may lie across further strings of its fret; anywhere else it lets go.
      if (other.fret !== fret) return next.at;
      held.from = Math.min(held.from, other.from);
      held.to = Math.max(held.to, other.to);
    } else if (gripFault(setup, hand, [held, other])) return next.at;
  }
  return limit;
}
