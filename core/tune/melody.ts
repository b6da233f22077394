import { NO_CHORD, parseChord } from '../chord';
import { midiOf } from '../pitch';
import type { Tune } from './model';

/**
 * Whether a tune has a melody; a song of chords alone has none.
 *
 * @example hasMelody({ measures: [] }) // false
 */
export function hasMelody(tune: Pick<Tune, 'measures'>): boolean {
  return tune.measures.some(measure => measure.events.some(event => event.pitch));
}

/** One sounding note of the melody in one written measure. */
export interface MelodyNote {
  measure: number;
  event: number;
  /** Ticks from the start of the tune, measures laid end to end as written. */
  at: number;
  ticks: number;
  midi: number;
  /** Continues the note before it without being struck. */
  tied: boolean;
}

/**
 * Start of every written measure, in ticks, and the whole length last.
 *
 * @example measureStarts([{ ticks: 40 }, { ticks: 40 }]) // [0, 40, 80]
 */
export function measureStarts(measures: readonly { ticks: number }[]): number[] {
  const starts = [0];
  for (const measure of measures) starts.push(starts[starts.length - 1]! + measure.ticks);
  return starts;
}

/**
 * The melody as written, in order.
 *
 * @example melodyNotes(tune)[0].midi // 60
 */
export function melodyNotes(tune: Pick<Tune, 'measures'>): MelodyNote[] {
  const starts = measureStarts(tune.measures);
  const notes: MelodyNote[] = [];
  let tied = false;
  for (const [measure, written] of tune.measures.entries()) {
    for (const [event, e] of written.events.entries()) {
      if (!e.pitch) {
        tied = false;
        continue;
      }
      const midi = midiOf(e.pitch);
      const previous = notes[notes.length - 1];
      const continues = tied && previous?.midi === midi;
      notes.push({ measure, event, at: starts[measure]! + e.start, ticks: e.ticks, midi, tied: continues });
      tied = e.tie === true;
    }
  }
  return notes;
}

/**
 * Lowest and highest melody note (MIDI); undefined for a tune without notes.
 *
 * @example melodyRange(tune) // { low: 60, high: 72 }
 */
export function melodyRange(tune: Pick<Tune, 'measures'>): { low: number; high: number } | undefined {
  const notes = melodyNotes(tune).map(note => note.midi);
  if (!notes.length) return undefined;
  return { low: Math.min(...notes), high: Math.max(...notes) };
}

/** A chord that holds from one place to the next. Remarks that are no chord symbols are passed over. */
export interface ChordSpan {
  /** Id of the tune's chord. */
  id: string;
  at: number;
  ticks: number;
  symbol: string;
}

/**
 * The chords of a tune over its written measures; a gap before the first chord stays empty, and so does one where no chord
 * is played.
 *
 * @example chordSpans(tune).map(span => span.symbol) // ['C', 'G7', 'C']
 */
export function chordSpans(tune: Pick<Tune, 'measures'>): ChordSpan[] {
  const starts = measureStarts(tune.measures);
  const spans: ChordSpan[] = [];
  for (const [measure, written] of tune.measures.entries()) {
    for (const { id, start, symbol } of written.chords)
      if (symbol === NO_CHORD || parseChord(symbol))
        spans.push({ id, at: starts[measure]! + start, ticks: 0, symbol });
  }
  const end = starts[starts.length - 1]!;
  for (const [index, span] of spans.entries()) span.ticks = (spans[index + 1]?.at ?? end) - span.at;
  return spans.filter(span => span.symbol !== NO_CHORD);
}
