import { useLocalStorage } from '@mantine/hooks';
import type { ReactNode } from 'react';

/** A part of a panel that is folded until it is wanted; what is folded costs nothing. It stays as it was left. */
export function Fold({
  name,
  words,
  opened = false,
  children,
}: {
  /** What it is remembered by. */
  name: string;
  words: string;
  /** Whether it is open before anybody has folded it. */
  opened?: boolean;
  children: () => ReactNode;
}) {
  const [open, setOpen] = useLocalStorage({ key: `fold ${name}`, defaultValue: opened });
  return (
    <details open={open} onToggle={event => setOpen(event.currentTarget.open)}>
      <summary>{words}</summary>
      {open && children()}
    </details>
  );
}
