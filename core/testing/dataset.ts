/** The chord shapes of the open dataset @tombatossals/chords-db 0.5.1 with their stored left-hand fingerings. */
import guitarShapes from '@tombatossals/chords-db/lib/guitar.json';
import {
  DEFAULT_HAND,
  type FingerPlacement,
  fingerOn,
  gripFault,
  gripsFor,
  gripTraits,
  type StringDuty,
} from '#core/hand';
import { standardSetup } from '#core/instrument';

export interface FingeringCase {
  root: string;
  /** As "Am7 x-0-2-0-1-0". */
  name: string;
  /** Frets and stored fingers, string 1 first. */
  frets: (number | null)[];
  fingers: number[];
  /** Every way our hand holds it, with its traits, and which of them is the stored one. */
  grips: FingerPlacement[][];
  traits: number[][];
  stored: number;
}

/** Roots of the half that the weights were fitted on. */
const TRAINING = new Set(['C', 'C#', 'D', 'Eb', 'E', 'F']);
export const isTraining = (c: FingeringCase) => TRAINING.has(c.root);

interface Stored {
  key: string;
  suffix: string;
  positions: { frets: number[]; fingers: number[]; baseFret: number }[];
}

/** Fingers on each string of a shape under a grip, string 1 first; 0 where none. */
export function fingersOf(frets: readonly (number | null)[], grip: readonly FingerPlacement[]): number[] {
  return frets.map((fret, i) => (fret ? (fingerOn(grip, i + 1, fret) ?? 0) : 0));
}

/** The dataset's shapes whose stored fingering a hand can take, and those that break a rule of the hand, by rule. */
export function datasetFingerings(): { cases: FingeringCase[]; broken: { name: string; rule: string }[] } {
  const setup = standardSetup('guitar');
  const { chords } = guitarShapes as unknown as { chords: Record<string, Stored[]> };
  const cases: FingeringCase[] = [];
  const broken: { name: string; rule: string }[] = [];
  for (const { key, suffix, positions } of Object.values(chords).flat()) {
    for (const position of positions) {
      const frets = position.frets
        .map(f => (f < 0 ? null : f === 0 ? 0 : f + position.baseFret - 1))
        .reverse();
      const fingers = [...position.fingers].reverse();
      const text = [...frets]
        .reverse()
        .map(f => f ?? 'x')
        .join('-');
      const name = `${key}${suffix === 'major' ? '' : suffix === 'minor' ? 'm' : suffix} ${text}`;
      const thin = frets.findIndex(f => f !== null);
      const thick = frets.findLastIndex(f => f !== null);
      const duties = frets.map(
        (f, i): StringDuty => (f === null ? (i > thin && i < thick ? 'muted' : 'free') : f),
      );
      const grips = gripsFor(setup, DEFAULT_HAND, duties);
      const stored = grips.findIndex(grip => fingersOf(frets, grip).join() === fingers.join());
      if (stored < 0)
        broken.push({
          name: `${name} fingers ${[...fingers].reverse().join('')}`,
          rule: brokenRule(frets, fingers, duties),
        });
      else {
        const traits = grips.map(grip => [...gripTraits(setup, DEFAULT_HAND, grip, duties)]);
        cases.push({ root: key, name, frets, fingers, grips, traits, stored });
      }
    }
  }
  return { cases, broken };
}

/** Which rule of the hand a stored fingering breaks. */
function brokenRule(
  frets: readonly (number | null)[],
  fingers: readonly number[],
  duties: readonly StringDuty[],
): string {
  if (frets.some((fret, i) => (fret ?? 0) > 0 !== fingers[i]! > 0))
    return 'a finger on no held string, or a held string without finger';
  const grip: FingerPlacement[] = [];
  for (const [i, fret] of frets.entries()) {
    if (!fret) continue;
    const same = grip.find(p => p.finger === fingers[i]);
    if (same && same.fret !== fret) return 'one finger at two frets';
    if (same) same.to = i + 1;
    else grip.push({ finger: fingers[i] as FingerPlacement['finger'], fret, from: i + 1, to: i + 1 });
  }
  const smothers = grip.some(p =>
    duties
      .slice(p.from - 1, p.to)
      .some(d =>
        typeof d === 'number' ? d < p.fret || (p.finger > 1 && d > p.fret) : d === 'muted' && p.finger > 1,
      ),
  );
  if (smothers) return 'a finger lies over a string that must sound lower, or be free';
  const fault = gripFault(standardSetup('guitar'), DEFAULT_HAND, grip);
  return fault?.includes('reach') ? 'beyond the reach of a medium hand' : 'fingers cross';
}
