import { useLocalStorage } from '@mantine/hooks';
import { type Clip, copied, fitted } from '#core/edit';
import type { Arrangement, WrittenMeasure } from '#core/score';

/** Measures that were copied; they stay for another arrangement, and for another window. */
export function useClip(arrangement: Arrangement) {
  const [clip, setClip] = useLocalStorage<Clip | null>({ key: 'copied-measures', defaultValue: null });
  return {
    /** How many measures there are to paste. */
    count: clip?.measures.length ?? 0,
    copy: (from: number, to: number) => setClip(copied(arrangement, from, to)),
    /** What was copied as it goes onto these strings, or why it can't. */
    measures: (): WrittenMeasure[] | { error: string } =>
      clip ? fitted(clip, arrangement.setup) : { error: 'nothing was copied yet' },
  };
}
