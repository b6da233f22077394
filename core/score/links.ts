/** Links between notes: ties, slurs, and what the fretting hand sounds out of a note before on its string. */
import { type Arrangement, isDead, type ScoreMeasure, type ScoreNote } from './model';
import { dropTechniques, type Into, intoOf } from './techniques';

/** The note of a measure on a string that ends at a tick. */
function endingAt(measure: ScoreMeasure, string: number, end: number, not: string): ScoreNote | undefined {
  return measure.notes.find(n => n.string === string && n.id !== not && n.start + n.ticks === end);
}

/**
 * The note that sounds on a string up to where another begins on it. At the beginning of a measure that is a note of the
 * measure before, else (at a second ending) of the nearest one that ends so.
 */
export function noteBefore(
  arrangement: Pick<Arrangement, 'measures'>,
  measure: number,
  note: ScoreNote,
): ScoreNote | undefined {
  const { measures } = arrangement;
  if (note.start > 0) return endingAt(measures[measure]!, note.string, note.start, note.id);
  const before = measures[measure - 1];
  const own = before && endingAt(before, note.string, before.ticks, note.id);
  if (own || !measures[measure]!.ending) return own;
  for (let index = measure - 2; index >= 0; index--) {
    const found = endingAt(measures[index]!, note.string, measures[index]!.ticks, note.id);
    if (found) return found;
  }
  return undefined;
}

/** The last note before a place on a string, whether or not it sounds up to it: what can be pulled off later. */
export function lastOn(
  arrangement: Pick<Arrangement, 'measures'>,
  measure: number,
  note: ScoreNote,
): ScoreNote | undefined {
  const { measures } = arrangement;
  for (let index = measure; index >= Math.max(0, measure - 1); index--) {
    let last: ScoreNote | undefined;
    for (const other of measures[index]!.notes)
      if (
        other.string === note.string &&
        other.id !== note.id &&
        (index < measure || other.start < note.start) &&
        (!last || other.start > last.start)
      )
        last = other;
    if (last) return last;
  }
  return undefined;
}

/**
 * Why a note can't be sounded so out of another one; undefined when it can.
 *
 * @example intoFault(undefined, { string: 1, fret: 3 }, 'hammer') // 'no note sounds on its string before it'
 */
export function intoFault(
  before: Pick<ScoreNote, 'string' | 'fret' | 'techniques'> | undefined,
  note: Pick<ScoreNote, 'string' | 'fret'>,
  into: Into,
): string | undefined {
  if (!before || isDead(before)) return 'no note sounds on its string before it';
  if (before.string !== note.string) return 'the note that it comes from lies on another string';
  if (into === 'hammer' && before.fret >= note.fret) return 'a hammer-on goes to a higher fret';
  if (into === 'pull' && before.fret <= note.fret) return 'a pull-off goes to a lower fret';
  if (into === 'slide' && (!before.fret || !note.fret)) return 'an open string is no end of a slide';
  if (into === 'slide' && before.fret === note.fret) return 'a slide goes to another fret';
  return undefined;
}

/** Finds notes by id, near a measure first: links hardly ever lead far. */
function finder(measures: readonly ScoreMeasure[], near: number): (id: string) => ScoreNote | undefined {
  return id => {
    for (const index of [near, near - 1]) {
      const own = measures[index]?.notes.find(note => note.id === id);
      if (own) return own;
    }
    for (const { notes } of measures) {
      const own = notes.find(note => note.id === id);
      if (own) return own;
    }
    return undefined;
  };
}

/**
 * The ids of the notes that a note is linked to.
 *
 * @example linksOf({ tie: 'n1', techniques: [{ kind: 'hammer', from: 'n2' }] }) // ['n1', 'n2']
 */
export function linksOf(note: ScoreNote): string[] {
  const into = intoOf(note);
  return [...(note.tie !== undefined ? [note.tie] : []), ...(into ? [into.from] : []), ...(note.slurs ?? [])];
}

/**
 * Puts links right after notes came, went or moved: one that leads to no note leads to the note before on its string, or
 * where there is none is taken off. A tie stays on one place of the neck.
 *
 * @param only the measures (from 0) whose notes may need it; all when left out
 */
export function mendLinks(measures: readonly ScoreMeasure[], only?: Iterable<number>): void {
  const arrangement = { measures: measures as ScoreMeasure[] };
  for (const index of only ?? measures.keys()) {
    const find = finder(measures, index);
    for (const note of measures[index]!.notes) {
      if (note.tie !== undefined) mendTie(arrangement, index, note, find(note.tie));
      const into = intoOf(note);
      if (into) {
        const own =
          find(into.from) ?? noteBefore(arrangement, index, note) ?? lastOn(arrangement, index, note);
        if (intoFault(own, note, into.kind)) dropTechniques(note, [into.kind]);
        else if (own!.id !== into.from)
          note.techniques = note.techniques!.map(t => (t.kind === into.kind ? { ...t, from: own!.id } : t));
      }
      if (note.slurs && !note.slurs.every(find)) {
        const slurs = note.slurs.filter(find);
        if (slurs.length) note.slurs = slurs;
        else delete note.slurs;
      }
    }
  }
}

function mendTie(
  arrangement: Pick<Arrangement, 'measures'>,
  index: number,
  note: ScoreNote,
  linked: ScoreNote | undefined,
): void {
  const same = (n: ScoreNote | undefined): n is ScoreNote =>
    n !== undefined && n.string === note.string && n.fret === note.fret && n.id !== note.id && !isDead(n);
  if (same(linked)) return;
  const before = noteBefore(arrangement, index, note);
  if (same(before)) note.tie = before.id;
  else delete note.tie;
}
