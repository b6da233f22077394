/** What stands in a Standard MIDI File: its tracks with what is played when, tempos, meters, key. */
import type { MidiData } from 'midi-file';
import { openNotes, standardSetup } from '../../instrument';
import type { Key } from '../../pitch';
import { type Meter, TICKS_PER_QUARTER } from '../../time';
import { textOf } from '../encoding';
import type { RemarkList } from '../file';
import { keyOfFifths } from '../keys';

/** A note as it was played; times in ticks of the app. */
export interface Played {
  start: number;
  end: number;
  midi: number;
}

export interface Track {
  name: string;
  channel: number;
  notes: Played[];
  words: { at: number; text: string }[];
}

export interface Score {
  tracks: Track[];
  tempos: { at: number; quartersPerMinute: number }[];
  meters: { at: number; meter: Meter }[];
  key: Key | undefined;
  title: string | undefined;
}

/** The tenth channel is the drums' (General MIDI). */
const DRUMS = 9;

/** The guitars among the instruments of General MIDI, counted from 0. */
const GUITARS = { from: 24, to: 31 };
/** A guitar whose strings have a channel each begins with the thinnest on the first or the eleventh (common practice). */
const FIRST_STRINGS = [0, 10];
/** So many of its strings sound at least: fewer lines could be voices. */
const LEAST_STRINGS = 4;
/** Semitones that a string may be tuned down, and be stopped and bent up. */
const OF_STRING = { below: 2, above: 24 };

/** Whether the tracks are the strings of one guitar, each with its channel. */
function isByString(tracks: readonly Track[], programs: ReadonlyMap<number, number>): boolean {
  if (tracks.length < LEAST_STRINGS) return false;
  const open = openNotes(standardSetup('guitar'));
  return FIRST_STRINGS.some(first =>
    tracks.every(({ channel, notes }, index) => {
      const lowest = open[channel - first];
      const program = programs.get(channel);
      if (lowest === undefined || tracks.findIndex(other => other.channel === channel) !== index)
        return false;
      if (program !== undefined && (program < GUITARS.from || program > GUITARS.to)) return false;
      const inTime = notes.toSorted((a, b) => a.start - b.start);
      return inTime.every(
        ({ midi, end }, i) =>
          midi >= lowest - OF_STRING.below &&
          midi <= lowest + OF_STRING.above &&
          end <= (inTime[i + 1]?.start ?? end) + TICKS_PER_QUARTER / 8,
      );
    }),
  );
}

/** Whether a chunk of the file promises more bytes than there are. */
export function breaksOff(bytes: Uint8Array): boolean {
  let at = 0;
  while (at + 8 <= bytes.length) {
    const length = [4, 5, 6, 7].reduce((sum, i) => sum * 256 + bytes[at + i]!, 0);
    at += 8 + length;
  }
  return at > bytes.length;
}

/** Text of a meta event: midi-file gives a character a byte. */
const decoded = (text: string) => textOf(Uint8Array.from(text, letter => letter.charCodeAt(0))).trim();

/**
 * Reads what a file holds.
 *
 * @param ticksPerBeat ticks of a quarter in the file
 * @param guesses is told what is taken to be so
 * @param leftOut is told what can't be kept
 */
export function scoreOf(
  { header, tracks }: MidiData,
  ticksPerBeat: number,
  guesses: RemarkList,
  leftOut: RemarkList,
): Score {
  const score: Score = { tracks: [], tempos: [], meters: [], key: undefined, title: undefined };
  const programs = new Map<number, number>();
  let drums = 0;
  /** As they are said: each track may say the same one. */
  const keys = new Set<string>();
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
          keys.add(`${event.key} ${event.scale}`);
          score.key ??= keyOfFifths(event.key, event.scale === 1 ? 'minor' : 'major');
          break;
        case 'programChange':
          programs.set(event.channel, event.programNumber);
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
            const own = byChannel.get(channel) ?? { name: '', channel: event.channel, notes: [], words };
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
  const sounding = score.tracks.filter(({ notes }) => notes.length);
  if (isByString(sounding, programs)) {
    guesses.add('a channel is a string of one guitar: all are read as one part');
    const names = new Set(sounding.map(({ name }) => name));
    score.tracks = [
      {
        name: names.size === 1 ? sounding[0]!.name : 'Guitar',
        channel: sounding[0]!.channel,
        notes: sounding.flatMap(({ notes }) => notes).sort((a, b) => a.start - b.start),
        words: [...new Set(sounding.flatMap(({ words }) => words))],
      },
    ];
  }
  if (drums) leftOut.add(`${drums} strokes of the drums`);
  if (keys.size > 1) leftOut.add('changes of the key signature');
  return score;
}
