/** Strums as they are spoken: the strokes in order, their rhythm from the way of the hand. */
import { isCompound, type Meter, pulseCount } from '../time';
import { type PatternStroke, parsePattern, patternMeasures, patternText } from './pattern';

const SPOKEN: [RegExp, string][] = [
  [/\b(muted?|damped|damp|chuck|slap)\b/gi, 'X'],
  [/\bchop\b/gi, 'C'],
  [/\b(down|dn)\b/gi, 'D'],
  [/\bup\b/gi, 'U'],
  [/\bbass\b/gi, 'B'],
  [/\bbrush\b/gi, 'T'],
  [/\b(rest|wait|miss|nothing|pause)\b/gi, '.'],
  [/\band\b|&/gi, ' '],
];

/** Strokes up: the hand comes back between the beats. */
const goesUp = ({ play }: PatternStroke) => play[0] === 'U';

/**
 * Reads a strum as it is spoken: "D DU UDU", "down, down-up, up-down-up", "bass down-up up-down-up". The hand goes down on
 * the beats and up between them whether it strikes or not, so that the order of the strokes tells their rhythm, as long as
 * they reach the last beat of the measure, or a part of it that comes again. A bar line divides measures.
 *
 * @returns the strum as a pattern of a whole measure, in eighths; what is to be asked where it is not plain
 * @example spokenStrum('D DU UDU', { beats: 4, unit: 4 }, 6) // { pattern: 'D . D U . U D U' }
 */
export function spokenStrum(
  text: string,
  meter: Meter,
  strings: number,
): { pattern: string } | { question: string } {
  const measures = patternMeasures(text);
  if (measures.length > 1) {
    const heard = measures.map(measure => spokenStrum(measure, meter, strings));
    const doubtful = heard.find(part => 'question' in part);
    return doubtful ?? { pattern: heard.map(part => ('pattern' in part ? part.pattern : '')).join(' | ') };
  }
  let written = text;
  for (const [words, sign] of SPOKEN) written = written.replace(words, ` ${sign} `);
  const strokes = parsePattern(written.replace(/[-–,;]/g, ' '), strings);
  if ('error' in strokes) return { question: strokes.error };
  if (isCompound(meter))
    return { question: 'in this meter say every eighth, with a dot for one that is not struck' };
  const beats = pulseCount(meter);
  // A chop is stopped at once: what is said beside it are beats.
  const chopped = strokes.some(({ play }) => play[0] === 'C') && !strokes.some(goesUp);
  if (chopped && strokes.length === beats) return { pattern: patternText(strokes) };
  const slots: PatternStroke[] = [];
  for (const stroke of strokes) {
    // Down, bass and damped strokes come with the beat; a rest takes the next place, whichever it is.
    const rests = stroke.play.length === 0;
    if (!rests && goesUp(stroke) !== (slots.length % 2 === 1)) slots.push({ play: [] });
    slots.push(stroke);
  }
  if (slots.length % 2 === 1) slots.push({ play: [] });
  const filled = slots.length / 2;
  if (filled > beats)
    return {
      question: `with down on the beats and up between them this takes ${filled} beats, and the measure has ${beats}: leave strokes out, or write them in even lengths with dots for rests`,
    };
  if (beats % filled)
    return {
      question: `this fills ${filled} of ${beats} beats: say what comes in the ${beats - filled === 1 ? 'last one' : `last ${beats - filled}`}, with a dot for each eighth that is not struck`,
    };
  const whole = Array.from({ length: beats / filled }, () => slots).flat();
  return { pattern: patternText(whole) };
}
