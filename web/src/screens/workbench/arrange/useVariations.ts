import { useEffect, useState } from 'react';
import { type ArrangeRequest, type Variation, variationsOf } from '#core/arrange';
import { difficultyOf } from '#core/check';
import { changedMeasures, relaidMeasures } from '#core/compare';
import { type Arrangement, settingsOf } from '#core/score';
import type { Tune } from '#core/tune';
import { arrangeStoppable } from '../../../engine/workers';
import { tuneIds } from '../../../parts/arranging/requestAnew';

/** What came of a setting, and what is to be told of it before it is shown. */
interface Came {
  made: Arrangement;
  /** Measures that it changes, and those in which what is another shows itself. */
  changed: number;
  shown: number;
  /** Mean difficulty of the measures that are varied, as they are and as they would be. */
  difficulty: { before: number; after: number };
}

/** A setting with what came of it, once it is made. */
export interface MadeVariation extends Variation {
  came?: Came;
  trouble?: string;
}

/** A setting that shows itself in less than this part of the measures shows too little. */
const ENOUGH = 0.25;

/**
 * What came of a setting. Another register shows itself where the melody lies elsewhere, all else where anything is other.
 *
 * @param anew ids of the tune's measures that are varied
 */
function cameOf(
  { differs }: Variation,
  present: Arrangement,
  made: Arrangement,
  anew: readonly string[],
): Came {
  const difficulty = (of: Arrangement) =>
    difficultyOf(
      of,
      of.measures.flatMap(({ from }, index) => (from && anew.includes(from.id) ? [index] : [])),
    ).mean;
  const changed = changedMeasures(present, made).length;
  return {
    made,
    changed,
    shown: differs === 'register' ? relaidMeasures(present, made).length : changed,
    difficulty: { before: difficulty(present), after: difficulty(made) },
  };
}

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
    const { present } = request.keep;
    const anew = request.keep.anew ?? tuneIds(present, 0, present.measures.length);
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
          const came = made && cameOf(variation, present, made, anew);
          const shown = came?.shown ?? 0;
          // Where there is no room for it, the next of its kind is tried; the one that shows itself most is kept.
          if (!tried || shown > most) {
            const trouble = 'error' in result ? result.error : result.problem?.message;
            all[index] = {
              ...variation,
              ...(came && { came }),
              ...(trouble && { trouble }),
            };
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
