import { useCallback } from 'react';
import { useCopy } from '../../data/queries';

/**
 * What was chosen for the papers of a piece, kept with it: whoever prints it again, on this device or another, gets the same.
 *
 * @param id of the tune or arrangement
 * @param usual what holds where nothing was chosen
 */
export function useSheet<T extends Record<string, string | boolean>>(
  id: string,
  usual: T,
): [choices: T, choose: <K extends keyof T>(name: K, value: T[K]) => void] {
  const [state, copy] = useCopy('sheets', id);
  const kept = state.history?.present;
  const choices = { ...usual, ...kept?.choices } as T;
  const choose = useCallback(
    <K extends keyof T>(name: K, value: T[K]) => {
      copy.update(history => {
        const { present } = history;
        return {
          ...history,
          present: { ...present, choices: { ...present.choices, [name as string]: value } },
        };
      });
    },
    [copy],
  );
  return [choices, choose];
}
