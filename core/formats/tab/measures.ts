/** Makes measures of bars: their notes, and what stands beside their rows. */
import { bassClass, chordClasses, parseChord } from '../../chord';
import { noteAt, type Setup, thinnestBass, tuningChanges } from '../../instrument';
import { mod12 } from '../../pitch';
import type { Pluck, Stroke, Technique, WrittenMeasure, WrittenNote } from '../../score';
import { measureTicks, pulseTicks } from '../../time';
import { STROKE_WORDS } from '../strokes';
import { type Bar, inBar, type Moment, momentsOf, type Placed, wordsIn } from './bars';
import type { System } from './lines';
import type { Onsets, Start } from './onsets';
import { nearest, type Signs } from './signs';

/** The order in which fingers pluck from the thick strings to the thin ones. */
const PLUCKING = 'pima';

/** Makes measures of bars, in their order. */
export class Measures {
  /** The chord that was told last. */
  private chord: string | undefined;

  constructor(
    private readonly bars: readonly Bar[],
    private readonly signs: ReadonlyMap<System, Signs>,
    private readonly setup: Setup,
    private readonly onsets: Onsets,
  ) {}

  private signsOf({ system }: Bar): Signs {
    return this.signs.get(system)!;
  }

  measure(bar: Bar): WrittenMeasure {
    const moments = momentsOf(bar.placed);
    const { starts, length } = this.onsets.of(bar, moments);
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
      notes: ringing(notes, length, this.setup.tuning.length),
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
      for (const { text, column } of wordsIn(bar, words)) {
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
      for (const { way, column } of wordsIn(bar, words)) {
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
        wordsIn(bar, line.words).map(({ text, column }) => ({
          column,
          stroke: STROKE_WORDS[text],
          least: 1,
        })),
      ),
      ...picks.flatMap(line =>
        wordsIn(bar, line.words).map(({ way, column }) => ({
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
    const { first, width } = this.onsets.widthOf(bar);
    const beat = pulseTicks(this.onsets.meter);
    for (const { words } of this.signsOf(bar).chords)
      for (const { text, column } of words.filter(word => this.chordBar(word.column, bar) === bar)) {
        const at = moments.findIndex(moment => moment.column >= column - 1);
        const spread = Math.floor((Math.max(0, column - first) / width) * (length / beat)) * beat;
        const over = !chords.length && at <= 0 && column <= first + 1 ? 0 : (starts[at]?.start ?? spread);
        const start = chords.length || !this.beginsEarlier(text, over, moments, starts) ? over : 0;
        if (!chords.some(chord => chord.start === start)) chords.push({ start, name: text });
      }
    chords.sort((a, b) => a.start - b.start);
    this.chord = chords.at(-1)?.name ?? this.chord;
    return chords;
  }

  /**
   * Whether a chord begins with its measure although it stands further right, as it does where a page was typed with other
   * letters: what is struck before it is of this chord, and not of the one before.
   */
  private beginsEarlier(
    name: string,
    over: number,
    moments: readonly Moment[],
    starts: readonly Start[],
  ): boolean {
    const before = moments.flatMap(({ placed }, i) => (starts[i]!.start < over ? placed : []));
    const [lowest] = before.toSorted((a, b) => b.string - a.string);
    if (!lowest) return false;
    const classOf = ({ string, note }: Placed) => this.shapeClass(string, note.fret);
    const told = (own: string | undefined) => {
      const chord = own === undefined ? undefined : parseChord(own);
      if (!chord) return { fits: false, isBass: false };
      const classes = chordClasses(chord);
      return {
        fits: before.every(note => classes.includes(classOf(note))),
        isBass: bassClass(chord) === classOf(lowest),
      };
    };
    const [own, last] = [told(name), told(this.chord)];
    // The further it stands off, the more has to speak for it.
    const near = over <= measureTicks(this.onsets.meter) / 2;
    return own.fits && (near ? !last.fits || (own.isBass && !last.isBass) : !last.fits && own.isBass);
  }

  /** What a string sounds as chords are called: without the capo, and as if all strings were not tuned lower. */
  private shapeClass(string: number, fret: number): number {
    const [first, ...others] = tuningChanges(this.setup).map(({ semitones }) => semitones);
    const lower = others.every(semitones => semitones === first) ? first! : 0;
    return mod12(noteAt({ ...this.setup, capo: 0 }, string, fret) - lower);
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
      for (const { text, column } of wordsIn(bar, line.words)) {
        const near = nearest(moments, column);
        if (near === undefined) continue;
        const verses = byStart.get(starts[near]!.start) ?? [];
        while (verses.length <= verse) verses.push('');
        verses[verse] = verses[verse] ? `${verses[verse]} ${text}` : text;
        byStart.set(starts[near]!.start, verses);
      }
    return [...byStart].sort(([a], [b]) => a - b).map(([start, verses]) => ({ start, verses }));
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
