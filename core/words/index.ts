/**
 * What sentences are made of.
 */

/**
 * A text that begins with a capital.
 *
 * @example capital('measure 3') // 'Measure 3'
 */
export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/**
 * Things in a list: "a, b and c".
 *
 * @example listed([1, 2, 4]) // '1, 2 and 4'
 */
export function listed(things: readonly (string | number)[]): string {
  const [last, ...others] = [...things].reverse();
  return others.length ? `${others.reverse().join(', ')} and ${last}` : String(last ?? '');
}

/**
 * Things by their numbers: "measures 10, 14 and 18"; three or more in a row by their ends.
 *
 * @param noun of one of them
 * @example numbered('string', [1, 2, 3, 6]) // 'strings 1 to 3 and 6'
 */
export function numbered(noun: string, numbers: readonly number[]): string {
  const runs: number[][] = [];
  for (const number of [...numbers].sort((a, b) => a - b)) {
    const run = runs.at(-1);
    if (run && number === run.at(-1)! + 1) run.push(number);
    else runs.push([number]);
  }
  const parts = runs.flatMap((run): (string | number)[] =>
    run.length > 2 ? [`${run[0]} to ${run.at(-1)}`] : run,
  );
  return `${noun}${numbers.length > 1 ? 's' : ''} ${listed(parts)}`;
}
