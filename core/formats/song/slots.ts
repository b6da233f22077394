/** How long the chords of a song last: its lines as slots, and those laid into measures. */
import { NO_CHORD } from '../../chord';
import type { Key } from '../../pitch';
import {
  type Meter,
  measureTicks,
  pulseCount,
  pulseTicks,
  quartersFromBeats,
  TICKS_PER_WHOLE,
} from '../../time';
import type { TuneEvent, UnnamedMeasure } from '../../tune';
import type { ChordLine, SongToken, Sung } from './lines';
import type { SongOrder } from './orders';

/** What stands in one measure or over several: a chord or what goes on, and the words sung from there. */
export interface Slot {
  ticks: number;
  symbol?: string;
  early?: boolean;
  /** The grip that is held, as shape text. */
  shape?: string;
  /** By verse: words before the first chord of a line, and from here on. */
  lead?: string[];
  words?: string[];
  /** A line of words begins here. */
  line?: boolean;
  /** What happens behind it. */
  orders?: SongOrder[];
}

/** A slot as it is played without words. */
export const wordless = ({ words: _words, lead: _lead, orders: _orders, ...slot }: Slot): Slot => slot;

/** A chord that is struck before its time comes by so much. */
const EIGHTH = TICKS_PER_WHOLE / 8;

/** How long a chord lasts: "a measure", "half a measure", "2 measures", "2 beats". */
export function eachTicks(text: string | undefined, meter: Meter): number | undefined {
  const measure = measureTicks(meter);
  if (text === undefined) return measure;
  const said = /^\s*(\d+(?:\.5)?|half(?: an?)?|an?|one|two|four)?\s*(measures?|bars?|beats?)\s*$/i.exec(text);
  if (!said) return undefined;
  const [, count = '1', unit] = said;
  const number = /^half/i.test(count)
    ? 0.5
    : ({ a: 1, an: 1, one: 1, two: 2, four: 4 }[count.toLowerCase()] ?? Number(count));
  const ticks = number * (unit && /^beat/i.test(unit) ? pulseTicks(meter) : measure);
  return ticks > 0 && ticks <= 16 * measure && Number.isInteger(ticks) ? ticks : undefined;
}

/** Makes the slots of a line: between bars the chords share a measure, else each has its time. */
export class Timing {
  constructor(
    private readonly meter: Meter,
    private readonly each: number,
    private readonly ask: (line: number, column: number, message: string) => void,
  ) {}

  slotsOf({ tokens, words, times }: ChordLine, at: number): Slot[] {
    const barred = tokens.some(token => token.kind === 'bar');
    const once = barred
      ? this.measures(tokens, words, at)
      : this.isInBeats(tokens)
        ? tokens.map((token, part) => this.slot(token, pulseTicks(this.meter), words, part))
        : this.inTurn(tokens, words, at);
    return Array.from({ length: times }, (_, time) => once.map(time ? wordless : slot => slot)).flat();
  }

  private slot(token: SongToken, ticks: number, words: Sung | undefined, part: number): Slot {
    const sung = words?.parts[part];
    const slot: Slot = { ticks, ...(sung && { words: [sung] }), ...(part === 0 && { line: true }) };
    if (part === 0 && words?.lead) slot.lead = [words.lead];
    if (token.kind === 'chord') {
      slot.symbol = token.symbol;
      if (token.early) slot.early = true;
      if (token.shape) slot.shape = token.shape;
    }
    if (token.kind === 'silence') slot.symbol = NO_CHORD;
    return slot;
  }

  /** "G / / /  C / D /": a slash or a dot is a beat, as a chord is, where they make whole measures (common practice). */
  private isInBeats(tokens: readonly SongToken[]): boolean {
    return (
      tokens[0]!.kind !== 'hold' &&
      tokens.some(({ kind }) => kind === 'hold') &&
      tokens.length % pulseCount(this.meter) === 0 &&
      tokens.every(
        token =>
          token.kind === 'chord' || token.kind === 'silence' || (token.kind === 'hold' && token.isBeat),
      )
    );
  }

  private inTurn(tokens: readonly SongToken[], words: Sung | undefined, at: number): Slot[] {
    const slots: Slot[] = [];
    let part = 0;
    for (let i = 0; i < tokens.length; i++) {
      const token = tokens[i]!;
      if (token.kind === 'open') {
        const close = tokens.findIndex((other, j) => j > i && other.kind === 'close');
        const group = tokens.slice(i + 1, close < 0 ? undefined : close);
        if (close < 0 || !group.length) {
          this.ask(at, token.column, close < 0 ? 'the bracket is not closed' : 'the bracket holds no chord');
          return slots;
        }
        for (const own of group) slots.push(this.slot(own, this.each / group.length, words, part++));
        i = close;
        continue;
      }
      if (token.kind === 'length') {
        const ticks = token.beats * pulseTicks(this.meter);
        const last = slots.at(-1);
        if (last && ticks > 0 && Number.isInteger(ticks)) last.ticks = ticks;
        else this.ask(at, token.column, `a chord can't last ${token.beats} beats`);
        continue;
      }
      if (token.kind === 'close') {
        this.ask(at, token.column, 'a bracket is closed that was not opened');
        return slots;
      }
      if (token.kind === 'again')
        slots.push(this.slot({ kind: 'hold', column: token.column }, this.each, words, part++));
      else slots.push(this.slot(token, this.each, words, part++));
    }
    return slots;
  }

