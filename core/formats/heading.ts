/** The lines at the head of a text: "capo: 2". */
import { INSTRUMENTS, type InstrumentId, parseTuning } from '../instrument';
import { germanKey, type Key, MODES, parseNoteName } from '../pitch';
import { FEELS, type Feel, parseMeter, quartersFromBeats } from '../time';
import type { Heading } from './reading';

/** What a heading line can name. */
const FIELDS = ['title', 'instrument', 'tuning', 'capo', 'meter', 'key', 'tempo', 'feel'] as const;
/** Behind a title: "(trad.)". */
export const TRADITIONAL = /[\s([,–-]\s*((?:trad|anon)(?:itional|ymous)?\.?)[)\]]?\s*$/i;
/** How feels are called. */
const FEEL_WORDS: Readonly<Record<Feel, RegExp>> = {
  straight: /^(straight|even)\b/i,
  swing: /^(swing|swung|shuffle)/i,
  lilt: /^(lilt|jig)/i,
};
/** What they are called in other languages. */
const OTHERWISE: Readonly<Record<string, (typeof FIELDS)[number]>> = {
  titel: 'title',
  stimmung: 'tuning',
  kapo: 'capo',
  takt: 'meter',
  tonart: 'key',
  titolo: 'title',
  título: 'title',
  titulo: 'title',
  titre: 'title',
  tonalità: 'key',
  tonalidad: 'key',
  tonalité: 'key',
  tom: 'key',
  capotasto: 'capo',
  capodastre: 'capo',
  cejilla: 'capo',
  afinación: 'tuning',
  accordatura: 'tuning',
};
const LINE = new RegExp(`^\\s*(${[...FIELDS, ...Object.keys(OTHERWISE)].join('|')})\\s*:\\s*(.*?)\\s*$`, 'i');

/** A key as people write it: "G", "Em", "D mixolydian", "h-Moll". */
function parseKey(text: string): Key | undefined {
  const german = germanKey(text);
  if (german) return german;
  const [, tonic, minor, name] = /^([A-G][b#]?)(m?)(?:\s+([a-z]+))?$/i.exec(text.trim()) ?? [];
  if (!tonic) return undefined;
  const mode = minor === 'm' ? 'minor' : MODES.find(m => m.startsWith((name ?? 'major').toLowerCase()));
  const own = tonic.charAt(0).toUpperCase() + tonic.slice(1);
  return mode && parseNoteName(own) ? { tonic: own, mode } : undefined;
}

/**
 * Reads one line of a heading into what is known already.
 *
 * @returns false where it is none; what is wrong with it
 */
export function readHeadingLine(line: string, heading: Heading): string | false | undefined {
  const [, name, value] = LINE.exec(line) ?? [];
  if (!name || value === undefined) return false;
  const field = name.toLowerCase();
  switch (OTHERWISE[field] ?? (field as (typeof FIELDS)[number])) {
    case 'title': {
      const [behind, anonymous] = TRADITIONAL.exec(value) ?? [];
      if (anonymous) heading.composer ??= anonymous;
      heading.title = value.slice(0, value.length - (behind?.length ?? 0));
      return heading.title ? undefined : 'a title has at least one letter';
    }
    case 'instrument': {
      const id = value.toLowerCase().replace(/\s+/g, '-') as InstrumentId;
      if (!INSTRUMENTS[id]) return `instruments are ${Object.keys(INSTRUMENTS).join(', ')}`;
      heading.instrument = id;
      return undefined;
    }
    case 'tuning': {
      // "1=E 2=B …" names the strings from the thinnest.
      const named = [...value.matchAll(/(?<!\d)[1-8]\s*=\s*([A-H][#b]?\d?)/gi)].map(([, name]) => name!);
      const written = named.length > 3 ? (/^\W*1/.test(value) ? named.reverse() : named).join(' ') : value;
      const tuning = parseTuning(written, heading.instrument ?? 'guitar');
      if ('error' in tuning) return `the tuning can't be read: ${tuning.error}`;
      heading.tuning = tuning;
      return undefined;
    }
    case 'capo': {
      const capo = /^no(ne)?$/i.test(value) ? 0 : Number(value);
      if (!Number.isInteger(capo) || capo < 0 || capo > 12) return 'a capo lies on fret 0 to 12';
      heading.capo = capo;
      return undefined;
    }
    case 'meter': {
      const meter = parseMeter(value);
      if (!meter) return 'a meter is written as 4/4, 3/4, 6/8 …';
      // A tempo counts beats, also where the meter that tells them stands below it.
      if (heading.quartersPerMinute !== undefined && !heading.meter)
        heading.quartersPerMinute = quartersFromBeats(meter, heading.quartersPerMinute);
      heading.meter = meter;
      return undefined;
    }
    case 'key': {
      const key = parseKey(value);
      if (!key) return 'a key is written as G, Em or D mixolydian';
      heading.key = key;
      return undefined;
    }
    case 'tempo': {
      const beats = Number(value);
      const quarters = quartersFromBeats(heading.meter ?? { beats: 4, unit: 4 }, beats);
      if (!(quarters >= 10 && quarters <= 400)) return 'a tempo is a number of beats a minute, such as 90';
      heading.quartersPerMinute = quarters;
      return undefined;
    }
    case 'feel': {
      const feel = FEELS.find(f => FEEL_WORDS[f].test(value));
      if (!feel) return `a feel is one of ${FEELS.join(', ')}`;
      heading.feel = feel;
      return undefined;
    }
  }
}
