import { type ComponentType, memo, useDeferredValue, useEffect, useState } from 'react';
import { flushSync } from 'react-dom';

/** Milliseconds without a key after which what stands beside follows. */
const QUIET = 200;

/** When a key was pressed last in what is written with keys. */
let lastKey = Number.NEGATIVE_INFINITY;
/** What waits for the keys to rest. */
const waiting = new Set<(atOnce: boolean) => void>();
/** The pointer is down: what lies under it must not move away before it is up. */
let pressed = false;
/** Milliseconds after which it is asked again whether the pointer is up. */
const PRESSED = 30;

/** Says that a key was pressed in what is written with keys: nothing else may keep the next one waiting. */
export function keyPressed(): void {
  lastKey = performance.now();
}

/** Milliseconds to the moment in which no key has been pressed for a while; 0 when it is here. */
export function untilKeysRest(): number {
  return Math.max(pressed ? PRESSED : 0, lastKey + QUIET - performance.now());
}

/** Whoever takes the pointer or goes elsewhere looks there now. */
function restAtOnce(): void {
  if (pressed) return;
  lastKey = Number.NEGATIVE_INFINITY;
  for (const follow of waiting) follow(true);
}

/** Where the pointer was last: the browser tells of moves that are none where things move under it. */
let pointer = '';
function pointerMoved({ clientX, clientY }: PointerEvent): void {
  const before = pointer;
  pointer = `${clientX} ${clientY}`;
  // Before a press can follow all must stand where it is going to stay.
  if (waiting.size && before !== pointer) flushSync(restAtOnce);
}
function setPressed(down: boolean): void {
  pressed = down;
}
if (typeof window !== 'undefined') {
  const options = { capture: true, passive: true };
  window.addEventListener('pointermove', pointerMoved, options);
  window.addEventListener('pointerdown', () => setPressed(true), options);
  // The click comes right behind it.
  for (const event of ['pointerup', 'pointercancel'])
    window.addEventListener(event, () => setTimeout(setPressed, 0, false), options);
  window.addEventListener('focusin', restAtOnce, options);
}

/** A value of the last moment in which the keys rested, and whether somebody is waiting for it. */
function useFollowed<T>(value: T): { value: T; atOnce: boolean } {
  const [followed, setFollowed] = useState({ value, atOnce: false });
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const follow = (atOnce: boolean) => {
      clearTimeout(timer);
      const rest = untilKeysRest();
      if (rest > 0) {
        timer = setTimeout(follow, rest, false);
        return;
      }
      waiting.delete(follow);
      setFollowed(before =>
        before.value === value && before.atOnce === atOnce ? before : { value, atOnce },
      );
    };
    waiting.add(follow);
    follow(false);
    return () => {
      clearTimeout(timer);
      waiting.delete(follow);
    };
  }, [value]);
  return followed;
}

/** The value of the last moment in which the keys rested. */
export function useRested<T>(value: T): T {
  return useFollowed(value).value;
}

/**
 * A part that follows what it is given once the keys rest: it never keeps a key waiting. With `atOnce` it follows as soon
 * as there is time.
 */
export function later<P extends object>(Part: ComponentType<P>): ComponentType<P & { atOnce?: boolean }> {
  const Kept = memo(Part) as unknown as ComponentType<P>;
  return memo(function Later(props: P & { atOnce?: boolean }) {
    const rested = useFollowed(props);
    const inTime = useDeferredValue(props.atOnce ? props : rested.value);
    const { atOnce: _atOnce, ...shown } = rested.atOnce && !props.atOnce ? rested.value : inTime;
    return <Kept {...(shown as unknown as P)} />;
  }) as unknown as ComponentType<P & { atOnce?: boolean }>;
}
