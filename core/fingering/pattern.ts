/**
 * Picking patterns written as strings in order, with brackets for strings plucked together: "B 3 2 1", "4 3 2 (31)".
 *
 * A pattern is written relative to a chord: B is the string of its bass note, A the next thinner string that sounds,
 * digits are strings; D is a strum down over all that sounds from the bass, U one up over the three thinnest, T a light
 * brush of the treble strings without the bass; a dot is a rest.
 */

/** A string, or what waits for the chord: its bass B, the next string A, a strum D or U, a treble brush T. */
export type PatternToken = number | 'B' | 'A' | 'D' | 'U' | 'T';

/** One stroke: what is plucked together; nothing for a rest. */
export type PatternStroke = PatternToken[];

/** Reads a pattern; an error says which part is wrong. */
export function parsePattern(text: string, strings: number): PatternStroke[] | { error: string } {
  const strokes: PatternStroke[] = [];
  const REST = 0;
  const parts = text.match(/\([^)]*\)?|[^\s,()]+/g) ?? [];
  if (!parts.length) return { error: 'write the strings in order, such as B 3 2 1' };
  for (const part of parts) {
    const together = part.startsWith('(');
    if (together && !part.endsWith(')')) return { error: `"${part}": the bracket is not closed` };
    const inside = (together ? part.slice(1, -1) : part).match(/[a-zA-Z]|\d+|\S/g) ?? [];
    // Without brackets "4321" are strings one after another; there are fewer than ten.
    const tokens = inside.flatMap(token => (/^\d+$/.test(token) ? [...token] : [token]));
    const stroke: PatternStroke = [];
    for (const token of tokens) {
      if (/^[BbAa]$/.test(token)) stroke.push(token.toUpperCase() as 'B' | 'A');
      else if (/^[DdUuTt]$/.test(token) && !together) stroke.push(token.toUpperCase() as 'D' | 'U' | 'T');
      else if (token === '.' && !together) stroke.push(REST);
      else if (/^\d$/.test(token) && Number(token) >= 1 && Number(token) <= strings)
        stroke.push(Number(token));
      else
        return {
          error: `"${token}" is no string: 1 to ${strings}, B for the bass string, A for the next; D, U and T are strums, a dot a rest`,
        };
    }
    if (!stroke.length) return { error: '"()" holds no string' };
    if (together && new Set(stroke).size < stroke.length)
      return { error: `"${part}" asks for a string twice` };
    if (together) strokes.push(stroke);
    else strokes.push(...stroke.map(token => (token === REST ? [] : [token])));
  }
  return strokes;
}

/** A pattern as text again. */
export function patternText(strokes: readonly (readonly PatternToken[])[]): string {
  return strokes
    .map(stroke => (stroke.length > 1 ? `(${stroke.join('')})` : stroke.length ? String(stroke[0]) : '.'))
    .join(' ');
}

/**
 * The strings a pattern plucks under a shape, stroke by stroke, thickest first. A string that the shape silences gives
 * way to the nearest sounding one that its stroke does not have yet; where none is left it falls out.
 *
 * @param frets of the shape, string 1 first
 * @param bass string of the chord's bass note; the thickest that sounds when left out
 */
export function patternUnder(
  strokes: readonly PatternStroke[],
  frets: readonly (number | null)[],
  bass = frets.findLastIndex(fret => fret !== null) + 1,
): number[][] {
  const sounding = frets.flatMap((fret, i) => (fret === null ? [] : [i + 1]));
  const alternate = sounding.filter(string => string < bass).at(-1) ?? bass;
  return strokes.map(stroke => {
    if (stroke[0] === 'D') return sounding.filter(string => string <= bass).sort((a, b) => b - a);
    if (stroke[0] === 'U') return sounding.slice(0, 3).sort((a, b) => b - a);
    if (stroke[0] === 'T')
      return sounding
        .filter(string => string < bass)
        .slice(0, 3)
        .sort((a, b) => b - a);
    const taken = new Set<number>();
    for (const token of stroke) {
      const wanted = token === 'B' ? bass : token === 'A' ? alternate : Number(token);
      const nearest = sounding
        .filter(string => !taken.has(string))
        .sort((a, b) => Math.abs(a - wanted) - Math.abs(b - wanted) || a - b)[0];
      if (nearest !== undefined) taken.add(nearest);
    }
    return [...taken].sort((a, b) => b - a);
  });
}
