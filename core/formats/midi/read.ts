/**
 * Standard MIDI File in (MIDI Association), read by the general-purpose package midi-file: a track becomes a tune, its times
 * note values; tempo map, meters, key and words are kept.
 */
import { type MidiData, parseMidi } from 'midi-file';
import { type Key, keyFifths, keyName, pitchClassOf, spellMidi } from '../../pitch';
import {
  isCompound,
  type Meter,
  measureTicks,
  type NoteTuplet,
  pulseTicks,
  signCount,
  TICKS_PER_QUARTER,
} from '../../time';
import { findKeys, identify, type TempoChange, type Tune, type UnnamedMeasure } from '../../tune';
import { textOf } from '../encoding';
import { type FilePart, type FileRemark, RemarkList } from '../file';
import { keyOfFifths } from '../keys';
import { MOST_IN_MEASURE, MOST_MEASURES, playableTempo, setOffsets } from '../measures';
import type { TextRemark } from '../reading';
import { EXACT, gridFor, type MidiGrid, Raster } from './rhythm';

export { MIDI_GRIDS, type MidiGrid } from './rhythm';

export interface MidiRequest {
  tuneId: string;
  /** Place of the track that is the tune (from 0); the highest one with notes where it is not said. */
  part?: number;
  /** What the other tracks play, and what sounds under the line of this one, is kept as further voices. */
  others?: boolean;
  /** The shortest straight note; the coarsest that fits where it is not said. */
  grid?: MidiGrid;
  /** Whether beats, or the eighths of a compound meter, may be divided in three where that fits; they may when left out. */
  triplets?: boolean;
  /** What it is counted in, in place of what the file says. */
  meter?: Meter;
  /** Beats before the first full measure. */
  pickup?: number;
  title?: string;
}

/** What was made of a file, or why nothing. */
export type MidiReading =
  | {
      tune: Tune;
      parts: FilePart[];
      part: number;
      grid: MidiGrid;
      guesses: FileRemark[];
      leftOut: FileRemark[];
      error?: undefined;
    }
  | { error: TextRemark };

type Event = UnnamedMeasure['events'][number];

/** A note as it was played; times in ticks of the app. */
interface Played {
  start: number;
  end: number;
  midi: number;
}

interface Track {
  name: string;
  notes: Played[];
  words: { at: number; text: string }[];
}

interface Score {
  tracks: Track[];
  tempos: { at: number; quartersPerMinute: number }[];
  meters: { at: number; meter: Meter }[];
  key: Key | undefined;
  title: string | undefined;
}

/** The tenth channel is the drums' (General MIDI). */
const DRUMS = 9;
/** Standard: without a tempo a file is played at 120 quarters a minute. */
const USUAL_TEMPO = 120;
/** A note that ends so much of its way before the next one lasts up to it: how it was played, not a rest (judgement). */
const DETACHED = 0.4;

/** A note that lasts so much longer than what is struck with it is held under what follows (judgement). */
const HELD = 1.4;
/** A first note may begin so much before its measure, as it was played. */
const EARLY = TICKS_PER_QUARTER / 8;

/**
 * Where within a quarter swung eighths fall, and between where they are looked for: at two thirds, more evenly when played
 * fast (common practice). What falls elsewhere between the beats speaks against it.
 */
const SWUNG = { at: [0.58, 0.72], offBeat: [0.2, 0.9], least: 4, part: 0.9 } as const;

/** Whether the notes between the beats of a line are swung eighths throughout. */
function isSwung(starts: readonly number[]): boolean {
  const places = [...new Set(starts)].map(start => (start % TICKS_PER_QUARTER) / TICKS_PER_QUARTER);
  const off = places.filter(place => place > SWUNG.offBeat[0] && place < SWUNG.offBeat[1]);
  const swung = off.filter(place => place >= SWUNG.at[0] && place <= SWUNG.at[1]);
  return off.length >= SWUNG.least && swung.length >= SWUNG.part * off.length;
}

