/** Chord symbols: reading them, their notes by degree, and moving them between keys. */
import { mod12, noteName, parseNoteName, pitchClassOf, prettyAccidentals, spellClass } from '../pitch';

/** One note of a chord, counted from the root. */
export interface ChordDegree {
  /** "1", "b3", "5", "#9" … */
  name: string;
  /** Semitones above the root, within one octave (0–11). */
  semitones: number;
  /** Whether the chord loses its name without it; a plain fifth may be left out. */
  essential: boolean;
}

export interface Chord {
  /** As it was written, e.g. "F#m7/C#". */
  symbol: string;
  root: string;
  /** Everything between root and slash, as written. */
  quality: string;
  /** Bass note of a slash chord. */
  bass?: string;
  degrees: ChordDegree[];
}

const DEGREE_SEMITONES: Record<number, number> = {
  1: 0,
  2: 2,
  3: 4,
  4: 5,
  5: 7,
  6: 9,
  7: 11,
  9: 2,
  11: 5,
  13: 9,
};

function degree(number: number, alter: number, essential = true): ChordDegree {
  const sign = alter < 0 ? 'b'.repeat(-alter) : '#'.repeat(alter);
  return { name: sign + number, semitones: mod12(DEGREE_SEMITONES[number]! + alter), essential };
}

