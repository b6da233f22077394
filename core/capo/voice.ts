/** Singing voices: what range a voice is comfortable in, and how a melody lies against it. */

/** A comfortable range as MIDI notes, both ends sung. */
export interface VoiceRange {
  low: number;
  high: number;
}

/**
 * Comfortable ranges of untrained voices by type: inner parts of the usual choral ranges (from memory; voices
 * differ, so the two ends can be set by hand).
 */
export const VOICE_TYPES = {
  soprano: { name: 'Soprano', low: 60, high: 79 },
  mezzo: { name: 'Mezzo-soprano', low: 57, high: 76 },
  alto: { name: 'Alto', low: 53, high: 72 },
  tenor: { name: 'Tenor', low: 48, high: 67 },
  baritone: { name: 'Baritone', low: 45, high: 64 },
  bass: { name: 'Bass', low: 41, high: 60 },
  child: { name: 'Child', low: 60, high: 74 },
} as const satisfies Record<string, VoiceRange & { name: string }>;
export type VoiceType = keyof typeof VOICE_TYPES;

/** How a melody lies in a voice, at the octave that suits it best. */
export interface VoiceLie {
  /** Octaves the singer moves the melody by, in semitones. */
  octaveShift: number;
  low: number;
  high: number;
  /** Semitones by which it goes below and above the voice; 0 where it fits. */
  below: number;
  above: number;
}

/**
 * The octave at which a melody from `low` to `high` (MIDI) suits a voice best: people sing in their own octave.
 *
 * @example voiceLie({ low: 55, high: 72 }, 45, 57).octaveShift // 12
 */
export function voiceLie(voice: VoiceRange, low: number, high: number): VoiceLie {
  let best: VoiceLie | undefined;
  const cost = (lie: VoiceLie) =>
    100 * (lie.below + lie.above) + Math.abs(lie.low + lie.high - voice.low - voice.high);
  for (let octaveShift = -36; octaveShift <= 36; octaveShift += 12) {
    const lie: VoiceLie = {
      octaveShift,
      low: low + octaveShift,
      high: high + octaveShift,
      below: Math.max(0, voice.low - low - octaveShift),
      above: Math.max(0, high + octaveShift - voice.high),
    };
    if (!best || cost(lie) < cost(best)) best = lie;
  }
  return best!;
}
