/** Notes as they are called in Romance languages, from Portugal to Romania, and east of them (common practice). */
const NOTES: Readonly<Record<string, string>> = {
  do: 'C',
  re: 'D',
  ré: 'D',
  mi: 'E',
  fa: 'F',
  sol: 'G',
  la: 'A',
  si: 'B',
};

/** Finds such a note in a pattern, without groups. */
export const SOLFEGE = Object.keys(NOTES).join('|');

/**
 * The English name of a note that has such a name; undefined for what is none.
 *
 * @example solfegeNote('Sib') // 'Bb'
 */
export function solfegeNote(name: string): string | undefined {
  const [, note = '', alteration = ''] = /^(\p{L}+?)([#♯b♭])?$/u.exec(name) ?? [];
  const letter = NOTES[note.toLowerCase()];
  return letter && letter + alteration.replace('♯', '#').replace('♭', 'b');
}
