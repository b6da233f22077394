import { useDebouncedValue } from '@mantine/hooks';
import { type ComponentType, memo, useDeferredValue } from 'react';

/** Milliseconds without a change after which what stands beside follows. */
export const QUIET = 200;

let lastKey = Number.NEGATIVE_INFINITY;
if (typeof window !== 'undefined')
  window.addEventListener('keydown', event => (lastKey = event.timeStamp), { capture: true, passive: true });

/** Milliseconds to the moment in which no key has been pressed for a while; 0 when it is here. */
export function untilKeysRest(): number {
  return Math.max(0, lastKey + QUIET - performance.now());
}

/**
 * A part that follows what it is given once that has rested for a moment: it never keeps a key waiting. With `atOnce` it
 * follows as soon as there is time.
 */
export function later<P extends object>(Part: ComponentType<P>): ComponentType<P & { atOnce?: boolean }> {
  const Kept = memo(Part) as unknown as ComponentType<P>;
  return memo(function Later(props: P & { atOnce?: boolean }) {
    const [quiet] = useDebouncedValue(props, QUIET);
    const { atOnce: _atOnce, ...shown } = useDeferredValue(props.atOnce ? props : quiet);
    return <Kept {...(shown as unknown as P)} />;
  }) as unknown as ComponentType<P & { atOnce?: boolean }>;
}
