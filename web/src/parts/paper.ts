/** Sizes of paper that sheets are printed on. */
export type Paper = 'a4' | 'letter';

export const PAGE_RULE: Record<Paper, string> = {
  a4: '@page { size: A4; margin: 14mm 12mm; }',
  letter: '@page { size: Letter; margin: 14mm 12mm; }',
};
