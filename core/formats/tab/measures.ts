/** Gives measures their rhythm and what stands beside their rows, and remembers what was guessed. */
import { thinnestBass } from '../../instrument';
import type { Pluck, Stroke, Technique, WrittenMeasure, WrittenNote } from '../../score';
import { type Meter, measureTicks, pulseTicks, type Tuplet } from '../../time';
import type { Reading, TextRemark } from '../reading';
import { STROKE_WORDS } from '../strokes';
import { type Bar, inBar, type Moment, momentsOf } from './bars';
import type { System } from './lines';
import {
  countedMeter,
  countedTicks,
  countTicks,
  lengthsMeter,
  pickedTicks,
  type Spaced,
  spaced,
  spacedMeter,
} from './rhythm';
import { nearest, type Signs } from './signs';

interface Start {
  start: number;
  /** Where it ends at the latest. */
  until?: number;
  tuplet?: Tuplet & { group: number };
}

/** Dashes before the first beat at most; behind more of them a measure begins late. */
const MOST_LEAD = 3;

/** The order in which fingers pluck from the thick strings to the thin ones. */
const PLUCKING = 'pima';

/** Makes measures of bars, in their order. */
export class Measures {
  private readonly divisions = new Set<number>();
  private uneven = 0;
  private between = false;
  private picked = false;
  /** Measures that letters make shorter than the meter, by their place. */
  private readonly short = new Map<number, Omit<TextRemark, 'message'> & { ticks: number }>();
  /** Dashes between bar and first beat. */
  private readonly lead: number;
  private readonly meter: Meter;

