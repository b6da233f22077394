/**
 * Edits of an arrangement: what can be done to it by hand, each as data with a way back.
 */
import type { EditKey } from './definition';
import { EDITS } from './registry';

export { joinLast, redo, startHistory, undo } from '../history';
export { applyEdit, editFault, type History } from './apply';
export { carryOver, editedMeasure, twinsFor } from './carry';
export { type Clip, copied, fitted } from './clip';
export type { Edit, EditKey, EditKind, EditValues } from './definition';
export { fretFault, gracesFault, solveHands } from './entry';
export * from './fingerings';
export type { BarsValues } from './frame';
export type { PassageGoal } from './passage';
export { easiestFirst, type PlaceOption, placeOptions } from './places';
export { EDITS } from './registry';
export { type OwnTechnique, SIMPLE_TECHNIQUES, TOUCHES, techniqueFault } from './techniques';
export { variantFault } from './variants';

/** Every key that gives an edit. */
export const EDIT_KEYS: readonly EditKey[] = Object.values(EDITS).flatMap(
  definition => (definition as { keys?: readonly EditKey[] }).keys ?? [],
);
