/** Keys, meters, endings and other signs of ABC. */
import type { Key, Mode, Step } from '../../pitch';
import type { Meter } from '../../time';
import { meterOfParts } from '../../time';
import type { RoadMark } from '../../tune';
import type { AbcElement } from './parsed';

export const STEPS: Step[] = ['C', 'D', 'E', 'F', 'G', 'A', 'B'];
export const ALTER: Record<string, number> = {
  sharp: 1,
  flat: -1,
  natural: 0,
  dblsharp: 2,
  dblflat: -2,
  quartersharp: 0,
  quarterflat: 0,
};
const MODES: Record<string, Mode> = {
  '': 'major',
  maj: 'major',
  ion: 'major',
  m: 'minor',
  min: 'minor',
  aeo: 'minor',
  dor: 'dorian',
  mix: 'mixolydian',
  phr: 'phrygian',
  lyd: 'lydian',
  loc: 'locrian',
};
export function readMeter(element: AbcElement | undefined): Meter | undefined {
  if (!element?.type) return undefined;
  if (element.type === 'common_time') return { beats: 4, unit: 4 };
  if (element.type === 'cut_time') return { beats: 2, unit: 2 };
  const value = element.value?.[0];
  if (!value) return undefined;
  const parts = value.num.split('+').map(part => Number.parseInt(part.replace(/\D/g, ''), 10));
  const unit = Number.parseInt(value.den ?? '4', 10);
  return [1, 2, 4, 8, 16, 32].includes(unit) ? meterOfParts(parts, unit) : undefined;
}

export function readKey(element: AbcElement): { key: Key; signature: Map<Step, number> } {
  const signature = new Map<Step, number>();
  for (const accidental of element.accidentals ?? []) {
    signature.set(accidental.note.toUpperCase() as Step, ALTER[accidental.acc] ?? 0);
  }
  const root = element.root ?? 'C';
  if (root === 'none') return { key: { tonic: 'C', mode: 'major' }, signature };
  // The two bagpipe keys: music in A Mixolydian whatever signature they print.
  if (root.toLowerCase() === 'hp') return { key: { tonic: 'A', mode: 'mixolydian' }, signature };
  const acc =
    element.acc === '#' || element.acc === 'sharp'
      ? '#'
      : element.acc === 'b' || element.acc === 'flat'
        ? 'b'
        : '';
  const mode =
    MODES[(element.mode ?? '').toLowerCase().slice(0, 3)] ??
    MODES[(element.mode ?? '').toLowerCase()] ??
    'major';
  return { key: { tonic: root + acc, mode }, signature };
}

export function readEnding(text: string): number[] {
  const passes: number[] = [];
  for (const part of text.split(/[,.\s]+/)) {
    const range = /^(\d+)(?:-(\d+))?/.exec(part);
    if (!range) continue;
    for (let pass = Number(range[1]); pass <= Number(range[2] ?? range[1]) && pass < 20; pass++)
      passes.push(pass);
  }
  return passes;
}

/** Signs of the road by the names that ABC has for them. */
export const ROAD_SIGNS: Readonly<Record<string, RoadMark>> = {
  segno: 'segno',
  coda: 'coda',
  dacoda: 'to-coda',
  fine: 'fine',
  'D.C.': 'da-capo',
  'D.C.alfine': 'da-capo',
  'D.C.alcoda': 'da-capo',
  'D.S.': 'dal-segno',
  'D.S.alfine': 'dal-segno',
  'D.S.alcoda': 'dal-segno',
};

/** Signs of the road as they are written in words, small letters and no spaces or dots. */
const ROAD_WORDS: Readonly<Record<string, RoadMark>> = {
  dc: 'da-capo',
  dacapo: 'da-capo',
  dcalfine: 'da-capo',
  dcalcoda: 'da-capo',
  ds: 'dal-segno',
  dalsegno: 'dal-segno',
  dsalfine: 'dal-segno',
  dsalcoda: 'dal-segno',
  fine: 'fine',
  tocoda: 'to-coda',
};

/**
 * The mark of the road that words over a note stand for: "D.C. al Fine" is written so in many a tune. A lone "DC" is none,
 * nor is what could be a chord.
 */
export function roadWord(text: string): RoadMark | undefined {
  const words = text.toLowerCase().replace(/[\s.]/g, '');
  return words.length > 2 || text.includes('.') ? ROAD_WORDS[words] : undefined;
}

/** Signs that the standard has and the parser doesn't know. */
const UNKNOWN_TO_PARSER = ['dacoda'];
/** Signs that the parser knows and hardly any tune has. */
const STAND_INS = ['wedge', 'thumb', 'snap', 'open'];

/**
 * Puts signs that the parser knows in place of those of the standard that it doesn't, each place of the text staying where
 * it is.
 *
 * @returns the text, and what each sign that was put in stands for
 */
export function withStandIns(text: string): { text: string; meaning: ReadonlyMap<string, string> } {
  const meaning = new Map<string, string>();
  let changed = text
    .replace(/!dacapo!/g, '!D.C.!  ')
    .replace(/!(segno|coda|fine|fermata)!/gi, sign => sign.toLowerCase());
  const free = STAND_INS.filter(sign => !text.includes(`!${sign}!`));
  for (const [i, sign] of UNKNOWN_TO_PARSER.entries()) {
    const standIn = free[i];
    if (!standIn || !changed.includes(`!${sign}!`)) continue;
    meaning.set(standIn, sign);
    changed = changed.replaceAll(`!${sign}!`, `!${standIn}!`.padEnd(sign.length + 2));
  }
  return { text: changed, meaning };
}

/** "A(AB)2C" as parts in their order; undefined where the text is none. */
export function readPartOrder(text: string): string[] | undefined {
  let at = 0;
  const clean = text.replace(/[\s."]/g, '');
  const sequence = (depth: number): string[] | undefined => {
    const parts: string[] = [];
    while (at < clean.length && clean[at] !== ')') {
      let group: string[] | undefined;
      if (clean[at] === '(') {
        at += 1;
        group = depth < 8 ? sequence(depth + 1) : undefined;
        if (!group || clean[at] !== ')') return undefined;
        at += 1;
      } else if (/[A-Za-z]/.test(clean[at]!)) group = [clean[at++]!];
      else return undefined;
      const times = /^\d{1,2}/.exec(clean.slice(at))?.[0];
      if (times) at += times.length;
      for (let i = 0; i < Number(times ?? 1); i++) parts.push(...group);
      if (parts.length > MOST_PARTS) return undefined;
    }
    return parts;
  };
  const parts = sequence(0);
  return parts?.length && at === clean.length ? parts : undefined;
}

const MOST_PARTS = 200;
