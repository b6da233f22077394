/** The keys of the Workbench: ways to get about here, edits from their registry. */
import type { HotkeyItem } from '@mantine/hooks';
import { EDIT_KEYS, type Edit } from '#core/edit';
import type { Arrangement, ScoreNote } from '#core/score';

/** A key, what it does in words, and the doing. */
export interface Key {
  key: string;
  does: string;
  /** @param event absent where something else than a key gives it */
  run: (event?: { timeStamp: number }) => void;
}

/** The keys that give edits of the note at the cursor. */
export function editKeys(
  arrangement: Arrangement,
  note: ScoreNote | undefined,
  attempt: (edit: Edit) => void,
): Key[] {
  return EDIT_KEYS.map(({ key, does, edit }) => ({
    key,
    does,
    run: () => {
      if (note) attempt(edit(arrangement, note));
    },
  }));
}

/** As the hotkey handler of @mantine/hooks takes them: whether a sign or digit needs Shift is the keyboard's affair. */
export function hotkeyItems(keys: readonly Key[]): HotkeyItem[] {
  return keys.flatMap(({ key, run }): HotkeyItem[] =>
    /^([^a-zA-Z]|Digit\d)$/.test(key)
      ? [
          [key, run],
          [`shift+${key}`, run],
        ]
      : [[key, run]],
  );
}

const SHOWN: Record<string, string> = {
  mod: 'Ctrl',
  shift: 'Shift',
  alt: 'Alt',
  ArrowLeft: '←',
  ArrowRight: '→',
  ArrowUp: '↑',
  ArrowDown: '↓',
  space: 'Space',
};
/** The caps of a key: ["Shift", "↑"]. */
function keyCaps(key: string): string[] {
  return key.split('+').map(part => SHOWN[part] ?? (part.length === 1 ? part.toUpperCase() : part));
}

/** Keys by what they do, in order; keys for another layout of the same thing are left out. */
export function keyHelp(keys: readonly Pick<Key, 'key' | 'does'>[]): { caps: string[][]; does: string }[] {
  const rows = new Map<string, string[][]>();
  for (const { key, does } of keys) {
    if (/Digit\d/.test(key)) continue;
    rows.set(does, [...(rows.get(does) ?? []), keyCaps(key)]);
  }
  return [...rows].map(([does, caps]) => ({ caps, does }));
}
