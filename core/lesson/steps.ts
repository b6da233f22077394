/** The steps of a lesson. */
import { differencesOf, firstAlike, likenessOf, likenessWords } from '../compare';
import { changeEffort } from '../hand';
import {
  type Arrangement,
  measureIndex,
  momentsOf,
  type PlacedPhrase,
  phraseSpan,
  phrasesOf,
  withVariant,
} from '../score';
import { beatName, pulseTicks } from '../time';
import { handsIn } from '../track';
import { measureNumbers, measureSpan, type Section, sectionLabels, sectionsOf } from '../tune';
import { capital, numbered } from '../words';
import { type AlonePart, type LessonChoices, type OwnStep, USUAL_CHOICES } from './choices';
import { countLine, describeMeasure, type LessonMoment, movesWords, timesWords } from './words';

/** A place in the written measures; ticks from the start of what is written. */
export interface StepPlace {
  measure: number;
  start: number;
}

export interface LessonStep {
  /** Made of the ids of its measures or notes, so that a tick stays with what was learned when measures come or go. */
  id: string;
  kind: 'beat' | 'measure' | 'drill' | 'alone' | 'together' | 'slow' | 'own' | 'variant';
  title: string;
  /** Written measures, from 0, in the order to be played. */
  measures: number[];
  /** Where less than its measures is played: up to, without, the second place. */
  window?: { from: StepPlace; to: StepPlace };
  /** Id of the variant that is played in the place of what stands there. */
  variant?: string;
  /** What is played alone. */
  part?: AlonePart;
  /** Only for a measure or less: the count, what is in it, and later measures that are just the same. */
  count?: string;
  moments?: LessonMoment[];
  alike?: number[];
  /** What to mind. */
  advice: string;
  /** About how long it takes until it sits. */
  minutes: number;
  /** Tempo to begin it at, in per cent of the full one, where it is not the usual one. */
  percent?: number;
  /** What the teacher says beside it. */
  remark?: string;
}

/** Where a stretch of music lies: places of its first and last measure, and ticks within them. */
type Lies = Pick<PlacedPhrase, 'first' | 'last' | 'begins' | 'ends'>;

/** A stretch that is learned before the next one. */
interface TaughtPhrase extends Lies {
  /** It is joined to what comes before it. */
  whole: boolean;
  name?: string;
}

/** Measures learned before a longer join is made. */
const PHRASE = 4;

/** Minutes of a step, and for each of its measures beyond the first; judgement. */
const MINUTES: Record<LessonStep['kind'], readonly [first: number, more: number]> = {
  beat: [1, 0],
  measure: [4, 0],
  drill: [2, 0],
  alone: [3, 0.25],
  together: [2, 0.5],
  slow: [4, 0.25],
  own: [3, 0.5],
  variant: [3, 0.5],
};

/** Most differences of a variant that are told one by one. */
const TOLD = 3;

/** A change that costs so much is drilled by itself, and at most one for so many measures; judgement. */
const AWKWARD = 2.2;
const DRILLS_PER_MEASURES = 3;

const ALONE_TITLES: Record<AlonePart, string> = {
  open: 'The plucking hand alone',
  shapes: 'The fretting hand alone',
  bass: 'The bass alone',
  melody: 'The melody alone',
};
const ALONE_ADVICE: Record<AlonePart, string> = {
  open: 'All strings open: only the fingers that pluck, with the count, until they run by themselves.',
  shapes: 'Without plucking: put each shape down in time with the count, and look which fingers stay.',
  bass: 'Only the bass, steady, with the count.',
  melody: 'Only the melody, so that you can sing it while you play.',
};

/**
 * The steps of a lesson, in order: each new measure by itself; from the second on joined to its phrase; the phrases
 * joined to the section; at last the whole tune. A measure that repeats an earlier one is named with it, not taught
 * again. How it is cut and joined is chosen. The same arrangement always gives the same steps.
 * @example lessonSteps(arrangement).map(step => step.title) // beginning with 'Measure 1', 'Measure 2', 'Together: measures 1–2'
 */
export function lessonSteps(arrangement: Arrangement, choices: LessonChoices = USUAL_CHOICES): LessonStep[] {
  return new StepMaker(arrangement, choices).steps();
}

const minutesOf = ({ kind, measures }: Pick<LessonStep, 'kind' | 'measures'>): number => {
  const [first, more] = MINUTES[kind];
  return Math.round(first + more * (measures.length - 1));
};

