/**
 * What the ribbon shows of a measure beyond its notes, kept while the measure and what else it hangs on stay the same:
 * with a key only what changed is worked out anew.
 */
import { measureDifficulty } from '#core/check';
import { writtenOctaves } from '#core/instrument';
import { describeMeasure } from '#core/lesson';
import { spellMidi } from '#core/pitch';
import { type Arrangement, measureDegrees, noteMidi, type ScoreMeasure } from '#core/score';
import { trackWindow } from '#core/track';
import { type BarreLine, barreLines, type RingTail, ringTails } from './measureLayout';

export const NO_STEPS: readonly number[] = [];
const LETTERS = 'CDEFGAB';
/** Something worked out of a measure, kept while the measure and what else it hangs on stay the same. */
function keptOf<T>(): (measure: ScoreMeasure, of: unknown, make: () => T) => T {
  const kept = new WeakMap<ScoreMeasure, { of: unknown; made: T }>();
  return (measure, of, make) => {
    const known = kept.get(measure);
    if (known && known.of === of) return known.made;
    const made = make();
    kept.set(measure, { of, made });
    return made;
  };
}

const pitchRange = keptOf<readonly [low: number, high: number]>();
/** The highest and lowest note as written, in letters from C0. */
export function writtenSteps(
  measures: readonly ScoreMeasure[],
  setup: Arrangement['setup'],
): readonly number[] {
  let low = Number.POSITIVE_INFINITY;
  let high = Number.NEGATIVE_INFINITY;
  for (const measure of measures) {
    const [lowest, highest] = pitchRange(measure, setup, () => {
      const pitches = measure.notes.map(note => noteMidi(setup, note));
      return [Math.min(...pitches), Math.max(...pitches)];
    });
    low = Math.min(low, lowest);
    high = Math.max(high, highest);
  }
  if (low > high) return NO_STEPS;
  return [low, high].map(midi => {
    const { step, octave } = spellMidi(midi + 12 * writtenOctaves(setup.instrument), 0);
    return octave * 7 + LETTERS.indexOf(step);
  });
}

const spoken = keptOf<string>();
/** What a measure says to a screen reader. */
export function labelOf(arrangement: Arrangement, index: number, number: number): string {
  const name = number ? `Measure ${number}` : 'Pickup';
  const measure = arrangement.measures[index];
  if (!measure) return name;
  const said = spoken(measure, '', () =>
    describeMeasure(arrangement, index)
      .map(m => `${m.count ? `${m.count}: ` : ''}${m.pluck}`)
      .join(' '),
  );
  return `${name}. ${said}`;
}

const effort = keptOf<number>();
/** How hard a measure is for a hand at a tempo, which `player` says. */
export const difficultyAt = (arrangement: Arrangement, index: number, player: string): number =>
  effort(arrangement.measures[index]!, player, () => measureDifficulty(arrangement, index).total);

const degreesIn = keptOf<string>();
/** The degree of each note of a measure in its chord, joined by spaces. */
export function degreesAt(arrangement: Arrangement, index: number, player: string): string {
  const { measures } = arrangement;
  let before = index - 1;
  while (before >= 0 && !measures[before]!.chords.length) before -= 1;
  const held = measures[before]?.chords.at(-1)?.sounding ?? '';
  return degreesIn(measures[index]!, `${held} ${player}`, () => measureDegrees(arrangement, index).join(' '));
}

/** The grip of the last chord before a measure, as text. */
export function lastGrip(measures: readonly ScoreMeasure[], index: number): string {
  const before = measures.slice(0, index).findLast(measure => measure.chords.length);
  return before?.chords.at(-1)?.frets?.join() ?? '';
}

/** Ids of the notes out of which those of a measure sound on. */
export const tiedOn = (measure: ScoreMeasure | undefined) =>
  (measure?.notes ?? []).flatMap(note => (note.tie === undefined ? [] : [note.tie])).join(' ');

/** Measures before and after a row that the ring of its notes depends on. */
const AROUND = 3;

export const sameList = <T>(a: readonly T[], b: readonly T[]) =>
  a.length === b.length && a.every((x, i) => x === b[i]);

/** What a row shows of the hand's track, measure by measure. */
interface TrackLines {
  tails: RingTail[][];
  barres: BarreLine[][];
}

/** The lines of rows by their first measure, as long as the measures around them stay the same. */
const knownLines = new WeakMap<ScoreMeasure, { around: readonly ScoreMeasure[]; lines: TrackLines }>();

/** The measures of a row and around it that its ring and its barres depend on. */
export function aroundRow(measures: readonly ScoreMeasure[], places: readonly number[]): ScoreMeasure[] {
  return measures.slice(Math.max(0, places[0]! - AROUND), places.at(-1)! + 1 + AROUND);
}

/** The lines that a measure was drawn with, and what they say. */
const drawnLines = new WeakMap<ScoreMeasure, { said: string; tails: RingTail[]; barres: BarreLine[] }>();

/**
 * The lines of a row's measures.
 *
 * @param places written measures of the row, by place
 * @param around the measures around it that they hang on
 */
export function linesOf(
  arrangement: Arrangement,
  places: readonly number[],
  around: readonly ScoreMeasure[] = aroundRow(arrangement.measures, places),
): TrackLines {
  const from = places[0]!;
  const to = places.at(-1)!;
  const first = arrangement.measures[from]!;
  const known = knownLines.get(first);
  if (known && sameList(known.around, around)) return known.lines;
  const measures = arrangement.measures.slice(from, to + 1);
  const { notes, holds } = trackWindow(arrangement, from, to);
  const tails = ringTails(measures, notes);
  const barres = barreLines(measures, holds);
  // A measure whose lines say the same keeps them, so that it need not be drawn again.
  for (const [i, measure] of measures.entries()) {
    const said = JSON.stringify([tails[i], barres[i]]);
    const own = drawnLines.get(measure);
    if (own?.said === said) {
      tails[i] = own.tails;
      barres[i] = own.barres;
    } else drawnLines.set(measure, { said, tails: tails[i]!, barres: barres[i]! });
  }
  const lines = { tails, barres };
  knownLines.set(first, { around, lines });
  return lines;
}
