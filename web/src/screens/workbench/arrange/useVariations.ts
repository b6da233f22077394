import { useEffect, useState } from 'react';
import { type ArrangeRequest, type Variation, variationsOf } from '#core/arrange';
import { changedMeasures, relaidMeasures } from '#core/compare';
import { type Arrangement, settingsOf } from '#core/score';
import type { Tune } from '#core/tune';
import { arrangeStoppable } from '../../../engine/workers';

/** A setting with what came of it. */
export interface MadeVariation extends Variation {
  made?: Arrangement;
  /** Measures that it changes. */
  changed?: number;
  trouble?: string;
}

/** A setting that shows itself in less than this part of the measures shows too little. */
const ENOUGH = 0.25;

/** In how many measures what is another can be seen: another register where the melody lies elsewhere, all else anywhere. */
const measuresShowing = ({ differs }: Variation, present: Arrangement, made: Arrangement): number =>
  (differs === 'register' ? relaidMeasures : changedMeasures)(present, made).length;

/** What was asked for: the same thing arranged in several ways. */
export interface VariationsAsked {
  tune: Tune;
  /** What is asked of all; style and settings are those that are varied. */
  request: ArrangeRequest & { keep: { present: Arrangement } };
}

/**
 * Has other settings made one after another, beside the screen; another question, or none any more, stops them.
 *
 * @returns the settings, each with what came of it once that is made
 */
export function useVariations(asked: VariationsAsked | undefined): readonly MadeVariation[] {
  const [answer, setAnswer] = useState<{ asked: VariationsAsked; all: MadeVariation[] }>();
  useEffect(() => {
    if (!asked) return;
    const { tune, request } = asked;
    const { present, anew = present.measures } = request.keep;
    const { style, settings = {} } = request;
    const strings = present.setup.tuning.length;
    const respects = variationsOf(
      { style, settings: { ...settingsOf(present), ...settings } },
      tune.meter,
      strings,
    );
    const all: MadeVariation[] = respects.map(([first]) => first!);
    let stop = () => {};
    // Measures of one may be taken beside measures of another, so that each gives ids from where the last left off.
    const make = (index: number, tried: number, most: number, nextId: number) => {
      setAnswer({ asked, all: [...all] });
      const variation = respects[index]?.[tried];
      if (!variation) return;
      stop = arrangeStoppable(
        tune,
        {
          ...request,
          style: variation.style,
          settings: variation.settings,
          keep: { ...request.keep, present: { ...present, nextId } },
        },
        () => {},
        result => {
          const made = 'error' in result ? undefined : result.arrangement;
          const shown = made ? measuresShowing(variation, present, made) : 0;
          // Where there is no room for it, the next of its kind is tried; the one that shows itself most is kept.
          if (!tried || shown > most) {
            const trouble = 'error' in result ? result.error : result.problem?.message;
            const changed = made && changedMeasures(present, made).length;
            all[index] = { ...variation, ...(made && { made, changed }), ...(trouble && { trouble }) };
          }
          const goesOn = shown < ENOUGH * anew.length && respects[index]![tried + 1] !== undefined;
          const next = made?.nextId ?? nextId;
          if (goesOn) make(index, tried + 1, Math.max(most, shown), next);
          else make(index + 1, 0, 0, next);
        },
      );
    };
    make(0, 0, 0, present.nextId);
    return () => stop();
  }, [asked]);
  return asked && answer?.asked === asked ? answer.all : [];
}
