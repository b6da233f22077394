/** Findings about the plucking hand. */
import { type PluckMoment, pluckMoments } from '../fingering';
import { stringName } from '../instrument';
import {
  type Arrangement,
  PLUCK_NAMES,
  type Pluck,
  type ScoreChord,
  scoreChordAt,
  settingsOf,
} from '../score';
import { isCompound } from '../time';

/** What is wrong or doubtful about how a moment is plucked. */
export interface PluckFault {
  severity: 'warning' | 'advice';
  measure: number;
  start: number;
  notes: string[];
  message: string;
}

/** Seconds within which one finger, or a pick in one direction, hardly strikes twice. Judgement. */
const TOO_FAST = { finger: 0.14, pick: 0.09 };

const NAMES: Record<Pluck, string> = {
  ...PLUCK_NAMES,
  down: 'the pick, downwards,',
  up: 'the pick, upwards,',
};
const DIGITS: readonly Pluck[] = ['p', 'i', 'm', 'a'];
const isPick = (pluck: Pluck | undefined) => pluck === 'down' || pluck === 'up';

/**
 * Checks the plucking of an arrangement: a finger that crosses over another, a pick that would have to leap over
 * strings in one stroke, and, at this tempo, the same finger twice running in haste. Each kind is told once a measure.
 *
 * @param range only these measures, by place (both included)
 */
export function pluckFaults(
  arrangement: Arrangement,
  { from, to }: { from: number; to: number } = { from: 0, to: arrangement.measures.length - 1 },
): PluckFault[] {
  const { measures, quartersPerMinute, setup } = arrangement;
  const settings = settingsOf(arrangement);
  // What is struck before the first of them counts too: it may be the same finger in haste.
  const first = Math.max(0, from - 1);
  const moments = pluckMoments(measures.slice(first, to + 1), settings, quartersPerMinute).map(moment => ({
    ...moment,
    measure: moment.measure + first,
  }));
  const faults: PluckFault[] = [];
  const told = new Set<string>();
  const report = (moment: PluckMoment, kind: string, severity: PluckFault['severity'], message: string) => {
    const key = `${moment.measure} ${kind}`;
    if (told.has(key)) return;
    told.add(key);
    const { measure, notes } = moment;
    faults.push({ severity, measure, start: notes[0]!.start, notes: notes.map(n => n.id), message });
  };
  for (const [i, moment] of moments.entries()) {
    if (moment.measure < from) continue;
    const crossing = crossed(moment);
    if (crossing)
      report(
        moment,
        'crossing',
        'warning',
        `${NAMES[crossing[0]]} on a thinner string than ${NAMES[crossing[1]]}: they cross`,
      );
    const held = scoreChordAt(arrangement, moment.measure, moment.notes[0]!.start);
    const leap = leapt(moment, held?.frets);
    if (leap)
      report(
        moment,
        'leap',
        'warning',
        `one stroke of a pick can't take ${stringName(setup, leap[0])} and ${stringName(setup, leap[1])} without what lies between`,
      );
    const before = moments[i - 1];
    if (!before) continue;
    const grouped = settings.jig === 'group' && isCompound(measures[moment.measure]!.meter);
    const again = hasty(before, moment, grouped);
    if (again)
      report(
        moment,
        `again ${again}`,
        'advice',
        `${NAMES[again]} ${isPick(again) ? 'strikes' : 'plucks'} twice running, ${moment.seconds.toFixed(2)} s apart: too fast at this tempo`,
      );
  }
  return faults;
}

/** A finger on a thinner string than one further from the thumb. */
function crossed({ notes }: PluckMoment): [Pluck, Pluck] | undefined {
  for (const thin of notes)
    for (const thick of notes) {
      if (thin.string >= thick.string || !thin.pluck || !thick.pluck) continue;
      const [a, b] = [DIGITS.indexOf(thin.pluck), DIGITS.indexOf(thick.pluck)];
      if (a >= 0 && b >= 0 && a < b) return [thin.pluck, thick.pluck];
    }
  return undefined;
}

/** Strings of one pick stroke between which another lies that the shape does not silence: under a finger that damps it the pick goes on. */
function leapt({ notes }: PluckMoment, frets: ScoreChord['frets']): [number, number] | undefined {
  const picked = notes.filter(note => isPick(note.pluck)).map(note => note.string);
  const isSilent = (string: number) => frets?.[string - 1] === null;
  for (let i = 1; i < picked.length; i++) {
    const [thin, thick] = [picked[i - 1]!, picked[i]!];
    const between = Array.from({ length: Math.max(0, thick - thin - 1) }, (_, k) => thin + 1 + k);
    if (!between.every(isSilent)) return [thick, thin];
  }
  return undefined;
}

/** What strikes in both of two moments. The strokes of a jig go down twice running by custom. */
function hasty(before: PluckMoment, after: PluckMoment, grouped: boolean): Pluck | undefined {
  return after.notes
    .map(note => note.pluck!)
    .filter(pluck => after.seconds < (isPick(pluck) ? TOO_FAST.pick : TOO_FAST.finger))
    .find(pluck => before.notes.some(n => n.pluck === pluck) && !(grouped && pluck === 'down'));
}
