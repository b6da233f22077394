/** Words under the music: whether every syllable of the source has found its note. */
import type { AbcElement, AbcParsed } from './parsed';

/** Syllables of a line of words as ABC 2.1 (section 5.1) divides them, with their places; holds and skips are none. */
function syllablesOf(line: string): { text: string; column: number }[] {
  const found: { text: string; column: number }[] = [];
  for (const match of line.matchAll(/(?:\\-|[^\s\-_*|])+/g))
    found.push({ text: match[0].replace(/~/g, ' '), column: match.index });
  return found;
}

/**
 * Tells which syllables stand under no note: a line of words that is longer than its line of music.
 *
 * @param source the text that was parsed
 * @param tell told the place of the first lost syllable, and all that are lost
 */
export function lostWords(
  source: string,
  parsed: AbcParsed,
  tell: (offset: number, words: string) => void,
): void {
  const elements = parsed.lines.flatMap(line => (line.staff ?? []).flatMap(staff => staff.voices.flat()));
  let offset = 0;
  let music: { from: number; to: number } | undefined;
  let verse = 0;
  for (const line of source.split('\n')) {
    const end = offset + line.length;
    if (line.startsWith('w:')) {
      if (music) {
        const { from, to } = music;
        const own = elements.filter(e => e.el_type === 'note' && e.startChar >= from && e.startChar < to);
        tellLost(line, offset, own, verse, tell);
      }
      verse += 1;
    } else if (!/^([A-Za-z]:|%)/.test(line) && line.trim()) {
      music = { from: offset, to: end };
      verse = 0;
    }
    offset = end + 1;
  }
}

function tellLost(
  line: string,
  offset: number,
  notes: readonly AbcElement[],
  verse: number,
  tell: (offset: number, words: string) => void,
): void {
  const syllables = syllablesOf(line.slice(2).replace(/%.*$/, ''));
  const kept = notes.filter(note => note.lyric?.[verse]?.syllable?.trim()).length;
  const lost = syllables.slice(kept);
  if (lost.length) tell(offset + 2 + lost[0]!.column, lost.map(s => s.text).join(' '));
}
