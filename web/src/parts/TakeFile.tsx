import { type ButtonProps, FileButton } from '@mantine/core';
import { IconUpload } from '@tabler/icons-react';
import { type ReactNode, useRef } from 'react';
import { BusyButton } from './BusyButton';

/** A button that asks for a file. */
export function TakeFile({
  accept,
  label,
  onFile,
  children,
  busy = false,
  ...look
}: {
  accept: string;
  /** Of the field behind the button. */
  label: string;
  onFile: (file: File) => void;
  children: ReactNode;
  /** Whether a file is being read. */
  busy?: boolean;
} & Pick<ButtonProps, 'size' | 'color' | 'variant'>) {
  const reset = useRef<() => void>(null);
  return (
    <FileButton
      accept={accept}
      resetRef={reset}
      inputProps={{ 'aria-label': label }}
      onChange={file => {
        if (file) onFile(file);
        // The same file may be chosen again.
        reset.current?.();
      }}
    >
      {props => (
        <BusyButton busy={busy} variant="default" leftSection={<IconUpload size={18} />} {...look} {...props}>
          {children}
        </BusyButton>
      )}
    </FileButton>
  );
}
