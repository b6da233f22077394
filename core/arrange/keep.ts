/** What stays when a part of an arrangement is made anew: measures outside the part, and what a hand has pinned. */
import { describeNote, type Setup } from '../instrument';
import { type Arrangement, noteMidi, type ScoreMeasure, type ScoreNote } from '../score';

import { measureNumbers } from '../tune';

/** What an arrangement that is made anew keeps of the present one. */
export interface Keep {
  present: Arrangement;
  /** Measures (from 0, both ends included) that are made anew; all when left out. */
  range?: { from: number; to: number };
}

/** Whether a measure is made anew. */
export function inRange(keep: Keep, measure: number): boolean {
  return !keep.range || (measure >= keep.range.from && measure <= keep.range.to);
}

/** Whether the present one's places still mean the same notes. */
function sameStrings(present: Setup, setup: Setup): boolean {
  return (
    present.capo === setup.capo &&
    present.instrument === setup.instrument &&
    present.tuning.join() === setup.tuning.join() &&
    (present.capoStrings ?? []).join() === (setup.capoStrings ?? []).join()
  );
}

/** The melody notes that must stay where they are, by "measure:start". */
export function keptMelody(keep: Keep | undefined, setup: Setup): Map<string, ScoreNote> {
  const kept = new Map<string, ScoreNote>();
  if (!keep || !sameStrings(keep.present.setup, setup)) return kept;
  for (const [index, measure] of keep.present.measures.entries())
    for (const note of measure.notes)
      if (note.voice === 'melody' && (note.pinned || !inRange(keep, index)))
        kept.set(`${index}:${note.start}`, note);
  return kept;
}

/**
 * Puts pinned notes back into the measures that are made anew; a generated note that clashes with a pinned one on its
 * string gives way.
 *
 * @returns what could not stay, and what stands in for another sound, in words
 */
export function putPinnedBack(keep: Keep, measures: readonly ScoreMeasure[], setup: Setup): string[] {
  const same = sameStrings(keep.present.setup, setup);
  const told: string[] = [];
  const numbers = measureNumbers(keep.present.measures);
  for (const [index, before] of keep.present.measures.entries()) {
    const measure = measures[index];
    if (!measure || !inRange(keep, index)) continue;
    for (const pinned of before.notes.filter(note => note.pinned)) {
      const pitch = noteMidi(keep.present.setup, pinned);
      const own = measure.notes.find(n => n.start === pinned.start && n.voice === 'melody');
      if (!same || (pinned.voice === 'melody' && own && noteMidi(setup, own) !== pitch)) {
        told.push(
          `A pinned note in measure ${numbers[index]} could not stay: the strings or the key are others now.`,
        );
        continue;
      }
      measure.notes = measure.notes.filter(
        note =>
          !(pinned.voice === 'melody' && note.voice === 'melody' && note.start === pinned.start) &&
          !(
            note.string === pinned.string &&
            note.voice !== 'melody' &&
            note.start < pinned.start + pinned.ticks &&
            pinned.start < note.start + note.ticks
          ) &&
          // A pinned bass stands for the one that was made for its moment.
          !(pinned.voice === 'bass' && note.voice === 'bass' && note.start === pinned.start),
      );
      measure.notes.push({ ...pinned });
      if (pinned.harmonic)
        told.push(`Measure ${numbers[index]}: ${describeNote(pitch)} is played as a harmonic.`);
    }
  }
  return told;
}

/** Puts exceptions of the plucking hand back, where the string they were set for is still struck at that moment. */
export function putPlucksBack(keep: Keep, measures: readonly ScoreMeasure[]): void {
  for (const [index, before] of keep.present.measures.entries())
    for (const { start, string, pluck, pluckPinned } of before.notes) {
      if (!pluckPinned || !pluck) continue;
      const note = measures[index]?.notes.find(n => n.start === start && n.string === string);
      if (note) Object.assign(note, { pluck, pluckPinned });
    }
}

/** Puts the measures outside the range back as they were. */
export function putOthersBack(keep: Keep, measures: readonly ScoreMeasure[], setup: Setup): void {
  if (!sameStrings(keep.present.setup, setup)) return;
  for (const [index, before] of keep.present.measures.entries()) {
    const measure = measures[index];
    if (!measure || inRange(keep, index)) continue;
    measure.notes = before.notes.map(note => ({ ...note }));
    measure.chords = before.chords;
  }
}
