import { createContext, type RefObject, useEffect, useState } from 'react';
import { flushSync } from 'react-dom';

/**
 * How many times as wide as on the screen a paper is printed, while it is: 1 but for a narrow screen, where it is a column.
 * What is laid out by its measured width takes it times this, since nothing is measured again for print.
 */
export const PrintScale = createContext(1);

/**
 * Tells, while a paper is printed, how many times as wide as on the screen that is.
 *
 * @param width between the margins of the page, in pixels
 */
export function usePrintScale(paper: RefObject<HTMLElement | null>, width: number): number {
  const [scale, setScale] = useState(1);
  useEffect(() => {
    const before = () => {
      const element = paper.current;
      if (!element) return;
      const { paddingLeft, paddingRight } = getComputedStyle(element);
      const content = element.clientWidth - Number.parseFloat(paddingLeft) - Number.parseFloat(paddingRight);
      // The page is taken as it stands when this returns.
      flushSync(() => setScale(Math.max(1, width / content)));
    };
    const after = () => setScale(1);
    window.addEventListener('beforeprint', before);
    window.addEventListener('afterprint', after);
    return () => {
      window.removeEventListener('beforeprint', before);
      window.removeEventListener('afterprint', after);
    };
  }, [paper, width]);
  return scale;
}
