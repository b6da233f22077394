/** Slurs of the source become hammer-ons, pull-offs and slides, where they stay on one string. */
import type { Into, ScoreMeasure, ScoreNote } from '../score';
import { measureNumbers } from '../tune';

/** Frets that a hammer-on reaches over from a stopped note; further a slide goes. Judgement. */
const HAMMER_REACH = 4;

/** How the fretting hand gets from one note to the next on its string; undefined where it must be plucked. */
function intoOf(before: ScoreNote, note: ScoreNote): Into | undefined {
  if (before.string !== note.string || before.fret === note.fret) return undefined;
  const far = Math.abs(note.fret - before.fret) > HAMMER_REACH;
  if (far && before.fret && note.fret) return 'slide';
  return note.fret > before.fret ? 'hammer' : 'pull';
}

/**
 * Has the fretting hand sound the slurred notes of the melody: only the first of a slur is plucked (common practice).
 * Where a slur goes over to another string its note is plucked anew.
 *
 * @returns where that is so, in words
 */
export function slurOnStrings(measures: readonly ScoreMeasure[]): string[] {
  const numbers = measureNumbers(measures);
  const across = new Set<number>();
  let slurs = 0;
  let before: { note: ScoreNote; end: number } | undefined;
  let at = 0;
  for (const [index, measure] of measures.entries()) {
    const melody = measure.notes.filter(n => n.voice === 'melody').sort((a, b) => a.start - b.start);
    for (const note of melody) {
      const follows = before !== undefined && before.end === at + note.start;
      if (slurs > 0 && follows && !note.tied && !note.pinned && !note.graces) {
        const into = intoOf(before!.note, note);
        if (into) note.into = into;
        else if (before!.note.string !== note.string) across.add(numbers[index]!);
      }
      slurs = Math.max(0, slurs - (note.slurEnds ?? 0)) + (note.slurStarts ?? 0);
      before = { note, end: at + note.start + note.ticks };
    }
    at += measure.ticks;
  }
  if (!across.size) return [];
  return [
    `A slur of the source goes over to another string in measure ${[...across].join(', ')}: the note there is plucked.`,
  ];
}
