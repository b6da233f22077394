/** A part: notes by their pitch, whoever plays them. */
import { midiOf } from '../pitch';
import { type Arrangement, isDead, noteMidi, type Role } from '../score';
import type { NoteTuplet } from '../time';
import { type Tune, type TuneEvent, voiceNames } from '../tune';

export interface PartNote {
  /** Ticks from the start of its measure. */
  start: number;
  ticks: number;
  midi: number;
  tuplets?: NoteTuplet[];
  /** It sounds on from the note before. */
  tie?: boolean;
}

/** One voice, measure by measure. */
export interface Part {
  /** "the second voice", "Lantern Waltz". */
  name: string;
  measures: { ticks: number; notes: PartNote[] }[];
}

/** Notes of a voice, double stops too. */
function notesOf(events: readonly TuneEvent[], semitones: number): PartNote[] {
  return events.flatMap(({ start, ticks, pitch, lower = [], tuplets }) =>
    pitch
      ? [...lower, pitch].map(own => ({
          start,
          ticks,
          midi: midiOf(own) + semitones,
          ...(tuplets && { tuplets }),
        }))
      : [],
  );
}

/**
 * A voice of a tune: its melody (0), or one of its further voices (from 1), moved by so many semitones.
 *
 * @example partOfTune(tune, 0).measures[0].notes.length // as many as the melody has there
 */
export function partOfTune(tune: Tune, voice: number, semitones = 0): Part {
  return {
    name: voice === 0 ? tune.title : `${tune.title}, ${voiceNames(tune)[voice - 1] ?? `voice ${voice + 1}`}`,
    measures: tune.measures.map(({ ticks, events, others = [] }) => ({
      ticks,
      notes: notesOf(voice === 0 ? events : (others[voice - 1]?.events ?? []), semitones),
    })),
  };
}

/**
 * The notes that the source strikes with its melody, moved by so many semitones.
 *
 * @example doubleStopsOf(tune).measures.every(measure => !measure.notes.length) // true where there are none
 */
export function doubleStopsOf(tune: Tune, semitones = 0): Part {
  return {
    name: 'the source’s double stops',
    measures: tune.measures.map(({ ticks, events }) => ({
      ticks,
      notes: events.flatMap(({ start, ticks: length, lower = [], tuplets }) =>
        lower.map(pitch => ({
          start,
          ticks: length,
          midi: midiOf(pitch) + semitones,
          ...(tuplets && { tuplets }),
        })),
      ),
    })),
  };
}

/**
 * What an arrangement plays, or one role of it.
 *
 * @example partOfArrangement(arrangement, 'melody').name // its title
 */
export function partOfArrangement(arrangement: Arrangement, role?: Role): Part {
  const { title, name, setup, measures } = arrangement;
  return {
    name: name ?? title,
    measures: measures.map(({ ticks, notes }) => ({
      ticks,
      notes: notes
        .filter(note => !isDead(note) && (!role || note.role === role))
        .map(note => ({
          start: note.start,
          ticks: note.ticks,
          midi: noteMidi(setup, note),
          ...(note.tuplets && { tuplets: note.tuplets }),
          ...(note.tie !== undefined && { tie: true }),
        })),
    })),
  };
}
