/**
 * Chords by the numbers of their degrees, "1 4 5 6m" or "I IV V vi" (common practice): what they are is told by the key.
 */
import { isChordWord } from '../../chord';
import {
  type Key,
  keyFifths,
  keyName,
  mod12,
  noteName,
  pitchClassOf,
  scaleOf,
  spellClass,
} from '../../pitch';
import { readHeadingLine } from '../heading';
import { readLooseHeading } from '../looseHeading';
import { inPlace, WORD } from '../otherNames';
import type { Heading } from '../reading';
import { ROMAN } from '../roman';
import { readChordRow } from './lines';

/** A degree, altered or not, what kind of chord stands on it, the degree in the bass. */
const NUMBER = /^([b♭#♯]?)([1-7]|VII|VI|IV|V|III|II|I|vii|vi|iv|v|iii|ii|i)([^/]*)(?:\/([b♭#♯]?)([1-7]))?$/;
/** Semitones of the degrees of a major scale: an altered degree is counted from those in every key. */
const MAJOR = [0, 2, 4, 5, 7, 9, 11];
/** Rows at the head of a song among which its key is looked for. */
const HEAD = 20;

interface Degree {
  alteration: string;
  /** From 1. */
  degree: number;
  kind: string;
  roman: boolean;
  /** Written in small letters. */
  small: boolean;
  bass?: { alteration: string; degree: number };
}

function degreeOf(word: string): Degree | undefined {
  const [, alteration = '', number, kind = '', below = '', bass] = NUMBER.exec(word) ?? [];
  if (!number || !isChordWord(`C${kind}`)) return undefined;
  const roman = /[IV]/i.test(number);
  return {
    alteration,
    degree: roman ? ROMAN.indexOf(number.toUpperCase()) + 1 : Number(number),
    kind,
    roman,
    small: /[iv]/.test(number),
    ...(bass && { bass: { alteration: below, degree: Number(bass) } }),
  };
}

/** Pitch class of a degree: in the scale of its key, or altered from that of a major one. */
function classOf({ alteration, degree }: Pick<Degree, 'alteration' | 'degree'>, key: Key): number {
  if (!alteration) return scaleOf(key)[degree - 1]!;
  return mod12(pitchClassOf(key.tonic) + MAJOR[degree - 1]! + (/[b♭]/.test(alteration) ? -1 : 1));
}

/** How the triad on a degree of the scale is called where nothing says it. */
function ownKind(degree: number, key: Key): string {
  const scale = scaleOf(key);
  const above = (steps: number) => mod12(scale[(degree - 1 + steps) % 7]! - scale[degree - 1]!);
  if (above(2) === 4) return '';
  return above(4) === 6 ? 'dim' : 'm';
}

/** The degrees of a row that holds nothing else; a first one alone may be a word or a count. */
function degreesIn(row: string): Degree[] {
  const words = row.match(WORD) ?? [];
  if (readChordRow(row) || !readChordRow(inPlace(row, word => (degreeOf(word) ? 'C' : word)))) return [];
  const found = words.flatMap(word => degreeOf(word) ?? []);
  return found.some(({ degree }) => degree > 1) && found.length > 1 ? found : [];
}

/** The key that the head of a song says. */
function keySaid(rows: readonly string[]): Key | undefined {
  const heading: Heading = {};
  for (const row of rows.slice(0, HEAD)) {
    if (degreesIn(row).length) break;
    if (readHeadingLine(row, heading) === false) readLooseHeading(row, heading);
  }
  return heading.key;
}

/** A song whose numbers were read. */
export interface Numbered {
  /** Its rows, with the names of the chords. */
  rows: string[];
  /** The first row with numbers, from 1, and how they are read; or what is asked. */
  line: number;
  said?: string;
  asked?: string;
}

/**
 * The rows of a song with names in the place of numbers; undefined where it has none, or names its chords.
 */
export function inLetters(rows: readonly string[]): Numbered | undefined {
  const degrees = rows.map(degreesIn);
  const line = degrees.findIndex(({ length }) => length) + 1;
  if (!line || rows.some(row => readChordRow(row))) return undefined;
  const found = keySaid(rows);
  const key: Key = found ?? { tonic: 'C', mode: 'major' };
  const all = degrees.flat();
  // Who says of one chord that it is minor says it of all; else each is what it is in its key.
  const told = all.some(({ kind, small }) => small || /^(?:m(?!aj)|-)/.test(kind));
  const fifths = keyFifths(key);
  const letter = (own: Pick<Degree, 'alteration' | 'degree'>) =>
    noteName(spellClass(classOf(own, key), fifths));
  const named = (own: Degree) => {
    const silent = !own.kind || /^(?:6|7|9|11|13|maj|M)/.test(own.kind);
    const kind =
      own.small && silent ? 'm' : !told && !own.alteration && silent ? ownKind(own.degree, key) : '';
    const name = `${letter(own)}${kind}${own.kind}`;
    return `${isChordWord(name) ? name : letter(own) + own.kind}${own.bass ? `/${letter(own.bass)}` : ''}`;
  };
  return {
    line,
    ...(found
      ? { said: `chords by numbers are read in ${keyName(key)}` }
      : { asked: 'chords by numbers: say in which key they stand, such as "key: G"' }),
    rows: rows.map((row, i) =>
      degrees[i]!.length
        ? inPlace(row, word => {
            const own = degreeOf(word);
            return own ? named(own) : word;
          })
        : row,
    ),
  };
}
