/** Milliseconds in which a screen may set the keyboard's place itself: on its heading, on what opened a dialog. */
const SETTLES = 80;

const REACHED =
  'a[href], button:not(:disabled), input:not(:disabled), select:not(:disabled), textarea:not(:disabled), summary, [tabindex="0"]';

/** Beyond these a place is that of another task. */
const TASK = 'main, aside, [role="dialog"]';

/** An element around the place, and what stood before the place in it. */
interface Around {
  element: Element;
  before: Element | null;
}

function aroundOf(place: Element): Around[] {
  const task = place.closest(TASK);
  const around: Around[] = [];
  for (let own = place; task && own !== task; own = own.parentElement!)
    around.push({ element: own.parentElement!, before: own.previousElementSibling });
  return around;
}

/** What can be reached first where something was; else first in what stood before it. */
function reachedIn({ element, before }: Around): HTMLElement | undefined {
  const reached = [...element.querySelectorAll<HTMLElement>(REACHED)].filter(own => own.checkVisibility());
  const { DOCUMENT_POSITION_FOLLOWING: FOLLOWS, DOCUMENT_POSITION_CONTAINED_BY: INSIDE } = Node;
  if (!before || !element.contains(before)) return reached[0];
  const behind = reached.find(own => (before.compareDocumentPosition(own) & (FOLLOWS | INSIDE)) === FOLLOWS);
  return behind ?? reached.find(own => before.contains(own)) ?? reached.at(-1);
}

/**
 * Keeps the keyboard's place where what it was on goes away (a row that is taken away, a proposal that is taken): it is on
 * what stands there now. A pointer needs none.
 */
export function keepPlace(): void {
  let place: Element | undefined;
  let around: Around[] = [];
  let byKeys = false;
  let settling = false;
  addEventListener('keydown', () => (byKeys = true), true);
  addEventListener('pointerdown', () => (byKeys = false), true);
  addEventListener('focusin', ({ target }) => {
    place = target as Element;
    around = aroundOf(place);
  });
  const settle = () => {
    settling = false;
    if (document.activeElement !== document.body) return;
    const there = around.filter(({ element }) => element.isConnected);
    place = undefined;
    for (const own of there) {
      const reached = reachedIn(own);
      // What is shown stays where it is.
      if (reached) return reached.focus({ preventScroll: true });
    }
  };
  new MutationObserver(() => {
    if (settling || !byKeys || !place || place.isConnected) return;
    settling = true;
    setTimeout(settle, SETTLES);
  }).observe(document.body, { childList: true, subtree: true });
}
