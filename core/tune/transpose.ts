import { parseChord, transposeChord } from '../chord';
import { type Key, keyFifths, midiOf, mod12, type Pitch, spellMidi, transposeKey } from '../pitch';
import type { Tune, TuneEvent } from './model';

/**
 * How far a melody is heard from where it is written: a fourth up and an octave down is a fifth down. Octaves are told apart
 * where they add to what it is moved by, or are all of that.
 *
 * @param transposition semitones by which the tune is moved into its key
 * @param octaveShift and the melody on the instrument beside that: −12, 0 or 12
 * @returns semitones, and octaves beside them
 * @example melodyMove(5, -12) // { semitones: -7, octaves: 0 }
 */
export function melodyMove(
  transposition: number,
  octaveShift: number,
): { semitones: number; octaves: number } {
  const leadsBack = transposition * octaveShift < 0;
  return leadsBack
    ? { semitones: transposition + octaveShift, octaves: 0 }
    : { semitones: transposition, octaves: octaveShift / 12 };
}

/**
 * The tune moved by semitones: melody, chords and keys. The name of the new key is the one with fewest accidentals,
 * and notes are spelled in it. A whole octave keeps all names.
 *
 * @example transposeTune(tune, 2).key // { tonic: 'D', mode: 'major' }
 */
export function transposeTune(tune: Tune, semitones: number): Tune {
  if (semitones === 0) return tune;
  const move = (pitch: Pitch, key: Key): Pitch => {
    if (mod12(semitones) === 0) return { ...pitch, octave: pitch.octave + semitones / 12 };
    return spellMidi(midiOf(pitch) + semitones, keyFifths(transposeKey(key, semitones)));
  };
  const moved = (event: TuneEvent, key: Key): TuneEvent => ({
    ...event,
    ...(event.pitch && { pitch: move(event.pitch, key) }),
    ...(event.lower && { lower: event.lower.map(pitch => move(pitch, key)) }),
    ...(event.graces && { graces: event.graces.map(pitch => move(pitch, key)) }),
  });
  return {
    ...tune,
    key: transposeKey(tune.key, semitones),
    measures: tune.measures.map(measure => {
      const key = transposeKey(measure.key, semitones);
      const fifths = keyFifths(key);
      return {
        ...measure,
        key,
        events: measure.events.map(event => moved(event, measure.key)),
        ...(measure.others && {
          others: measure.others.map(voice => ({
            ...voice,
            events: voice.events.map(event => moved(event, measure.key)),
          })),
        }),
        chords: measure.chords.map(chord => {
          const parsed = parseChord(chord.symbol);
          return parsed ? { ...chord, symbol: transposeChord(parsed, semitones, fifths).symbol } : chord;
        }),
      };
    }),
  };
}
