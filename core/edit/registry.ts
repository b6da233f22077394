/**
 * Every edit of an arrangement, as data: `{ kind, ids, values }`. One list knows for each what it is called, which keys
 * give it, why it can't be done, and how it is done. Keys, help, menus, undo labels and the test that edits at random
 * all read this list.
 */
import type { Definitions, EditKind } from './definition';
import { HAND_EDITS } from './handEdits';
import { MEASURE_EDITS } from './measureEdits';
import { NOTE_EDITS } from './noteEdits';
import { SOUND_EDITS } from './soundEdits';
import { WHOLE_EDITS } from './wholeEdits';

export const EDITS: Definitions<EditKind> = {
  ...NOTE_EDITS,
  ...HAND_EDITS,
  ...SOUND_EDITS,
  ...MEASURE_EDITS,
  ...WHOLE_EDITS,
};
