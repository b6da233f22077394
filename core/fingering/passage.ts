/** Measures of an arrangement as a passage for the left-hand solver. */
import { type Finger, fingerOn } from '../hand';
import {
  type Arrangement,
  intoOf,
  type Moment,
  momentsOf,
  type ScoreChord,
  type ScoreNote,
  soundingAt,
} from '../score';
import { ticksToSeconds } from '../time';
import { measureStarts } from '../tune';
import type { Hold, PassageMoment } from './leftHand';

/** How the fretting hand gets into a note, and from which fret; nothing where it is plucked. */
function slurInto(
  { measures }: Pick<Arrangement, 'measures'>,
  measure: number,
  note: ScoreNote,
): Pick<PassageMoment['notes'][number], 'into'> {
  const into = intoOf(note);
  if (!into) return {};
  const source = [measures[measure], measures[measure - 1]]
    .flatMap(m => m?.notes ?? [])
    .find(other => other.id === into.from);
  return source ? { into: { kind: into.kind, fret: source.fret } } : {};
}

/** How much less a finger counts that lies as in the chord's shape; judgement. */
const IN_SHAPE = 2;

/**
 * How much less a hold counts for its fingers that lie as in the chord's shape: inside a chord the hand holds its shape as
 * far as the melody allows (common practice).
 *
 * @param notes that it holds
 * @param taught the finger of the shape on a string at a fret
 * @example asInShape({ grip: [{ finger: 2, fret: 3, from: 6, to: 6 }] }, [{ string: 6, fret: 3 }], () => 2) // 2
 */
export function asInShape(
  { grip }: Pick<Hold, 'grip'>,
  notes: readonly Pick<ScoreNote, 'string' | 'fret'>[],
  taught: (string: number, fret: number) => Finger | undefined,
): number {
  const asTaught = notes.filter(({ string, fret }) => {
    const finger = fret ? taught(string, fret) : undefined;
    return finger !== undefined && finger === fingerOn(grip, string, fret);
  });
  return IN_SHAPE * asTaught.length;
}

/** How much more a shape counts that holds all that a measure frets: one learns it from the shape's picture; judgement. */
const ALL_SHAPE = 2;

/** How much it counts where a single string is all of it that is fretted under the melody: another finger may spare the hand a shift; judgement. */
const ONE_STRING = 0.5;

/** What is asked of a moment to know whether the shape of its chord is held there. */
export interface ShapedMoment<T> {
  notes: readonly Pick<ScoreNote, 'role' | 'string' | 'fret'>[];
  /** The chord, or what stands for it: the same thing as long as it goes on. */
  chord: T;
  /** The measure, from 0. */
  measure: number;
}

/**
 * How much the shape of its chord counts at each moment. Where something of a shape is fretted to accompany a melody, it is
 * held as long as the chord goes on, less strictly where that is a single string; where all that a measure frets of a chord,
 * melody and what goes under it, lies in the shape on several strings, it is held there whatever the chord's other measures
 * do. Any other melody is fingered for itself.
 *
 * @param taught the finger of a chord's shape on a string at a fret
 */
export function heldShapes<T>(
  moments: readonly ShapedMoment<T>[],
  taught: (chord: T, string: number, fret: number) => Finger | undefined,
): number[] {
  /** The strings that are fretted in the shape of each chord to accompany a melody. */
  const accompanied = new Map<T, Set<number>>();
  // What one chord has in one measure: its moments follow each other.
  const spans: ShapedMoment<T>['notes'][number][][] = [];
  for (const [i, { notes, chord, measure }] of moments.entries()) {
    const previous = moments[i - 1];
    const goesOn = previous && previous.chord === chord && previous.measure === measure;
    spans.push(goesOn ? spans[i - 1]! : []);
    spans[i]!.push(...notes);
    for (const { role, string, fret } of notes) {
      if (role === 'melody' || !fret || taught(chord, string, fret) === undefined) continue;
      accompanied.set(chord, (accompanied.get(chord) ?? new Set()).add(string));
    }
  }
  return moments.map(({ chord }, i) => {
    const span = spans[i]!;
    const fretted = span.filter(({ fret }) => fret > 0);
    const isAllShape =
      span.some(({ role }) => role !== 'melody') &&
      new Set(fretted.map(({ string }) => string)).size > 1 &&
      fretted.every(({ string, fret }) => taught(chord, string, fret) !== undefined);
    if (isAllShape) return ALL_SHAPE;
    const under = accompanied.get(chord);
    if (!under) return 0;
    return under.size > 1 ? 1 : ONE_STRING;
  });
}

/** The preference for the shapes of the chords that are held at the moments of a passage. */
export function inChordShapes(
  moments: readonly ShapedMoment<Pick<ScoreChord, 'frets' | 'fingers'> | undefined>[],
): (hold: Hold, moment: number) => number {
  const taught = (chord: (typeof moments)[number]['chord'], string: number, fret: number) =>
    chord?.frets?.[string - 1] === fret
      ? ((chord.fingers?.[string - 1] ?? undefined) as Finger | undefined)
      : undefined;
  const held = heldShapes(moments, taught);
  return (hold, i) => {
    const { notes, chord } = moments[i]!;
    return held[i] ? held[i] * asInShape(hold, notes, (string, fret) => taught(chord, string, fret)) : 0;
  };
}

/**
 * The moments of a run of measures as a passage, each with its notes.
 *
 * @param range its first and last measure (from 0); `struck`: only what begins at each moment, as if every earlier note
 *   could be let go
 *
 * @example passageOf(arrangement, { from: 0, to: 0 }).notes[0].map(note => note.string) // [2, 5]
 */
export function passageOf(
  arrangement: Pick<Arrangement, 'measures' | 'quartersPerMinute'>,
  range: { from: number; to: number; struck?: boolean },
): { moments: PassageMoment[]; notes: ScoreNote[][]; places: Moment[] } {
  const starts = measureStarts(arrangement.measures);
  const places: (Moment & { at: number })[] = [];
  for (let index = range.from; index <= range.to; index++)
    for (const moment of momentsOf(arrangement.measures[index]!, index))
      places.push({ ...moment, at: starts[index]! + moment.start });
  const notes = places.map(place =>
    soundingAt(arrangement.measures[place.measure]!, place.start).filter(
      note => !range.struck || note.start === place.start,
    ),
  );
  const moments = places.map((place, i): PassageMoment => {
    const next = places[i + 1]?.at ?? starts[range.to + 1]!;
    return {
      seconds: ticksToSeconds(next - place.at, arrangement.quartersPerMinute),
      notes: notes[i]!.map(note => ({
        string: note.string,
        fret: note.fret,
        held: i > 0 && (note.start < place.start || note.tie !== undefined),
        ...(note.tie && note.start === place.start && { swaps: true }),
        ...(note.fingerPinned && note.finger && { pinned: note.finger }),
        ...(note.start === place.start && slurInto(arrangement, place.measure, note)),
      })),
    };
  });
  return { moments, notes, places };
}
