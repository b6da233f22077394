/** Hand states become notes. */
import { bassClass, type Chord, chordLabel, transposeChord } from '../chord';
import { noteAt, type Place, type Setup } from '../instrument';
import { keyFifths, midiOf, mod12, noteName, spellClass, transposeKey } from '../pitch';
import {
  graceSpots,
  type LedgerDraft,
  type Level,
  MOST_BESIDE,
  putGraces,
  putTechnique,
  type ScoreMeasure,
  type ScoreNote,
  type Style,
  UNLINKED,
} from '../score';
import { measureStarts, type Tune } from '../tune';
import { writtenTicks } from './finish/holdOn';
import { signTechniques } from './finish/signs';
import type { HandState } from './search/candidates';
import type { Layer } from './search/layers';
import type { Weighed } from './search/weighed';
import { Told } from './told';

/** Names a passing chord over its measure. */
function addPassing(measure: ScoreMeasure, chord: Chord, start: number, setup: Setup): void {
  const fifths = keyFifths(transposeKey(measure.key, -setup.capo));
  measure.chords = [
    ...measure.chords.filter(c => c.start !== start),
    {
      id: '',
      start,
      shape: transposeChord(chord, -setup.capo, fifths).symbol,
      sounding: chord.symbol,
      passing: true,
    },
  ].sort((a, b) => a.start - b.start);
}

/**
 * Writes the chosen hand states down as notes; tells from which level on each accompanying note is played, when its time is
 * over (ticks from the start of its measure), and which notes have a finger that was set by hand.
 *
 * @param nextBest what else could have been there, at each moment
 * @param oneStroke a pick takes all at once: the one note that an easy level keeps is the melody's neighbour, else the bass
 */
export function placeNotes(
  tune: Tune,
  setup: Setup,
  layers: Layer[],
  chosen: HandState[],
  measures: ScoreMeasure[],
  ledger: LedgerDraft[],
  { style, oneStroke, nextBest }: { style: Style; oneStroke: boolean; nextBest: readonly Weighed[] },
): { levels: Map<ScoreNote, Level>; due: Map<ScoreNote, number>; fixed: Set<ScoreNote> } {
  const levels = new Map<ScoreNote, Level>();
  const due = new Map<ScoreNote, number>();
  const fixed = new Set<ScoreNote>();
  const told = new Told();
  const starts = measureStarts(tune.measures);
  const nameOf = (midi: number) => noteName(spellClass(mod12(midi), keyFifths(tune.key)), true);
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
          from: event.id,
          role: 'melody',
          start: event.start,
          ticks: event.ticks,
          string,
          fret,
        };
        if (finger) written.finger = finger;
        if (layer.melody.finger) fixed.add(written);
        if (layer.melody.harmonic) putTechnique(written, { kind: 'harmonic' });
        if (part > 0) written.tie = UNLINKED;
        else if (nextBest[index]!.melody) written.nextBest = nextBest[index]!.melody;
        if (event.tuplets) written.tuplets = event.tuplets;
        for (const kind of signTechniques(event)) putTechnique(written, { kind });
        if (part === 0 && event.graces) {
          const by = layer.melody.midi - note.midi;
          const { graces } = event;
          const spots = graces.flatMap(pitch => {
            const [spot] = graceSpots(setup, { string, fret }, midiOf(pitch) + by);
            return spot === undefined || (typeof spot !== 'number' && graces.length > MOST_BESIDE)
              ? []
              : [spot];
          });
          if (spots.length) putGraces(written, { frets: spots }, () => '');
          if (spots.length < graces.length)
            told.add("a grace note is left out, it can't be reached from the melody's place", note.measure);
        }
        measures[note.measure]!.notes.push(written);
      }
    }
    const { onset } = layer;
    const places = state.companion?.places;
    if (!onset || layer.companionHeld) continue;
    if (!places?.length) {
      if (onset.accented)
        told.add(
          `nothing sounds with the melody where ${chordLabel(onset.chord.symbol)} begins, none of it lies under the hand there`,
          measureAt(layer.at),
        );
      continue;
    }
    const lowestPlace = places[places.length - 1]!;
    const asked = bassClass(onset.chord);
    if (onset.accented && onset.role === 'root' && !state.companion?.doubles && style === 'fingerstyle') {
      const midi = noteAt(setup, lowestPlace.string, lowestPlace.fret);
      if (mod12(midi) !== asked)
        told.add(
          `${nameOf(midi)} stands in for the bass ${nameOf(asked)}, which is out of reach there`,
          measureAt(layer.at),
        );
    }
    const measure = measureAt(layer.at);
    /** How long a place of the companion sounds: to the end of its time, or to where the hand lets it go. */
    const ticksOf = (place: Place): number => {
      let end = onset.end;
      for (let later = index + 1; layers[later]?.companionHeld && layers[later]!.at < end; later++) {
        const stays = chosen[later]!.companion?.places.some(
          own => own.string === place.string && own.fret === place.fret,
        );
        if (!stays) end = layers[later]!.at;
      }
      // What is shorter than that is written as it is.
      return writtenTicks(end - layer.at) || end - layer.at;
    };
    const { passing } = state.companion!;
    if (passing) {
      addPassing(measures[measure]!, passing, layer.at - starts[measure]!, setup);
      told.add(`a passing ${chordLabel(passing.symbol)} leads into the next chord`, measure);
    }
    for (const [i, place] of places.entries()) {
      const lowest = i === places.length - 1 && !state.companion!.doubles;
      const written: ScoreNote = {
        id: '',
        role: lowest ? 'bass' : 'inner',
        start: layer.at - starts[measure]!,
        ticks: ticksOf(place),
        string: place.string,
        fret: place.fret,
      };
      const finger = state.fingers[place.string - 1];
      if (finger) written.finger = finger;
      const best = i === places.length - 1 ? nextBest[index]!.companion : undefined;
      // Of a thumb's bass that comes with its chord another place is of interest, not the same one with less over it.
      const other = best?.places.at(-1);
      const same = style === 'fingerstyle' && other?.string === place.string && other.fret === place.fret;
      if (best && !same) written.nextBest = best;
      measures[measure]!.notes.push(written);
      due.set(written, Math.min(measures[measure]!.ticks, onset.end - starts[measure]!));
      const kept = oneStroke && layer.melody ? 0 : places.length - 1;
      levels.set(written, onset.accented && i === kept ? 2 : 3);
    }
  }
  ledger.push(...told.lines());
  return { levels, due, fixed };
}
