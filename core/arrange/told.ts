/** What is told of measures: lines of the ledger before they have ids. */
import { chordLabel } from '../chord';
import type { LedgerDraft, ScoreChord } from '../score';

/** Things to tell with the measures they are about, each once. */
export class Told {
  private readonly known = new Map<string, Set<number>>();

  /** @param measure by its place */
  add(what: string, measure: number): void {
    this.known.set(what, (this.known.get(what) ?? new Set()).add(measure));
  }

  lines(): LedgerDraft[] {
    return [...this.known].map(([text, measures]) => ({ measures: [...measures], text }));
  }
}

/** A string that a pattern names and that a chord's shape silences. */
export function silentWords(string: number, chord: ScoreChord): string {
  return `string ${string} of the pattern is silent in ${chordLabel(chord.shape)}: it is left out there`;
}

/** What is told of a pattern that has come to its last note. */
export const LAST_RINGS = 'the last chord rings: the pattern strikes nothing more from there';
