/** A state of an arrangement that was named, to go back to. */
import type { Arrangement } from './model';

/** Longest name of an arrangement, a snapshot or a passage, in characters. */
export const MOST_NAME = 120;

export interface Snapshot extends Arrangement {
  /** Id of the arrangement that it is a state of; its own id is another. */
  of: string;
  /** "Before the second half was changed". */
  label: string;
  /** When it was named, in milliseconds since 1970. */
  made: number;
}

/**
 * An arrangement as it stands, named.
 *
 * @example snapshotOf(arrangement, { id: 'v1', name: 'As taught in May', made: 1790000000000 }).of // arrangement.id
 */
export function snapshotOf(
  arrangement: Arrangement,
  { id, name, made }: { id: string; name: string; made: number },
): Snapshot {
  return { ...arrangement, id, of: arrangement.id, label: name, made };
}

/**
 * The arrangement that a snapshot holds.
 *
 * @example arrangementIn(snapshotOf(arrangement, named)) // what arrangement was
 */
export function arrangementIn({ of, label: _label, made: _made, ...state }: Snapshot): Arrangement {
  return { ...state, id: of };
}