  private measures(tokens: readonly SongToken[], words: Sung | undefined, at: number): Slot[] {
    const whole = measureTicks(this.meter);
    const bars: SongToken[][] = [[]];
    let last: SongToken | undefined;
    for (const token of tokens) {
      // Room between two bars is a measure in which the last chord goes on; bars side by side are one.
      if (token.kind === 'bar' && last?.kind === 'bar' && token.column - last.column > 2)
        bars.at(-1)!.push({ kind: 'hold', column: last.column + 1 });
      last = token;
      if (token.kind === 'bar') bars.push([]);
      else if (token.kind !== 'open' && token.kind !== 'close') bars.at(-1)!.push(token);
    }
    const slots: Slot[] = [];
    let before: Slot[] = [];
    let part = 0;
    for (const bar of bars) {
      if (!bar.length) continue;
      const [first] = bar;
      if (first!.kind === 'again' && bar.length === 1) {
        if (!before.length) this.ask(at, first!.column, '"%" has no measure before it');
        const again = before.map((slot, i) => ({
          ticks: slot.ticks,
          ...(slot.symbol !== undefined && { symbol: slot.symbol }),
          ...(slot.shape !== undefined && { shape: slot.shape }),
          ...(i === 0 && words?.parts[part] && { words: [words.parts[part]!] }),
        }));
        part += 1;
        slots.push(...again);
        continue;
      }
      const ticks = whole / bar.length;
      if (!Number.isInteger(ticks) || ticks < EIGHTH / 4) {
        this.ask(
          at,
          first!.column,
          `${bar.length} chords do not share a measure evenly: hold them with dots`,
        );
        return slots;
      }
      before = bar.map(token => this.slot(token, ticks, words, part++));
      slots.push(...before);
    }
    return slots;
  }
}

/** What slows down does so over its last measures, to this part of its tempo; judgement. */
const SLOWING = { measures: 2, to: 0.7 };

/** Puts what happens behind the last measure into it. */
function follow(order: SongOrder, measures: readonly UnnamedMeasure[], quartersPerMinute: number): void {
  const last = measures.at(-1)!;
  if (order.kind === 'mark') {
    if (!last.marks?.includes(order.mark)) last.marks = [...(last.marks ?? []), order.mark];
    return;
  }
  const { meter, ticks } = last;
  // It has arrived where the last beat begins.
  const start = ticks - pulseTicks(meter);
  last.tempos = [
    {
      start,
      quartersPerMinute:
        order.beats === undefined ? quartersPerMinute * SLOWING.to : quartersFromBeats(meter, order.beats),
      over: start + ticks * (Math.min(SLOWING.measures, measures.length) - 1),
    },
  ];
}

/** The measures of a section: its slots laid end to end, a chord that lasts longer over several. */
export function measuresOf(
  { name, lines }: { name: string; lines: readonly (readonly Slot[])[] },
  meter: Meter,
  key: Key,
  quartersPerMinute: number,
): { measures: UnnamedMeasure[]; grips: (string | undefined)[][] } {
  const whole = measureTicks(meter);
  const measures: UnnamedMeasure[] = [];
  /** The grips of the chords of each measure, where they are said. */
  const grips: (string | undefined)[][] = [];
  let used = whole;
  const open = () => {
    measures.push({ meter, key, ticks: whole, offset: 0, events: [], chords: [] });
    grips.push([]);
    used = 0;
  };
  for (const slot of lines.flat()) {
    let left = slot.ticks;
    while (left > 0) {
      if (used === whole) open();
      const measure = measures.at(-1)!;
      const ticks = Math.min(left, whole - used);
      const event: Omit<TuneEvent, 'id'> = { start: used, ticks };
      if (left === slot.ticks) {
        if (slot.words) event.words = slot.words;
        if (slot.lead) event.lead = slot.lead;
        if (slot.line) event.line = true;
        if (slot.symbol) {
          const before = measures.at(-2);
          const early = slot.early && (used > 0 || before !== undefined);
          const into = early && used === 0 ? before! : measure;
          const start = early ? (used === 0 ? whole : used) - EIGHTH : used;
          into.chords.push({ start, symbol: slot.symbol });
          grips[measures.indexOf(into)]!.push(slot.shape);
        }
      }
      measure.events.push(event);
      used += ticks;
      left -= ticks;
    }
    for (const order of slot.orders ?? []) follow(order, measures, quartersPerMinute);
  }
  const rest = whole - used;
  if (rest > 0) measures.at(-1)!.events.push({ start: used, ticks: rest });
  if (measures[0]) measures[0].section = name;
  return { measures, grips };
}
