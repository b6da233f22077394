/** The keys of the Workbench: ways to get about here, edits from their registry. */
import type { HotkeyItem } from '@mantine/hooks';
import { EDIT_KEYS, type Edit } from '#core/edit';
import type { Arrangement, ScoreNote } from '#core/score';
import type { useCursor } from './useCursor';

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

/** The ways to get about: from note to note, by a length, from string to string, over measures. */
export function wayKeys(
  place: ReturnType<typeof useCursor>,
  { measures, setup }: Pick<Arrangement, 'measures' | 'setup'>,
  length: number,
  moved: () => void,
): Key[] {
  const toOtherString = (by: 1 | -1) => {
    const string = place.cursor.string + by;
    if (string >= 1 && string <= setup.tuning.length) place.toStringNumber(string);
  };
  const go = (move: () => void) => () => {
    move();
    moved();
  };
  return [
    { key: 'ArrowLeft', does: 'to the note before or after', run: go(() => place.step(-1, false)) },
    { key: 'ArrowRight', does: 'to the note before or after', run: go(() => place.step(1, false)) },
    { key: 'alt+ArrowLeft', does: 'to the measure before or after', run: go(() => place.step(-1, true)) },
    { key: 'alt+ArrowRight', does: 'to the measure before or after', run: go(() => place.step(1, true)) },
    {
      key: 'mod+ArrowLeft',
      does: 'back or on by the length of the next note, where nothing begins too',
      run: go(() => place.stepBy(-length)),
    },
    {
      key: 'mod+ArrowRight',
      does: 'back or on by the length of the next note, where nothing begins too',
      run: go(() => place.stepBy(length)),
    },
    { key: 'Home', does: 'to the first or last measure', run: go(() => place.toMeasure(0)) },
    { key: 'End', does: 'to the first or last measure', run: go(() => place.toMeasure(measures.length - 1)) },
    { key: 'ArrowUp', does: 'to the thinner or thicker string', run: go(() => toOtherString(-1)) },
    { key: 'ArrowDown', does: 'to the thinner or thicker string', run: go(() => toOtherString(1)) },
  ];
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
