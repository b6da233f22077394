import { Button, type ButtonProps, FileButton } from '@mantine/core';
import { IconUpload } from '@tabler/icons-react';
import { type ReactNode, useRef } from 'react';

/** A button that asks for a file. */
export function TakeFile({
  accept,
  label,
  onFile,
  children,
  ...look
}: {
  accept: string;
  /** Of the field behind the button. */
  label: string;
  onFile: (file: File) => void;
  children: ReactNode;
} & Pick<ButtonProps, 'size' | 'color' | 'variant' | 'loading'>) {
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
        <Button variant="default" leftSection={<IconUpload size={18} />} {...look} {...props}>
          {children}
        </Button>
      )}
    </FileButton>
  );
}
