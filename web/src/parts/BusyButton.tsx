import { ActionIcon, type ActionIconProps, Button, type ButtonProps, type ElementProps } from '@mantine/core';
import type { ComponentProps, MouseEvent } from 'react';

interface Busy {
  /** Whether what it was pressed for is still being done. */
  busy: boolean;
}

/** Being pressed once is enough. */
const nothing = (event: MouseEvent) => event.preventDefault();

/** A button that is disabled while it is busy would lose the keyboard's place: this one stays, and does nothing. */
const rootOf = (busy: boolean, disabled: boolean | undefined) => (root: ComponentProps<'button'>) => (
  <button
    {...root}
    disabled={disabled}
    {...(busy && { 'aria-disabled': true, 'aria-busy': true, onClick: nothing })}
  />
);

type BusyButtonProps = Busy & Omit<ButtonProps, 'loading'> & ElementProps<'button', keyof ButtonProps>;

/** A button whose work takes a while. */
export function BusyButton({ busy, ...props }: BusyButtonProps) {
  return <Button {...props} loading={busy} renderRoot={rootOf(busy, props.disabled)} />;
}

type BusyIconProps = Busy & Omit<ActionIconProps, 'loading'> & ElementProps<'button', keyof ActionIconProps>;

/** A button with a picture alone, whose work takes a while. */
export function BusyIcon({ busy, ...props }: BusyIconProps) {
  return <ActionIcon {...props} loading={busy} renderRoot={rootOf(busy, props.disabled)} />;
}