/** Moves the second eighths of swung tracks to where they are written. */
function straighten(tracks: readonly Track[]): void {
  const early = 2 / 3;
  const straight = (time: number) => {
    const beat = Math.floor(time / TICKS_PER_QUARTER);
    const place = time / TICKS_PER_QUARTER - beat;
    const moved = place <= early ? (place * 0.5) / early : 0.5 + ((place - early) * 0.5) / (1 - early);
    return Math.round((beat + moved) * TICKS_PER_QUARTER);
  };
  for (const note of tracks.flatMap(({ notes }) => notes)) {
    note.start = straight(note.start);
    note.end = straight(note.end);
  }
  // Channels of one track have their words in common.
  for (const word of new Set(tracks.flatMap(({ words }) => words))) word.at = straight(word.at);
}

/**
 * Reads a file.
 *
 * @example readMidi(writeMidi(arrangement), { tuneId: 't' }).tune.measures.length // those that are played, repeats unrolled
 */
export function readMidi(bytes: Uint8Array, request: MidiRequest): MidiReading {
  const fault = (message: string): MidiReading => ({ error: { line: 1, column: 1, message } });
  const guesses = new RemarkList();
  const leftOut = new RemarkList();
  let data: MidiData;
  try {
    data = parseMidi(bytes);
  } catch {
    return fault('this is no Standard MIDI File, or it is damaged');
  }
  if (breaksOff(bytes)) return fault('the file breaks off before its end');
  const { ticksPerBeat } = data.header;
  if (!ticksPerBeat)
    return fault('it counts time in frames of a film, not in beats: bars can not be found in it');
  const score = scoreOf(data, ticksPerBeat, leftOut);
  const parts = score.tracks.map(({ name, notes }): FilePart => ({ name, notes: notes.length, tab: false }));
  if (!parts.some(({ notes }) => notes)) return fault('there is no note in it');
  const mean = ({ notes }: Track) =>
    notes.length ? notes.reduce((sum, note) => sum + note.midi, 0) / notes.length : Number.NEGATIVE_INFINITY;
  const highest = score.tracks.reduce(
    (best, track, i) => (mean(track) > mean(score.tracks[best]!) ? i : best),
    0,
  );
  const part = request.part ?? highest;
  const track = score.tracks[part];
  if (!track) return fault(`there are ${parts.length} tracks in it, no ${part + 1}`);
  const meters = request.meter ? [{ at: 0, meter: request.meter }] : score.meters;
  if (!meters.length) guesses.add('no meter is said: 4/4 is taken');
  const main = mainMeter(meters);
  const swung = !isCompound(main) && isSwung(track.notes.map(note => note.start));
  if (swung) {
    guesses.add('its eighths are swung: they are written straight, to be played with swing');
    straighten(score.tracks);
  }
  const played = score.tracks.flatMap(({ notes }) => notes);
  const end = Math.max(...played.map(note => note.end));
  const all = measuresOf(meters, end, (request.pickup ?? 0) * pulseTicks(main));
  const begins = Math.min(...played.map(note => note.start)) + EARLY;
  const empty = all.filter(({ from, ticks }) => from + ticks <= begins);
  // A pickup may begin with a rest; whole measures of it are a count.
  const silent = empty.every(({ short }) => short) ? 0 : empty.length;
  if (silent)
    leftOut.add(
      silent > 1
        ? `${silent} empty measures before the first note`
        : 'an empty measure before the first note',
    );
  const measures = all.slice(silent);
  if (measures.length > MOST_MEASURES)
    return fault(`there are ${measures.length} measures in it; at most ${MOST_MEASURES} are read`);

  const { triplets = true } = request;
  const compound = isCompound(main);
  const starts = track.notes.map(note => note.start);
  const grid = request.grid ?? gridFor(starts, triplets, compound);
  if (!request.grid)
    guesses.add(`the shortest straight note is taken to be ${grid === 'eighth' ? 'an' : 'a'} ${grid}`);
  const written = (own: Track) => linesOf(own, grid, triplets, compound);
  const { melody, under, lost } = written(track);
  if (lost) leftOut.add(`${lost} notes under the line and its second voice`);
  const beside = [
    ...(under.moments.length ? [{ name: undefined, line: under }] : []),
    ...score.tracks
      .filter(other => other !== track && other.notes.length)
      .map(other => ({ name: other.name, line: written(other).melody })),
  ];
  const lines = [...beside.map(({ line }) => line), melody];
  const key = score.key ?? likelyKey(lines, measures, played);
  if (!score.key) guesses.add(`no key is said: ${keyName(key)} is taken from the notes`);
  const fifths = keyFifths(key);
  const voices = request.others === false ? [] : beside;
  if (request.others === false && under.moments.length)
    leftOut.add(`${under.moments.length} notes under the line`);
  const groups = { next: 0 };
  const unnamed = measures.map((measure, index): UnnamedMeasure => {
    const tell = (message: string) => leftOut.add(message, index + 1);
    const others = voices.map(({ name, line }) => ({
      ...(name && { name }),
      events: eventsIn(line, measure, fifths, groups, tell),
    }));
    return {
      meter: measure.meter,
      key,
      ticks: measure.ticks,
      offset: 0,
      chords: [],
      events: eventsIn(melody, measure, fifths, groups, tell, track.words),
      ...(others.length && { others }),
      ...temposIn(score.tempos, measure, message => guesses.add(message, index + 1)),
    };
  });
  unnamed.at(-1)!.barline = 'final';
  setOffsets(unnamed);
  const [opening] = unnamed;
  const tempo = score.tempos.findLast(({ at }) => at <= measures[0]!.from)?.quartersPerMinute ?? USUAL_TEMPO;
  if (!score.tempos.length) guesses.add(`no tempo is said: ${USUAL_TEMPO} quarters a minute are taken`);
  const rest = opening?.tempos?.filter(({ start }) => start > 0);
  if (opening && rest?.length) opening.tempos = rest;
  else delete opening?.tempos;
  return {
    tune: {
      id: request.tuneId,
      title: score.title ?? request.title ?? 'Untitled',
      rights: 'unknown',
      key,
      meter: main,
      quartersPerMinute: playableTempo(tempo, message => guesses.add(message)),
      ...(swung && { feel: 'swing' }),
      ...identify(unnamed),
    },
    parts,
    part,
    grid,
    guesses: guesses.list,
    leftOut: leftOut.list,
  };
}

