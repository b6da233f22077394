import { NativeSelect, type NativeSelectProps } from '@mantine/core';

export interface Option<T extends string | number> {
  value: T;
  label: string;
  disabled?: boolean | undefined;
}

type ChoiceProps<T extends string | number> = Omit<NativeSelectProps, 'data' | 'value' | 'onChange'> & {
  options: readonly Option<T>[];
  value: T;
  onChange: (value: T) => void;
};

/**
 * One thing out of a list: the only control for it in the app. It is the browser's own list, which stays open whatever
 * moves on the page behind it, knows every key, and is large on a phone.
 */
export function Choice<T extends string | number>({ options, value, onChange, ...rest }: ChoiceProps<T>) {
  return (
    <NativeSelect
      {...rest}
      data={options.map(option => ({
        value: String(option.value),
        label: option.label,
        ...(option.disabled && { disabled: true }),
      }))}
      value={String(value)}
      onChange={event => {
        const chosen = options.find(option => String(option.value) === event.currentTarget.value);
        if (chosen) onChange(chosen.value);
      }}
    />
  );
}

/** Options from words by value, in their order. */
export function optionsOf<T extends string>(words: Record<T, string>): Option<T>[] {
  return (Object.entries(words) as [T, string][]).map(([value, label]) => ({ value, label }));
}
