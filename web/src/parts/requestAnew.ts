import type { ArrangeRequest } from '#core/arrange';
import type { TunePlan } from '#core/capo';
import type { Arrangement } from '#core/score';

/**
 * What the arranger is asked to make an arrangement anew, on its strings and in its key.
 *
 * @param plan what was settled for the tune, where it is for these strings
 * @param asked what is wished otherwise
 * @param anew measures (from 0) that are made anew; the whole when left out
 */
export function requestAnew(
  arrangement: Arrangement,
  plan: TunePlan | undefined,
  asked: Pick<ArrangeRequest, 'style' | 'settings' | 'hand' | 'quartersPerMinute'>,
  anew?: readonly number[],
): ArrangeRequest & { keep: { present: Arrangement } } {
  const { id, setup, transposition } = arrangement;
  return {
    id,
    instrument: setup.instrument,
    setup,
    capo: setup.capo,
    ...asked,
    ...(plan && { wishes: plan.wishes, choices: plan.choices }),
    ...(transposition && { transposition }),
    keep: {
      present: arrangement,
      ...(anew && { anew: anew.flatMap(index => arrangement.measures[index]!.from?.id ?? []) }),
    },
  };
}
