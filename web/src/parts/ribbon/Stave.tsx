import { useElementSize } from '@mantine/hooks';
import { useEffect, useRef, useState } from 'react';
import { type Tune, voiceNames } from '#core/tune';
import styles from './Stave.module.css';

interface StaveProps {
  tune: Tune;
  /** With the further voices of the source on staves of their own. */
  voices?: boolean;
  /** Tells that its height is known. */
  onDrawn?: () => void;
}

/** Milliseconds for which rows are drawn before what the user does has its turn. */
const SLICE = 40;

/** The melody on a stave. The engraver is loaded when it is first needed; a long tune is drawn row by row. */
export function Stave({ tune, voices = false, onDrawn }: StaveProps) {
  const { ref, width } = useElementSize();
  const host = useRef<HTMLDivElement>(null);
  const further = voices ? voiceNames(tune).length : 0;
  const label = `${tune.title} on ${further ? `${further + 1} staves` : 'a stave'}`;
  const [trouble, setTrouble] = useState<string>();
  useEffect(() => {
    let cancelled = false;
    if (!width) return;
    const draw = async () => {
      const [{ engraveRows }, { loadFonts }] = await Promise.all([
        import('./engrave'),
        import('./engraving'),
      ]);
      await loadFonts();
      if (cancelled || !host.current) return;
      const rows = engraveRows(host.current, tune, width, voices);
      let since = performance.now();
      while (!cancelled && !rows.next().done) {
        onDrawn?.();
        if (performance.now() - since < SLICE) continue;
        await new Promise(resolve => setTimeout(resolve));
        since = performance.now();
      }
    };
    draw()
      .catch((cause: unknown) =>
        setTrouble(cause instanceof Error ? cause.message : 'the stave could not be drawn'),
      )
      .then(() => onDrawn?.());
    return () => {
      cancelled = true;
    };
  }, [tune, width, voices, onDrawn]);
  return (
    <div className={styles.stave}>
      <div ref={ref}>
        {trouble && <p>The stave could not be drawn: {trouble}</p>}
        <div ref={host} role="img" aria-label={label} style={{ minHeight: 120 }} />
      </div>
    </div>
  );
}
