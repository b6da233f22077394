/** What is said of the road and the tempo at the end of a line: "last time stop here", "slow down to 60". */
import type { RoadMark } from '../../tune';

/** What happens behind a line. */
export type SongOrder =
  | { kind: 'mark'; mark: RoadMark }
  /** Its end slows down, to so many beats a minute where they are said. */
  | { kind: 'slow'; beats?: number };

const STOP = /^(last time,? (stop|end)s? here|(stop|end)s? here (the )?last time|fine)$/i;
const CODA = /^(the )?last time,? (go |on )?to (the )?coda|^to (the )?coda( (the )?last time)?$/i;
const SLOW =
  /^(?:slow(?:s|ing)?(?: down)?|rit(?:ardando|\.)?|rall(?:entando|\.)?|getting slower)(?:,? to (\d{2,3})(?: beats(?: a minute)?)?)?$/i;

/**
 * Reads a line that says what happens behind the one before it.
 *
 * @returns undefined where it says nothing of the kind
 */
export function readOrder(line: string): SongOrder | undefined {
  const text = line
    .trim()
    .replace(/^\((.*)\)$/, '$1')
    .replace(/(?<!rit|rall)\.$/i, '')
    .trim();
  if (STOP.test(text)) return { kind: 'mark', mark: 'last-time-end' };
  if (CODA.test(text)) return { kind: 'mark', mark: 'to-coda' };
  const slow = SLOW.exec(text);
  if (!slow) return undefined;
  return { kind: 'slow', ...(slow[1] && { beats: Number(slow[1]) }) };
}
