/**
 * Limits of what is read: a few characters of ABC can ask for more notes than any screen could show, or for more work than
 * any machine could do. What goes beyond is told in words before anything is parsed.
 */

/** A place in a text that asks for too much. */
export interface Excess {
  offset: number;
  message: string;
}

/** Longest text of one tune and of a book, in characters. */
const MOST_TUNE_TEXT = 200_000;
export const MOST_BOOK_TEXT = 10_000_000;

/** Patterns of music that ask for too much, with what is wrong about them. */
const EXCESSES: [pattern: RegExp, message: string][] = [
  [/\(\d{2,}/g, 'a tuplet has at most 9 notes'],
  [/\(\d(?::\d*){0,1}:\d{3,}|\(\d:\d{2,}/g, 'a tuplet of this length can not be counted'],
  [/[<>]{4,}/g, 'a broken rhythm has at most three signs'],
  [/\/{8,}/g, 'a length is halved at most seven times'],
  [/\d{5,}/g, 'a number in music has at most four digits'],
  [/[',]{10,}/g, 'a note is moved by at most nine octaves'],
  [/[ZX]\d{3,}/g, 'at most 99 measures rest at once'],
  [/\[[^\]"\n|]{200,}/g, 'so many notes can not be struck together'],
  [/\{[^}\n]{200,}/g, 'so many grace notes can not be played'],
];

/** Everything in a tune's text that goes beyond the limits. */
export function excesses(text: string): Excess[] {
  if (text.length > MOST_TUNE_TEXT)
    return [
      { offset: 0, message: `the tune has ${text.length} characters; at most ${MOST_TUNE_TEXT} can be read` },
    ];
  const found: Excess[] = [];
  let offset = 0;
  for (const line of text.split('\n')) {
    // Fields, directives and remarks are no music; what stands in quotes is text.
    if (!/^([A-Za-z]:|%)/.test(line)) {
      const music = line.replace(/"[^"]*"|%.*$/g, quoted => ' '.repeat(quoted.length));
      for (const [pattern, message] of EXCESSES)
        for (const match of music.matchAll(pattern)) found.push({ offset: offset + match.index, message });
    }
    offset += line.length + 1;
  }
  return found;
}
