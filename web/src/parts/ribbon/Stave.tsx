import { useElementSize } from '@mantine/hooks';
import { useEffect, useRef, useState } from 'react';
import type { Tune } from '#core/tune';
import styles from './Stave.module.css';

/** The melody on a stave. The engraver is loaded when it is first needed; `onDrawn` tells that its height is known. */
export function Stave({ tune, onDrawn }: { tune: Tune; onDrawn?: () => void }) {
  const { ref, width } = useElementSize();
  const host = useRef<HTMLDivElement>(null);
  const [trouble, setTrouble] = useState<string>();
  useEffect(() => {
    let cancelled = false;
    if (!width) return;
    void Promise.all([import('./engrave'), import('./engraving')])
      .then(async ([{ engrave }, { loadFonts }]) => {
        await loadFonts();
        if (!cancelled && host.current) engrave(host.current, tune, width);
      })
      .catch((cause: unknown) =>
        setTrouble(cause instanceof Error ? cause.message : 'the stave could not be drawn'),
      )
      .then(() => onDrawn?.());
    return () => {
      cancelled = true;
    };
  }, [tune, width, onDrawn]);
  return (
    <div className={styles.stave}>
      <div ref={ref}>
        {trouble && <p>The stave could not be drawn: {trouble}</p>}
        <div ref={host} role="img" aria-label={`${tune.title} on a stave`} style={{ minHeight: 120 }} />
      </div>
    </div>
  );
}
