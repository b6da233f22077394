import { type ComponentType, memo, useDeferredValue, useEffect, useState } from 'react';

/** Milliseconds without a key after which what stands beside follows. */
const QUIET = 200;

/** When a key was pressed last in what is written with keys. */
let lastKey = Number.NEGATIVE_INFINITY;
/** What waits for the keys to rest. */
const waiting = new Set<() => void>();

/** Says that a key was pressed in what is written with keys: nothing else may keep the next one waiting. */
export function keyPressed(): void {
  lastKey = performance.now();
}

/** Milliseconds to the moment in which no key has been pressed for a while; 0 when it is here. */
export function untilKeysRest(): number {
  return Math.max(0, lastKey + QUIET - performance.now());
}

/** Whoever takes the pointer or goes elsewhere looks there now. */
function restAtOnce(): void {
  lastKey = Number.NEGATIVE_INFINITY;
  for (const follow of waiting) follow();
}
if (typeof window !== 'undefined')
  for (const event of ['pointerdown', 'focusin'])
    window.addEventListener(event, restAtOnce, { capture: true, passive: true });

/** The value of the last moment in which the keys rested. */
export function useRested<T>(value: T): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const follow = () => {
      clearTimeout(timer);
      const rest = untilKeysRest();
      if (rest > 0) {
        timer = setTimeout(follow, rest);
        return;
      }
      waiting.delete(follow);
      setRested(() => value);
    };
    waiting.add(follow);
    follow();
    return () => {
      clearTimeout(timer);
      waiting.delete(follow);
    };
  }, [value]);
  return rested;
}

/**
 * A part that follows what it is given once the keys rest: it never keeps a key waiting. With `atOnce` it follows as soon
 * as there is time.
 */
export function later<P extends object>(Part: ComponentType<P>): ComponentType<P & { atOnce?: boolean }> {
  const Kept = memo(Part) as unknown as ComponentType<P>;
  return memo(function Later(props: P & { atOnce?: boolean }) {
    const rested = useRested(props);
    const { atOnce: _atOnce, ...shown } = useDeferredValue(props.atOnce ? props : rested);
    return <Kept {...(shown as unknown as P)} />;
  }) as unknown as ComponentType<P & { atOnce?: boolean }>;
}
