/**
 * Where a finger comes to another string of its fret: it lies flat over both, or it hops and the first string falls
 * silent. In a run of single notes it hops; it lies flat where one of them is to sound on while the other is struck,
 * where the hand comes back, and where a third string follows, as under a broken chord; between the basses of a thumb that
 * alternates it hops each time, as from C to C/G (common practice).
 */
import { BAR, type Finger } from '../hand';
import { has, isDead, type ScoreMeasure, type ScoreNote } from '../score';
import { TICKS_PER_WHOLE } from '../time';

/** A note as its finger takes it; ticks on one clock. */
export interface FingerUse {
  finger: Finger;
  fret: number;
  string: number;
  at: number;
  /** End of what must sound. */
  end: number;
  bass: boolean;
}

/** Between two notes of a run at most: a quarter note. After that the finger has gone to the next string by itself. Judgement. */
const APART = TICKS_PER_WHOLE / 4;

/** Strings that a finger other than the index lies across at most. */
export const WIDEST_ROLL = 3;

/** Whether a finger would lie over two strings at once: the index always may, others do by how far they are apart, but for basses. */
const spans = (a: FingerUse, b: FingerUse) =>
  a.finger === 1 ||
  a.string === b.string ||
  (Math.abs(a.string - b.string) < WIDEST_ROLL && !(a.bass && b.bass));

/** How a note's finger takes it, from and to a tick; undefined where no finger does. */
export function fingerUse(note: ScoreNote, at: number, writtenEnd: number): FingerUse | undefined {
  const { finger, fret, string, role } = note;
  if (!finger || !fret || isDead(note)) return undefined;
  const end = has(note, 'let-ring') ? writtenEnd + TICKS_PER_WHOLE : writtenEnd;
  return { finger, fret, string, at, end, bass: role === 'bass' };
}

/**
 * Whether some finger of a measure, or from it into the next one, lies flat for its notes, whatever the chord's shape.
 *
 * @example liesFlat({ ticks: 960, notes: [] }) // false
 */
export function liesFlat(
  measure: Pick<ScoreMeasure, 'notes' | 'ticks'>,
  next?: Pick<ScoreMeasure, 'notes'>,
): boolean {
  const uses = [
    ...measure.notes.map(note => fingerUse(note, note.start, note.start + note.ticks)),
    ...(next?.notes ?? []).map(note =>
      fingerUse(note, measure.ticks + note.start, measure.ticks + note.start + note.ticks),
    ),
  ].filter(use => use && use.finger !== BAR) as FingerUse[];
  return rolled(uses.sort((a, b) => a.at - b.at)).size > 0;
}

/**
 * The uses at which a finger lies flat: it comes from another string of the same fret and stays on that one.
 *
 * Finger 1 on string 3 and then on string 2 hops; coming back to string 3 within a quarter note it has lain over both.
 *
 * @param uses in the order in which they are played
 */
export function rolled<Use extends FingerUse>(uses: readonly Use[]): Set<Use> {
  const flat = new Set<Use>();
  /** What each finger has taken at the fret where it is, in order. */
  const stays = new Map<Finger, Use[]>();
  for (const use of uses) {
    const stay = stays.get(use.finger) ?? [];
    if (stay[0]?.fret === use.fret) stay.push(use);
    else {
      for (const own of flatIn(stay)) flat.add(own);
      stays.set(use.finger, [use]);
    }
  }
  for (const stay of stays.values()) for (const own of flatIn(stay)) flat.add(own);
  return flat;
}

/** The uses of one stay at a fret at which the finger lies flat. */
function flatIn<Use extends FingerUse>(stay: readonly Use[]): Use[] {
  const flat: Use[] = [];
  let run: Use[] = [];
  /** When the finger came to the string where it is. */
  let came = 0;
  const close = () => {
    const changes = run.filter((use, i) => i > 0 && use.string !== run[i - 1]!.string);
    // One change is a hop; with a second one the hand has come back, or reaches a third string.
    if (changes.length > 1) flat.push(...changes);
    run = [];
  };
  for (const [i, use] of stay.entries()) {
    const last = run.at(-1);
    if (last && (use.at - last.at > APART || !spans(use, last))) close();
    else if (last && use.string !== last.string && use.at - came > APART) {
      close();
      run.push(last);
    }
    if (use.string !== last?.string) came = use.at;
    run.push(use);
    const sounds = stay.slice(0, i).some(other => other.string !== use.string && other.end > use.at);
    if (sounds) flat.push(use);
  }
  close();
  return flat;
}