  /** @param given the meter that is taken unless the text tells another one */
  constructor(
    private readonly reading: Reading,
    private readonly bars: readonly Bar[],
    private readonly signs: ReadonlyMap<System, Signs>,
    private readonly strings: number,
    given: Meter | undefined,
  ) {
    const leads = bars.flatMap(bar =>
      bar.placed.length ? [Math.min(...bar.placed.map(p => p.note.from)) - bar.from] : [],
    );
    this.lead = Math.min(MOST_LEAD, ...leads);
    this.meter = this.meterOf(given);
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
      this.bars.map(bar => this.wordsIn(bar, this.signsOf(bar).count?.words).map(word => word.text)),
    );
    const told = (meter: Meter, how: string) => {
      heading.meter = meter;
      return guess(meter, how);
    };
    if (counted) return told(counted, ', as it is counted');
    const letters = lengthsMeter(
      this.bars.flatMap(bar => {
        const words = this.wordsIn(bar, this.signsOf(bar).lengths?.words);
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

  private wordsIn<W extends { column: number }>(bar: Bar, words: readonly W[] = []): W[] {
    return words.filter(word => inBar(word.column, bar));
  }

  measure(bar: Bar): WrittenMeasure {
    const ticks = measureTicks(this.meter);
    const moments = momentsOf(bar.placed);
    const starts =
      this.byLetters(bar, moments, ticks) ?? this.byCount(bar, moments) ?? this.bySpace(bar, moments, ticks);
    const length = this.short.get(this.reading.measures.length)?.ticks ?? ticks;
    const plucks = this.plucks(bar, moments);
    const notes = moments.flatMap(({ placed }, i) =>
      placed.map((own): WrittenNote => {
        const { from: _from, to: _to, techniques, ...rest } = own.note;
        const { start, tuplet, until = length } = starts[i]!;
        const all = [...techniques, ...this.spanned(bar, own.note)];
        const pluck = plucks.get(own.note);
        return {
          ...rest,
          string: own.string,
          start,
          ticks: Math.min(until, starts[i + 1]?.start ?? length) - start,
          ...(pluck && { pluck }),
          ...(all.length && { techniques: all }),
          ...(tuplet && { tuplets: [tuplet] }),
        };
      }),
    );
    const chords = this.chords(bar, moments, starts, length);
    const strokes = this.strokes(bar, moments, starts);
    const words = this.words(bar, moments, starts);
    const { repeatStart, repeatEnd, passes, ending, section } = bar;
    return {
      ticks: length,
      notes: ringing(notes, length, this.strings),
      ...(strokes.length && { strokes }),
      ...(chords.length && { chords }),
      ...(words.length && { words }),
      ...(ending && { ending }),
      ...(section && { section }),
      ...((repeatStart || repeatEnd) && {
        repeat: {
          ...(repeatStart && { start: true }),
          ...(repeatEnd && { end: true }),
          ...(repeatEnd && passes && { passes }),
        },
      }),
    };
  }

  private byLetters(bar: Bar, moments: readonly Moment[], ticks: number): Start[] | undefined {
    const { lengths } = this.signsOf(bar);
    if (!lengths) return undefined;
    const words = this.wordsIn(bar, lengths.words);
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
    if (sum < ticks - 1) this.short.set(this.reading.measures.length, { ...place, ticks: Math.round(sum) });
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
    const words = this.wordsIn(bar, count?.words);
    if (!count || !words.length) return undefined;
    const ticks = countTicks(
      words.map(w => w.text),
      this.meter,
    );
    const anchors = words.flatMap(({ column }, i) => {
      const tick = ticks[i];
      return tick === undefined ? [] : [{ column, tick }];
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
  private widthOf(bar: Bar, lead = this.lead): { first: number; width: number } {
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
    if (found.exact || !moments.length) return found;
    // Where the dashes before the first beat are not those of the others, the measure begins with its first number.
    const lead = moments[0]!.column - bar.inner.from;
    const own = from(lead);
    return own.exact || lead <= MOST_LEAD ? own : found;
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
    const picks = this.signsOf(bar).picks.flatMap(({ words }) => this.wordsIn(bar, words));
    const ways = moments.flatMap(({ column }) => picks[nearest(picks, column) ?? -1]?.way ?? []);
    const ticks =
      ways.length === moments.length && ways.length === picks.length && pickedTicks(ways, this.meter);
    if (!ticks) return undefined;
    this.picked = true;
    return ticks.map(start => ({ start }));
  }

  /** Techniques of the lines above that reach over a note. */
  private spanned(bar: Bar, { from, techniques }: Moment['placed'][number]['note']): Technique[] {
    return this.signsOf(bar)
      .spans.filter(
        span => from >= span.from && from < span.to && !techniques.some(t => t.kind === span.technique),
      )
      .map(({ technique }) => ({ kind: technique }));
  }

  /** What plucks each note, by the letters beside the rows and the strokes of a pick. */
  private plucks(bar: Bar, moments: readonly Moment[]): Map<object, Pluck> {
    const plucks = new Map<object, Pluck>();
    const at = (column: number) => moments.find(moment => Math.abs(moment.column - column) <= 1);
    const { fingers, picks } = this.signsOf(bar);
    for (const { words } of fingers)
      for (const { text, column } of this.wordsIn(bar, words)) {
        const moment = at(column);
        if (!moment) continue;
        const letters = [...new Set(text)].sort((a, b) => PLUCKING.indexOf(a) - PLUCKING.indexOf(b));
        const free = moment.placed
          .filter(({ note }) => !plucks.has(note))
          .sort((a, b) => b.string - a.string);
        // The thumb takes the thickest string, the fingers the thinnest ones.
        if (letters[0] === 'p' && free.length) plucks.set(free.shift()!.note, 'p');
        const others = letters.filter(letter => letter !== 'p');
        for (const [i, { note }] of free.slice(-others.length || free.length).entries())
          if (others[i]) plucks.set(note, others[i] as Pluck);
      }
    for (const { words } of picks)
      for (const { way, column } of this.wordsIn(bar, words)) {
        const moment = at(column);
        if (moment && moment.placed.length < 3) for (const { note } of moment.placed) plucks.set(note, way);
      }
    return plucks;
  }

  /** Strokes by their words, and by the ways of a pick through three strings and more, each at the place below it. */
  private strokes(bar: Bar, moments: readonly Moment[], starts: readonly Start[]): Stroke[] {
    const { strokes, picks } = this.signsOf(bar);
    const told: { column: number; stroke: Pick<Stroke, 'kind' | 'way'> | undefined; least: number }[] = [
      ...strokes.flatMap(line =>
        this.wordsIn(bar, line.words).map(({ text, column }) => ({
          column,
          stroke: STROKE_WORDS[text],
          least: 1,
        })),
      ),
      ...picks.flatMap(line =>
        this.wordsIn(bar, line.words).map(({ way, column }) => ({
          column,
          stroke: { kind: 'brush' as const, way },
          least: 3,
        })),
      ),
    ];
    const found = new Map<number, Stroke>();
    for (const { column, stroke, least } of told) {
      const at = nearest(moments, column) ?? -1;
      const moment = moments[at];
      const start = starts[at]?.start;
      if (!moment || Math.abs(moment.column - column) > 1 || moment.placed.length < least) continue;
      if (stroke && start !== undefined && !found.has(start)) found.set(start, { start, ...stroke });
    }
    return [...found.values()];
  }

  /** The measure of a chord of a system: right before a bar, behind all notes, it is meant for what follows. */
  private chordBar(column: number, { system }: Bar): Bar | undefined {
    const bars = this.bars.filter(other => other.system === system);
    const at = bars.findIndex(bar => inBar(column, bar));
    const over =
      bars[at] && column === bars[at].to - 1 && bars[at].placed.every(({ note }) => note.to < column);
    return (over && bars[at + 1]) || bars[at];
  }

  /** Chords above the rows, each at the next place; behind the last one on the beat over which it stands. */
  private chords(
    bar: Bar,
    moments: readonly Moment[],
    starts: readonly Start[],
    length: number,
  ): { start: number; name: string }[] {
    const chords: { start: number; name: string }[] = [];
    const { first, width } = this.widthOf(bar);
    const beat = pulseTicks(this.meter);
    for (const { words } of this.signsOf(bar).chords)
      for (const { text, column } of words.filter(word => this.chordBar(word.column, bar) === bar)) {
        const at = moments.findIndex(moment => moment.column >= column - 1);
        const spread = Math.floor((Math.max(0, column - first) / width) * (length / beat)) * beat;
        const start = !chords.length && at <= 0 && column <= first + 1 ? 0 : (starts[at]?.start ?? spread);
        if (!chords.some(chord => chord.start === start)) chords.push({ start, name: text });
      }
    return chords.sort((a, b) => a.start - b.start);
  }

  /** Words below the rows, a line for each verse; two under one note are sung together. */
  private words(
    bar: Bar,
    moments: readonly Moment[],
    starts: readonly Start[],
  ): NonNullable<WrittenMeasure['words']> {
    const byStart = new Map<number, string[]>();
    const { words } = this.signsOf(bar);
    for (const [verse, line] of words.entries())
      for (const { text, column } of this.wordsIn(bar, line.words)) {
        const near = nearest(moments, column);
        if (near === undefined) continue;
        const verses = byStart.get(starts[near]!.start) ?? [];
        while (verses.length <= verse) verses.push('');
        verses[verse] = verses[verse] ? `${verses[verse]} ${text}` : text;
        byStart.set(starts[near]!.start, verses);
      }
    return [...byStart].sort(([a], [b]) => a - b).map(([start, verses]) => ({ start, verses }));
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

/** Lengths that a text tab does not tell: a note lasts until the same hand's next one, the thumb's or the fingers'. */
function ringing(notes: WrittenNote[], ticks: number, strings: number): WrittenNote[] {
  const thumb = (note: WrittenNote) => strings > 4 && note.string >= thinnestBass(strings);
  return notes.map(note => {
    if (note.tuplets) return note;
    const next = notes
      .filter(
        other => other.start > note.start && (thumb(other) === thumb(note) || other.string === note.string),
      )
      .reduce((least, other) => Math.min(least, other.start), ticks);
    return { ...note, ticks: next - note.start };
  });
}
