import type { Setup } from '#core/instrument';
import { type Key, keyName, transposeKey } from '#core/pitch';

/** Sizes of paper that sheets are printed on. */
export type Paper = 'a4' | 'letter';

export const PAPERS: { value: Paper; label: string }[] = [
  { value: 'a4', label: 'A4' },
  { value: 'letter', label: 'Letter' },
];

export const PAGE_RULE: Record<Paper, string> = {
  a4: '@page { size: A4; margin: 14mm 12mm; }',
  letter: '@page { size: Letter; margin: 14mm 12mm; }',
};

/** Pixels of style sheets in a millimetre. */
const MILLIMETRE = 96 / 25.4;
/** Pixels between the margins of a page: A4 is 210 mm wide, Letter 8.5 inches. */
export const PAGE_WIDTH: Record<Paper, number> = {
  a4: (210 - 24) * MILLIMETRE,
  letter: (215.9 - 24) * MILLIMETRE,
};

/** Where the capo lies, and which shapes sound in which key. */
export function capoFact({ capo, capoStrings }: Pick<Setup, 'capo' | 'capoStrings'>, sounding: Key): string {
  if (!capo) return `no capo, sounds in ${keyName(sounding)}`;
  const strings = capoStrings ? ` on strings ${capoStrings.join(', ')}` : '';
  return `capo at fret ${capo}${strings}: ${keyName(transposeKey(sounding, -capo))} shapes sound in ${keyName(sounding)}`;
}

/** What every paper ends with. */
export const CAUTION =
  'Warm up, rest, and stop at pain or numbness: if it stays, see a doctor or physiotherapist.';
