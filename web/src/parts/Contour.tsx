import { useMemo } from 'react';
import { measureStarts, melodyNotes, type Tune } from '#core/tune';

/** The melody's rise and fall, small: tunes are told apart by it at a glance. */
export function Contour({ tune }: { tune: Tune }) {
  const path = useMemo(() => {
    const notes = melodyNotes(tune);
    if (!notes.length) return '';
    const end = measureStarts(tune.measures).at(-1)!;
    const pitches = notes.map(n => n.midi);
    const low = Math.min(...pitches);
    const span = Math.max(1, Math.max(...pitches) - low);
    return notes
      .map(
        (n, i) =>
          `${i ? 'L' : 'M'}${((n.at + n.ticks / 2) / end) * 200} ${36 - ((n.midi - low) / span) * 32}`,
      )
      .join('');
  }, [tune]);
  return (
    <svg className="contour" viewBox="0 0 200 40" preserveAspectRatio="none" aria-hidden>
      <path d={path} vectorEffect="non-scaling-stroke" />
    </svg>
  );
}
