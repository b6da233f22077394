/** Syllables of words in any language, as nearly as letters tell: how many there are, and where one begins. */

const LETTERS = 'aeiouyà-öø-ɏ';
/** A vowel, anywhere in a text: what has none is not sung. */
export const VOWEL = new RegExp(`[${LETTERS}]`, 'i');
/** Vowels that follow each other are one syllable. */
const VOWELS = new RegExp(`[${LETTERS}]+`, 'gi');
/** An e that closes a word after a consonant is mute where it has another vowel, also before a last s: "there's". */
const MUTE = /[^aeiouyà-öø-ɏl]e(?:['’]?s|['’]d)?$/i;
/** Consonants that a syllable begins with together (common practice of English, German and Romance spelling). */
const TOGETHER = /(?:[bcdfgkptv]r|[bcfgkps]l|[cpstw]h|s[ckmnpqtw]|tw|qu|gn|kn|sch|str|spr|scr|thr|shr|chr)$/i;

/** Vowels of a word, by their place, without a mute e. */
function vowelsOf(word: string): { index: number; end: number }[] {
  const groups = [...word.matchAll(VOWELS)].map(({ index, 0: { length } }) => ({
    index,
    end: index + length,
  }));
  // A word that goes on behind its hyphen has no end here.
  const letters = word.replace(/[^\p{L}-]+$/u, '');
  return groups.length > 1 && MUTE.test(letters) ? groups.slice(0, -1) : groups;
}

/**
 * Where the syllables of a word begin, from 0: behind a hyphen, and before the consonant of a vowel, or those that go together: those of "before" at
 * 0 and 2.
 */
export function syllableStarts(word: string): number[] {
  const vowels = vowelsOf(word);
  const starts = vowels.slice(1).map(({ index }, i) => {
    const between = word.slice(vowels[i]!.end, index);
    const hyphen = between.lastIndexOf('-');
    if (hyphen >= 0) return vowels[i]!.end + hyphen + 1;
    return index - (TOGETHER.exec(between)?.[0].length ?? Math.min(1, between.length));
  });
  return [0, ...starts];
}

/** About how many syllables a text has. One count goes by another, so that what is wrong in both does no harm. */
export function syllablesOf(text: string): number {
  const pieces = text.match(/[^\s-]+-?/g) ?? [];
  return pieces.reduce((sum, piece) => {
    if (!/\p{L}/u.test(piece)) return sum;
    return sum + Math.max(1, vowelsOf(piece).length);
  }, 0);
}
