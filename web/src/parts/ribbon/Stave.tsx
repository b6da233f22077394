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

/** The melody on a stave. The engraver is loaded when it is first needed. */
export function Stave({ tune, voices = false, onDrawn }: StaveProps) {
  const { ref, width } = useElementSize();
  const host = useRef<HTMLDivElement>(null);
  const further = voices ? voiceNames(tune).length : 0;
  const label = `${tune.title} on ${further ? `${further + 1} staves` : 'a stave'}`;
  const [trouble, setTrouble] = useState<string>();
  useEffect(() => {
    let cancelled = false;
    if (!width) return;
    void Promise.all([import('./engrave'), import('./engraving')])
      .then(async ([{ engrave }, { loadFonts }]) => {
        await loadFonts();
        if (!cancelled && host.current) engrave(host.current, tune, width, voices);
      })
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
