import { fingerPassage, type PassageMoment } from '../fingering';
import { ticksToSeconds } from '../time';
import { measureStarts } from '../tune';
import { change, type History } from './edit';
import { soundingAt } from './grip';
import { type Arrangement, type Moment, momentsOf, type ScoreNote } from './model';

/** The moments of a run of measures as a passage, each with its notes. */
export function passageOf(
  arrangement: Pick<Arrangement, 'measures' | 'quartersPerMinute'>,
  range: { from: number; to: number },
): { moments: PassageMoment[]; notes: ScoreNote[][]; places: Moment[] } {
  const starts = measureStarts(arrangement.measures);
  const places: (Moment & { at: number })[] = [];
  for (let index = range.from; index <= range.to; index++)
    for (const moment of momentsOf(arrangement.measures[index]!, index))
      places.push({ ...moment, at: starts[index]! + moment.start });
  const notes = places.map(place => soundingAt(arrangement.measures[place.measure]!, place.start));
  const moments = places.map((place, i): PassageMoment => {
    const next = places[i + 1]?.at ?? starts[range.to + 1]!;
    return {
      seconds: ticksToSeconds(next - place.at, arrangement.quartersPerMinute),
      notes: notes[i]!.map(note => ({
        string: note.string,
        fret: note.fret,
        held: i > 0 && (note.start < place.start || note.tied === true),
        ...(note.pinned && note.finger && { pinned: note.finger }),
      })),
    };
  });
  return { moments, notes, places };
}

/**
 * Fingers a run of measures anew: strings and frets stay, and so do fingers of pinned notes.
 *
 * @param goal least effort in all, or first of all the easiest hardest change
 */
export function refinger(
  history: History,
  range: { from: number; to: number },
  goal: 'total' | 'worst' = 'total',
): History | { error: string } {
  const { setup, hand } = history.present;
  const { moments, notes } = passageOf(history.present, range);
  const found = fingerPassage(setup, hand, moments, goal);
  if (!found) return { error: 'a moment in these measures can not be held as it stands: see the findings' };
  const fingers = new Map<string, number | undefined>();
  for (const [i, group] of notes.entries())
    for (const [j, note] of group.entries()) fingers.set(note.id, found.fingers[i]![j]);
  return change(history, 'fingered anew', draft => {
    for (let index = range.from; index <= range.to; index++) {
      for (const note of draft.measures[index]!.notes) {
        if (note.pinned || !fingers.has(note.id)) continue;
        const finger = fingers.get(note.id);
        if (finger === undefined) delete note.finger;
        else note.finger = finger as 1;
      }
    }
  });
}