/** Whether a chunk of the file promises more bytes than there are. */
function breaksOff(bytes: Uint8Array): boolean {
  let at = 0;
  while (at + 8 <= bytes.length) {
    const length = [4, 5, 6, 7].reduce((sum, i) => sum * 256 + bytes[at + i]!, 0);
    at += 8 + length;
  }
  return at > bytes.length;
}

/** Text of a meta event: midi-file gives a character a byte. */
const decoded = (text: string) => textOf(Uint8Array.from(text, letter => letter.charCodeAt(0))).trim();

function scoreOf({ header, tracks }: MidiData, ticksPerBeat: number, leftOut: RemarkList): Score {
  const score: Score = { tracks: [], tempos: [], meters: [], key: undefined, title: undefined };
  let drums = 0;
  let keys = 0;
  for (const [index, events] of tracks.entries()) {
    // A file of one track (format 0) tells its parts apart by their channels.
    const byChannel = new Map<number, Track>();
    const sounding = new Map<string, Played[]>();
    const words: Track['words'] = [];
    let name: string | undefined;
    let at = 0;
    const ticksAt = () => Math.round((at * TICKS_PER_QUARTER) / ticksPerBeat);
    for (const event of events) {
      at += event.deltaTime;
      switch (event.type) {
        case 'trackName':
          if (index === 0 && header.format !== 0) score.title = decoded(event.text) || undefined;
          else name = decoded(event.text) || name;
          break;
        case 'lyrics':
          words.push({ at: ticksAt(), text: decoded(event.text) });
          break;
        case 'setTempo':
          if (event.microsecondsPerBeat > 0)
            score.tempos.push({
              at: ticksAt(),
              quartersPerMinute: Math.round(60e8 / event.microsecondsPerBeat) / 100,
            });
          break;
        case 'timeSignature':
          if (event.numerator >= 1 && event.denominator >= 1 && event.denominator <= 32)
            score.meters.push({ at: ticksAt(), meter: { beats: event.numerator, unit: event.denominator } });
          break;
        case 'keySignature':
          keys += 1;
          score.key ??= keyOfFifths(event.key, event.scale === 1 ? 'minor' : 'major');
          break;
        case 'noteOn':
        case 'noteOff': {
          const key = `${event.channel} ${event.noteNumber}`;
          if (event.type === 'noteOn' && event.velocity > 0) {
            if (event.channel === DRUMS) {
              drums += 1;
              break;
            }
            const note = { start: ticksAt(), end: ticksAt(), midi: event.noteNumber };
            sounding.set(key, [...(sounding.get(key) ?? []), note]);
            const channel = header.format === 0 ? event.channel : 0;
            const own = byChannel.get(channel) ?? { name: '', notes: [], words };
            own.notes.push(note);
            byChannel.set(channel, own);
          } else {
            const note = sounding.get(key)?.shift();
            if (note) note.end = ticksAt();
          }
          break;
        }
        default:
          break;
      }
    }
    for (const note of [...sounding.values()].flat()) note.end = Math.max(note.end, ticksAt());
    for (const [channel, own] of byChannel)
      score.tracks.push({
        ...own,
        notes: own.notes.filter(note => note.end > note.start),
        name: name ?? (header.format === 0 ? `Channel ${channel + 1}` : `Track ${index + 1}`),
      });
  }
  if (drums) leftOut.add(`${drums} strokes of the drums`);
  if (keys > 1) leftOut.add('changes of the key signature');
  return score;
}

