/** Other ways to finger a measure. */
import {
  type Fingering,
  fingerPassage,
  type Hold,
  holdsOf,
  type PassageMoment,
  passageOf,
} from '../fingering';
import { type Finger, fingerLabel, fingerName } from '../hand';
import { stringName } from '../instrument';
import type { Arrangement } from '../score';

/** Another way to finger a measure, with what it costs. */
export interface FingeringChoice {
  /** Fingers by the id of the note; null for open strings. */
  fingers: Readonly<Record<string, Finger | null>>;
  /** Effort over that of the easiest way. */
  cost: number;
  /** The hardest change in it and into its neighbours. */
  worst: number;
  /** Fingers that differ from the present ones, as "string 5, A fret 3: finger 3, not 4". */
  differs: string[];
}

/** Most other ways that are offered. */
const CHOICES = 4;

/**
 * Ways to finger one measure: the present one first, then others, the easiest first. Each insists on another hold at one
 * moment and is the way of least effort around it; the measures before and after keep their fingers.
 *
 * @returns empty where the measure can't be held as it stands
 */
export function fingeringChoices(arrangement: Arrangement, measure: number): FingeringChoice[] {
  const { setup, hand, measures } = arrangement;
  const range = { from: Math.max(0, measure - 1), to: Math.min(measures.length - 1, measure + 1) };
  const { moments, notes, places } = passageOf(arrangement, range);
  const withFingers = (all: boolean): PassageMoment[] =>
    moments.map((moment, i) => ({
      ...moment,
      notes: moment.notes.map((note, j) => {
        const own = notes[i]![j]!;
        const stays = (all || places[i]!.measure !== measure) && own.finger;
        return stays ? { ...note, pinned: own.finger! } : note;
      }),
    }));
  const inside = places.flatMap((place, i) => (place.measure === measure ? [i] : []));
  const ids = new Set(measures[measure]!.notes.map(note => note.id));
  const chosen = (found: Fingering) => {
    const fingers: Record<string, Finger | null> = {};
    for (const i of inside)
      for (const [j, note] of notes[i]!.entries())
        if (ids.has(note.id)) fingers[note.id] = found.fingers[i]![j] ?? null;
    return fingers;
  };
  const free = withFingers(false);
  const present = fingerPassage(setup, hand, withFingers(true));
  const easiest = fingerPassage(setup, hand, free);
  if (!easiest) return [];
  const ways = [...(present ? [present] : []), easiest];
  for (const i of inside)
    for (const hold of holdsOf(setup, hand, free[i]!)) {
      const way = fingerPassage(setup, hand, free, 'total', (other, at) =>
        at === i && !sameHold(other, hold) ? Number.NEGATIVE_INFINITY : 0,
      );
      if (way) ways.push(way);
    }
  const seen = new Set<string>();
  const choices = ways.flatMap((way): FingeringChoice[] => {
    const fingers = chosen(way);
    const key = Object.values(fingers).join();
    if (seen.has(key)) return [];
    seen.add(key);
    const differs = measures[measure]!.notes.flatMap(note =>
      fingers[note.id] && note.fret > 0 && fingers[note.id] !== note.finger
        ? [
            `${stringName(setup, note.string)} fret ${note.fret}: ${fingerName(fingers[note.id]!)}${note.finger ? `, not ${fingerLabel(note.finger)}` : ''}`,
          ]
        : [],
    );
    return [{ fingers, cost: way.total - easiest.total, worst: way.worst, differs }];
  });
  const [first, ...others] = choices;
  others.sort((a, b) => a.cost - b.cost);
  return present ? [first!, ...others.slice(0, CHOICES)] : choices.slice(0, CHOICES);
}

function sameHold(a: Hold, b: Hold): boolean {
  return a.position === b.position && JSON.stringify(a.grip) === JSON.stringify(b.grip);
}