/** A step that the teacher has made; undefined where its measures are gone. */
export function ownStep(
  arrangement: Arrangement,
  { id, title, advice, ...ends }: Omit<OwnStep, 'after'>,
): LessonStep | undefined {
  const [a, b] = [measureIndex(arrangement, ends.from), measureIndex(arrangement, ends.to)];
  if (a < 0 || b < 0) return undefined;
  const measures = range(Math.min(a, b), Math.max(a, b));
  const step = { id, kind: 'own' as const, title, advice, measures };
  return {
    ...step,
    minutes: minutesOf(step),
    // What is in one measure is told as for any other.
    ...(a === b && { count: countLine(arrangement, a), moments: describeMeasure(arrangement, a) }),
  };
}

class StepMaker {
  private readonly made: LessonStep[] = [];
  private readonly numbers: number[];
  private readonly alike: number[];
  /** The sections that are taught, and whether they are all of it. */
  private readonly sections: readonly Section[];
  private readonly whole: boolean;
  private readonly drills: ReadonlyMap<number, LessonStep>;
  /** The measure by which each kind of measure was taught, by the first of its kind. */
  private readonly taught = new Map<number, number>();

  constructor(
    private readonly arrangement: Arrangement,
    private readonly choices: LessonChoices,
  ) {
    this.numbers = measureNumbers(arrangement.measures);
    this.alike = firstAlike(arrangement);
    const labels = sectionLabels(arrangement.measures);
    // Steps stand beside each other: sections of one name are told apart.
    const sections = sectionsOf(arrangement.measures).map((own, i) => ({ ...own, name: labels[i]! }));
    const chosen = sections.filter(({ id }) => choices.sections?.includes(id));
    // Of sections that are all gone nothing would be left to teach.
    this.whole = !chosen.length || chosen.length === sections.length;
    this.sections = this.whole ? sections : chosen;
    this.drills = choices.drills ? this.awkward() : new Map();
  }

  steps(): LessonStep[] {
    const { measures } = this.arrangement;
    for (const section of this.sections) {
      for (const part of this.choices.alone) this.alone(section, part);
      this.section(section);
      this.variants(section);
      this.together(
        section.from,
        section.to - 1,
        `All of ${section.name}`,
        section.passes > 1
          ? `Play it ${timesWords(section.passes)}, as it is repeated.`
          : 'Play it through without a stop.',
      );
    }
    if (!this.whole) return this.made;
    const last = measures.length - 1;
    if (this.choices.slow)
      this.put({
        id: 'slow',
        kind: 'slow',
        title: 'Slowly all through',
        measures: range(0, last),
        percent: 60,
        advice:
          'Once through at a tempo at which nothing breaks; don’t stop at a slip, and remember where it was.',
      });
    this.together(
      0,
      last,
      'The whole tune',
      'Slowly all through with a count-in first; raise the tempo in small steps once it is clean.',
    );
    return this.made;
  }

  private put(step: Omit<LessonStep, 'minutes'>): void {
    this.made.push({ ...step, minutes: minutesOf(step) });
  }

  private together(
    from: number,
    to: number,
    title: string,
    advice: string,
    window?: LessonStep['window'],
  ): void {
    const { measures } = this.arrangement;
    const within = window && `-${window.from.start}-${window.to.start}`;
    const id = `together-${measures[from]!.id}-${measures[to]!.id}${within ?? ''}`;
    const known = this.made.findIndex(step => step.id === id);
    // What is the same measures again is one step, told by its last and widest name.
    if (known >= 0) this.made.splice(known, 1);
    this.put({ id, kind: 'together', title, measures: range(from, to), advice, ...(window && { window }) });
  }

  private alone({ from, to, name }: Section, part: AlonePart): void {
    const own = this.arrangement.measures.slice(from, to).flatMap(measure => measure.notes);
    const roles = new Set(own.map(note => note.role));
    // One voice by itself is no part; what nothing is fretted in has no shapes.
    if ((part === 'bass' || part === 'melody') && !(roles.has(part) && roles.size > 1)) return;
    if (part === 'shapes' && !own.some(note => note.fret > 0)) return;
    this.put({
      id: `${part}-${this.arrangement.measures[from]!.id}`,
      kind: 'alone',
      title: `${ALONE_TITLES[part]}: ${name}`,
      measures: range(from, to - 1),
      part,
      advice: ALONE_ADVICE[part],
    });
  }

