import { useEffect, useRef, useState } from 'react';
import { changedMeasures } from '#core/compare';
import { applyEdit } from '#core/edit';
import type { Arrangement, ArrangeSettings } from '#core/score';
import type { Copy } from '../../data/copies';
import { useCopy } from '../../data/queries';
import { useFittingPlan } from '../../engine/useFittingPlan';
import { arrangeStoppable } from '../../engine/workers';
import { requestAnew, wishesOf } from '../../parts/arranging/requestAnew';

/** Easier measures for a lesson. */
export interface Easier {
  /**
   * Has measures (from 0) made with other settings and keeps those that come out otherwise as variants of the name given.
   *
   * @param then told the ids of those measures and of their variants; not where all stay as they are
   */
  make: (
    measures: readonly number[],
    settings: Partial<ArrangeSettings>,
    name: string,
    then: (measures: string[], variants: string[]) => void,
  ) => void;
  /** Being made. */
  working: boolean;
  /** Why there are none. */
  trouble: string | undefined;
  /** Whether there is a tune to make them of. */
  offered: boolean;
}

/** Makes measures of an arrangement easier and keeps them beside it; what stands in the score stays. */
export function useEasier(arrangement: Arrangement, copy: Copy<'arrangements'>): Easier {
  const [tuneState] = useCopy('tunes', arrangement.tuneId);
  const tune = tuneState.history?.present;
  const plan = useFittingPlan(arrangement);
  const [working, setWorking] = useState(false);
  const [trouble, setTrouble] = useState<string>();
  const stop = useRef(() => {});
  useEffect(() => () => stop.current(), []);
  const make: Easier['make'] = (measures, settings, name, then) => {
    if (!tune) return;
    stop.current();
    setWorking(true);
    setTrouble(undefined);
    const wishes = wishesOf(arrangement);
    stop.current = arrangeStoppable(
      tune,
      requestAnew(
        arrangement,
        plan,
        { ...wishes, settings: { ...wishes.settings, ...settings } },
        measures.flatMap(index => arrangement.measures[index]!.from?.id ?? []),
      ),
      () => {},
      result => {
        setWorking(false);
        const proposal = 'error' in result ? undefined : result.arrangement;
        if (!proposal) {
          setTrouble('error' in result ? result.error : result.problem?.message);
          return;
        }
        const changed = new Set(changedMeasures(arrangement, proposal));
        const easier = measures.filter(index => changed.has(index));
        if (!easier.length) setTrouble('It comes out no easier');
        const made: { measure: string; variant: string }[] = [];
        copy.update(history => {
          let now = history;
          for (const index of easier) {
            const measure = arrangement.measures[index]!.id;
            const next = applyEdit(now, {
              kind: 'keep-variant',
              ids: [measure],
              values: { name, present: 'as it stands', of: proposal },
            });
            if ('error' in next) {
              setTrouble(next.error);
              break;
            }
            now = next;
            made.push({ measure, variant: now.present.variants!.at(-1)!.id });
          }
          return now;
        });
        if (made.length)
          then(
            made.map(own => own.measure),
            made.map(own => own.variant),
          );
      },
    );
  };
  return { make, working, trouble, offered: tune !== undefined && arrangement.style !== 'melody' };
}
