/**
 * A lesson from an arrangement: one step for each measure that is new, with the count and what each finger does,
 * and steps that put together what was learned so far.
 */
import { type FingerPlacement, fingerMoves, moveWords } from '../hand';
import { stringName } from '../instrument';
import {
  type Arrangement,
  firstAlike,
  gripOf,
  type Into,
  type Moment,
  momentsOf,
  type ScoreNote,
  soundingAt,
} from '../score';
import { countSyllable, isCompound, pulseTicks, TICKS_PER_WHOLE } from '../time';
import { measureNumbers, sectionsOf } from '../tune';

/** What happens at one moment of a measure, in words. */
export interface LessonMoment {
  /** Ticks from the start of what is written. */
  start: number;
  /** Said aloud; empty where nothing is counted. */
  count: string;
  /** "Thumb: string 5, A, fret 3. Middle: string 2, B, open." */
  pluck: string;
  /** What the fretting fingers do to get here: "Finger 1 stays. Finger 3 lands on string 5, A, fret 3." */
  fingers: string;
}

export interface LessonStep {
  id: string;
  kind: 'measure' | 'together';
  title: string;
  /** Written measures, from 0, in the order to be played. */
  measures: number[];
  /** Only for a measure: the whole count, what is in it, and later measures that are just the same. */
  count?: string;
  moments?: LessonMoment[];
  alike?: number[];
  /** What to mind. */
  advice: string;
}

const PLUCK_WORDS: Record<string, string> = {
  p: 'Thumb',
  i: 'Index',
  m: 'Middle',
  a: 'Ring',
  down: 'Down',
  up: 'Up',
};

const INTO_WORDS: Record<Into, string> = { hammer: 'Hammer-on', pull: 'Pull-off', slide: 'Slide' };

/** The count of a measure said aloud on every half beat ("1 & 2 & 3 &"; compound meters count the eighths). */
export function countLine(arrangement: Pick<Arrangement, 'measures'>, index: number): string {
  const measure = arrangement.measures[index]!;
  const step = isCompound(measure.meter)
    ? TICKS_PER_WHOLE / measure.meter.unit
    : pulseTicks(measure.meter) / 2;
  const starts = new Set<number>();
  for (
    let place = Math.ceil(measure.offset / step) * step;
    place < measure.offset + measure.ticks;
    place += step
  )
    starts.add(place);
  for (const note of measure.notes) starts.add(note.start + measure.offset);
  return [...starts]
    .sort((a, b) => a - b)
    .map(place => countSyllable(measure.meter, place))
    .filter(Boolean)
    .join(' ');
}

function pluckWords(arrangement: Arrangement, notes: readonly ScoreNote[]): string {
  const struck = notes.filter(note => !note.tied);
  if (!struck.length) return 'Let it ring on.';
  const fretWords = (note: ScoreNote) => {
    const place = note.harmonic
      ? `harmonic over fret ${note.fret}`
      : note.fret
        ? `fret ${note.fret}`
        : 'open';
    return `${stringName(arrangement.setup, note.string)}, ${place}`;
  };
  const ordered = [...struck].sort((a, b) => b.string - a.string);
  const sentences: string[] = [];
  const plucked = ordered.filter(note => !note.into);
  const stroke = plucked[0]?.pluck;
  const accent = plucked.some(note => note.accent) ? ', accented' : '';
  if (plucked.some(note => note.dead))
    sentences.push(`${PLUCK_WORDS[stroke ?? ''] ?? 'Strum'}${accent}: damped.`);
  // A pick takes all its strings in one stroke.
  else if (stroke === 'down' || stroke === 'up')
    sentences.push(`${PLUCK_WORDS[stroke]}${accent}: ${plucked.map(fretWords).join(' with ')}.`);
  else
    for (const note of plucked)
      sentences.push(
        `${PLUCK_WORDS[note.pluck ?? ''] ?? 'Pluck'}${note.accent ? ', accented' : ''}: ${fretWords(note)}.`,
      );
  for (const note of ordered)
    if (note.into) sentences.push(`${INTO_WORDS[note.into]}, not plucked: ${fretWords(note)}.`);
  return sentences.join(' ');
}

/** The grip held at a moment: fingers of everything that sounds then. */
export function gripAt(arrangement: Arrangement, measure: number, start: number): FingerPlacement[] {
  return gripOf(soundingAt(arrangement.measures[measure]!, start));
}

