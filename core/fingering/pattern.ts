/**
 * Picking patterns written as strings in order, with brackets for strings plucked together: "B 3 2 1", "4 3 2 (31)".
 *
 * A pattern is written relative to a chord: B is the string of its bass note, A the one that the thumb goes to in turn
 * (string 4 from a bass on 6 or 5, else the next thinner that sounds), digits are strings; D is a strum down over all that sounds from the bass, U one up over the three thinnest, T a light
 * brush of the treble strings without the bass, X a damped strum, C a chop: a strum down that is stopped at once; a dot is a rest, and > before a stroke accents it. A bar
 * line divides one that goes over several measures.
 */

import type { Meter } from '../time';

/** A string, or what waits for the chord: its bass B, the thumb's other string A, strums D, U, X and C, a treble brush T. */
export type PatternToken = number | 'B' | 'A' | 'D' | 'U' | 'T' | 'X' | 'C';

/** A pattern that a teacher keeps under a name of their own. */
export interface OwnPattern {
  id: string;
  name: string;
  text: string;
  meter: Meter;
}

/** One stroke: what is plucked together; nothing for a rest. */
export interface PatternStroke {
  play: PatternToken[];
  accent?: boolean;
}

/**
 * Strums and brushes: strokes over several strings, by one letter.
 *
 * @example isStrum(parsePattern('D U', 6)[0]) // true
 */
export function isStrum(stroke: PatternStroke): boolean {
  return typeof stroke.play[0] === 'string' && 'DUTXC'.includes(stroke.play[0]);
}

const NOTHING =
  'B for the bass string, A for the thumb’s other string; D, U, T, X and C are strums, a dot a rest, > accents what follows';

/** The strings at which the plucking hand's letters are at home (common practice); the thumb is on the bass. */
const HOME: Readonly<Record<string, string>> = { p: 'B', i: '3', m: '2', a: '1' };

/**
 * A pattern with arrows as strokes, and with the strings of the fingers that it may be written in, on more than four strings.
 *
 * @example patternSigns('p i (ma)', 6) // 'B 3 (21)'
 */
export function patternSigns(text: string, strings: number): string {
  // "a" without another finger is the thumb's other string.
  if (strings > 4 && /^(?=.*[pim])[pima()|\s.]+$/.test(text))
    return [...text.replace(/\s+/g, '').matchAll(/\(([pima]+)\)|./g)]
      .map(([sign, group]) =>
        group ? `(${[...group].map(letter => HOME[letter]).join('')})` : (HOME[sign] ?? sign),
      )
      .join(' ');
  return text
    .replace(/[↓⬇]\ufe0f?/g, 'D ')
    .replace(/[↑⬆]\ufe0f?/g, 'U ')
    .trim();
}

/**
 * Reads a pattern; an error says which part is wrong.
 *
 * @example parsePattern('B 3 x', 6) // [{ play: ['B'] }, { play: [3] }, { play: ['X'] }]
 */
export function parsePattern(text: string, strings: number): PatternStroke[] | { error: string } {
  const strokes: PatternStroke[] = [];
  const parts = patternSigns(text, strings).match(/\([^)]*\)?|[^\s,()|]+/g) ?? [];
  if (!parts.length) return { error: 'write the strings in order, such as B 3 2 1' };
  let accent = false;
  const add = (play: PatternToken[]) => {
    strokes.push(accent ? { play, accent } : { play });
    accent = false;
  };
  const stringOf = (token: string): PatternToken | undefined => {
    if (/^[BbAa]$/.test(token)) return token.toUpperCase() as 'B' | 'A';
    return /^\d$/.test(token) && Number(token) >= 1 && Number(token) <= strings ? Number(token) : undefined;
  };
  for (const part of parts) {
    const together = part.startsWith('(');
    if (together && !part.endsWith(')')) return { error: `"${part}": the bracket is not closed` };
    // Without brackets "4321" are strings one after another; there are fewer than ten.
    const tokens = [...(together ? part.slice(1, -1) : part).replace(/\s/g, '')];
    const inBracket: PatternToken[] = [];
    for (const token of tokens) {
      const string = stringOf(token);
      if (together && string !== undefined) inBracket.push(string);
      else if (string !== undefined) add([string]);
      else if (!together && token === '>' && !accent) accent = true;
      else if (!together && token === '.' && !accent) add([]);
      else if (!together && /^[DUTXC]$/i.test(token))
        add([token.toUpperCase() as 'D' | 'U' | 'T' | 'X' | 'C']);
      else return { error: `"${token}" is no string: 1 to ${strings}, ${NOTHING}` };
    }
    if (!together) continue;
    if (!inBracket.length) return { error: '"()" holds no string' };
    if (new Set(inBracket).size < inBracket.length) return { error: `"${part}" asks for a string twice` };
    add(inBracket);
  }
  if (accent) return { error: '">" accents the stroke after it, and none follows' };
  return strokes;
}

