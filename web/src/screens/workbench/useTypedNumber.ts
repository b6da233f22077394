import { useCallback, useRef } from 'react';

/** Digits typed within this time make one number, in milliseconds. */
const TOGETHER = 1000;

/**
 * Puts digits that are typed one after the other for the same thing together: "1", "2" is 12. What counts is when the keys
 * were pressed, not when a busy machine came to them.
 */
export function useTypedNumber(): (
  digit: string,
  what: string,
  time: number,
) => { text: string; goesOn: boolean } {
  const typed = useRef({ text: '', at: 0, what: '' });
  return useCallback((digit, what, time) => {
    const { current } = typed;
    const goesOn = current.what === what && time - current.at < TOGETHER && current.text.length < 2;
    const text = goesOn ? current.text + digit : digit;
    typed.current = { text, at: time, what };
    return { text, goesOn };
  }, []);
}
