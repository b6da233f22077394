/**
 * Standard MIDI File (format 1) out, as played: repeats unrolled, tempo, meter and key at the head.
 */
import { type MidiData, type MidiEvent, writeMidi as write } from 'midi-file';
import { keyFifths } from '../pitch';
import { type Arrangement, has, isDead, isStruck, type Role } from '../score';
import { TICKS_PER_QUARTER } from '../time';
import { Clock, playedNotes, playingOrder } from '../timeline';

/** General MIDI program 26 (counted from 1): steel-string guitar; there is none for the mandolin. */
const PROGRAM = 25;
/** An accent is louder, a note that the fretting hand sounds softer. */
const ACCENT = 24;
const SOFTER = 16;
const VELOCITY: Record<Role, number> = { melody: 96, bass: 80, inner: 68 };

interface Timed {
  at: number;
  /** Ends come before beginnings at the same tick. */
  order: number;
  event: { type: string; [field: string]: unknown };
}

/**
 * An arrangement as a MIDI file: one track for the tempo, one each for melody and accompaniment. Lengths as written.
 *
 * @example writeMidi(arrangement) // the bytes of a Standard MIDI File, "MThd" first
 */
export function writeMidi(arrangement: Arrangement): Uint8Array {
  const order = playingOrder(arrangement);
  const clock = new Clock(arrangement, order);
  const head: Timed[] = [
    { at: 0, order: 0, event: { type: 'trackName', text: utf8(arrangement.title), meta: true } },
    ...clock.tempos.map(({ at, quartersPerMinute }) => ({
      at,
      order: 0,
      event: { type: 'setTempo', microsecondsPerBeat: Math.round(60e6 / quartersPerMinute), meta: true },
    })),
  ];
  const tracks: Record<'melody' | 'accompaniment', Timed[]> = { melody: [], accompaniment: [] };
  let at = 0;
  let before = '';
  for (const index of order) {
    const measure = arrangement.measures[index]!;
    const { meter, key } = measure;
    const now = `${meter.beats}/${meter.unit} ${key.tonic} ${key.mode}`;
    if (now !== before) {
      head.push({
        at,
        order: 1,
        event: {
          type: 'timeSignature',
          numerator: meter.beats,
          denominator: meter.unit,
          metronome: 24,
          thirtyseconds: 8,
          meta: true,
        },
      });
      head.push({
        at,
        order: 1,
        event: { type: 'keySignature', key: keyFifths(key), scale: key.mode === 'minor' ? 1 : 0, meta: true },
      });
      before = now;
    }
    at += measure.ticks;
  }
  for (const note of midiNotes(arrangement)) {
    const track = note.role === 'melody' ? tracks.melody : tracks.accompaniment;
    track.push({
      at: note.at,
      order: 2,
      event: { type: 'noteOn', channel: 0, noteNumber: note.midi, velocity: note.velocity },
    });
    track.push({
      at: note.at + note.ticks,
      order: 1,
      event: { type: 'noteOff', channel: 0, noteNumber: note.midi, velocity: 64 },
    });
  }
  const name = (text: string, channel: number, events: Timed[]): Timed[] => [
    { at: 0, order: 0, event: { type: 'trackName', text, meta: true } },
    { at: 0, order: 0, event: { type: 'programChange', channel, programNumber: PROGRAM } },
    ...events.map(timed => ({ ...timed, event: { ...timed.event, channel } })),
  ];
  const data: MidiData = {
    header: { format: 1, numTracks: 3, ticksPerBeat: TICKS_PER_QUARTER },
    tracks: [
      finish(head),
      finish(name('Melody', 0, tracks.melody)),
      finish(name('Accompaniment', 1, tracks.accompaniment)),
    ],
  };
  return Uint8Array.from(write(data));
}

/** Text as UTF-8 bytes, one a character, as the MIDI writer takes it. */
function utf8(text: string): string {
  return encodeURIComponent(text).replace(/%(..)/g, (_, hex: string) =>
    String.fromCharCode(Number.parseInt(hex, 16)),
  );
}

/** Sorts timed events and turns their times into differences. */
function finish(events: Timed[]): MidiEvent[] {
  const sorted = [...events].sort((a, b) => a.at - b.at || a.order - b.order);
  let last = 0;
  const written = sorted.map(({ at, event }) => {
    const deltaTime = at - last;
    last = at;
    return { deltaTime, ...event };
  });
  return [...written, { deltaTime: 0, type: 'endOfTrack', meta: true }] as unknown as MidiEvent[];
}

/** A note of the file; ticks from the start. */
export interface MidiNote {
  at: number;
  ticks: number;
  midi: number;
  role: Role;
  velocity: number;
}

/**
 * The notes as played, ties joined, the feel of the piece in their places.
 *
 * @example midiNotes(arrangement)[0].midi // 60
 */
export function midiNotes(arrangement: Arrangement): MidiNote[] {
  const order = playingOrder(arrangement);
  const clock = new Clock(arrangement, order);
  return playedNotes(arrangement, order)
    .filter(({ note }) => !isDead(note)) // A damped stroke has no pitch to write.
    .map(({ note, at, writtenEnd, midi }) => {
      const start = clock.felt(at);
      const velocity =
        VELOCITY[note.role] + (has(note, 'accent') ? ACCENT : 0) - (isStruck(note) ? 0 : SOFTER);
      return {
        at: start,
        ticks: Math.max(1, clock.felt(writtenEnd) - start),
        midi: Math.min(127, Math.max(0, midi)),
        role: note.role,
        velocity,
      };
    });
}