/** A measure in time. `short` where it is a part of one of the meter that goes on behind it. */
interface Bar {
  from: number;
  ticks: number;
  meter: Meter;
  short: boolean;
}

const USUAL_METER: Meter = { beats: 4, unit: 4 };

/** The meter that lasts longest at the beginning: a short measure of another one is a pickup. */
function mainMeter(changes: Score['meters']): Meter {
  const full = changes.find(
    ({ at, meter }, i) => (changes[i + 1]?.at ?? Number.POSITIVE_INFINITY) - at > measureTicks(meter),
  );
  return (full ?? changes[0])?.meter ?? USUAL_METER;
}

function measuresOf(changes: Score['meters'], end: number, pickup: number): Bar[] {
  const meters = changes.toSorted((a, b) => a.at - b.at);
  const bars: Bar[] = [];
  let from = 0;
  let meter: Meter = USUAL_METER;
  if (pickup > 0 && pickup < measureTicks(meters[0]?.meter ?? meter)) {
    bars.push({ from, ticks: pickup, meter: meters[0]?.meter ?? meter, short: true });
    from = pickup;
  }
  while (from < end && bars.length <= MOST_MEASURES) {
    meter = meters.findLast(({ at }) => at <= from)?.meter ?? meter;
    const next = meters.find(({ at }) => at > from)?.at ?? Number.POSITIVE_INFINITY;
    const ticks = Math.min(measureTicks(meter), next - from);
    bars.push({ from, ticks, meter, short: false });
    from += ticks;
  }
  // One measure of a shorter meter before a longer one of the same beats is a pickup, or completes one.
  for (const [index, bar] of bars.entries()) {
    const wider = [bars[index + 1], bars[index + 2], bars[index - 1]].find(
      other => other && measureTicks(other.meter) > bar.ticks && other.ticks === measureTicks(other.meter),
    );
    const alone = [bars[index - 1], bars[index + 1]].every(
      other => !other || measureTicks(other.meter) !== measureTicks(bar.meter),
    );
    if (!wider || !alone) continue;
    bar.meter = wider.meter;
    bar.short = true;
  }
  return bars;
}

