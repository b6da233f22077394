/** What the head of a text says in plain words: "Evening Road (capo 2, in 3/4)". */
import { INSTRUMENTS, type InstrumentId, parseTuning, tuningsOf } from '../instrument';
import { GERMAN_KEY, germanKey, midiOf, parsePitch, pitchName, spellMidi } from '../pitch';
import { readHeadingLine, TRADITIONAL } from './heading';
import type { Heading } from './reading';
import { ROMAN } from './roman';

/** Words that name an instrument, the longer ones first: a tenor guitar is no guitar. */
const INSTRUMENT_WORDS: [RegExp, InstrumentId][] = [
  [/\b(?:twelve|12)[- ]string(?: guitar)?\b/i, 'twelve-string'],
  [/\b(?:seven|7)[- ]string(?: guitar)?\b/i, 'seven-string'],
  [/\b(?:eight|8)[- ]string guitar\b/i, 'eight-string'],
  [/\b(?:five|5)[- ](?:string|course) mandolin\b/i, 'five-string-mandolin'],
  ...Object.values(INSTRUMENTS)
    .toSorted((a, b) => b.name.length - a.name.length)
    .map(({ id, name }): [RegExp, InstrumentId] => [new RegExp(String.raw`\b${name}\b`, 'i'), id]),
];
/** Words that may stand beside what is understood. */
const FILLERS =
  /\b(?:on|at|in|to|for|the|a|of|fret|time|tune[ds]?|tuning|signature|feel|capo|key|tempo|meter|metre|bpm|beats|per|minute|about|around|approx|ca|or so|strings?|acoustic|fingerstyle|solo|tab|arr|arranged|played|with|and|st|nd|rd|th|kapo(?:daster)?|bund|im|takt|tonart)\b/gi;

/** Who made it. */
export const BY =
  /^\s*(?:by|artist|composer|author|(?:written|composed|arranged|arr\.?) by|(?:words|text|lyrics|music)(?:(?: and| &) (?:words|lyrics|music))?(?: by)?)\s*[: ]\s*(\S.*?)\s*$/i;
/** What a sheet is says nothing of its piece. */
const SHEET =
  /^\W*(?:(?:guitar|mandolin)\s+)?(?:tab(?:s|lature)?|chords(?: and (?:words|lyrics))?|lyrics)\W*$/i;
const ANONYMOUS = /^(?:trad|traditional|anon|anonymous)\b\.?/i;
const TITLE = /^\s*(?:song|name|piece|tune)\s*:\s*(\S.*?)\s*$/i;

/** What signs mean is known: "h = hammer-on". */
const LEGEND =
  /^\W*\S{1,5}\s*(?:=|:|-|means?\b)\s*(?:an? |the )?(?:hammer|pull|slide|bend|release|vibrato|palm|mute|harmonic|dead|ghost|grace|let ring|natural|down|up)/i;

const capoOf = (text: string) =>
  /\bno capo\b/i.exec(text) ??
  /\b[ck]apo(?:daster)?\D{0,12}?(\d{1,2})(?:st|nd|rd|th)?(?: fret)?/i.exec(text) ??
  /\b[CcKk]apo(?:daster)?\W{0,3}(?:(?:on|at)\s+)?(?:fret\s+)?([IVX]{1,4})\b/.exec(text);

interface Phrase {
  /** Where it is found. */
  find: (text: string) => RegExpExecArray | null;
  /** What it says; false where it says nothing that can be. */
  take: (match: RegExpExecArray, heading: Heading) => boolean;
  /** It may be a word of a title as well, and counts only where nothing else is said. */
  alone?: boolean;
}

const line = (field: string, value: string, heading: Heading) =>
  readHeadingLine(`${field}: ${value}`, heading) === undefined;

/** Every string so many semitones lower. */
function tuneDown(semitones: number, heading: Heading): boolean {
  const { tuning } = INSTRUMENTS[heading.instrument ?? 'guitar'];
  heading.tuning ??= tuning.map(name => {
    const pitch = parsePitch(name)!;
    return pitchName(spellMidi(midiOf(pitch) - semitones, -5));
  });
  return true;
}

/** Letters by themselves where they are a tuning that has a name: "GDAE". */
function tunedAs(
  letters: string,
  heading: Heading,
  strings: (count: number) => InstrumentId | undefined,
): boolean {
  const instrument = heading.instrument ?? strings(letters.length);
  const known =
    instrument &&
    tuningsOf(instrument).find(
      ({ tuning }) =>
        tuning
          .map(name => name[0])
          .reverse()
          .join('') === letters,
    );
  if (known) heading.tuning ??= known.tuning;
  return Boolean(known);
}

