import { lengthName, TICKS_PER_WHOLE, type Tuplet } from '#core/time';

const USUAL = [1, 1.5, 2, 3, 4, 6, 8, 12, 16, 24, 32].map(n => (n * TICKS_PER_WHOLE) / 32);
/** Quarter, eighth and sixteenth of a triplet. */
const TRIPLETS = [6, 12, 24].map(n => TICKS_PER_WHOLE / n);

/** Words of the usual lengths, which every note's list says. */
const said = new Map([...USUAL, ...TRIPLETS].map(ticks => [ticks, lengthName(ticks)]));

/** The usual lengths to choose from, a whole note to a 32nd, and the one that is there. */
export function lengthChoices(own: number, tuplets: readonly Tuplet[] = []) {
  return [...new Set([...USUAL, ...TRIPLETS, own])]
    .sort((a, b) => a - b)
    .map(ticks => ({
      value: ticks,
      label: (tuplets.length && ticks === own ? undefined : said.get(ticks)) ?? lengthName(ticks, tuplets),
    }));
}
