/** Bass runs under a song: before a chord changes, the bass goes by step from its root to the next (common practice). */
import { parseChord } from '../chord';
import type { Finger } from '../hand';
import { noteAt, type Setup } from '../instrument';
import { mod12, scaleOf } from '../pitch';
import type { LedgerDraft, ScoreChord, ScoreMeasure, ScoreNote } from '../score';
import { bassStringOf } from '../shape';
import { isCompound, measureTicks, pulseTicks } from '../time';

/** Most notes of a run, and the widest way that it goes, in semitones; judgement. */
const MOST_NOTES = 2;
const WIDEST = 9;
/** A run lies in the open position, under a finger a fret. */
const HIGHEST_FRET = 4;

/** The bass of a chord as it is held. */
function bassOf(chord: ScoreChord, setup: Setup): { string: number; midi: number } | undefined {
  const named = parseChord(chord.shape);
  const string = chord.frets && named && bassStringOf(chord.frets, named, setup);
  const fret = string ? chord.frets![string - 1] : null;
  return string && fret != null ? { string, midi: noteAt(setup, string, fret) } : undefined;
}

/** Where a note lies among the strings of the bass, as near the nut as it goes. */
function placeOf(midi: number, setup: Setup): { string: number; fret: number } | undefined {
  const { length } = setup.tuning;
  for (let string = length; string > length / 2; string--)
    for (let fret = 0; fret <= HIGHEST_FRET; fret++)
      if (noteAt(setup, string, fret) === midi) return { string, fret };
  return undefined;
}

/** The last steps of the scale on the way from a bass to another, neither of them included. */
function stepsTo(from: number, to: number, scale: readonly number[]): number[] {
  if (Math.abs(to - from) > WIDEST) return [];
  const up = to > from;
  const between = Array.from({ length: Math.max(0, Math.abs(to - from) - 1) }, (_, i) =>
    up ? from + 1 + i : from - 1 - i,
  );
  return between.filter(midi => scale.includes(mod12(midi))).slice(-MOST_NOTES);
}

/**
 * Puts runs into measures that are filled with a pattern: on the last beats before a chord that begins with a measure,
 * where the chord before it has sounded for as long as the run at least. The strokes there give way.
 *
 * @returns what was put in, for the ledger
 */
export function rootRuns(measures: ScoreMeasure[], setup: Setup): LedgerDraft[] {
  let held: ScoreChord | undefined;
  const at: number[] = [];
  for (const [index, measure] of measures.entries()) {
    const before = measures[index - 1];
    const next = measure.chords.find(chord => chord.start === 0);
    if (before && held && next && next.shape !== held.shape && lead(before, held, next, setup))
      at.push(index - 1);
    held = measure.chords.at(-1) ?? held;
  }
  return at.length ? [{ measures: at, text: 'the bass runs to the next root' }] : [];
}

/** Writes the run at the end of a measure. @returns whether there is one */
function lead(measure: ScoreMeasure, held: ScoreChord, next: ScoreChord, setup: Setup): boolean {
  if (measure.ticks < measureTicks(measure.meter)) return false;
  const from = bassOf(held, setup);
  const to = bassOf(next, setup);
  if (!from || !to) return false;
  // In a jig the run goes in the eighths of its last group.
  const each = isCompound(measure.meter) ? pulseTicks(measure.meter) / 3 : pulseTicks(measure.meter);
  const places = stepsTo(from.midi, to.midi, scaleOf(measure.key)).map(midi => placeOf(midi, setup));
  const begins = measure.ticks - places.length * each;
  const since = measure.chords.at(-1)?.start ?? 0;
  if (!places.length || places.includes(undefined) || begins - since < places.length * each) return false;
  measure.notes = measure.notes
    .filter(({ start }) => start < begins)
    .map(note => ({ ...note, ticks: Math.min(note.ticks, begins - note.start) }));
  for (const [i, place] of places.entries()) {
    const note: ScoreNote = { id: '', role: 'bass', start: begins + i * each, ticks: each, ...place! };
    if (note.fret) note.finger = note.fret as Finger;
    measure.notes.push(note);
  }
  return true;
}
