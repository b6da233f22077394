import type { ArrangeRequest } from '#core/arrange';
import type { TunePlan } from '#core/capo';
import type { Hand } from '#core/hand';
import { type Arrangement, type ArrangeSettings, type Style, settingsOf } from '#core/score';

/** What the arranger is asked for on the strings that are there. */
export interface ArrangingWishes {
  style: Style;
  settings: ArrangeSettings;
  hand: Hand;
  quartersPerMinute: number;
}

/** What an arrangement was made with. */
export function wishesOf(arrangement: Arrangement): ArrangingWishes {
  const { style, hand, quartersPerMinute } = arrangement;
  return { style, settings: settingsOf(arrangement), hand, quartersPerMinute };
}

/** Ids of the tune's measures of a part of an arrangement, by its first and last measure (from 0). */
export const tuneIds = ({ measures }: Pick<Arrangement, 'measures'>, first: number, last: number): string[] =>
  measures.slice(first, last + 1).flatMap(({ from }) => from?.id ?? []);

/**
 * What the arranger is asked to make an arrangement anew, on its strings and in its key.
 *
 * @param plan what was settled for the tune, where it is for these strings
 * @param asked what is wished otherwise
 * @param anew ids of the tune's measures that are made anew; the whole when left out
 */
export function requestAnew(
  arrangement: Arrangement,
  plan: TunePlan | undefined,
  asked: ArrangingWishes,
  anew?: readonly string[],
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
      ...(anew && { anew }),
    },
  };
}
