/**
 * Standard MIDI File (format 1) out, as played: repeats unrolled, tempo, meter and key at the head.
 */
import { type MidiData, type MidiEvent, writeMidi as write } from 'midi-file';
import { keyFifths } from '../../pitch';
import { type Arrangement, has, isDead, isStruck, type Role } from '../../score';
import { performanceOf, type SoundEvent, semitonesAt, strokeDelay, tremoloStrokes } from '../../sound';
import { type Meter, measureTicks, TICKS_PER_QUARTER, TICKS_PER_WHOLE } from '../../time';
import { asPlayed, Clock, playedNotes, playingOrder } from '../../timeline';

/** General MIDI program 26 (counted from 1): steel-string guitar; there is none for the mandolin. */
const PROGRAM = 25;
/** An accent is louder, a note that the fretting hand sounds softer. */
const ACCENT = 24;
const SOFTER = 16;
const VELOCITY: Record<Role, number> = { melody: 96, bass: 80, inner: 68 };

/** A bend of a channel reaches so many semitones both ways (RPN 0). */
const BEND_RANGE = 12;
const BEND_LEVEL = 8191;
/** A pitch that moves is written so often a second. */
const BENDS_PER_SECOND = 50;

interface Timed {
  at: number;
  /** Ends come before beginnings at the same tick. */
  order: number;
  event: { type: string; [field: string]: unknown };
}

/**
 * An arrangement as a MIDI file: one track for the tempo, one each for melody and accompaniment, one channel a string, so
 * that a bend moves nothing else. Lengths as written.
 *
 * @example writeMidi(arrangement) // the bytes of a Standard MIDI File, "MThd" first
 */
export function writeMidi(written: Arrangement): Uint8Array {
  const { arrangement } = asPlayed(written);
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
  let before = { meter: '', key: '' };
  for (const index of order) {
    const measure = arrangement.measures[index]!;
    const { meter, key } = measure;
    // A measure that is not full, such as a pickup, has a meter of its own: bar lines stay where they are.
    const told = measure.ticks === measureTicks(meter) ? meter : (meterOfLength(measure.ticks) ?? meter);
    const now = { meter: `${told.beats}/${told.unit}`, key: `${key.tonic} ${key.mode}` };
    if (now.meter !== before.meter)
      head.push({
        at,
        order: 1,
        event: {
          type: 'timeSignature',
          numerator: told.beats,
          denominator: told.unit,
          metronome: 24,
          thirtyseconds: 8,
          meta: true,
        },
      });
    if (now.key !== before.key)
      head.push({
        at,
        order: 1,
        event: { type: 'keySignature', key: keyFifths(key), scale: key.mode === 'minor' ? 1 : 0, meta: true },
      });
    before = now;
    at += measure.ticks;
  }
  const notes = midiNotes(arrangement);
  for (const note of notes) {
    const track = note.role === 'melody' ? tracks.melody : tracks.accompaniment;
    const channel = channelOf(note.string);
    track.push(
      {
        at: note.at,
        order: 2,
        event: { type: 'noteOn', channel, noteNumber: note.midi, velocity: note.velocity },
      },
      {
        at: note.at + note.ticks,
        order: 0,
        event: { type: 'noteOff', channel, noteNumber: note.midi, velocity: 64 },
      },
      ...note.bends.map(({ at: place, semitones }) => ({
        at: place,
        order: 1,
        event: { type: 'pitchBend', channel, value: Math.round((semitones / BEND_RANGE) * BEND_LEVEL) },
      })),
    );
  }
  const name = (text: string, role: 'melody' | 'accompaniment'): Timed[] => {
    const own = notes.filter(note => (note.role === 'melody') === (role === 'melody'));
    const channels = [...new Set(own.map(note => channelOf(note.string)))].sort((a, b) => a - b);
    const bent = new Set(own.filter(note => note.bends.length).map(note => channelOf(note.string)));
    return [
      { at: 0, order: 0, event: { type: 'trackName', text, meta: true } },
      ...channels.flatMap(channel => [
        { at: 0, order: 0, event: { type: 'programChange', channel, programNumber: PROGRAM } },
        ...(bent.has(channel) ? bendRange(channel) : []),
      ]),
      ...tracks[role],
    ];
  };
  const data: MidiData = {
    header: { format: 1, numTracks: 3, ticksPerBeat: TICKS_PER_QUARTER },
    tracks: [finish(head), finish(name('Melody', 'melody')), finish(name('Accompaniment', 'accompaniment'))],
  };
  return Uint8Array.from(write(data));
}

