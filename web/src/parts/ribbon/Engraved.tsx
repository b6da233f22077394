import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { untilKeysRest } from '../later';
import styles from './Engraved.module.css';

type Staff = typeof import('./staff');

/** What draws staves; it is large, so it is loaded when a staff is first wanted. */
export interface Engraver {
  staff: Staff;
  /** Whether it draws once there is a moment for it, so that no key waits for it; on paper all is drawn at once. */
  soon: boolean;
}

let loaded: Staff | undefined;

/** The engraver with its fonts; undefined until it is wanted and there. */
export function useEngraver(wanted: boolean, soon: boolean): Engraver | undefined {
  const [staff, setStaff] = useState(loaded);
  useEffect(() => {
    if (!wanted || staff) return;
    let over = false;
    void Promise.all([import('./staff'), import('./engraving')]).then(async ([module, { loadFonts }]) => {
      await loadFonts();
      loaded = module;
      if (!over) setStaff(module);
    });
    return () => {
      over = true;
    };
  }, [wanted, staff]);
  return useMemo(() => (wanted && staff ? { staff, soon } : undefined), [wanted, staff, soon]);
}

/** What waits to be drawn, by where. */
const waiting = new Map<SVGGElement, () => void>();
/** Whether the next of them has its turn already. */
let called = false;

function drawSoon(host: SVGGElement, draw: () => void): void {
  waiting.set(host, draw);
  callNext();
}

function callNext(after = 0): void {
  if (called || !waiting.size) return;
  called = true;
  setTimeout(drawNext, after);
}

/** Draws one of those that wait, of those in sight first, once the keys rest. */
function drawNext(): void {
  called = false;
  const rest = untilKeysRest();
  if (!waiting.size || rest > 0) {
    callNext(rest);
    return;
  }
  const inSight = (host: SVGGElement) => {
    const box = host.ownerSVGElement?.getBoundingClientRect();
    return box !== undefined && box.bottom > 0 && box.top < window.innerHeight;
  };
  const hosts = [...waiting.keys()];
  const host = hosts.find(inSight) ?? hosts[0]!;
  const draw = waiting.get(host)!;
  waiting.delete(host);
  callNext();
  draw();
}

/** A part of a picture that the engraver draws, anew whenever what is around it is drawn anew. */
export function Engraved({
  by,
  draw,
}: {
  by: Engraver | undefined;
  draw: (host: SVGGElement, staff: Staff) => void;
}) {
  const host = useRef<SVGGElement>(null);
  useLayoutEffect(() => {
    const place = host.current;
    if (!by || !place) return;
    if (by.soon) drawSoon(place, () => draw(place, by.staff));
    else draw(place, by.staff);
  });
  useEffect(() => {
    const place = host.current;
    return () => {
      if (place) waiting.delete(place);
    };
  }, []);
  return <g ref={host} className={styles.engraved} aria-hidden />;
}
