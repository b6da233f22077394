/** The melody as it is struck: its ties joined, at the octave that is played, with the places it can have. */
import type { KeyPlan, Laying } from '../../capo';
import type { Finger } from '../../hand';
import { isOpenTo, type Place, type Setup } from '../../instrument';
import { midiOf, pitchClassOf } from '../../pitch';
import { type ArrangeSettings, has, noteMidi, type ScoreNote } from '../../score';
import { type MelodyNote, melodyNotes, type Tune } from '../../tune';
import { isSlow } from '../texture/texture';
import { melodyPlaces } from './candidates';

/** A melody note with all its tied parts. */
export interface Struck {
  parts: MelodyNote[];
  midi: number;
  at: number;
  end: number;
  places: Place[];
  /** Whether it must stay where it is. */
  fixed: boolean;
  /** Pitches (MIDI) that the source strikes with it. */
  stops: readonly number[];
  /** Slurred to from the note before. */
  slurred: boolean;
  /** Finger that a hand has pinned. */
  finger?: Finger;
  /** Played as a natural harmonic, as a hand has set it. */
  harmonic?: boolean;
}

/**
 * How settings ask for the melody to be laid. Where they ask for nothing, a beginner's lies in first position, and a slow
 * one across the strings of a tuning that is open to its key (common practice).
 */
export function layingOf(
  { ringing, high }: ArrangeSettings,
  tune: Tune,
  setup: Setup,
  beginner: boolean,
): Laying {
  if (ringing) return 'ringing';
  if (high) return 'high';
  if (beginner) return 'first-position';
  const across = ringing === undefined && isSlow(tune) && isOpenTo(setup, pitchClassOf(tune.key.tonic));
  return across ? 'across' : 'low';
}

/** Melody notes with their ties joined, at the octave of the plan. */
export function struckNotes(
  tune: Tune,
  plan: KeyPlan,
  kept: ReadonlyMap<string, ScoreNote>,
  laying: Laying,
): Struck[] {
  const struck: Struck[] = [];
  const keptPlace = (note: MelodyNote, midi: number): ScoreNote | undefined => {
    const { start } = tune.measures[note.measure]!.events[note.event]!;
    const stays = kept.get(`${note.measure}:${start}`);
    return stays && noteMidi(plan.setup, stays) === midi ? stays : undefined;
  };
  let slurs = 0;
  for (const note of melodyNotes(tune)) {
    const midi = note.midi + plan.octaveShift;
    const { slurStarts = 0, slurEnds = 0, lower = [] } = tune.measures[note.measure]!.events[note.event]!;
    const slurred = slurs > 0;
    slurs = Math.max(0, slurs - slurEnds) + slurStarts;
    const place = keptPlace(note, midi);
    const fixed = place && {
      places: [{ string: place.string, fret: place.fret }],
      ...(place.finger && (!place.pinned || place.fingerPinned) && { finger: place.finger }),
      ...(has(place, 'harmonic') && { harmonic: true }),
    };
    const last = struck[struck.length - 1];
    if (note.tied && last) {
      // A tie into a measure that stays must begin on the string where it goes on.
      if (!last.fixed && fixed) Object.assign(last, fixed, { fixed: true });
      last.parts.push(note);
      last.end = note.at + note.ticks;
      continue;
    }
    struck.push({
      places: melodyPlaces(plan.setup, midi, laying),
      ...fixed,
      fixed: fixed !== undefined,
      stops: lower.map(pitch => midiOf(pitch) + plan.octaveShift),
      slurred,
      parts: [note],
      midi,
      at: note.at,
      end: note.at + note.ticks,
    });
  }
  return struck;
}
