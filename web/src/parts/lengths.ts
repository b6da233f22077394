import { lengthWords, TICKS_PER_WHOLE, type Tuplet, tupletOf } from '#core/time';

const TUPLET_WORDS: Readonly<Record<number, string>> = { 3: 'triplet', 5: 'quintuplet', 7: 'septuplet' };
const USUAL = [1, 1.5, 2, 3, 4, 6, 8, 12, 16, 24, 32].map(n => (n * TICKS_PER_WHOLE) / 32);
/** Quarter, eighth and sixteenth of a triplet. */
const TRIPLETS = [6, 12, 24].map(n => TICKS_PER_WHOLE / n);

/** A length in words, also one that is no printed value. */
function wordsOf(ticks: number, tuplets: readonly Tuplet[]): string {
  try {
    const own = tupletOf(ticks);
    return own ? `${TUPLET_WORDS[own.actual]} ${lengthWords(ticks, [own])}` : lengthWords(ticks, tuplets);
  } catch {
    return 'an odd length';
  }
}

/** Words of the usual lengths, which every note's list says. */
const said = new Map([...USUAL, ...TRIPLETS].map(ticks => [ticks, wordsOf(ticks, [])]));

/** The usual lengths to choose from, a whole note to a 32nd, and the one that is there. */
export function lengthChoices(own: number, tuplets: readonly Tuplet[] = []) {
  return [...new Set([...USUAL, ...TRIPLETS, own])]
    .sort((a, b) => a - b)
    .map(ticks => ({
      value: ticks,
      label: (tuplets.length && ticks === own ? undefined : said.get(ticks)) ?? wordsOf(ticks, tuplets),
    }));
}