/** Tunings by their letters or their name. */
function tune(text: string, heading: Heading, strings: (count: number) => InstrumentId | undefined): boolean {
  const names = text.replace(/e$/, 'E').match(/[A-H][b#]?/g) ?? [];
  const instrument = heading.instrument ?? strings(names.length) ?? 'guitar';
  const plain = (name: string) =>
    name
      .toLowerCase()
      .replace('dropped', 'drop')
      .replace(/[^a-z]/g, '');
  const known = tuningsOf(instrument).find(({ name }) => plain(name) === plain(text));
  const read = known?.tuning ?? parseTuning(names.join(' '), instrument);
  if ('error' in read) return false;
  heading.tuning ??= read;
  return true;
}

function phrases(strings: (count: number) => InstrumentId | undefined): Phrase[] {
  return [
    {
      find: capoOf,
      take: ([, fret = '0'], heading) =>
        line('capo', ROMAN.includes(fret) ? String(ROMAN.indexOf(fret) + 1) : fret, heading),
    },
    {
      find: text =>
        /\b[Tt]un(?:ing|ed)\b(?: to)?\W+((?:[A-H][b#]?[\s-]?){3,7}(?:[A-H][b#]?|e))(?![a-z])/.exec(text) ??
        /(?<![A-Za-z])((?:[A-H][b#]?[\s-]?){3,7}(?:[A-H][b#]?|e))\s*tuning\b/.exec(text) ??
        /(?<![A-Za-z])((?:[A-H][b#]?-?){5}(?:[A-H][b#]?|e))(?![A-Za-z-])/.exec(text),
      take: (match, heading) => tune(match[1]!, heading, strings),
    },
    {
      find: text => /^\W*([A-H]{4,5})\W*$/.exec(text),
      take: (match, heading) => tunedAs(match[1]!, heading, strings),
    },
    {
      find: text =>
        /\b(half|whole|full|one|1)[- ](?:step|tone)s?[- ](?:down|lower)\b/i.exec(text) ??
        /\bdown[- ](?:a[- ])?(half|whole|full)[- ](?:step|tone)\b/i.exec(text),
      take: (match, heading) => tuneDown(/half/i.test(match[1]!) ? 1 : 2, heading),
    },
    {
      find: text =>
        /\b(standard|(?:double )?drop(?:ped)?[- ]D|open [CDG])(?: tuning)?\b/i.exec(text) ??
        /\btuning\W+(standard)\b/i.exec(text),
      take: (match, heading) => /standard/i.test(match[1]!) || tune(match[1]!, heading, strings),
    },
    {
      find: text => /(?<![\d/])(\d{1,2}\/\d{1,2})(?![\d/])/.exec(text),
      take: (match, heading) => Boolean(heading.meter) || line('meter', match[1]!, heading),
    },
    {
      find: text => GERMAN_KEY.exec(text),
      take: ([words], heading) => {
        heading.key ??= germanKey(words)!;
        heading.keyInWords = true;
        return true;
      },
    },
    {
      find: text =>
        /\bkey\W+(?:of\W+)?([A-G][b#]?)\s*(m\b|min(?:or)?\b|maj(?:or)?\b|dorian|mixolydian|lydian|phrygian)?/i.exec(
          text,
        ) ?? /\b([A-G][b#]?)[ -](minor|major|dorian|mixolydian|lydian|phrygian)\b/.exec(text),
      take: ([, tonic, mode = ''], heading) => {
        if (heading.key) return true;
        heading.keyInWords = line(
          'key',
          mode === 'm' ? `${tonic}m` : `${tonic} ${mode.toLowerCase()}`.trim(),
          heading,
        );
        return heading.keyInWords;
      },
    },
    {
      find: text =>
        /^\W*(?:[Ii]t )?(?:[Ss]ound(?:s|ing)|[Pp]lay(?:s|ed)?)?\s*\b[Ii]n(?: the)?(?: key of)?\s+([A-G][b#]?m?)(?: (?:shapes|major))?\W*$/.exec(
          text,
        ),
      take: ([, tonic], heading) => {
        heading.keyInWords = line('key', tonic!, heading);
        return heading.keyInWords;
      },
      alone: true,
    },
    {
      find: text =>
        /(?:\b(?:tempo|bpm)\b|[♩♪])\W{0,3}(?:(?:ca|about|around|approx)\b\W{0,2})?(\d{2,3})(?:\s?[-–]\s?\d{2,3})?\b/i.exec(
          text,
        ) ??
        /(?:\bq\w*\s*)?=\s*(\d{2,3})\b/i.exec(text) ??
        /\b(\d{2,3})\s*bpm\b/i.exec(text),
      take: (match, heading) => heading.quartersPerMinute !== undefined || line('tempo', match[1]!, heading),
    },
    {
      find: text => /\b(?:waltz|common|cut)(?: time)?\b/i.exec(text),
      take: ([words], heading) => {
        heading.meter ??= /waltz/i.test(words)
          ? { beats: 3, unit: 4 }
          : /cut/i.test(words)
            ? { beats: 2, unit: 2 }
            : { beats: 4, unit: 4 };
        return true;
      },
      alone: true,
    },
    {
      find: text => /\b(?:swing|swung|shuffle)\b/i.exec(text),
      take: (_, heading) => {
        heading.feel ??= 'swing';
        return true;
      },
      alone: true,
    },
    ...INSTRUMENT_WORDS.map(
      ([word, id]): Phrase => ({
        find: text => word.exec(text),
        take: (_, heading) => {
          heading.instrument ??= id;
          return true;
        },
        alone: true,
      }),
    ),
  ];
}

/**
 * Reads a line at the head of a text into what is known already.
 *
 * @param strings the instrument that has so many
 * @returns its parts that say something else, such as a title; the whole line where nothing of it is understood
 */
export function readLooseHeading(
  text: string,
  heading: Heading,
  strings: (count: number) => InstrumentId | undefined = () => undefined,
): string[] {
  const known = phrases(strings);
  // What stands far apart are columns of a line, and so is what begins with a name and a colon.
  return text
    .split(/\s{3,}|\t|\s{2}(?=\p{L}+:)/u)
    .filter(column => column.trim())
    .flatMap(column => readColumn(column, heading, known));
}

/**
 * Reads a line before the music: who made the piece, its title by that name, and what a loose heading says.
 *
 * @returns its parts that say something else
 */
export function readPreface(
  text: string,
  heading: Heading,
  strings?: (count: number) => InstrumentId | undefined,
): string[] {
  if (SHEET.test(text)) return [];
  // "Key - D" is "Key: D".
  const dashed = text.replace(/^(\s*\p{L}+)\s+[-–—]\s+/u, '$1: ');
  if (dashed !== text && readHeadingLine(dashed, { ...heading }) === undefined) {
    readHeadingLine(dashed, heading);
    return [];
  }
  const composer = BY.exec(text)?.[1];
  if (composer) {
    heading.composer ??= composer;
    return [];
  }
  const title = TITLE.exec(text)?.[1];
  if (title) {
    if (heading.title !== undefined) return [text.trim()];
    heading.title = title;
    return [];
  }
  const [behind, anonymous] = TRADITIONAL.exec(text) ?? [];
  if (anonymous) heading.composer ??= anonymous;
  const rest = text.slice(0, text.length - (behind?.length ?? 0));
  return readLooseHeading(rest, heading, strings).filter(part => {
    const own = ANONYMOUS.test(part);
    if (own) heading.composer ??= part;
    return !own;
  });
}

const says = (text: string) => /[\p{L}\d]/u.test(text);

/** Reads what stands together. @returns what is something else; all of it where nothing is understood */
function readColumn(column: string, heading: Heading, known: readonly Phrase[]): string[] {
  const others: string[] = [];
  let understood = false;
  for (const part of column.split(/[,;()[\]]|\s[-–—|•·]\s/)) {
    if (!says(part)) continue;
    if (LEGEND.test(part)) {
      understood = true;
      continue;
    }
    let left = part;
    let taken = false;
    const take = (phrase: Phrase, into: Heading) => {
      const match = phrase.find(left);
      if (!match || !phrase.take(match, into)) return;
      left = left.replace(match[0], ' ');
      taken = true;
    };
    for (const phrase of known.filter(({ alone }) => !alone)) take(phrase, heading);
    const own: Heading = {};
    for (const phrase of known.filter(({ alone }) => alone)) take(phrase, own);
    // What stands beside a title is a part of it.
    if (!taken || says(left.replace(FILLERS, ''))) others.push(part.trim());
    else {
      understood = true;
      if (own.instrument) heading.instrument ??= own.instrument;
      if (own.feel) heading.feel ??= own.feel;
      if (own.meter) heading.meter ??= own.meter;
      if (own.key && !heading.key) Object.assign(heading, { key: own.key, keyInWords: own.keyInWords });
    }
  }
  return understood || others.length < 2 ? others : [column.trim()];
}
