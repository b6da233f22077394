/** One word of a dictation: a fret, or a chain of frets, with everything that is said of each. */
import type { Finger } from '../../hand';
import { GRACES_TEXT, type GraceSpot, type Pluck, readGraces, type Technique, UNLINKED } from '../../score';

/** One note of a chain, without place in time. */
export interface SaidNote {
  fret: number;
  /** Where in the word it stands, from 0. */
  offset: number;
  techniques: Technique[];
  /** Hammered or pulled out of the last note on its string. */
  late?: boolean;
  graces?: GraceSpot[];
  graceBy?: 'slide';
  finger?: Finger;
  pluck?: Pluck;
}

/** How a bend is said: the fret whose sound it reaches, and the way back. */
const BEND = /b(\d{1,2})(?:(r)\d{0,2}(b\d{0,2})?)?/y;
const PRE_BEND = /\^(\d{1,2})/y;
const TOUCH = /<(\d{1,2})>/y;
const GRACE = new RegExp(`\\{(${GRACES_TEXT})(/?)\\}`, 'y');
const LINK = /\/\/|\\\\|[hp/\\]/y;
const FRET = /\d{1,2}/y;
const SIGNS: Readonly<Record<string, 'vibrato' | 'accent' | 'palm-mute' | 'damp' | 'let-ring' | 'tremolo'>> =
  {
    '~': 'vibrato',
    '>': 'accent',
    m: 'palm-mute',
    '.': 'damp',
    '=': 'let-ring',
    z: 'tremolo',
  };
const FINGERS: Readonly<Record<string, Finger>> = { 1: 1, 2: 2, 3: 3, 4: 4, t: 5 };
const PLUCKS: Readonly<Record<string, Pluck>> = { p: 'p', i: 'i', m: 'm', a: 'a', d: 'down', u: 'up' };

/** What is wrong with a word, and where in it. */
export interface WordFault {
  offset: number;
  message: string;
}

/**
 * Reads a word such as "2h3", "/7~", "7b9r7", "{2}3:2" or "x".
 */
export function readWord(word: string): SaidNote[] | WordFault {
  const notes: SaidNote[] = [];
  let at = 0;
  const match = (pattern: RegExp): RegExpExecArray | undefined => {
    pattern.lastIndex = at;
    const found = pattern.exec(word) ?? undefined;
    if (found) at += found[0].length;
    return found;
  };
  let link: string | undefined;
  // Out of the last note on its string, though another string has sounded since.
  if (/^[hp]\d/.test(word)) {
    link = word[0]!;
    at = 1;
  }
  if (word[0] === '/' || word[0] === '\\') {
    link = `in${word[0]}`;
    at = 1;
  }
  while (at < word.length) {
    const offset = at;
    const grace = match(GRACE);
    const natural = match(TOUCH);
    const dead = !natural && word[at] === 'x';
    if (dead) at += 1;
    const fret = natural ? natural[1] : dead ? '0' : match(FRET)?.[0];
    if (fret === undefined) return { offset: at, message: `a fret is expected, not “${word.slice(at)}”` };
    const note: SaidNote = { fret: Number(fret), offset, techniques: [] };
    notes.push(note);
    if (natural) note.techniques.push({ kind: 'harmonic' });
    if (dead) note.techniques.push({ kind: 'dead' });
    if (grace) {
      note.graces = readGraces(grace[1]!);
      if (grace[2]) note.graceBy = 'slide';
    }
    const fault = link === undefined ? undefined : linked(note, link, notes.at(-2));
    if (fault) return { offset, message: fault };
    link = undefined;
    const wrong = suffixes(note);
    if (wrong) return wrong;
    if (at >= word.length) break;
    const sign = match(LINK)?.[0];
    if (!sign) return { offset: at, message: `“${word.slice(at)}” is no sign behind a fret` };
    if (at < word.length) link = sign;
    else if (sign === '/' || sign === '\\')
      note.techniques.push({ kind: 'slide-off', way: sign === '/' ? 'above' : 'below' });
    else return { offset: at - sign.length, message: `“${sign}” leads to no fret` };
  }
  return notes;

  /** Reads what stands behind a fret; what is wrong with it. */
  function suffixes(note: SaidNote): WordFault | undefined {
    for (;;) {
      const offset = at;
      const sign = SIGNS[word[at] ?? ''];
      const bend = match(BEND);
      const pre = bend ? undefined : match(PRE_BEND);
      const touch = bend || pre ? undefined : match(TOUCH);
      if (bend || pre) {
        const semitones = Number((bend ?? pre)![1]) - note.fret;
        if (semitones < 1 || semitones > 4)
          return {
            offset,
            message: `a bend goes one to four frets up, not from ${note.fret} to ${(bend ?? pre)![1]}`,
          };
        const shape = pre ? 'pre' : bend![3] ? 'repeat' : bend![2] ? 'release' : 'up';
        note.techniques.push({ kind: 'bend', semitones, shape });
      } else if (touch) {
        const above = Number(touch[1]) - note.fret;
        if (above < 1) return { offset, message: 'a harmonic is touched above the fret that is held' };
        note.techniques.push({ kind: 'harmonic', touch: above });
      } else if (word[at] === ':' && FINGERS[word[at + 1] ?? '']) {
        note.finger = FINGERS[word[at + 1]!]!;
        at += 2;
      } else if (word[at] === "'" && PLUCKS[word[at + 1] ?? '']) {
        note.pluck = PLUCKS[word[at + 1]!]!;
        at += 2;
      } else if (sign) {
        note.techniques.push({ kind: sign });
        at += 1;
      } else return undefined;
    }
  }
}

/** Links a note to the one before, or lets it be slid into; what speaks against it. */
function linked(note: SaidNote, link: string, before: SaidNote | undefined): string | undefined {
  if (link.startsWith('in')) {
    note.techniques.push({ kind: 'slide-in', way: link === 'in/' ? 'below' : 'above' });
    return undefined;
  }
  if (!before) {
    note.late = true;
    note.techniques.push({ kind: link === 'h' ? 'hammer' : 'pull', from: UNLINKED });
    return undefined;
  }
  const from = before.fret;
  if (link === 'h' && note.fret <= from)
    return `a hammer-on goes to a higher fret, and ${note.fret} is not above ${from}`;
  if (link === 'p' && note.fret >= from)
    return `a pull-off goes to a lower fret, and ${note.fret} is not below ${from}`;
  const slides = link !== 'h' && link !== 'p';
  if (slides && link[0] === '/' && note.fret < from)
    return `“/” slides up, and ${note.fret} is below ${from}`;
  if (slides && link[0] === '\\' && note.fret > from)
    return `“\\” slides down, and ${note.fret} is above ${from}`;
  if (slides && (note.fret === from || !note.fret || !from))
    return 'a slide goes from one held fret to another';
  if (link === 'h') note.techniques.push({ kind: 'hammer', from: UNLINKED });
  else if (link === 'p') note.techniques.push({ kind: 'pull', from: UNLINKED });
  else note.techniques.push({ kind: 'slide', from: UNLINKED, ...(link.length === 2 && { again: true }) });
  return undefined;
}
