import type { Tune } from '#core/tune';

/** How many voices stand beside a melody, behind what else is told of a tune: ", 2 further voices"; nothing for one alone. */
export function furtherVoices({ measures }: Tune): string {
  const voices = Math.max(0, ...measures.map(({ others }) => others?.length ?? 0));
  return voices ? `, ${voices} further voice${voices > 1 ? 's' : ''}` : '';
}