/** Reads the quality of a chord ("m7b5", "sus4", "maj9", "add9") into its degrees; undefined when unknown. */
function degreesOf(quality: string): ChordDegree[] | undefined {
  let rest = quality
    .replace(/♭/g, 'b')
    .replace(/♯/g, '#')
    .replace(/[()\s,]/g, '')
    .replace(/[Δ∆△^]7?/gu, 'maj7')
    .replace(/(?<!6)\/9$/, 'add9')
    .replace(/\/(?=add)/, '')
    // A 2 alone stands beside the third, a 4 alone in its place.
    .replace(/^2$/, 'add2')
    .replace(/^4$/, 'sus4')
    .replace(/ø7?/g, 'm7b5')
    .replace(/[°º]/g, 'dim');
  const take = (pattern: RegExp): string | undefined => {
    const match = pattern.exec(rest);
    if (match?.index !== 0) return undefined;
    rest = rest.slice(match[0].length);
    return match[1] ?? match[0];
  };

  let third: ChordDegree | undefined = degree(3, 0);
  let fifth: ChordDegree | undefined = degree(5, 0, false);
  let seventh: ChordDegree | undefined;
  const added = new Map<string, ChordDegree>();
  const add = (d: ChordDegree) => added.set(d.name.replace(/[b#]/g, ''), d);

  if (take(/^7?alt$/)) {
    return [degree(1, 0), third, degree(5, 1, false), degree(7, -1), degree(9, 1)];
  }
  let diminished = false;
  if (take(/^5(?!\d)/)) {
    third = undefined;
    fifth = degree(5, 0);
  } else if (take(/^dim|^o(?=7|$)/)) {
    third = degree(3, -1);
    fifth = degree(5, -1);
    diminished = true;
  } else if (take(/^aug|^\+(?!\d?[b#])/)) {
    fifth = degree(5, 1);
  } else if (take(/^(?:mmaj|mMaj|minmaj|mM|-maj)/)) {
    third = degree(3, -1);
    rest = `maj${rest}`;
  } else if (take(/^(?:min|mi|m(?!aj|a\d)|-)/)) {
    third = degree(3, -1);
  }

  const major = take(/^(?:maj|Maj|ma|M|j)/) !== undefined;
  const extension = take(/^(?:6\/9|69|6|7|9|11|13)/);
  if (extension === '6' || extension === '69' || extension === '6/9') {
    add(degree(6, 0));
    if (extension !== '6') add(degree(9, 0));
  } else if (extension) {
    seventh = major ? degree(7, 0) : diminished ? degree(7, -2) : degree(7, -1);
    const top = Number(extension);
    if (top >= 9) add(degree(9, 0, top === 9));
    if (top >= 11) add(degree(11, 0, top === 11));
    if (top === 13) {
      // A natural eleventh clashes with the major third, so players leave it out of a thirteenth.
      if (third && third.semitones === 4) added.delete('11');
      add(degree(13, 0));
    }
    if (top === 11 && third?.semitones === 4) third = { ...third, essential: false };
  }

  while (rest) {
    const sus = take(/^sus(24|2|4|9|)/);
    if (sus !== undefined) {
      third = undefined;
      if (sus === '24') add(degree(2, 0));
      const second = sus === '2' || sus === '9';
      add(degree(second ? 2 : 4, 0));
      continue;
    }
    const sg = take(/^sg$/);
    if (sg !== undefined) return undefined;
    const plain = take(/^add([b#]?(?:2|4|6|9|11|13))/);
    if (plain) {
      const alter = plain.startsWith('b') ? -1 : plain.startsWith('#') ? 1 : 0;
      add(degree(Number(plain.replace(/[b#]/, '')), alter));
      continue;
    }
    const omitted = take(/^(?:no|omit)(3|5)(?:rd|th)?/);
    if (omitted) {
      if (omitted === '3') third = undefined;
      else fifth = undefined;
      continue;
    }
    if (take(/^maj7|^M7/)) {
      seventh = degree(7, 0);
      continue;
    }
    const altered = take(/^([b#+-](?:5|6|9|11|13))/);
    if (altered) {
      const number = Number(altered.slice(1));
      const alter = altered[0] === 'b' || altered[0] === '-' ? -1 : 1;
      if (number === 5) fifth = degree(5, alter);
      else added.set(altered, degree(number, alter));
      // A plain ninth gives way to its altered form, "7b9" after a "9".
      if (number === 9 && added.has('9')) added.delete('9');
      if (number === 11) added.delete('11');
      continue;
    }
    return undefined;
  }

  const degrees = [degree(1, 0), third, fifth, seventh, ...added.values()].filter(d => d !== undefined);
  const seen = new Set<number>();
  return degrees.filter(d => !seen.has(d.semitones) && seen.add(d.semitones));
}

/** Digits as some print them behind a chord's root. */
const RAISED = '⁰¹²³⁴⁵⁶⁷⁸⁹';

/**
 * Reads a chord symbol ("Am", "F#m7b5", "D/F#", "Gsus4"). Accidentals may be ASCII or ♯ ♭, digits raised.
 *
 * @returns the chord, or undefined when the text is not a chord symbol (such as "N.C." or a remark)
 * @example parseChord('D/F#')?.bass // 'F#'
 */
export function parseChord(symbol: string): Chord | undefined {
  const text = symbol.trim().replace(/[⁰¹²³⁴-⁹]/g, raised => `${RAISED.indexOf(raised)}`);
  const match = /^([A-G](?:##|#|♯|bb|b|♭)?)(.*)$/u.exec(text);
  if (!match) return undefined;
  let quality = match[2]!;
  let bass: string | undefined;
  // Some write the bass small.
  const slash = /^(.*?)\/([A-Ga-g](?:#|♯|b|♭)?)$/u.exec(quality);
  if (slash) {
    quality = slash[1]!;
    bass = slash[2]!.charAt(0).toUpperCase() + slash[2]!.slice(1);
  }
  const degrees = degreesOf(quality);
  if (!degrees) return undefined;
  const root = noteName(parseNoteName(match[1]!)!);
  const plainBass = bass && noteName(parseNoteName(bass)!);
  const chord: Chord = { symbol: text, root, quality, degrees };
  return plainBass && pitchClassOf(plainBass) !== pitchClassOf(root) ? { ...chord, bass: plainBass } : chord;
}

/**
 * Pitch classes of the chord, root first, the slash bass last when it is foreign to the chord.
 *
 * @example chordClasses(parseChord('Am7')) // [9, 0, 4, 7]
 */
export function chordClasses(chord: Chord): number[] {
  const root = pitchClassOf(chord.root);
  const classes = chord.degrees.map(d => mod12(root + d.semitones));
  if (chord.bass && !classes.includes(pitchClassOf(chord.bass))) classes.push(pitchClassOf(chord.bass));
  return classes;
}

/**
 * Pitch class that belongs in the bass: the slash bass, or the root.
 *
 * @example bassClass(parseChord('C/G')) // 7
 */
export function bassClass(chord: Chord): number {
  return pitchClassOf(chord.bass ?? chord.root);
}

/**
 * Pitch class of a chord's third, fifth or seventh, whatever its kind; undefined where it has none.
 *
 * @example classOfDegree(parseChord('Am'), 3) // 0
 */
export function classOfDegree(chord: Chord, degree: 3 | 5 | 7): number | undefined {
  const found = chord.degrees.find(({ name }) => name.endsWith(String(degree)) && name !== '13');
  return found && mod12(pitchClassOf(chord.root) + found.semitones);
}

/**
 * Name of the degree a pitch class takes in a chord; undefined when it is foreign to it.
 *
 * @example degreeOf(parseChord('G7'), 5) // 'b7'
 */
export function degreeOf(chord: Chord, pitchClass: number): string | undefined {
  const interval = mod12(pitchClass - pitchClassOf(chord.root));
  return chord.degrees.find(d => d.semitones === interval)?.name;
}

/**
 * The chord moved by semitones, spelled for a key signature of `fifths` sharps (negative: flats).
 *
 * @example transposeChord(parseChord('Am'), 2, 2).symbol // 'Bm'
 */
export function transposeChord(chord: Chord, semitones: number, fifths: number): Chord {
  if (mod12(semitones) === 0) return chord;
  const move = (name: string) => noteName(spellClass(pitchClassOf(name) + semitones, fifths));
  const root = move(chord.root);
  const bass = chord.bass && move(chord.bass);
  const moved: Chord = { ...chord, root, symbol: root + chord.quality + (bass ? `/${bass}` : '') };
  if (bass) moved.bass = bass;
  return moved;
}

/** Said in a chord's place where nothing accompanies. */
export const NO_CHORD = 'N.C.';

/**
 * Whether a text says that no chord is played, however it is written.
 *
 * @example saysNoChord('n.c.') // true
 */
export function saysNoChord(text: string): boolean {
  return /^\(?n\.? ?c\.?\)?$/i.test(text.trim());
}

/**
 * Whether a word stands in a chord's place: it names one, or says that none is played.
 *
 * @example isChordWord('N.C.') // true
 */
export const isChordWord = (text: string): boolean => saysNoChord(text) || parseChord(text) !== undefined;

/**
 * A chord symbol with ♯ and ♭, for display.
 *
 * @example chordLabel('Bbm7') // 'B♭m7'
 */
export function chordLabel(symbol: string): string {
  return prettyAccidentals(symbol);
}
