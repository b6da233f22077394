import type { Setup } from '#core/instrument';
import { type Key, keyName, transposeKey } from '#core/pitch';

/** Sizes of paper that sheets are printed on. */
export type Paper = 'a4' | 'letter';

export const PAPERS: { value: Paper; label: string }[] = [
  { value: 'a4', label: 'A4' },
  { value: 'letter', label: 'Letter' },
];

/** Margins of a page, in millimetres. */
const MARGIN = { top: 14, side: 12 };
const pageRule = (size: string) => `@page { size: ${size}; margin: ${MARGIN.top}mm ${MARGIN.side}mm; }`;
export const PAGE_RULE: Record<Paper, string> = { a4: pageRule('A4'), letter: pageRule('Letter') };

/** Pixels of style sheets in a millimetre. */
const MILLIMETRE = 96 / 25.4;
const betweenMargins = (width: number) => (width - 2 * MARGIN.side) * MILLIMETRE;
/** Pixels between the margins: A4 is 210 mm wide, Letter 8.5 inches. */
export const PAGE_WIDTH: Record<Paper, number> = { a4: betweenMargins(210), letter: betweenMargins(215.9) };

/** Where the capo lies, and which shapes sound in which key. */
export function capoFact({ capo, capoStrings }: Pick<Setup, 'capo' | 'capoStrings'>, sounding: Key): string {
  if (!capo) return `no capo, sounds in ${keyName(sounding)}`;
  const strings = capoStrings ? ` on strings ${capoStrings.join(', ')}` : '';
  return `capo at fret ${capo}${strings}: ${keyName(transposeKey(sounding, -capo))} shapes sound in ${keyName(sounding)}`;
}

/** What every paper ends with. */
export const CAUTION =
  'Warm up, rest, and stop at pain or numbness: if it stays, see a doctor or physiotherapist.';
