import { useCallback } from 'react';
import { applyEdit, type Edit } from '#core/edit';
import type { Arrangement } from '#core/score';
import type { Copy } from '../../data/copies';
import { useTwins } from './useTwins';

/**
 * Edits are applied to the copy of an arrangement, undone, done again, and done in measures that were just alike, too.
 *
 * @param say told why an edit can't be done, or nothing where it was
 */
export function useApplying(
  arrangement: Arrangement,
  copy: Copy<'arrangements'>,
  say: (message: string) => void,
) {
  const twins = useTwins(arrangement);
  const { note: noteTwins, forget: forgetTwins } = twins;
  const apply = useCallback(
    (edit: Edit) => {
      let error: string | undefined;
      copy.update(history => {
        const result = applyEdit(history, edit);
        if ('error' in result) {
          error = result.error;
          return history;
        }
        noteTwins(history.present, edit);
        return result;
      });
      say(error ?? '');
      return error === undefined;
    },
    [copy, noteTwins, say],
  );
  const undo = useCallback(() => {
    forgetTwins();
    copy.undo();
  }, [copy, forgetTwins]);
  const redo = useCallback(() => {
    forgetTwins();
    copy.redo();
  }, [copy, forgetTwins]);
  /** Does in the measures that were just alike what was done here. */
  const doInTwins = () => {
    if (!twins.places.length) {
      say('No other measure was just like this one before it was changed.');
      return;
    }
    let told = '';
    copy.update(history => {
      const result = twins.carry(history);
      told = result.message;
      return result.history;
    });
    twins.forget();
    say(told || 'Done there too.');
  };
  return { apply, undo, redo, twins: twins.places, doInTwins, forgetTwins };
}
