/** When what stands in the measures of a text tab is struck, and what was guessed of it. */
import { lengthWords, type Meter, measureTicks, pulseTicks, type Tuplet } from '../../time';
import type { Reading, TextRemark } from '../reading';
import { type Bar, type Moment, momentsOf, wordsIn } from './bars';
import type { Word } from './beside';
import type { System } from './lines';
import {
  countedMeter,
  countedTicks,
  countTicks,
  evenly,
  lengthsMeter,
  pickedTicks,
  type Spaced,
  spaced,
  spacedAs,
  spacedMeter,
  TOLERANCE,
} from './rhythm';
import { nearest, type Signs } from './signs';

/** When one moment of a measure is struck, in ticks from its beginning. */
export interface Start {
  start: number;
  /** Where it ends at the latest. */
  until?: number;
  tuplet?: Tuplet & { group: number };
}

/** Dashes before the first beat at most; behind more of them a measure begins late. */
const MOST_LEAD = 3;
/** Part of a measure that a pickup has at most which is told by its width alone. */
const PICKUP = 0.6;

/**
 * Columns by which a count begins before the first number, as it does where it was typed from the bar on: nothing stands under
 * a beat then, and everything under a count if it is moved.
 */
function countOff(words: readonly Word[], moments: readonly Moment[], { from }: Bar): number {
  const off = (moments[0]?.column ?? 0) - (words[0]?.column ?? 0);
  if (words[0]?.text !== '1' || words[0].column > from || off < 1 || off > 2) return 0;
  const columns = new Set(moments.map(({ column }) => column));
  const beats = words.filter(({ text }) => /^\d+$/.test(text));
  const counted = new Set(words.map(({ column }) => column + off));
  const onBeat = beats.some(({ column }) => columns.has(column));
  return !onBeat && [...columns].every(column => counted.has(column)) ? off : 0;
}

/** Tells when what stands in bars is struck, bar by bar. */
export class Onsets {
  private readonly divisions = new Set<number>();
  private uneven = 0;
  private between = false;
  private picked = false;
  /** Measures that letters make shorter than the meter, by their place. */
  private readonly short = new Map<number, Omit<TextRemark, 'message'> & { ticks: number }>();
  /** Dashes between bar and first beat. */
  private readonly lead: number;
  readonly meter: Meter;
  /** Width of a whole measure, in columns, where that can be told. */
  private readonly whole: number | undefined;

  /** @param given the meter that is taken unless the text tells another one */
  constructor(
    private readonly reading: Reading,
    private readonly bars: readonly Bar[],
    private readonly signs: ReadonlyMap<System, Signs>,
    given: Meter | undefined,
  ) {
    const leads = bars.flatMap(bar =>
      bar.placed.length ? [Math.min(...bar.placed.map(p => p.note.from)) - bar.from] : [],
    );
    this.lead = Math.min(MOST_LEAD, ...leads);
    this.meter = this.meterOf(given);
    this.whole = this.wholeOf();
  }

  /** When each moment of a measure is struck, and how long the measure is. */
  of(bar: Bar, moments: readonly Moment[]): { starts: Start[]; length: number } {
    const ticks = measureTicks(this.meter);
    const starts =
      this.byLetters(bar, moments, ticks) ??
      this.byCount(bar, moments) ??
      this.byPickup(bar, moments, ticks) ??
      this.bySpace(bar, moments, ticks);
    return { starts, length: this.short.get(this.bars.indexOf(bar))?.ticks ?? ticks };
  }

  /** The meter that is said or given; else what is counted, told by letters or by the spacing. */
  private meterOf(given: Meter | undefined): Meter {
    const { heading, guesses } = this.reading;
    const known = heading.meter ?? given;
    if (known) return known;
    const guess = (meter: Meter, how: string) => {
      guesses.push({
        line: this.bars[0]?.line ?? 1,
        column: 1,
        message: `no meter is said: ${meter.beats}/${meter.unit} is taken${how}`,
      });
      return meter;
    };
    const counted = countedMeter(
      this.bars.map(bar => wordsIn(bar, this.signsOf(bar).count?.words).map(word => word.text)),
    );
    const told = (meter: Meter, how: string) => {
      heading.meter = meter;
      return guess(meter, how);
    };
    if (counted) return told(counted, ', as it is counted');
    const letters = lengthsMeter(
      this.bars.flatMap(bar => {
        const words = wordsIn(bar, this.signsOf(bar).lengths?.words);
        let ticks = 0;
        const starts = words.map(word => {
          ticks += word.ticks;
          return Math.round(ticks - word.ticks);
        });
        return words.length ? [{ ticks: Math.round(ticks), starts }] : [];
      }),
    );
    if (letters) return told(letters, ', as the lengths fill it');
    const lettered = this.bars.some(bar => this.signsOf(bar).lengths);
    const spacing = spacedMeter(
      (lettered ? [] : this.bars).map(bar => {
        const { first, width } = this.widthOf(bar);
        return { columns: momentsOf(bar.placed).map(({ column }) => column - first), width };
      }),
    );
    return spacing ? told(spacing, ' by the spacing') : guess({ beats: 4, unit: 4 }, '');
  }