/** The grip of the moment before a place in written order; empty at the very beginning. */
export function gripBefore(arrangement: Arrangement, measure: number, start: number): FingerPlacement[] {
  for (let index = measure; index >= 0; index--) {
    const moments = momentsOf(arrangement.measures[index]!, index).filter(
      m => index < measure || m.start < start,
    );
    const last = moments[moments.length - 1];
    if (last) return gripAt(arrangement, index, last.start);
  }
  return [];
}

/** The finger moves into a moment, in words. */
export function movesInto(arrangement: Arrangement, measure: number, start: number): string {
  const moves = fingerMoves(gripBefore(arrangement, measure, start), gripAt(arrangement, measure, start));
  return moves.map(move => moveWords(arrangement.setup, move)).join(' ');
}

/** All moments of a measure in words. */
export function describeMeasure(arrangement: Arrangement, index: number): LessonMoment[] {
  const measure = arrangement.measures[index]!;
  return momentsOf(measure, index).map((moment: Moment) => ({
    start: moment.start,
    count: countSyllable(measure.meter, moment.start + measure.offset),
    pluck: pluckWords(arrangement, moment.notes),
    fingers: movesInto(arrangement, index, moment.start) || 'No finger is needed.',
  }));
}

/** Measures learned before a longer join is made. */
const PHRASE = 4;

/** "the pickup and measures 1–4", from indexes of written measures. */
export function measureSpan(numbers: readonly number[], from: number, to: number): string {
  const first = numbers[from]!;
  const last = numbers[to]!;
  if (first === 0)
    return last === 0 ? 'the pickup' : `the pickup and measure${last > 1 ? `s 1–${last}` : ' 1'}`;
  return first === last ? `measure ${first}` : `measures ${first}–${last}`;
}

/**
 * The steps of a lesson, in order: each new measure by itself; from the second on joined to its phrase; the phrases
 * joined to the section; at last the whole tune. A measure that repeats an earlier one is named with it, not taught
 * again. The same arrangement always gives the same steps.
 */
export function lessonSteps(arrangement: Arrangement): LessonStep[] {
  const { measures } = arrangement;
  const numbers = measureNumbers(measures);
  const alike = firstAlike(arrangement);
  const sections = sectionsOf(measures);
  const steps: LessonStep[] = [];
  const together = (from: number, to: number, title: string, advice: string) => {
    const id = `together-${from}-${to}`;
    if (steps.some(step => step.id === id)) return;
    steps.push({ id, kind: 'together', title, measures: range(from, to), advice });
  };
  for (const section of sections) {
    for (let index = section.from; index < section.to; index++) {
      const label = numbers[index] === 0 ? 'The pickup' : `Measure ${numbers[index]}`;
      if (alike[index] === index) {
        const later = measures.map((_, i) => i).filter(i => i > index && alike[i] === index);
        const moments = describeMeasure(arrangement, index);
        steps.push({
          id: `measure-${index}`,
          kind: 'measure',
          title: label,
          measures: [index],
          count: countLine(arrangement, index),
          moments,
          alike: later,
          advice: later.length
            ? `${label} comes again as measure ${later.map(i => numbers[i]).join(', ')}: learn it once.`
            : 'Say the count aloud; play it slowly until it is clean three times in a row.',
        });
      }
      const phraseStart = section.from + Math.floor((index - section.from) / PHRASE) * PHRASE;
      const capitalised = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
      if (index > phraseStart) {
        const known =
          alike[index] !== index
            ? ` Measure ${numbers[index]} is just like measure ${numbers[alike[index]!]}.`
            : '';
        together(
          phraseStart,
          index,
          `Together: ${measureSpan(numbers, phraseStart, index)}`,
          `${capitalised(measureSpan(numbers, phraseStart, index))} without a stop.${known}`,
        );
      }
      const phraseEnds = (index - section.from) % PHRASE === PHRASE - 1;
      if (phraseEnds && phraseStart > section.from) {
        together(
          section.from,
          index,
          `Everything so far in ${section.name}`,
          `${capitalised(measureSpan(numbers, section.from, index))}: drill the change that stumbles by itself, then go on.`,
        );
      }
    }
    together(
      section.from,
      section.to - 1,
      `All of ${section.name}`,
      section.repeated ? 'Play it twice, as it is repeated.' : 'Play it through without a stop.',
    );
  }
  together(
    0,
    measures.length - 1,
    'The whole tune',
    'Slowly all through with a count-in first; raise the tempo in small steps once it is clean.',
  );
  return steps;
}

function range(from: number, to: number): number[] {
  return Array.from({ length: to - from + 1 }, (_, i) => from + i);
}
