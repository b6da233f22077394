/** Hand states become notes. */
import { fretOfNote, type Setup } from '../instrument';
import { midiOf } from '../pitch';
import type { ScoreMeasure, ScoreNote } from '../score';
import { TICKS_PER_WHOLE } from '../time';
import { measureNumbers, measureStarts, type Tune } from '../tune';
import type { HandState } from './candidates';
import type { CompanionOnset } from './companions';
import type { Layer } from './layers';

/** Writes the chosen hand states down as notes; tells for which onset each accompanying note was made. */
export function placeNotes(
  tune: Tune,
  setup: Setup,
  layers: Layer[],
  chosen: HandState[],
  measures: ScoreMeasure[],
  ledger: string[],
): Map<ScoreNote, CompanionOnset> {
  const origin = new Map<ScoreNote, CompanionOnset>();
  const starts = measureStarts(tune.measures);
  const numbers = measureNumbers(tune.measures);
  const measureAt = (tick: number) => {
    let index = 0;
    while (index + 1 < tune.measures.length && starts[index + 1]! <= tick) index += 1;
    return index;
  };
  for (const [index, layer] of layers.entries()) {
    const state = chosen[index]!;
    if (layer.melody && !layer.melodyHeld && state.melody) {
      const { string, fret } = state.melody;
      const finger = state.fingers[string - 1];
      for (const [part, note] of layer.melody.parts.entries()) {
        const event = tune.measures[note.measure]!.events[note.event]!;
        const written: ScoreNote = {
          id: '',
          voice: 'melody',
          start: event.start,
          ticks: event.ticks,
          string,
          fret,
        };
        if (finger) written.finger = finger;
        if (layer.melody.harmonic) written.harmonic = true;
        if (part > 0) written.tied = true;
        if (event.tuplet) written.tuplet = event.tuplet;
        if (event.slurStarts) written.slurStarts = event.slurStarts;
        if (event.slurEnds) written.slurEnds = event.slurEnds;
        if (part === 0 && event.graces) {
          const frets = event.graces.map(
            pitch => fretOfNote(setup, string, midiOf(pitch) + layer.melody!.midi - note.midi) ?? -1,
          );
          const playable = frets.filter(f => f >= 0 && Math.abs(f - fret) <= 4);
          if (playable.length) written.graces = playable;
          if (playable.length < frets.length) {
            ledger.push(
              `Measure ${numbers[note.measure]}: a grace note is left out, it can't be reached on the melody's string.`,
            );
          }
        }
        measures[note.measure]!.notes.push(written);
      }
    }
    const { onset } = layer;
    const places = state.companion?.places;
    if (!onset || layer.companionHeld) continue;
    if (!places?.length) {
      if (onset.accented && tune.measures.length) {
        ledger.push(
          `Measure ${numbers[measureAt(layer.at)]}: no bass under the melody at a ${onset.chord.symbol} chord, none lies under the hand there.`,
        );
      }
      continue;
    }
    let end = onset.end;
    for (let later = index + 1; later < layers.length && layers[later]!.at < onset.end; later++) {
      if (layers[later]!.companionHeld && !chosen[later]!.companion) {
        end = layers[later]!.at;
        break;
      }
    }
    const measure = measureAt(layer.at);
    const grid = TICKS_PER_WHOLE / 64;
    const ticks = Math.max(grid, Math.floor((end - layer.at) / grid) * grid);
    for (const [i, place] of places.entries()) {
      const lowest = i === places.length - 1;
      const written: ScoreNote = {
        id: '',
        voice: lowest ? 'bass' : 'inner',
        start: layer.at - starts[measure]!,
        ticks: Math.min(ticks, end - layer.at),
        string: place.string,
        fret: place.fret,
      };
      const finger = state.fingers[place.string - 1];
      if (finger) written.finger = finger;
      measures[measure]!.notes.push(written);
      origin.set(written, onset);
    }
  }
  return origin;
}