  /** The other ways to play what is in a section, and what is different the last time. */
  private variants({ from, to }: Section): void {
    const { arrangement, numbers } = this;
    for (const { id, name, measures, last } of arrangement.variants ?? []) {
      const places = measures.map(own => measureIndex(arrangement, own));
      const [first] = places;
      if (first === undefined || first < from || first >= to) continue;
      const other = withVariant(arrangement, id);
      if (!other) continue;
      const told = places.flatMap(index =>
        differencesOf(arrangement.setup, arrangement.measures[index]!, other.measures[index]!).map(
          ({ text }) => (places.length > 1 ? `measure ${numbers[index]}, ${text}` : text),
        ),
      );
      const more = told.length - TOLD;
      const differs = told.length
        ? ` It differs in ${told.slice(0, TOLD).join('; ')}${more > 0 ? `; and ${more} more` : ''}.`
        : '';
      const span = measureSpan(numbers, first, places.at(-1)!);
      const step = {
        id: `variant-${id}`,
        kind: 'variant' as const,
        title: last ? `The last time: ${name}` : `Or: ${name}`,
        measures: places,
        variant: id,
        advice: `${last ? 'The last time' : 'Another way'} to play ${span}.${differs}`,
        ...(places.length === 1 && {
          count: countLine(other, first),
          moments: describeMeasure(other, first),
        }),
      };
      this.put(step);
    }
  }

  private section(section: Section): void {
    const { unit, joining } = this.choices;
    if (unit === 'section') return;
    const backwards = joining === 'backwards';
    const phrases = this.phrasesIn(section);
    for (const [place, phrase] of (backwards ? phrases.toReversed() : phrases).entries()) {
      if (unit === 'phrase') this.phraseStep(phrase);
      else this.measuresOf({ from: phrase.first, to: phrase.last }, backwards);
      const [from, to] = backwards ? [phrase.first, section.to - 1] : [section.from, phrase.last];
      // A passage that ends within a measure is joined to the next one where that one ends.
      const full = backwards ? phrase.begins === 0 : phrase.ends === this.ticksOf(phrase.last);
      if (place > 0 && full && joining !== 'none' && (unit === 'phrase' || phrase.whole))
        this.together(
          from,
          to,
          backwards ? `From here to the end of ${section.name}` : `Everything so far in ${section.name}`,
          `${capital(measureSpan(this.numbers, from, to))}: drill the change that stumbles by itself, then go on.`,
        );
    }
  }

  private ticksOf(index: number): number {
    return this.arrangement.measures[index]!.ticks;
  }

  /** The phrases of a section, one behind the other: of four measures, or as they are marked where whole phrases are taught. */
  private phrasesIn({ from, to }: Section): TaughtPhrase[] {
    const marked = phrasesOf(this.arrangement).filter(({ first, last }) => first >= from && last < to);
    if (this.choices.unit === 'phrase' && marked.length) return this.markedIn(from, to, marked);
    const found: TaughtPhrase[] = [];
    let start = from;
    let full = 0;
    for (let index = from; index < to; index++) {
      // A pickup is no measure of the four.
      if (this.arrangement.measures[index]!.offset === 0) full += 1;
      if (full < PHRASE && index < to - 1) continue;
      found.push({
        first: start,
        last: index,
        begins: 0,
        ends: this.ticksOf(index),
        whole: full === PHRASE,
      });
      start = index + 1;
      full = 0;
    }
    return found;
  }

  /** The marked phrases of a section, and what lies between them; where two overlap the second begins behind the first. */
  private markedIn(from: number, to: number, marked: readonly PlacedPhrase[]): TaughtPhrase[] {
    const found: TaughtPhrase[] = [];
    // Up to where all is in a phrase: never the end of a measure, but the beginning of the next one.
    let at: StepPlace = { measure: from, start: 0 };
    const before = (a: StepPlace, b: StepPlace) =>
      a.measure < b.measure || (a.measure === b.measure && a.start < b.start);
    const upTo = (end: StepPlace, name?: string) => {
      if (!before(at, end)) return;
      const last = end.start ? end.measure : end.measure - 1;
      found.push({
        first: at.measure,
        begins: at.start,
        last,
        ends: end.start || this.ticksOf(last),
        whole: true,
        ...(name !== undefined && { name }),
      });
      at = end;
    };
    for (const { first, begins, last, ends, name } of marked) {
      upTo({ measure: first, start: begins });
      upTo(
        ends === this.ticksOf(last) ? { measure: last + 1, start: 0 } : { measure: last, start: ends },
        name,
      );
    }
    upTo({ measure: to, start: 0 });
    return found;
  }

