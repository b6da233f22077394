/** Where an arrangement could not keep what was planned for its shapes. */
import { isBarre } from '../../hand';
import { gripOf, isDead, type LedgerDraft, momentsOf, type ScoreMeasure, soundingAt } from '../../score';
import { shapeText } from '../../shape';
import { measureStarts } from '../../tune';
import type { HandWishes } from '../search/candidates';
import type { Frame, HeldShape } from '../search/frame';

/**
 * What differs from the plan, measure by measure: a shape chosen by hand that is not held, a barre or a finger that was
 * to be spared.
 */
export function plannedDeviations(
  measures: readonly ScoreMeasure[],
  frame: Frame,
  wishes: HandWishes,
): LedgerDraft[] {
  const told = new Map<string, Set<number>>();
  const tell = (text: string, measure: number) => told.set(text, (told.get(text) ?? new Set()).add(measure));
  const starts = measureStarts(measures);
  let held = -1;
  for (const [index, measure] of measures.entries())
    for (const moment of momentsOf(measure, index)) {
      const at = starts[index]! + moment.start;
      while (frame.shapes[held + 1] && frame.shapes[held + 1]!.at <= at) held += 1;
      const shape: HeldShape | undefined = frame.shapes[held];
      const accompanying = moment.notes.filter(note => note.role !== 'melody' && !isDead(note) && !note.tie);
      if (shape?.byHand && shape.frets && accompanying.some(n => shape.frets![n.string - 1] !== n.fret))
        tell(`the shape ${shapeText(shape.frets)} chosen by hand can't be held under the melody`, index);
      const sounding = soundingAt(measure, moment.start);
      if (wishes.noBarre && gripOf(sounding).some(isBarre))
        tell('a barre is needed although none was wished', index);
      const finger = sounding.find(
        n => n.role !== 'melody' && n.finger !== undefined && wishes.free.includes(n.finger),
      )?.finger;
      if (finger) tell(`finger ${finger} is needed although it was to stay free`, index);
    }
  return [...told].map(([text, set]) => ({ measures: [...set], text }));
}
