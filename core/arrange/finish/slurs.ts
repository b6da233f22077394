/** Slurs of the source become hammer-ons, pull-offs and slides, where they stay on one string. */
import {
  type Into,
  type LedgerDraft,
  putTechnique,
  type ScoreMeasure,
  type ScoreNote,
  UNLINKED,
} from '../../score';
import type { Tune } from '../../tune';

/** The slurs of a tune's melody, by the ids of the notes at which each begins and ends. */
export function slursOf({
  measures,
}: Pick<Tune, 'measures'>): { from: string; to: string; over: string[] }[] {
  const found: { from: string; to: string; over: string[] }[] = [];
  const open: { from: string; over: string[] }[] = [];
  for (const event of measures.flatMap(m => m.events)) {
    for (const slur of open) slur.over.push(event.id);
    for (let i = 0; i < (event.slurEnds ?? 0); i++) {
      const slur = open.pop();
      if (slur) found.push({ ...slur, to: event.id });
    }
    for (let i = 0; i < (event.slurStarts ?? 0); i++) open.push({ from: event.id, over: [] });
  }
  return found;
}

/** Draws the slurs of the source between the notes that play its notes. */
export function drawSlurs(measures: readonly ScoreMeasure[], tune: Pick<Tune, 'measures'>): void {
  const playing = new Map<string, ScoreNote>();
  for (const { notes } of measures)
    for (const note of notes) {
      delete note.slurs;
      if (note.from !== undefined && !playing.has(note.from)) playing.set(note.from, note);
    }
  for (const { from, to } of slursOf(tune)) {
    const first = playing.get(from);
    const last = playing.get(to);
    if (first && last && first !== last) first.slurs = [...(first.slurs ?? []), last.id];
  }
}

/** Frets that a hammer-on reaches over from a stopped note; further a slide goes. Judgement. */
const HAMMER_REACH = 4;

/** How the fretting hand gets from one note to the next on its string; undefined where it must be plucked. */
function intoBetween(before: ScoreNote, note: ScoreNote): Into | undefined {
  if (before.string !== note.string || before.fret === note.fret) return undefined;
  const far = Math.abs(note.fret - before.fret) > HAMMER_REACH;
  if (far && before.fret && note.fret) return 'slide';
  return note.fret > before.fret ? 'hammer' : 'pull';
}

/**
 * Has the fretting hand sound the slurred notes of the melody: only the first of a slur is plucked (common practice).
 * Where a slur goes over to another string its note is plucked anew.
 *
 * @param slurred whether a slur of the source leads into a note
 * @returns where that is so
 */
export function slurOnStrings(
  measures: readonly ScoreMeasure[],
  slurred: (note: ScoreNote) => boolean,
): LedgerDraft[] {
  const across = new Set<number>();
  let before: { note: ScoreNote; end: number } | undefined;
  let at = 0;
  for (const [index, measure] of measures.entries()) {
    const melody = measure.notes.filter(n => n.role === 'melody').sort((a, b) => a.start - b.start);
    for (const note of melody) {
      const follows = before !== undefined && before.end === at + note.start;
      if (slurred(note) && follows && !note.tie && !note.pinned && !note.graces) {
        const kind = intoBetween(before!.note, note);
        if (kind) putTechnique(note, { kind, from: UNLINKED });
        else if (before!.note.string !== note.string) across.add(index);
      }
      before = { note, end: at + note.start + note.ticks };
    }
    at += measure.ticks;
  }
  if (!across.size) return [];
  return [
    {
      measures: [...across],
      text: 'a slur of the source goes over to another string, and the note there is plucked',
    },
  ];
}
