/**
 * Every edit of an arrangement, as data: `{ kind, ids, values }`. One list knows for each what it is called, which keys
 * give it, why it can't be done, and how it is done. Keys, help, menus, undo labels and the test that edits at random
 * all read this list.
 */
import type { Draft } from 'immer';
import type { Definitions, EditKind } from './definition';
import { HAND_EDITS } from './handEdits';
import { MEASURE_EDITS } from './measureEdits';
import { NOTE_EDITS } from './noteEdits';
import { SOUND_EDITS } from './soundEdits';

/** What is done to the whole. */
const WHOLE_EDITS: Definitions<'feel' | 'take'> = {
  feel: {
    name: 'Feel',
    on: 'whole',
    label: ({ values }) => `${values.feel} feel`,
    all: (draft, { values: { feel } }) => {
      if (feel === 'straight') delete draft.feel;
      else draft.feel = feel;
      return undefined;
    },
  },
  take: {
    name: 'Take a proposal over',
    on: 'whole',
    label: ({ values }) => values.what,
    // Measures in which nothing differs stay the very same records, so that what shows them need not draw again.
    all: (draft, { values: { proposal } }, before) => {
      const present = new Map(before.measures.map((measure, index) => [JSON.stringify(measure), index]));
      const { measures, id: _id, tuneId: _tuneId, ...rest } = proposal;
      Object.assign(draft, rest);
      const own = [...draft.measures];
      draft.measures = measures.map(measure => {
        // What is made anew knows nothing of the teacher's remarks: they stay with their measures.
        const remarks = measure.remarks ?? before.measures.find(m => m.id === measure.id)?.remarks;
        const kept = remarks ? { ...measure, remarks } : measure;
        const same = present.get(JSON.stringify(kept));
        return same === undefined ? (kept as Draft<typeof measure>) : own[same]!;
      });
      return undefined;
    },
  },
};

export const EDITS: Definitions<EditKind> = {
  ...NOTE_EDITS,
  ...HAND_EDITS,
  ...SOUND_EDITS,
  ...MEASURE_EDITS,
  ...WHOLE_EDITS,
};