/**
 * The measures of a pattern, each as a pattern.
 *
 * @example patternMeasures('B T B T | . T B T') // ['B T B T', '. T B T']
 */
export function patternMeasures(text: string): string[] {
  const measures = text
    .split('|')
    .map(measure => measure.trim())
    .filter(Boolean);
  return measures.length ? measures : [''];
}

/**
 * A pattern as text again.
 *
 * @example patternText(parsePattern('B  3 2', 6)) // 'B 3 2'
 */
export function patternText(strokes: readonly PatternStroke[]): string {
  return strokes
    .map(({ play, accent }) => {
      const text = play.length > 1 ? `(${play.join('')})` : play.length ? String(play[0]) : '.';
      return accent ? `>${text}` : text;
    })
    .join(' ');
}

/**
 * A pattern that follows the root: where it is written in plain string numbers only, as it was worked out over one
 * chord, its thickest string is that chord's bass and becomes B.
 *
 * @example patternText(followingRoot(parsePattern('5 3 2', 6))) // 'B 3 2'
 */
export function followingRoot(strokes: readonly PatternStroke[]): readonly PatternStroke[] {
  const tokens = strokes.flatMap(stroke => stroke.play);
  if (tokens.some(token => typeof token === 'string')) return strokes;
  const thickest = Math.max(...(tokens as number[]));
  return strokes.map(stroke => ({
    ...stroke,
    play: stroke.play.map(token => (token === thickest ? 'B' : token)),
  }));
}

/** The string that a thumb takes in turn with a thicker one. */
const THUMB_TURN = 4;

/**
 * The strings a pattern plucks under a shape, stroke by stroke, thickest first. A string that is asked for by its number
 * and that the shape silences falls out (see `silentIn`).
 *
 * @param frets of the shape, string 1 first
 * @param bass string of the chord's bass note; the thickest that sounds when left out. A strum begins there, but on four
 *   strings, where all that sounds is struck
 * @param givesWay under a melody: a string that can't sound gives way to the nearest one that does and that its stroke
 *   does not have yet
 * @example patternUnder(parsePattern('B 3 2', 6), [0, 1, 0, 2, 3, null]) // [[5], [3], [2]]
 */
export function patternUnder(
  strokes: readonly PatternStroke[],
  frets: readonly (number | null)[],
  bass = frets.findLastIndex(fret => fret !== null) + 1,
  givesWay = false,
): number[][] {
  const sounding = frets.flatMap((fret, i) => (fret === null ? [] : [i + 1]));
  const above = sounding.filter(string => string < bass);
  // From 6 to 4 and from 5 to 4, as an alternating thumb goes (common practice): between lies a low third under G.
  const alternate = above.includes(THUMB_TURN) ? THUMB_TURN : (above.at(-1) ?? bass);
  const thickestFirst = (strings: number[]) => strings.sort((a, b) => b - a);
  return strokes.map(({ play }) => {
    switch (play[0]) {
      case 'D':
      case 'X':
      case 'C':
        return thickestFirst(sounding.filter(string => string <= bass || frets.length <= 4));
      case 'U':
        return thickestFirst(sounding.slice(0, 3));
      case 'T':
        return thickestFirst(sounding.filter(string => string < bass).slice(0, 3));
    }
    const taken = new Set<number>();
    for (const token of play) {
      const wanted = token === 'B' ? bass : token === 'A' ? alternate : Number(token);
      const nearest = sounding
        .filter(string => !taken.has(string) && (givesWay || typeof token !== 'number' || string === token))
        .sort((a, b) => Math.abs(a - wanted) - Math.abs(b - wanted) || a - b)[0];
      if (nearest !== undefined) taken.add(nearest);
    }
    return thickestFirst([...taken]);
  });
}

/**
 * The strings that a pattern asks for by their number and that a shape silences, thickest first.
 *
 * @example silentIn(parsePattern('5 3 2', 6), [2, 3, 2, 0, null, null]) // [5]
 */
export function silentIn(strokes: readonly PatternStroke[], frets: readonly (number | null)[]): number[] {
  return stringsOf(strokes).filter(string => (frets[string - 1] ?? null) === null);
}

/**
 * The strings that a pattern asks for by their number, thickest first.
 *
 * @example stringsOf(parsePattern('B 3 (21)', 6)) // [3, 2, 1]
 */
export function stringsOf(strokes: readonly PatternStroke[]): number[] {
  const numbers = strokes.flatMap(({ play }) => play.filter(token => typeof token === 'number'));
  return [...new Set(numbers)].sort((a, b) => b - a);
}
