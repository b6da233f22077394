/**
 * Ids of the parts of a record: measures, notes, chords, sections, ledger lines.
 *
 * An id is a letter for what it names and a number. It is given once in its record and never again, so that whatever
 * points at a part finds that part or nothing, wherever the part has moved to. The record keeps the next free number,
 * which makes ids the same for the same input.
 */

/** What a letter stands for. */
export const PREFIXES = {
  measure: 'm',
  event: 'e',
  note: 'n',
  chord: 'c',
  section: 's',
  line: 'l',
  rest: 'r',
  grace: 'g',
  remark: 'k',
  variant: 'v',
  phrase: 'p',
} as const;
export type Part = keyof typeof PREFIXES;

/** Ids that are given one after the other, from a record's next free number. */
export class IdGiver {
  /** @param next the record's next free number, from 1 */
  constructor(private next = 1) {}

  /** A new id: `new IdGiver(7).give('note')` is "n7". */
  give(part: Part): string {
    return `${PREFIXES[part]}${this.next++}`;
  }

  /** The number to keep in the record. */
  get nextId(): number {
    return this.next;
  }
}

/**
 * The least number above those of all ids: `nextAfter(["m4", "n17"])` is 18. Ids of another form do not count.
 *
 * @example nextAfter(['n3', 'm7']) // 8
 */
export function nextAfter(ids: Iterable<string>): number {
  let next = 1;
  for (const id of ids) {
    const number = /^[a-z](\d{1,15})$/.exec(id)?.[1];
    if (number) next = Math.max(next, Number(number) + 1);
  }
  return next;
}

/**
 * The first id that stands twice in a list; undefined when each stands alone.
 *
 * @example repeatedId(['n1', 'n2', 'n1']) // 'n1'
 */
export function repeatedId(ids: Iterable<string>): string | undefined {
  const seen = new Set<string>();
  for (const id of ids) {
    if (seen.has(id)) return id;
    seen.add(id);
  }
  return undefined;
}
