/** A further verse in words alone, laid under the chords that the verse before it has. */
import { syllablesOf } from '../syllables';
import { type Slot, wordless } from './slots';

/** The words that a line has for its first verse: before its first chord, and from each of its chords on. */
function ownWords(line: readonly Slot[]): { lead: string; parts: string[] } | undefined {
  const verses = Math.max(0, ...line.map(({ words = [], lead = [] }) => Math.max(words.length, lead.length)));
  for (let verse = 0; verse < verses; verse++) {
    const parts = line.map(({ words }) => words?.[verse] ?? '');
    const lead = line[0]?.lead?.[verse] ?? '';
    if (lead || parts.some(Boolean)) return { lead, parts };
  }
  return undefined;
}

/** The part of a line that is sung before each of its chords, by the time where it has no words; undefined for one in a pause. */
function sharesOf(line: readonly Slot[]): (number | undefined)[] {
  const own = ownWords(line);
  const lead = own ? syllablesOf(own.lead) : 0;
  const counts = line.map(({ ticks }, i) => (own ? syllablesOf(own.parts[i]!) : ticks));
  const whole = counts.reduce((sum, count) => sum + count, lead);
  const before = (i: number) => counts.slice(0, i).reduce((sum, count) => sum + count, lead);
  return counts.map((count, i) => (count || i === 0 ? before(i) / (whole || 1) : undefined));
}

/**
 * A line of words without chords, sung to the chords of a line that has its own words: each chord stands over the word that is
 * as far into it, by syllables, as that of the model is: over "Leave a lamp in the | window low", "Keep the kettle | upon the fire".
 * No chord has a word that another has; those that are left without any come after the last.
 */
export function sungTo(text: string, line: readonly Slot[]): Slot[] {
  const words = text.split(/\s+/).filter(Boolean);
  const starts = words.map((_, i) => syllablesOf(words.slice(0, i).join(' ')));
  const whole = syllablesOf(text);
  const shares = sharesOf(line);
  let taken = -1;
  const firsts = shares.map((share, i) => {
    if (share === undefined) return undefined;
    const at = starts.findLastIndex(start => start <= Math.round(share * whole));
    // A word is left for each chord that comes, where there are as many.
    const left = words.length - shares.slice(i).filter(own => own !== undefined).length;
    taken = Math.max(taken + 1, Math.min(at, left));
    return taken;
  });
  const upTo = (i: number) => firsts.find((first, j) => j > i && first !== undefined) ?? words.length;
  const lead = words.slice(0, firsts[0]).join(' ');
  return line.map((slot, i) => {
    const { lead: _lead, ...bare } = wordless(slot);
    const own = firsts[i] === undefined ? '' : words.slice(firsts[i], upTo(i)).join(' ');
    return { ...bare, ...(i === 0 && lead && { lead: [lead] }), ...(own && { words: [own] }) };
  });
}
