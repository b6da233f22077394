import { chordClasses, parseChord } from '../chord';
import { type FingerPlacement, gripFault, type Hand } from '../hand';
import { openNotes, type Setup } from '../instrument';
import { mod12 } from '../pitch';
import type { Arrangement, ScoreNote } from './model';

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
  const open = openNotes(setup);
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
      const midi = open[note.string - 1]! + note.fret;
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
    let limit = own && !own.classes.has(pitchClass) ? entry.writtenEnd : entry.writtenEnd + measureLength;
    for (let c = chordIndex + 1; c < chordAt.length && chordAt[c]!.at < limit; c++) {
      if (!chordAt[c]!.classes.has(pitchClass)) limit = Math.max(entry.writtenEnd, chordAt[c]!.at);
    }
    entry.ringEnd = Math.min(end, letGo(setup, hand, performed, i, limit));
  }
  return performed;
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
  const placement: FingerPlacement | undefined =
    fret > 0 && finger ? { finger, fret, from: string, to: string } : undefined;
  for (let later = index + 1; later < all.length; later++) {
    const next = all[later]!;
    if (next.at >= limit) break;
    if (next.at === entry.at) continue;
    if (next.note.string === string) return next.at;
    if (!placement || !next.note.finger || next.note.fret === 0) continue;
    if (next.note.finger === finger) {
      // The same finger may lie across further strings of its fret; anywhere else it lets go.
      if (next.note.fret !== fret) return next.at;
      continue;
    }
    const other: FingerPlacement = {
      finger: next.note.finger,
      fret: next.note.fret,
      from: next.note.string,
      to: next.note.string,
    };
    if (gripFault(setup, hand, [placement, other])) return next.at;
  }
  return limit;
}
