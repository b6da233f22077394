import { useEffect, useState } from 'react';
import type { ArrangeRequest } from '#core/arrange';
import type { Arrangement } from '#core/score';
import type { Tune } from '#core/tune';
import { arrangeStoppable, warmArranging } from '../../../engine/workers';

/** Milliseconds in which several choices in quick succession are one question. */
const TOGETHER = 150;

/** What became of a question. */
interface Answer {
  request: ArrangeRequest;
  /** How much is done, 0 to 1; undefined when it is over. */
  progress?: number;
  trouble?: string | undefined;
}

/**
 * Has the arranger answer a question, beside the screen; another question, or none any more, stops what is being made.
 *
 * @param onPropose told the proposal, or that there is none
 */
export function useProposal(
  tune: Tune,
  request: ArrangeRequest | undefined,
  onPropose: (proposal: Arrangement | undefined) => void,
): { progress: number | undefined; trouble: string | undefined } {
  const [answer, setAnswer] = useState<Answer>();
  useEffect(warmArranging, []);
  useEffect(() => {
    if (!request) return;
    let stop = () => {};
    const timer = setTimeout(() => {
      stop = arrangeStoppable(
        tune,
        request,
        progress => setAnswer({ request, progress }),
        result => {
          const trouble = 'error' in result ? result.error : result.problem?.message;
          setAnswer({ request, trouble });
          if (!('error' in result)) onPropose(result.arrangement);
        },
      );
    }, TOGETHER);
    return () => {
      clearTimeout(timer);
      stop();
    };
  }, [request, tune, onPropose]);
  if (!request) return { progress: undefined, trouble: answer?.trouble };
  // What was answered to another question says nothing of this one.
  if (answer?.request !== request) return { progress: 0, trouble: undefined };
  return { progress: answer.progress, trouble: answer.trouble };
}
