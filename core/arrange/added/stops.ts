/** Double stops that the source has: kept under their melody note where a string and a finger are free for them. */
import { gripsFor, type Hand } from '../../hand';
import { noteAt, type Place, placesOf, type Setup } from '../../instrument';
import { keyFifths, midiOf, pitchName, spellMidi } from '../../pitch';
import { dutiesOfNotes, type LedgerDraft, type ScoreMeasure, type ScoreNote, soundingAt } from '../../score';
import type { Tune } from '../../tune';
import { neighbours } from '../search/candidates';
import { freeFinger } from './addNote';

/** What became of the double stops of a source. */
export interface Stops {
  notes: ScoreNote[];
  ledger: LedgerDraft[];
}

/**
 * Puts the notes that a source strikes with its melody into the measures, the nearest to the melody first. Nothing that
 * lies there is touched or cut.
 *
 * @param octaveShift semitones by which the tune is played from where it is written
 * @param oneStroke a pick takes all that is struck at once, so the strings must be neighbours
 * @returns the notes, and what could not be kept
 */
export function keepDoubleStops(
  measures: readonly ScoreMeasure[],
  tune: Pick<Tune, 'measures'>,
  setup: Setup,
  hand: Hand,
  { octaveShift, oneStroke }: { octaveShift: number; oneStroke: boolean },
): Stops {
  const notes: ScoreNote[] = [];
  const lost = new Map<string, Set<number>>();
  for (const [index, { events }] of tune.measures.entries()) {
    const measure = measures[index]!;
    for (const event of events) {
      const melody = measure.notes.find(n => n.role === 'melody' && n.from === event.id);
      if (!melody || !event.lower?.length) continue;
      for (const pitch of event.lower.toReversed()) {
        const midi = midiOf(pitch) + octaveShift;
        const together = measure.notes.filter(n => n.start === event.start);
        if (together.some(n => noteAt(setup, n.string, n.fret) === midi)) continue;
        const stop = placesOf(setup, midi)
          .map(place => stopAt(measure, setup, hand, melody, place))
          .filter(found => found !== undefined)
          .filter(({ note }) => !oneStroke || neighbours([...together, note]))
          .sort((a, b) => a.cost - b.cost)[0]?.note;
        if (stop) {
          measure.notes.push(stop);
          notes.push(stop);
          continue;
        }
        const name = pitchName(spellMidi(midi, keyFifths(measure.key)), true);
        const text = `${name}, which the source strikes with its melody, is left out: no string or finger is free for it`;
        lost.set(text, (lost.get(text) ?? new Set()).add(index));
      }
    }
    measure.notes.sort((a, b) => a.start - b.start || a.string - b.string);
  }
  return { notes, ledger: [...lost].map(([text, set]) => ({ measures: [...set], text })) };
}

/** A note of a double stop in a place, as long as its melody note or until the hand is needed elsewhere. */
function stopAt(
  measure: ScoreMeasure,
  setup: Setup,
  hand: Hand,
  { start, ticks, tuplets }: ScoreNote,
  place: Place,
): { note: ScoreNote; cost: number } | undefined {
  const note: ScoreNote = { id: '', role: 'inner', start, ticks, ...place, ...(tuplets && { tuplets }) };
  const sounding = soundingAt(measure, start);
  if (sounding.some(n => n.string === place.string)) return undefined;
  const held = freeFinger(setup, hand, [...sounding, note], note);
  if (!held) return undefined;
  if (held.finger) note.finger = held.finger;
  const later = measure.notes.map(n => n.start).filter(at => at > start && at < start + ticks);
  const stops = later.find(at => {
    const then = soundingAt(measure, at);
    return then.some(n => n.string === place.string) || !canHold(setup, hand, [...then, note]);
  });
  // Inside a tuplet no other length can be written.
  if (stops !== undefined && tuplets) return undefined;
  if (stops !== undefined) note.ticks = stops - start;
  return { note, cost: held.cost };
}

/** Whether these notes can be held together with the fingers that they have. */
function canHold(setup: Setup, hand: Hand, notes: readonly ScoreNote[]): boolean {
  const fixed = new Map(notes.flatMap(n => (n.finger && n.fret ? [[n.string, n.finger] as const] : [])));
  return gripsFor(setup, hand, dutiesOfNotes(setup, notes), fixed).length > 0;
}
