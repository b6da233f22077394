/** Lengths of notes in letters, as dictation and text tab write them. */
import { TICKS_PER_WHOLE, type Tuplet } from '../time';

/** Note values by their letters: whole, half, quarter, eighth, sixteenth, thirty-second. */
const VALUE_LETTERS: Readonly<Record<string, number>> = { W: 1, H: 2, Q: 4, E: 8, S: 16, T: 32 };
/** Tuplets by their number: so many in the time of so many. */
export const TUPLET_NUMBERS: Readonly<Record<number, number>> = { 3: 2, 5: 4, 6: 4, 7: 4 };

const VALUE = /^([WHQEST])(\.{0,2})([3567])?$/;

/**
 * The length that letters say: "Q.", "E3", "H+E" tied; brackets stand around a rest.
 *
 * @returns ticks, whether it is a rest, and the tuplet; undefined for other words
 */
export function lengthOf(word: string): { ticks: number; rest: boolean; tuplet?: Tuplet } | undefined {
  const bracketed = /^\((.*)\)$/.exec(word);
  let ticks = 0;
  let tuplet: Tuplet | undefined;
  for (const part of (bracketed?.[1] ?? word).split('+')) {
    const match = VALUE.exec(part);
    if (!match) return undefined;
    const [, letter, dots, number] = match;
    const plain = (TICKS_PER_WHOLE / VALUE_LETTERS[letter!]!) * (2 - 2 ** -dots!.length);
    const normal = number ? TUPLET_NUMBERS[Number(number)] : undefined;
    ticks += normal ? (plain * normal) / Number(number) : plain;
    if (normal) tuplet = { actual: Number(number), normal };
  }
  return { ticks, rest: bracketed !== null, ...(tuplet && { tuplet }) };
}
