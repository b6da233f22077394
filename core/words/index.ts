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
