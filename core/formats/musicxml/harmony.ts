/** Chord names and words of MusicXML. */
import { NO_CHORD, parseChord } from '../../chord';
import { parseNoteName, type Step } from '../../pitch';
import type { ScoreChord, ScoreMeasure, ScoreNote } from '../../score';
import { element, type Markup, tag } from '../xml';
import { all, first, type Node, numberIn, textIn } from './tree';

const MOST_STRINGS = 12;

const HARMONY_KINDS: Record<string, string> = {
  '': 'major',
  maj: 'major',
  m: 'minor',
  min: 'minor',
  '7': 'dominant',
  maj7: 'major-seventh',
  M7: 'major-seventh',
  m7: 'minor-seventh',
  dim: 'diminished',
  dim7: 'diminished-seventh',
  m7b5: 'half-diminished',
  aug: 'augmented',
  '+': 'augmented',
  '6': 'major-sixth',
  m6: 'minor-sixth',
  '9': 'dominant-ninth',
  maj9: 'major-ninth',
  m9: 'minor-ninth',
  '11': 'dominant-11th',
  '13': 'dominant-13th',
  sus2: 'suspended-second',
  sus4: 'suspended-fourth',
  sus: 'suspended-fourth',
  '5': 'power',
  mmaj7: 'major-minor',
};

function rootElements(name: string, prefix: 'root' | 'bass'): Markup {
  const note = parseNoteName(name) as { step: Step; alter: number };
  return tag(
    prefix,
    tag(`${prefix}-step`, note.step),
    note.alter ? tag(`${prefix}-alter`, note.alter) : undefined,
  );
}

/** A chord over the music; `offset` in ticks from where the file stands. */
export function harmony(chord: ScoreChord, offset: number): Markup | undefined {
  if (chord.sounding === NO_CHORD)
    return tag(
      'harmony',
      // A root is asked for; without a text it is not printed.
      tag('root', element('root-step', { text: '' }, 'C')),
      element('kind', { text: NO_CHORD }, 'none'),
      offset ? tag('offset', offset) : undefined,
      tag('staff', 1),
    );
  const parsed = parseChord(chord.sounding);
  if (!parsed) return undefined;
  return tag(
    'harmony',
    rootElements(parsed.root, 'root'),
    element('kind', { text: parsed.quality || undefined }, HARMONY_KINDS[parsed.quality] ?? 'other'),
    parsed.bass ? rootElements(parsed.bass, 'bass') : undefined,
    chord.frets && frame(chord.frets, chord.fingers),
    offset ? tag('offset', offset) : undefined,
    tag('staff', 1),
  );
}

/** Frets of a picture at least. */
const FRETS_SHOWN = 4;

/** The picture of a grip: frets are counted from the capo, as those of the tablature are; a string without a note is silent. */
function frame(frets: NonNullable<ScoreChord['frets']>, fingers: ScoreChord['fingers']): Markup {
  const pressed = frets.filter(fret => fret !== null && fret > 0) as number[];
  const highest = Math.max(0, ...pressed);
  const from = highest > FRETS_SHOWN ? Math.min(...pressed) : 1;
  const notes = frets.flatMap((fret, i) =>
    fret === null ? [] : [{ string: i + 1, fret, finger: fingers?.[i] }],
  );
  return tag(
    'frame',
    tag('frame-strings', frets.length),
    tag('frame-frets', Math.max(FRETS_SHOWN, highest - from + 1)),
    from > 1 ? tag('first-fret', from) : undefined,
    ...notes.reverse().map(({ string, fret, finger }) => {
      // A finger on several strings lies across them, from the thickest to the thinnest.
      const across = notes.filter(note => finger && note.finger === finger).map(note => note.string);
      const [thickest, thinnest] = [Math.max(...across), Math.min(...across)];
      const type = across.length < 2 ? '' : string === thickest ? 'start' : string === thinnest ? 'stop' : '';
      return tag(
        'frame-note',
        tag('string', string),
        tag('fret', fret),
        finger ? tag('fingering', finger) : undefined,
        type ? element('barre', { type }) : undefined,
      );
    }),
  );
}

