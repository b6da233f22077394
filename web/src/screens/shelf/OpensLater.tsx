import { cloneElement, type KeyboardEvent, type ReactElement, type ReactNode, useState } from 'react';
import { flushSync } from 'react-dom';

type Menus = typeof import('./menus');

const loadMenus = (): Promise<Menus> => import('./menus');
/** The pointer comes near, or the focus: the menu is at hand before the click. What goes wrong then is told at the click. */
const atHand = () => void loadMenus().catch(() => undefined);

/**
 * Down leads from the button into its open menu. The menu takes the focus when it opens, but one that has just been closed
 * gives it back a moment later, to the button of the next.
 */
function intoMenu(event: KeyboardEvent<HTMLElement>): void {
  if (event.key !== 'ArrowDown') return;
  const menu = document.getElementById(event.currentTarget.getAttribute('aria-controls') ?? '');
  const first = menu?.querySelector<HTMLElement>('[role="menuitem"]');
  if (!first) return;
  event.preventDefault();
  first.focus();
}

/** What the button is given. */
interface OpeningButton {
  autoFocus?: boolean;
  'aria-expanded'?: boolean;
  onPointerEnter?: () => void;
  onFocus?: () => void;
  onClick?: () => void;
  onKeyDown?: (event: KeyboardEvent<HTMLElement>) => void;
}

/**
 * A button with what opens from it: that is loaded and made when it is first opened. The shelf is there without it, and has a
 * menu for each row.
 */
export function OpensLater({
  button,
  children,
}: {
  button: ReactElement<OpeningButton>;
  /** What opens, with the button in it. */
  children: (
    menus: Menus,
    opens: { opened: boolean; onChange: (opened: boolean) => void; button: ReactElement },
  ) => ReactNode;
}) {
  const [menus, setMenus] = useState<Menus>();
  const [opened, setOpened] = useState(false);
  const [trouble, setTrouble] = useState<unknown>();
  // The screen for what went wrong tells it.
  if (trouble) throw trouble;
  // Drawn anew with its menu, the button takes the focus again.
  if (menus)
    return children(menus, {
      opened,
      onChange: setOpened,
      button: cloneElement(button, { autoFocus: true, onKeyDown: intoMenu }),
    });
  const openFirst = async () => {
    const loaded = await loadMenus();
    // The menu stands closed for a moment, with the focus on its button: so it goes back there afterwards.
    flushSync(() => setMenus(loaded));
    setOpened(true);
  };
  return cloneElement(button, {
    'aria-expanded': false,
    onPointerEnter: atHand,
    onFocus: atHand,
    onClick: () => void openFirst().catch(setTrouble),
  });
}