  /** Where a run of measures just like these was joined before; undefined where it was not. */
  private joinedBefore(first: number, last: number): number | undefined {
    for (const { kind, measures } of this.made) {
      if (kind !== 'together') continue;
      const same = measures.find(
        start =>
          start + last - first <= measures.at(-1)! &&
          start !== first &&
          range(first, last).every((index, i) => this.alike[index] === this.alike[start + i]),
      );
      if (same !== undefined) return same;
    }
    return undefined;
  }

  private phraseStep(phrase: TaughtPhrase): void {
    const { first, last, name } = phrase;
    const same = (other: number) =>
      range(first, last).every((index, i) => this.alike[index] === this.alike[other + i]);
    const known = range(0, first - 1).find(other => other + last - first < first && same(other));
    const span = phraseSpan(this.arrangement, phrase);
    const advice =
      known === undefined
        ? `${capital(span)}: slowly, with the count, until it is one breath.`
        : `Just the same as ${phraseSpan(this.arrangement, { ...phrase, first: known, last: known + last - first })}.`;
    this.together(first, last, capital(name ?? span), advice, this.windowOf(phrase));
  }

  /** Where a phrase begins or ends within a measure. */
  private windowOf({ first, last, begins, ends }: Lies): LessonStep['window'] {
    if (begins === 0 && ends === this.ticksOf(last)) return undefined;
    return { from: { measure: first, start: begins }, to: { measure: last, start: ends } };
  }

  private measuresOf({ from, to }: { from: number; to: number }, backwards: boolean): void {
    const { arrangement } = this;
    const phrases = phrasesOf(arrangement);
    const order = range(from, to);
    for (const index of backwards ? order.toReversed() : order) {
      const known = this.taught.get(this.alike[index]!);
      if (known === undefined) this.measure(index);
      const drill = this.drills.get(index);
      if (drill) this.made.push(drill);
      const [first, last] = backwards ? [index, to] : [from, index];
      const complete = first === from && last === to;
      const before = this.joinedBefore(first, last);
      // What was joined before is not joined again bit by bit, but once, where the phrase is whole.
      if (first < last && this.choices.joining !== 'none' && (complete || before === undefined)) {
        const like =
          before !== undefined
            ? ` They are just like ${measureSpan(this.numbers, before, before + last - first)}.`
            : known === undefined
              ? ''
              : ` Measure ${this.numbers[index]} is just like measure ${this.numbers[known]}.`;
        const span = measureSpan(this.numbers, first, last);
        this.together(first, last, `Together: ${span}`, `${capital(span)} without a stop.${like}`);
      }
      for (const phrase of phrases.filter(own => (backwards ? own.first : own.last) === index)) {
        const window = this.windowOf(phrase);
        // A measure by itself is taught already.
        if (phrase.first === phrase.last && !window) continue;
        this.together(
          phrase.first,
          phrase.last,
          capital(phrase.name),
          `${capital(phraseSpan(arrangement, phrase))}: play it until it is one breath.`,
          window,
        );
      }
    }
  }

  /** A measure that is new; its beats before it where they are taught one by one. */
  private measure(index: number): void {
    const { arrangement, numbers, alike } = this;
    const measure = arrangement.measures[index]!;
    // Where nothing is played there is nothing to learn by itself.
    if (!measure.notes.length) return;
    this.taught.set(alike[index]!, index);
    const label = this.labelOf(index);
    const others = arrangement.measures
      .map((_, i) => i)
      .filter(i => i !== index && alike[i] === alike[index]);
    const moments = describeMeasure(arrangement, index);
    if (this.choices.unit === 'beat') this.beats(index, moments);
    const near = likenessOf(arrangement, index);
    this.put({
      id: `measure-${measure.id}`,
      kind: 'measure',
      title: label,
      measures: [index],
      count: countLine(arrangement, index),
      moments,
      alike: others,
      advice: [
        near && likenessWords(arrangement, near),
        others.length
          ? `${label} comes again as ${numbered(
              'measure',
              others.map(i => numbers[i]!),
            )}: learn it once.`
          : 'Say the count aloud; play it slowly until it is clean three times in a row.',
      ]
        .filter(Boolean)
        .join(' '),
    });
  }

  private labelOf(index: number): string {
    return this.numbers[index] === 0 ? 'The pickup' : `Measure ${this.numbers[index]}`;
  }

