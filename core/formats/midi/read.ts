/**
 * Standard MIDI File in (MIDI Association), read by the general-purpose package midi-file: a track becomes a tune, its times
 * note values; tempo map, meters, key and words are kept.
 */
import { type MidiData, parseMidi } from 'midi-file';
import { type Key, keyFifths, keyName, pitchClassOf } from '../../pitch';
import { isCompound, type Meter, pulseTicks, TICKS_PER_QUARTER } from '../../time';
import { findKeys, identify, keptVoices, type TempoChange, type Tune, type UnnamedMeasure } from '../../tune';
import { type FilePart, type FileRemark, RemarkList } from '../file';
import { MOST_MEASURES, playableTempo, setOffsets } from '../measures';
import type { TextRemark } from '../reading';
import { type Bar, mainMeter, measuresOf } from './bars';
import { eventsIn, type Line, linesOf } from './lines';
import { Beats, gridFor, type MidiGrid } from './rhythm';
import { isSwung, straighten } from './swing';
import { breaksOff, type Played, type Score, scoreOf, type Track } from './tracks';

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

/** Standard: without a tempo a file is played at 120 quarters a minute. */
const USUAL_TEMPO = 120;
/** A first note may begin so much before its measure, as it was played. */
const EARLY = TICKS_PER_QUARTER / 8;

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
  const score = scoreOf(data, ticksPerBeat, guesses, leftOut);
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
  const played = score.tracks.flatMap(({ notes }) => notes);
  const bars = () =>
    measuresOf(meters, Math.max(...played.map(note => note.end)), (request.pickup ?? 0) * pulseTicks(main));
  const quarters = new Beats(bars(), TICKS_PER_QUARTER);
  const swung =
    !isCompound(main) &&
    isSwung(
      track.notes.map(note => note.start),
      quarters,
    );
  if (swung) {
    guesses.add('its eighths are swung: they are written straight, to be played with swing');
    straighten(score.tracks, quarters);
  }
  const all = bars();
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
  const grid = request.grid ?? gridFor(starts, triplets, compound, all);
  if (!request.grid)
    guesses.add(`the shortest straight note is taken to be ${grid === 'eighth' ? 'an' : 'a'} ${grid}`);
  const written = (own: Track) => linesOf(own, grid, triplets, compound, all);
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
  const voices = request.others === false ? [] : keptVoices(beside, text => leftOut.add(text));
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
