import { pitchName, spellMidi } from '#core/pitch';

/** Notes that a voice may reach, C2 to C6, by their MIDI numbers. */
export const PITCH_CHOICES = Array.from({ length: 49 }, (_, i) => 36 + i).map(midi => ({
  value: String(midi),
  label: pitchName(spellMidi(midi, 0), true),
}));
/** A range to begin with where only that there is one is said: A3 to D5. */
export const USUAL_RANGE = { low: 57, high: 74 };
