/**
 * What the first screen asks for, read while the rest of the app is still being loaded: this file is a script of its own,
 * which comes before the others.
 */
import { readShelf, type ShelfEntry, warm } from './store';

let shelf: Promise<ShelfEntry[]> | undefined;

if (typeof location !== 'undefined') {
  if (location.pathname === '/') {
    shelf = readShelf();
    // What goes wrong is told where it is asked for.
    shelf.catch(() => {});
  } else warm();
}

/** The shelf as it was read ahead, once; undefined where it was not, or has been asked for. */
export function shelfAhead(): Promise<ShelfEntry[]> | undefined {
  const ahead = shelf;
  shelf = undefined;
  return ahead;
}
