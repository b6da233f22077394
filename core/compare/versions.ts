/** What became of an arrangement between two of its states. */
import type { Arrangement } from '../score';
import { beatsPerMinute } from '../time';
import { measureNumbers, measureSpan } from '../tune';
import { capital } from '../words';
import { differencesOf } from './differences';

/** One line of what changed. */
export interface VersionChange {
  /** Id of the measure that it is about, where one is. */
  measure?: string;
  /** "Measure 4, beat 2: fret 5 on string 2 instead of fret 3". */
  text: string;
}

/**
 * What differs now from an earlier state, measure by measure; measures are told apart by their ids, numbers are those of
 * now, and of then where a measure is gone.
 *
 * @example changesSince(arrangement, arrangement) // []
 */
export function changesSince(before: Arrangement, now: Arrangement): VersionChange[] {
  const changes: VersionChange[] = [];
  const tempo = ({ measures, quartersPerMinute }: Arrangement) =>
    Math.round(beatsPerMinute(measures[0]!.meter, quartersPerMinute));
  if (tempo(before) !== tempo(now)) changes.push({ text: `Tempo ${tempo(now)} instead of ${tempo(before)}` });
  if (before.setup.capo !== now.setup.capo)
    changes.push({
      text: `${now.setup.capo ? `Capo ${now.setup.capo}` : 'No capo'} instead of ${before.setup.capo ? `capo ${before.setup.capo}` : 'none'}`,
    });
  if (before.setup.tuning.join(' ') !== now.setup.tuning.join(' '))
    changes.push({ text: `Tuned ${[...now.setup.tuning].reverse().join(' ')}` });
  const known = new Map(before.measures.map(measure => [measure.id, measure]));
  const [wasNumbers, numbers] = [measureNumbers(before.measures), measureNumbers(now.measures)];
  for (const [index, measure] of now.measures.entries()) {
    const was = known.get(measure.id);
    known.delete(measure.id);
    const where = capital(measureSpan(numbers, index, index));
    if (!was) changes.push({ measure: measure.id, text: `${where} is new` });
    else if (was !== measure) {
      const texts = differencesOf(now.setup, was, measure).map(({ text }) => text);
      if (was.section?.name !== measure.section?.name)
        texts.push(measure.section ? `section ${measure.section.name}` : 'no section begins here');
      if (JSON.stringify(was.remarks) !== JSON.stringify(measure.remarks)) texts.push('its remarks');
      if (texts.length) changes.push({ measure: measure.id, text: `${where}, ${texts.join('; ')}` });
    }
  }
  for (const [index, measure] of before.measures.entries())
    if (known.has(measure.id))
      changes.push({ text: `What was ${measureSpan(wasNumbers, index, index)} is taken out` });
  return changes;
}
