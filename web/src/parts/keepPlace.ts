/** Milliseconds in which a screen may set the keyboard's place itself: on its heading, on what opened a dialog. */
const SETTLES = 80;

const REACHED =
  'a[href], button:not(:disabled), input:not(:disabled), select:not(:disabled), textarea:not(:disabled), summary, [tabindex="0"]';

/** Beyond these a place is that of another task. */
const TASK = 'main, aside, [role="dialog"]';

/** An element around the place: what of it held the place, as what, and what stood before that. */
interface Around {
  element: Element;
  kind: string;
  before: Element | null;
}

function aroundOf(place: Element, task: Element | null): Around[] {
  const around: Around[] = [];
  for (let own = place; task && own !== task; own = own.parentElement!)
    around.push({ element: own.parentElement!, kind: own.tagName, before: own.previousElementSibling });
  return around;
}

/** What of an element the keyboard reaches first, itself included. */
function firstIn(element: Element | null): HTMLElement | undefined {
  const all = element ? [element, ...element.querySelectorAll(REACHED)] : [];
  return all.find((own): own is HTMLElement => own.matches(REACHED) && own.checkVisibility());
}

/** What stands there now, if it is of the same kind: the next row, another button; else what stood before. */
function insteadIn({ element, kind, before }: Around): HTMLElement | undefined {
  const there = before ? before.nextElementSibling : element.firstElementChild;
  const same = before?.isConnected !== false && there?.tagName === kind ? firstIn(there) : undefined;
  if (same) return same;
  for (let own = before; own; own = own.previousElementSibling) {
    const reached = own.isConnected ? firstIn(own) : undefined;
    if (reached) return reached;
  }
  return undefined;
}

/**
 * Keeps the keyboard's place where what it was on goes away: on what stands there now, for a row that is taken away or a
 * proposal that is taken; else on what stood before, which does no more than the last key did; where a whole panel went, on
 * what was left for it. A pointer needs none.
 */
export function keepPlace(): void {
  let place: Element | undefined;
  let task: Element | null = null;
  let leftFor: Element | undefined;
  let around: Around[] = [];
  let byKeys = false;
  let settling = false;
  addEventListener('keydown', () => (byKeys = true), true);
  addEventListener('pointerdown', () => (byKeys = false), true);
  addEventListener('focusin', ({ target }) => {
    const now = (target as Element).closest(TASK);
    if (now !== task) leftFor = place;
    place = target as Element;
    task = now;
    around = aroundOf(place, task);
  });
  const settle = () => {
    settling = false;
    if (document.activeElement !== document.body) return;
    place = undefined;
    const there = around.filter(({ element }) => element.isConnected);
    const left = leftFor?.isConnected ? (leftFor as HTMLElement) : undefined;
    const instead = task?.isConnected ? there.map(insteadIn).find(own => own !== undefined) : left;
    // What is shown stays where it is.
    instead?.focus({ preventScroll: true });
  };
  new MutationObserver(() => {
    if (settling || !byKeys || !place || place.isConnected) return;
    settling = true;
    setTimeout(settle, SETTLES);
  }).observe(document.body, { childList: true, subtree: true });
}