/** Notes that begin together, by the note values they are written in. */
interface Moment {
  start: number;
  end: number;
  /** The highest last. */
  midis: number[];
}

interface Line {
  moments: Moment[];
  raster: Raster;
}

/** The upper line of a track, what sounds under it as a second one, and how many notes find no place in either. */
function linesOf(
  track: Track,
  grid: MidiGrid,
  triplets: boolean,
  compound: boolean,
): { melody: Line; under: Line; lost: number } {
  const raster = new Raster(
    track.notes.map(note => note.start),
    grid,
    triplets,
    compound,
  );
  const notes = track.notes.map(note => ({ ...note, at: raster.round(note.start) }));
  const upper = skyline(notes, raster);
  const lower = skyline(upper.rest, raster);
  return {
    melody: { moments: upper.moments, raster },
    under: { moments: lower.moments, raster },
    lost: lower.rest.length,
  };
}

type Placed = Played & { at: number };

/** Note values, plain and dotted, in ticks. */
const VALUES = [1, 1.5, 2, 3, 4, 6, 8, 12, 16].map(eighths => (eighths * TICKS_PER_QUARTER) / 4);

/** The value that a last note is meant to have which was held for so many ticks. */
function fullValue(held: number): number {
  return VALUES.find(value => value >= held - EXACT && value - held <= DETACHED * value) ?? held;
}

function skyline(notes: readonly Placed[], raster: Raster): { moments: Moment[]; rest: Placed[] } {
  const byStart = new Map<number, Placed[]>();
  for (const note of notes) byStart.set(note.at, [...(byStart.get(note.at) ?? []), note]);
  const kept: Placed[][] = [];
  const rest: Placed[] = [];
  for (const [at, own] of [...byStart].sort(([a], [b]) => a - b)) {
    const struck = own.sort((a, b) => a.midi - b.midi);
    const before = kept.at(-1)?.at(-1);
    const sounding = before && raster.round(before.end) > at;
    // What begins under a note that goes on belongs to another voice.
    if (sounding && struck.at(-1)!.midi < before.midi) rest.push(...struck);
    else kept.push(struck);
  }
  // So does what is struck with a note and held under those that follow it.
  for (const [i, struck] of kept.entries()) {
    const top = struck.at(-1)!;
    const next = kept[i + 1]?.[0];
    const held = (note: Placed) =>
      note !== top &&
      next !== undefined &&
      raster.round(note.end) >= next.at + raster.shortest(next.at) &&
      note.end - note.start > HELD * (top.end - top.start);
    rest.push(...struck.filter(held));
    kept[i] = struck.filter(note => !held(note));
  }
  rest.sort((a, b) => a.at - b.at);
  const on = (time: number) => Math.abs(time - raster.round(time)) <= EXACT;
  const exact = notes.every(note => on(note.start) && on(note.end));
  const moments = kept.map((struck, index): Moment => {
    const { at } = struck[0]!;
    const top = struck.at(-1)!;
    const next = kept[index + 1]?.[0]?.at ?? at + fullValue(top.end - at);
    const played = Math.max(raster.round(top.end), at + raster.shortest(at));
    const detached = !exact && played < next && next - top.end <= DETACHED * (next - at);
    const held = detached ? next : Math.min(played, next);
    return { start: at, end: held, midis: struck.map(note => note.midi) };
  });
  return { moments, rest };
}

