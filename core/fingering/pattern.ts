/**
 * Picking patterns written as strings in order, with brackets for strings plucked together: "B 3 2 1", "4 3 2 (31)".
 *
 * A pattern is written relative to a chord: B is the string of its bass note, A the next thinner string that sounds
 * below the treble, and digits are strings.
 */

/** One stroke: what is plucked together. Strings are numbers; 'B' and 'A' wait for the chord. */
export type PatternStroke = (number | 'B' | 'A')[];

/** Reads a pattern; an error says which part is wrong. */
export function parsePattern(text: string, strings: number): PatternStroke[] | { error: string } {
  const strokes: PatternStroke[] = [];
  const parts = text.match(/\([^)]*\)?|[^\s,()]+/g) ?? [];
  if (!parts.length) return { error: 'write the strings in order, such as B 3 2 1' };
  for (const part of parts) {
    const together = part.startsWith('(');
    if (together && !part.endsWith(')')) return { error: `"${part}": the bracket is not closed` };
    const inside = (together ? part.slice(1, -1) : part).match(/[BbAa]|\d+|\S/g) ?? [];
    // Without brackets "4321" are strings one after another; there are fewer than ten.
    const tokens = inside.flatMap(token => (/^\d+$/.test(token) ? [...token] : [token]));
    const stroke: PatternStroke = [];
    for (const token of tokens) {
      if (/^[BbAa]$/.test(token)) stroke.push(token.toUpperCase() as 'B' | 'A');
      else if (/^\d$/.test(token) && Number(token) >= 1 && Number(token) <= strings)
        stroke.push(Number(token));
      else
        return { error: `"${token}" is no string: 1 to ${strings}, B for the bass string, A for the next` };
    }
    if (!stroke.length) return { error: '"()" holds no string' };
    if (new Set(stroke).size < stroke.length) return { error: `"${part}" asks for a string twice` };
    if (together) strokes.push(stroke);
    else strokes.push(...stroke.map(string => [string]));
  }
  return strokes;
}

/** A pattern as text again. */
export function patternText(strokes: readonly (readonly (number | 'B' | 'A')[])[]): string {
  return strokes.map(stroke => (stroke.length > 1 ? `(${stroke.join('')})` : String(stroke[0]))).join(' ');
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
  return strokes
    .map(stroke => {
      const taken = new Set<number>();
      for (const token of stroke) {
        const wanted = token === 'B' ? bass : token === 'A' ? alternate : token;
        const nearest = sounding
          .filter(string => !taken.has(string))
          .sort((a, b) => Math.abs(a - wanted) - Math.abs(b - wanted) || a - b)[0];
        if (nearest !== undefined) taken.add(nearest);
      }
      return [...taken].sort((a, b) => b - a);
    })
    .filter(stroke => stroke.length > 0);
}
