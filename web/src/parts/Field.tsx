import { TextInput } from '@mantine/core';
import { type KeyboardEvent, useState } from 'react';

/** A text that is taken over with Enter or when the field is left. */
export function Field({
  label,
  value,
  onTake,
}: {
  label: string;
  value: string;
  onTake: (text: string) => void;
}) {
  const [text, setText] = useState(value);
  const take = () => {
    if (text !== value) onTake(text);
  };
  return (
    <TextInput
      size="xs"
      label={label}
      value={text}
      onChange={event => setText(event.currentTarget.value)}
      onBlur={take}
      onKeyDown={(event: KeyboardEvent) => {
        if (event.key === 'Enter') take();
      }}
    />
  );
}
