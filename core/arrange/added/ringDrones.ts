/** Open strings that ring between bass and melody, in a tuning that is open to the key. */
import { parseChord } from '../../chord';
import type { Hand } from '../../hand';
import { noteAt, type Setup } from '../../instrument';
import { mod12 } from '../../pitch';
import { type ScoreMeasure, type ScoreNote, soundingAt } from '../../score';
import { dronesUnder, rubs } from '../search/drones';
import { added, shapeAt } from './addNote';

/**
 * Lets an open string ring between bass and melody on the first beat of each measure, where both are struck and it
 * sounds what they do not.
 *
 * @param most strings that can be struck together
 * @returns the notes that were added
 */
export function ringDrones(
  measures: readonly ScoreMeasure[],
  setup: Setup,
  hand: Hand,
  most: number,
): ScoreNote[] {
  const made: ScoreNote[] = [];
  for (const [index, measure] of measures.entries()) {
    const chord = shapeAt(measures, index, 0);
    const parsed = measure.offset === 0 && chord && parseChord(chord.sounding);
    if (!parsed) continue;
    const struck = measure.notes.filter(note => note.start === 0 && !note.tie);
    const melody = struck.find(note => note.role === 'melody');
    const bass = struck.find(note => note.role === 'bass');
    if (!melody || !bass || struck.length >= most) continue;
    const heard = soundingAt(measure, 0).map(note => mod12(noteAt(setup, note.string, note.fret)));
    const between = dronesUnder(setup, measure.key, parsed)
      .filter(string => melody.string < string && string < bass.string)
      .map(string => ({ string, own: mod12(noteAt(setup, string, 0)) }))
      .filter(({ own }) => !heard.some(other => other === own || rubs(other, own)));
    for (const { string } of between) {
      const drone = added(measure, setup, hand, 0, { string, fret: 0, role: 'inner' });
      if (!drone) continue;
      measure.notes.push(drone.note);
      made.push(drone.note);
      break;
    }
    measure.notes.sort((a, b) => a.start - b.start || a.string - b.string);
  }
  return made;
}