/** What a line plays in a measure, tied over bar lines and over the edge of a beat in three. */
function eventsIn(
  { moments, raster }: Line,
  bar: Bar,
  fifths: number,
  groups: { next: number },
  leftOut: (message: string) => void,
  words: Track['words'] = [],
): Event[] {
  const until = bar.from + bar.ticks;
  const events: Event[] = [];
  const tuplets = new Map<number, NoteTuplet>();
  const put = (from: number, to: number, moment: Moment | undefined) => {
    // What is in three is written for itself: what goes over its edge is tied.
    const edges = [from];
    for (let span = raster.spanAt(from); span.begins < to; span = raster.spanAt(span.ends)) {
      const { begins, ends, three } = span;
      const broken = (edge: number) => three && edge % (TICKS_PER_QUARTER / 8) !== 0;
      if (!(broken(from) && from > begins && from < ends) && !(broken(to) && to > begins && to < ends))
        continue;
      for (const edge of [begins, ends]) if (edge > from && edge < to) edges.push(edge);
    }
    edges.push(to);
    const sorted = [...new Set(edges)].sort((a, b) => a - b);
    for (const [i, edge] of sorted.slice(0, -1).entries()) {
      const end = sorted[i + 1]!;
      if (events.length === MOST_IN_MEASURE) leftOut(`more than ${MOST_IN_MEASURE} notes of a measure`);
      if (events.length >= MOST_IN_MEASURE) return;
      const event: Event = { start: edge - bar.from, ticks: end - edge };
      const { begins, three } = raster.spanAt(edge);
      if (three && !signCount(event.ticks)) {
        const own = tuplets.get(begins) ?? { actual: 3, normal: 2, group: ++groups.next };
        tuplets.set(begins, own);
        event.tuplets = [own];
      }
      if (moment) {
        const [top, ...lower] = moment.midis.toReversed().map(midi => spellMidi(midi, fifths));
        event.pitch = top!;
        if (lower.length) event.lower = lower.toReversed();
        if (end < moment.end) event.tie = true;
        if (edge === moment.start) {
          const text = words.find(word => raster.round(word.at) === moment.start)?.text;
          if (text) event.words = [text];
        }
      }
      events.push(event);
    }
  };
  let at = bar.from;
  for (const moment of moments) {
    if (moment.end <= bar.from || moment.start >= until) continue;
    const from = Math.max(moment.start, bar.from);
    if (from > at) put(at, from, undefined);
    put(from, Math.min(moment.end, until), moment);
    at = Math.min(moment.end, until);
  }
  if (at < until) put(at, until, undefined);
  return events;
}

function temposIn(
  tempos: Score['tempos'],
  bar: Bar,
  tell: (message: string) => void,
): { tempos?: TempoChange[] } {
  const own = tempos.filter(({ at }) => at >= bar.from && at < bar.from + bar.ticks);
  if (!own.length) return {};
  return {
    tempos: own.map(({ at, quartersPerMinute }) => ({
      start: at - bar.from,
      quartersPerMinute: playableTempo(quartersPerMinute, tell),
    })),
  };
}

/** How much it says for a key that the lowest note of the end is its tonic (judgement). */
const LAST_BASS = 0.3;

/** @param lines what is played beside the melody, and that at last: what lies under a melody speaks for its key, too */
function likelyKey(lines: readonly Line[], bars: readonly Bar[], played: readonly Played[]): Key {
  const measures = lines.flatMap(line =>
    bars.map(
      (bar): UnnamedMeasure => ({
        meter: bar.meter,
        key: { tonic: 'C', mode: 'major' },
        ticks: bar.ticks,
        offset: 0,
        chords: [],
        events: eventsIn(line, bar, 0, { next: 0 }, () => {}),
      }),
    ),
  );
  const found = findKeys(identify(measures));
  // Under a line that is not alone the last bass is the tonic.
  const last = Math.max(...played.map(note => note.end)) - TICKS_PER_QUARTER / 2;
  const ending = played.filter(note => note.end >= last);
  const bass = ending.length > 1 ? Math.min(...ending.map(note => note.midi)) % 12 : undefined;
  const likely = ({ key, fit: own }: (typeof found)[number]) =>
    own + (pitchClassOf(key.tonic) === bass ? LAST_BASS : 0);
  return found.toSorted((a, b) => likely(b) - likely(a))[0]?.key ?? { tonic: 'C', mode: 'major' };
}