  private signsOf({ system }: Bar): Signs {
    return this.signs.get(system)!;
  }

  private byLetters(bar: Bar, moments: readonly Moment[], ticks: number): Start[] | undefined {
    const { lengths } = this.signsOf(bar);
    if (!lengths) return undefined;
    const words = wordsIn(bar, lengths.words);
    if (!words.length && !moments.length) return undefined;
    const struck = words.filter(word => !word.rest);
    const sum = words.reduce((all, word) => all + word.ticks, 0);
    const place = { line: lengths.line, column: bar.from + 1 };
    if (struck.length !== moments.length || sum > ticks + 1) {
      this.reading.guesses.push({
        ...place,
        message:
          struck.length === moments.length
            ? 'the lengths above are more than a measure holds: the spacing is taken'
            : `${struck.length} lengths stand above ${moments.length} places: the spacing is taken`,
      });
      return undefined;
    }
    if (sum < ticks - 1) this.short.set(this.bars.indexOf(bar), { ...place, ticks: Math.round(sum) });
    const starts: Start[] = [];
    let at = 0;
    for (const { ticks: length, rest, tuplet } of words) {
      const start = Math.round(at);
      const group = tuplet ? 1 + Math.floor(at / (length * tuplet.actual) + 1e-6) : 0;
      if (!rest) starts.push({ start, ...(tuplet && { tuplet: { ...tuplet, group } }) });
      at += length;
    }
    return starts;
  }

  private byCount(bar: Bar, moments: readonly Moment[]): Start[] | undefined {
    const { count } = this.signsOf(bar);
    const words = wordsIn(bar, count?.words);
    if (!count || !words.length) return undefined;
    const ticks = countTicks(
      words.map(w => w.text),
      this.meter,
    );
    const off = countOff(words, moments, bar);
    const anchors = words.flatMap(({ column }, i) => {
      const tick = ticks[i];
      return tick === undefined ? [] : [{ column: column + off, tick }];
    });
    const found = countedTicks(
      moments.map(({ column }) => column),
      [...anchors, { column: bar.to, tick: measureTicks(this.meter) }],
    );
    // Where only some notes are counted, even spacing says more than where a count happens to stand.
    if (found?.between && this.spacing(bar, moments, measureTicks(this.meter)).exact) return undefined;
    if (found) {
      if (found.between) this.between = true;
      return found.ticks.map(start => ({ start }));
    }
    this.reading.guesses.push({
      line: count.line,
      column: bar.from + 1,
      message: 'the count does not fit what stands here: the spacing is taken',
    });
    return undefined;
  }

  /** Column of a measure's first beat, and how wide it is from there. */
  widthOf(bar: Bar, lead = this.lead): { first: number; width: number } {
    const { from, to } = bar.inner;
    const first = Math.min(from + lead, ...bar.placed.map(({ note }) => note.from));
    return { first, width: to - first };
  }

  /** What the spacing of a measure says. */
  private spacing(bar: Bar, moments: readonly Moment[], ticks: number): Spaced {
    const from = (lead?: number) => {
      const { first, width } = this.widthOf(bar, lead);
      return spaced(
        moments.map(m => m.column - first),
        width,
        this.meter,
        ticks,
      );
    };
    const found = from();
    if ((found.error === 0 && found.division <= 2) || !moments.length) return found;
    const own = moments[0]!.column;
    const like =
      this.whole &&
      spacedAs(
        moments.map(({ column }) => column - own),
        this.whole,
        this.meter,
      );
    const even = (own - bar.inner.from <= MOST_LEAD && like) || this.evenlyFrom(bar, moments);
    if (even || found.exact) return even || found;
    // Where the dashes before the first beat are not those of the others, the measure begins with its first number.
    const lead = own - bar.inner.from;
    const late = from(lead);
    return late.exact || lead <= MOST_LEAD ? late : found;
  }

  /** Width of a whole measure, as most are spaced: notes count, not measures. */
  private wholeOf(): number | undefined {
    const votes = new Map<number, number>();
    for (const bar of this.bars) {
      const moments = momentsOf(bar.placed);
      if (moments.length < 3) continue;
      const { first, width } = this.widthOf(bar);
      const ticks = measureTicks(this.meter);
      const found = spaced(
        moments.map(m => m.column - first),
        width,
        this.meter,
        ticks,
      );
      const own = found.error === 0 && found.division <= 2 ? width : this.evenlyFrom(bar, moments)?.width;
      if (own) votes.set(own, (votes.get(own) ?? 0) + moments.length);
    }
    return [...votes].sort((a, b) => b[1] - a[1])[0]?.[0];
  }

