/** What a tune's screen has changed, written into the head of its song. */
import { beatsPerMinute, meterName } from '../../time';
import type { Tune } from '../../tune';
import { readSong } from './read';

/** What a line of a head says of a tune, how it is written, and the lines that say it. */
const SAID = [
  {
    of: ({ meter }: Tune) => meterName(meter),
    name: 'meter',
    directive: 'time:',
    lines: /^\s*(?:meter|takt)\s*:|^\s*\{\s*(?:meta:?\s+)?time\b/i,
  },
  {
    of: ({ meter, quartersPerMinute }: Tune) => `${Math.round(beatsPerMinute(meter, quartersPerMinute))}`,
    name: 'tempo',
    directive: 'tempo:',
    lines: /^\s*(?:tempo\s*:|\{\s*(?:meta:?\s+)?tempo\b)/i,
  },
  {
    of: ({ rhythm = '' }: Tune) => rhythm,
    name: 'kind',
    directive: 'meta: kind',
    lines: /^\s*(?:(?:kind|style)\s*:|\{\s*meta:?\s+kind\b)/i,
  },
  {
    of: ({ feel = 'straight' }: Tune) => feel,
    name: 'feel',
    directive: 'meta: feel',
    lines: /^\s*(?:feel\s*:|\{\s*meta:?\s+feel\b)/i,
  },
] as const;

/** The tempos of parts and measures: a line of the head changes none of them. */
const ownTempos = ({ measures }: Tune): string => JSON.stringify(measures.map(({ tempos }) => tempos));

/** Rows from the top before which a line of the head is looked for a place: a tempo counts in the beats of a meter that is said before. */
const HEAD = 12;

/**
 * The text of a song with what its tune's screen says now: how beats go together, tempo, kind and feel, where it says others: read again they would be lost.
 * The line that says so is changed, else one is put in as near to the top as it is understood; a text in which that can't be told stays as it is.
 *
 * @example withHead('Lamp\ntempo: 90\n\nG D', { ...tune, quartersPerMinute: 72 }) // 'Lamp\ntempo: 72\n\nG D'
 */
export function withHead(text: string, tune: Tune): string {
  let said = text;
  for (const { of, name, directive, lines } of SAID) {
    const read = readSong(said).tune;
    const value = of(tune);
    if (!read || of(read) === value) continue;
    const rows = said.split('\n');
    const line = /^\s*\{/m.test(said) ? `{${directive} ${value}}` : `${name}: ${value}`;
    const own = value ? [line] : [];
    const at = rows.findIndex(row => lines.test(row));
    const ways = [
      ...(at < 0 ? [] : [rows.toSpliced(at, 1, ...own)]),
      ...rows.slice(0, HEAD).map((_, before) => rows.toSpliced(before, 0, ...own)),
    ];
    said =
      ways
        .map(way => way.join('\n'))
        .find(way => {
          const again = readSong(way).tune;
          return again && of(again) === value && ownTempos(again) === ownTempos(read);
        }) ?? said;
  }
  return said;
}
