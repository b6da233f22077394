import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import './Engraved.css';

/** The engraver is large: it is loaded when a staff is first wanted. */
export type Engraver = typeof import('./staff');

let loaded: Engraver | undefined;

/** The engraver with its fonts; undefined until it is wanted and there. */
export function useEngraver(wanted: boolean): Engraver | undefined {
  const [engraver, setEngraver] = useState(loaded);
  useEffect(() => {
    if (!wanted || engraver) return;
    let over = false;
    void Promise.all([import('./staff'), import('./engraving')]).then(async ([staff, { loadFonts }]) => {
      await loadFonts();
      loaded = staff;
      if (!over) setEngraver(staff);
    });
    return () => {
      over = true;
    };
  }, [wanted, engraver]);
  return wanted ? engraver : undefined;
}

/** A part of a picture that the engraver draws, anew whenever what is around it is drawn anew. */
export function Engraved({
  by,
  draw,
}: {
  by: Engraver | undefined;
  draw: (host: SVGGElement, engraver: Engraver) => void;
}) {
  const host = useRef<SVGGElement>(null);
  useLayoutEffect(() => {
    if (by && host.current) draw(host.current, by);
  });
  return <g ref={host} className="engraved" aria-hidden />;
}
