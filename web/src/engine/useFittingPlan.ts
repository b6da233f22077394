import type { TunePlan } from '#core/capo';
import type { Arrangement } from '#core/score';
import { useTunePlan } from './useTunePlan';

/** The plan of an arrangement's tune, where it was settled for the same strings and key: else its shapes mean other notes. */
export function useFittingPlan(arrangement: Arrangement): TunePlan | undefined {
  const planned = useTunePlan(arrangement.tuneId);
  if (!planned?.settled) return undefined;
  const { plan } = planned;
  // Where no key was taken nothing was settled of the capo.
  const strings = ({ instrument, tuning, capo, capoStrings }: TunePlan['setup']) =>
    JSON.stringify([instrument, tuning, plan.keyOpen || capo, capoStrings]);
  const fits =
    strings(plan.setup) === strings(arrangement.setup) &&
    (plan.keyOpen || plan.transposition === (arrangement.transposition ?? 0));
  return fits ? plan : undefined;
}
