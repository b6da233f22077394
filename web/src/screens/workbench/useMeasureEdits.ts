import { useCallbackRef } from '@mantine/hooks';
import { useMemo } from 'react';
import { copied, type Edit } from '#core/edit';
import type { Arrangement, WrittenMeasure } from '#core/score';
import type { Cursor } from '../../parts/ribbon/RibbonRow';
import type { Key } from './keys';
import { useClip } from './useClip';
import type { Range } from './useCursor';

/** What is done to the chosen measures (to that at the cursor where none is chosen), and the keys for it. */
export function useMeasureEdits({
  arrangement,
  cursor,
  at,
  range,
  attempt,
  clearRange,
  say,
}: {
  arrangement: Arrangement;
  cursor: Cursor;
  at: number;
  range: Range | undefined;
  /** Does an edit; tells whether it was done. */
  attempt: (edit: Edit) => boolean;
  clearRange: () => void;
  say: (message: string) => void;
}) {
  const { measures } = arrangement;
  const clip = useClip(arrangement);
  const places = range ?? { from: at, to: at };
  const chosen = measures.slice(places.from, places.to + 1);
  const several = chosen.length > 1;
  const add = useCallbackRef((before: boolean) => {
    const beside = (before ? chosen[0] : chosen.at(-1))!;
    attempt({ kind: 'add-measures', ids: [beside.id], values: { count: 1, before } });
  });
  const remove = useCallbackRef(() => {
    if (attempt({ kind: 'remove-measures', ids: chosen.map(m => m.id), values: {} })) clearRange();
  });
  const copy = useCallbackRef(() => {
    clip.copy(places.from, places.to);
    say(several ? `${chosen.length} measures copied.` : 'The measure is copied.');
  });
  const cut = useCallbackRef(() => {
    clip.copy(places.from, places.to);
    remove();
  });
  /** Writes measures over those from the first chosen one on, or as new ones behind the last. */
  const write = (written: WrittenMeasure[] | { error: string }, behind: boolean) => {
    if ('error' in written) {
      say(written.error);
      return;
    }
    const ids = [behind ? chosen.at(-1)!.id : chosen[0]!.id];
    attempt({ kind: 'write', ids, values: { measures: written, ...(behind && { behind }) } });
  };
  const paste = useCallbackRef((behind: boolean) => write(clip.measures(), behind));
  const again = useCallbackRef(() => write(copied(arrangement, places.from, places.to).measures, true));
  const split = useCallbackRef(() => {
    attempt({ kind: 'split', ids: [cursor.measure], values: { start: cursor.start } });
  });
  const join = useCallbackRef(() => {
    attempt({ kind: 'join', ids: [cursor.measure], values: {} });
  });
  const keys: Key[] = [
    { key: 'Enter', does: 'an empty measure after this one', run: () => add(false) },
    { key: 'shift+Enter', does: 'an empty measure before this one', run: () => add(true) },
    { key: 'mod+Enter', does: 'divide the measure here', run: split },
    { key: 'shift+J', does: 'join the measure with the next one', run: join },
    { key: 'mod+C', does: 'copy or cut the chosen measures', run: copy },
    { key: 'mod+X', does: 'copy or cut the chosen measures', run: cut },
    { key: 'mod+V', does: 'paste over the measures from here on', run: () => paste(false) },
    { key: 'mod+shift+V', does: 'paste as new measures behind', run: () => paste(true) },
    { key: 'mod+D', does: 'the chosen measures once more, behind', run: again },
    { key: 'mod+Delete', does: 'take the chosen measures out', run: remove },
    { key: 'mod+Backspace', does: 'take the chosen measures out', run: remove },
  ];
  const { count } = clip;
  /** What the menu shows and does; the same object as long as it shows the same. */
  const menu = useMemo(
    () => ({ several, copied: count, add, remove, copy, cut, paste, again, split, join }),
    [several, count, add, remove, copy, cut, paste, again, split, join],
  );
  return { chosen, menu, keys };
}
export type MeasuresMenuProps = ReturnType<typeof useMeasureEdits>['menu'];