/** A grip out of the picture of a chord, string 1 first; undefined where there is none. */
export function gripIn(node: Node): Pick<ScoreChord, 'frets' | 'fingers'> | undefined {
  const picture = first(node, 'frame');
  const strings = numberIn(picture, 'frame-strings') ?? 0;
  if (!picture || strings < 1 || strings > MOST_STRINGS) return undefined;
  const frets: (number | null)[] = Array.from({ length: strings }, () => null);
  const fingers: (number | null)[] = Array.from({ length: strings }, () => null);
  for (const note of all(picture, 'frame-note')) {
    const string = numberIn(note, 'string') ?? 0;
    const fret = numberIn(note, 'fret');
    if (!(string >= 1 && string <= strings) || fret === undefined || !(fret >= 0 && fret <= 36)) continue;
    frets[string - 1] = fret;
    const finger = numberIn(note, 'fingering');
    if (fret && finger !== undefined && finger >= 1 && finger <= 4) fingers[string - 1] = finger;
  }
  return frets.some(fret => fret !== null) ? { frets, fingers } : undefined;
}

/** Hyphens at the end of a syllable and of the one before it tell where in the word it stands. */
export function lyrics(measure: ScoreMeasure, note: ScoreNote, open: boolean[]): Markup[] {
  const words = measure.words.find(w => w.start === note.start);
  if (!words || note.tie) return [];
  return words.verses.flatMap((syllable, verse) => {
    if (!syllable) return [];
    const goesOn = syllable.endsWith('-');
    const syllabic = open[verse] ? (goesOn ? 'middle' : 'end') : goesOn ? 'begin' : 'single';
    open[verse] = goesOn;
    return [
      element(
        'lyric',
        { number: verse + 1 },
        tag('syllabic', syllabic),
        tag('text', syllable.replace(/-$/, '')),
      ),
    ];
  });
}

/** Qualities by the names of the standard; the first one of each stands for it. */
const QUALITY_OF = new Map(
  Object.entries(HARMONY_KINDS)
    .toReversed()
    .map(([quality, kind]) => [kind, quality]),
);

const nameIn = (node: Node, what: 'root' | 'bass'): string | undefined => {
  const part = first(node, what);
  const step = textIn(part, `${what}-step`);
  const alter = numberIn(part, `${what}-alter`) ?? 0;
  return step && `${step}${alter < 0 ? 'b'.repeat(-alter) : '#'.repeat(alter)}`;
};

/** A chord symbol out of a `harmony`; undefined where it has no root. */
export function chordSymbol(node: Node): string | undefined {
  const kind = first(node, 'kind');
  const word = kind?.text.trim() ?? '';
  if (word === 'none') return NO_CHORD;
  const root = nameIn(node, 'root');
  if (!root) return undefined;
  const bass = nameIn(node, 'bass');
  const over = bass ? `/${bass}` : '';
  // What is printed is what was meant, where it can be read; some files print nothing for whatever chord.
  const printed = kind?.attributes.text?.trim() || undefined;
  if (printed !== undefined && parseChord(`${root}${printed}`)) return `${root}${printed}${over}`;
  const quality = QUALITY_OF.get(word) ?? printed ?? '';
  const degrees = all(node, 'degree').map(degree => {
    const alter = numberIn(degree, 'degree-alter') ?? 0;
    const sign = alter < 0 ? 'b' : alter > 0 ? '#' : '';
    const add = textIn(degree, 'degree-type') === 'add' && !sign ? 'add' : '';
    return `${add}${sign}${numberIn(degree, 'degree-value') ?? ''}`;
  });
  const full = `${root}${quality}${degrees.join('')}`;
  return `${parseChord(full) || !degrees.length ? full : `${root}${quality}`}${over}`;
}