  private beats(index: number, moments: readonly LessonMoment[]): void {
    const measure = this.arrangement.measures[index]!;
    const beats = beatsOf(measure);
    const own = beats
      .map(beat => ({
        ...beat,
        moments: moments.filter(({ start }) => start >= beat.from && start < beat.to),
      }))
      .filter(beat => beat.moments.length);
    if (own.length < 2) return;
    for (const { from, to, number, moments: held } of own)
      this.put({
        id: `beat-${measure.id}-${number}`,
        kind: 'beat',
        title: `${this.labelOf(index)}, beat ${number}`,
        measures: [index],
        window: { from: { measure: index, start: from }, to: { measure: index, start: to } },
        count: held
          .map(moment => moment.count)
          .filter(Boolean)
          .join(' '),
        moments: held,
        advice: 'Slowly, until the hand finds it by itself.',
      });
  }

  /** The most awkward changes, as a step behind the measure in which each ends. */
  private awkward(): Map<number, LessonStep> {
    const { arrangement } = this;
    const { measures, setup } = arrangement;
    if (this.choices.unit === 'phrase' || this.choices.unit === 'section') return new Map();
    const taught = this.sections.flatMap(({ from, to }) => range(from, to - 1));
    const kinds = new Map(taught.toReversed().map(index => [this.alike[index], index]));
    const firsts = taught.filter(index => kinds.get(this.alike[index]) === index);
    const found = firsts.flatMap(index => {
      const measure = measures[index]!;
      const hands = handsIn(arrangement, index);
      const moments = momentsOf(measure, index);
      return moments.map(({ start, notes }) => {
        const { before, now } = hands(start);
        const cost = before.length && now.length ? changeEffort(setup, before, now) : 0;
        const key = JSON.stringify(
          [before, now].map(grip => grip.map(p => [p.finger, p.fret, p.from, p.to])),
        );
        return { index, start, note: notes[0]!, cost, key, words: movesWords(setup, { before, now }) };
      });
    });
    // The same change is drilled once, where it comes first.
    const changes = new Map(found.toReversed().map(own => [own.key, own]));
    const worst = [...changes.values()]
      .filter(({ cost }) => cost >= AWKWARD)
      .sort((a, b) => b.cost - a.cost || a.index - b.index || a.start - b.start);
    const drills = new Map<number, LessonStep>();
    for (const { index, start, note, words } of worst) {
      if (drills.has(index)) continue;
      if (drills.size >= Math.ceil(measures.length / DRILLS_PER_MEASURES)) break;
      const window = twoBeats(arrangement, index, start);
      drills.set(index, {
        id: `drill-${note.id}`,
        kind: 'drill',
        title: `Drill: into ${beatName(measures[index]!.meter, start + measures[index]!.offset)} of ${this.labelOf(index).toLowerCase()}`,
        measures: [...new Set([window.from.measure, index])],
        window,
        advice: `${words} Only these two beats, again and again, so slowly that the fingers land together.`,
        minutes: MINUTES.drill[0],
      });
    }
    return drills;
  }
}

interface Beat {
  from: number;
  to: number;
  /** In the full measure, from 1. */
  number: number;
}

/** The beats of what is written in a measure. */
function beatsOf({ meter, offset, ticks }: Arrangement['measures'][number]): Beat[] {
  const pulse = pulseTicks(meter);
  const first = Math.floor(offset / pulse);
  const last = Math.ceil((offset + ticks) / pulse);
  return range(first, last - 1).map(beat => ({
    from: Math.max(0, beat * pulse - offset),
    to: Math.min(ticks, (beat + 1) * pulse - offset),
    number: beat + 1,
  }));
}

/** The beat in which a change ends and the one before it, over the bar line where it must be. */
function twoBeats(
  { measures }: Arrangement,
  index: number,
  start: number,
): { from: StepPlace; to: StepPlace } {
  const beats = beatsOf(measures[index]!);
  const at = beats.findIndex(beat => start >= beat.from && start < beat.to);
  const to = { measure: index, start: beats[at]!.to };
  const before = beats[at - 1];
  if (before) return { from: { measure: index, start: before.from }, to };
  const earlier = index > 0 ? beatsOf(measures[index - 1]!).at(-1) : undefined;
  return {
    from: earlier ? { measure: index - 1, start: earlier.from } : { measure: index, start: beats[at]!.from },
    to,
  };
}

function range(from: number, to: number): number[] {
  return Array.from({ length: Math.max(0, to - from + 1) }, (_, i) => from + i);
}