/** The channel of a string; the tenth is the drums'. */
function channelOf(string: number): number {
  return string - 1 < 9 ? string - 1 : string;
}

/** Says how far the bends of a channel reach: registered parameter 0 (MIDI 1.0). */
function bendRange(channel: number): Timed[] {
  return [
    [101, 0],
    [100, 0],
    [6, BEND_RANGE],
    [38, 0],
  ].map(([controllerType, value]) => ({
    at: 0,
    order: 0,
    event: { type: 'controller', channel, controllerType, value },
  }));
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
  string: number;
  role: Role;
  velocity: number;
  /** Where its pitch moves to; back to none at its end. */
  bends: { at: number; semitones: number }[];
}

/**
 * The notes as played, ties joined, the feel of the piece in their places.
 *
 * @example midiNotes(arrangement)[0].midi // 60
 */
export function midiNotes(arrangement: Arrangement): MidiNote[] {
  const order = playingOrder(arrangement);
  const clock = new Clock(arrangement, order);
  const curves = new Map(
    performanceOf(arrangement, order, 100)
      .events.filter(event => event.curve)
      .map(event => [`${event.string} ${event.time.toFixed(6)} ${event.midi}`, event]),
  );
  return playedNotes(arrangement, order)
    .filter(({ note }) => !isDead(note)) // A damped stroke has no pitch to write.
    .flatMap(({ note, at, writtenEnd, midi, measure }) => {
      const delay = strokeDelay(arrangement.measures[measure]!, note);
      const perSecond = TICKS_PER_QUARTER / (clock.seconds(at + TICKS_PER_QUARTER) - clock.seconds(at));
      const start = clock.felt(at) + Math.round(delay * perSecond);
      const end = Math.max(start + 1, clock.felt(writtenEnd));
      const velocity =
        VELOCITY[note.role] + (has(note, 'accent') ? ACCENT : 0) - (isStruck(note) ? 0 : SOFTER);
      const event = curves.get(`${note.string} ${(clock.seconds(at) + delay).toFixed(6)} ${midi}`);
      const seconds = clock.seconds(writtenEnd) - clock.seconds(at);
      const own: MidiNote = {
        at: start,
        ticks: end - start,
        midi: Math.min(127, Math.max(0, midi)),
        string: note.string,
        role: note.role,
        velocity,
        bends: event ? bendsOf(event, { start, ticks: end - start }, seconds) : [],
      };
      return has(note, 'tremolo') ? inTremolo(own, tremoloStrokes(note, seconds - delay)) : [own];
    });
}

/** A note as so many that are struck one after the other, as far as its ticks allow; what bends it stays with the first. */
function inTremolo(note: MidiNote, strokes: number): MidiNote[] {
  const count = Math.min(strokes, note.ticks);
  const placeOf = (stroke: number) => note.at + Math.round((note.ticks * stroke) / count);
  return Array.from({ length: count }, (_, i) => ({
    ...note,
    at: placeOf(i),
    ticks: placeOf(i + 1) - placeOf(i),
    bends: i ? [] : note.bends,
  }));
}

/** The curve of a sound in steps over the ticks of its note, which last so many seconds; back to no bend at its end. */
function bendsOf(
  event: SoundEvent,
  { start, ticks }: { start: number; ticks: number },
  seconds: number,
): MidiNote['bends'] {
  const bends: MidiNote['bends'] = [];
  const steps = Math.min(event.end - event.time, seconds) * BENDS_PER_SECOND;
  for (let i = 0; i < steps; i++) {
    const after = i / BENDS_PER_SECOND;
    const semitones = semitonesAt(event, event.time + after);
    if (semitones !== (bends.at(-1)?.semitones ?? 0))
      bends.push({ at: start + Math.round((after / seconds) * ticks), semitones });
  }
  return bends.length ? [...bends, { at: start + ticks, semitones: 0 }] : bends;
}

/** A meter for a length that is no full measure, such as a pickup; undefined where none tells it. */
function meterOfLength(ticks: number): Meter | undefined {
  const unit = [4, 8, 16, 32].find(own => Number.isInteger((ticks * own) / TICKS_PER_WHOLE));
  return unit === undefined ? undefined : { beats: (ticks * unit) / TICKS_PER_WHOLE, unit };
}