  /** What even spacing says, from the place of the first beat or from the first number. */
  private evenlyFrom(bar: Bar, moments: readonly Moment[]): ReturnType<typeof evenly> {
    const own = moments[0]!.column;
    const { first, width } = this.widthOf(bar);
    for (const from of own - bar.inner.from <= MOST_LEAD ? [own, first] : [first]) {
      const found = evenly(
        moments.map(m => m.column - from),
        width + first - from,
        this.meter,
        bar,
      );
      if (found) return found;
    }
    return undefined;
  }

  /**
   * A first measure that is much narrower than the others, a note at a time, is a pickup: its numbers stand as far apart as
   * theirs.
   */
  private byPickup(bar: Bar, moments: readonly Moment[], ticks: number): Start[] | undefined {
    if (
      bar !== this.bars[0] ||
      bar.repeatEnd ||
      !moments.length ||
      moments.some(({ placed }) => placed.length > 1)
    )
      return undefined;
    const from = moments[0]!.column;
    const part = pulseTicks(this.meter) / 2;
    const step = this.whole && (this.whole * part) / ticks;
    if (!step || step < 1) return undefined;
    const places = moments.map(({ column }) => (column - from) / step);
    const length = Math.max(Math.ceil(places.at(-1)! + 0.5), Math.round((bar.inner.to - from) / step)) * part;
    if (
      length > ticks * PICKUP ||
      places.some(place => Math.abs(place - Math.round(place)) * step > TOLERANCE)
    )
      return undefined;
    this.short.set(0, { line: bar.line, column: bar.from + 1, ticks: length });
    this.reading.guesses.push({
      line: bar.line,
      column: bar.from + 1,
      message: `the first measure is narrower than the others: it is taken for a pickup (${lengthWords(length)}); with as many dashes it is a whole one`,
    });
    return places.map(place => ({ start: Math.round(place) * part }));
  }

  private bySpace(bar: Bar, moments: readonly Moment[], ticks: number): Start[] {
    const found = this.spacing(bar, moments, ticks);
    const picked = found.exact && found.division !== 3 ? undefined : this.byPicks(bar, moments);
    if (picked) return picked;
    if (moments.length) this.divisions.add(found.division);
    if (!found.exact && moments.length) this.uneven += 1;
    if (found.division !== 3) return found.ticks.map(start => ({ start }));
    // A beat in which something stands at a third is a triplet.
    const beat = pulseTicks(this.meter);
    const beatOf = (tick: number) => Math.floor(tick / beat);
    const divided = new Set(found.ticks.filter(tick => tick % beat).map(beatOf));
    return found.ticks.map(start =>
      divided.has(beatOf(start))
        ? {
            start,
            until: (beatOf(start) + 1) * beat,
            tuplet: { actual: 3, normal: 2, group: 1 + beatOf(start) },
          }
        : { start },
    );
  }

  /** Where strokes of a pick stand over every place, and the spacing is uneven. */
  private byPicks(bar: Bar, moments: readonly Moment[]): Start[] | undefined {
    const picks = this.signsOf(bar).picks.flatMap(({ words }) => wordsIn(bar, words));
    const ways = moments.flatMap(({ column }) => picks[nearest(picks, column) ?? -1]?.way ?? []);
    const ticks =
      ways.length === moments.length && ways.length === picks.length && pickedTicks(ways, this.meter);
    if (!ticks) return undefined;
    this.picked = true;
    return ticks.map(start => ({ start }));
  }

  /** Tells what was guessed of the whole, once; a short first measure is a pickup. */
  tell(): void {
    const full = measureTicks(this.meter);
    const { measures } = this.reading;
    for (const [index, { line, column, ticks }] of this.short) {
      if (index === 0) this.reading.pickup = ticks;
      // A pickup takes its part of the last measure, and a measure is divided where a part begins with one.
      const divided = [0, index - 1, index + 1].some(i => ticks + (measures[i]?.ticks ?? 0) === full);
      if (index > 0 && index < measures.length - 1 && !divided)
        this.reading.guesses.push({
          line,
          column,
          message: 'this measure is shorter than its meter, as the lengths say',
        });
    }
    const guess = (message: string) => this.reading.guesses.push({ line: 1, column: 1, message });
    const parts: Record<number, string> = {
      0.5: 'pairs of beats',
      1: 'beats',
      2: 'halves of a beat',
      4: 'quarters of a beat',
      3: 'thirds of a beat',
    };
    const taken = [...this.divisions].filter(d => d > 0).sort((a, b) => a - b);
    if (taken.length) guess(`the rhythm is taken from the spacing: ${taken.map(d => parts[d]).join(', ')}`);
    if (this.between) guess('between the counts the rhythm is taken from the spacing');
    if (this.picked)
      guess('where the spacing is uneven, strokes down are taken on the beat and strokes up between');
    if (this.uneven)
      guess(
        `${this.uneven === 1 ? 'one measure is' : `${this.uneven} measures are`} spaced unevenly: look at the rhythm there`,
      );
  }
}
