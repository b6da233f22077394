/** A second voice to a melody: in thirds and sixths, as singers find it by ear. */
import { chordClasses, parseChord } from '../chord';
import { bestPath } from '../path';
import { keyFifths, midiOf, mod12, type Pitch, scaleOf, spellMidi } from '../pitch';
import { pulseTicks } from '../time';
import { chordSpans, measureStarts, melodyNotes } from './melody';
import type { Tune } from './model';

export const VOICE_PLACES = ['below', 'above'] as const;
export type VoicePlace = (typeof VOICE_PLACES)[number];

/**
 * What an interval to the melody costs, by its semitones: thirds are at home, sixths nearly so; fourths, fifths and the
 * octave do where the chord asks for them. Common practice, no source; the numbers are judgement.
 */
const INTERVALS: Readonly<Record<number, number>> = { 3: 0, 4: 0, 8: 0.6, 9: 0.6, 5: 1.5, 7: 1.5, 12: 2.2 };
/** A note foreign to the chord, where it begins with a beat and elsewhere. */
const FOREIGN = { beat: 1.6, off: 0.3 };
/** Semitones that are sung without thinking; each more costs so much. */
const STEP = 4;
const LEAP = 0.3;
/** Fifths and octaves in parallel to the melody, and another interval than before. */
const PARALLEL = 2.5;
const OTHER_INTERVAL = 0.25;
/** A tied note that would change its pitch. */
const TORN = 50;
/** A raised or lowered note outside the key, such as the leading note of a dominant. */
const OUTSIDE = 0.8;

const PERFECT = [7, 12];

/**
 * The second voice of a tune, by the id of the melody's event; a note that is tied to goes on in the same pitch.
 *
 * @param place whether it lies under or over the melody
 * @returns empty for a tune without a melody
 * @example secondVoice(tune, 'below').size // 9
 */
export function secondVoice(tune: Pick<Tune, 'measures'>, place: VoicePlace): Map<string, Pitch> {
  const starts = measureStarts(tune.measures);
  const spans = chordSpans(tune);
  const notes = melodyNotes(tune).map(note => {
    const measure = tune.measures[note.measure]!;
    const span = spans.find(({ at, ticks }) => at <= note.at && note.at < at + ticks);
    const chord = span && parseChord(span.symbol);
    const inMeasure = note.at - starts[note.measure]! + measure.offset;
    return {
      ...note,
      event: measure.events[note.event]!,
      key: measure.key,
      chord: chord ? chordClasses(chord) : undefined,
      onBeat: inMeasure % pulseTicks(measure.meter) === 0,
    };
  });
  const sign = place === 'below' ? -1 : 1;
  const layers = notes.map(({ midi, key, chord }) => {
    const classes = new Set([...scaleOf(key), ...(chord ?? [])]);
    return Object.keys(INTERVALS)
      .map(semitones => midi + sign * Number(semitones))
      .filter(own => classes.has(mod12(own)));
  });
  const cost = (own: number, i: number) => {
    const { midi, key, chord, onBeat } = notes[i]!;
    const foreign = chord && !chord.includes(mod12(own)) ? (onBeat ? FOREIGN.beat : FOREIGN.off) : 0;
    const outside = scaleOf(key).includes(mod12(own)) ? 0 : OUTSIDE;
    return INTERVALS[Math.abs(own - midi)]! + foreign + outside;
  };
  const move = (from: number, to: number, i: number) => {
    const [before, now] = [notes[i - 1]!, notes[i]!];
    if (now.tied) return from === to ? 0 : TORN;
    const [was, is] = [Math.abs(from - before.midi), Math.abs(to - now.midi)];
    const moves = now.midi !== before.midi;
    const parallel = moves && was === is && PERFECT.includes(is) ? PARALLEL : 0;
    const leap = LEAP * Math.max(0, Math.abs(to - from) - STEP);
    const sameKind = Math.floor(was / 5) === Math.floor(is / 5);
    return parallel + leap + (sameKind ? 0 : OTHER_INTERVAL);
  };
  const found = bestPath(layers, cost, move);
  if (!found) return new Map();
  return new Map(
    notes.map(({ event, key }, i) => [event.id, spellMidi(layers[i]![found.path[i]!]!, keyFifths(key))]),
  );
}

/**
 * A tune whose melody has a second voice struck with it: on the stave, in sound and as a part to be put into an
 * arrangement it is what a double stop of the source is.
 *
 * @example withSecondVoice(tune, 'below').measures[0].events[0].lower.length // 1
 */
export function withSecondVoice(tune: Tune, place: VoicePlace): Tune {
  const voice = secondVoice(tune, place);
  return {
    ...tune,
    measures: tune.measures.map(measure => ({
      ...measure,
      events: measure.events.map(event => {
        const second = voice.get(event.id);
        if (!second || !event.pitch) return event;
        const [low, high] = [event.pitch, second].sort((a, b) => midiOf(a) - midiOf(b));
        return { ...event, pitch: high!, lower: [low!] };
      }),
    })),
  };
}
