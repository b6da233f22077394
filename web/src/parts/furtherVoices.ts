import { type Tune, voiceNames } from '#core/tune';

/** How many voices stand beside a melody, behind what else is told of a tune: ", 2 further voices"; nothing for one alone. */
export function furtherVoices(tune: Tune): string {
  const voices = voiceNames(tune).length;
  return voices ? `, ${voices} further voice${voices > 1 ? 's' : ''}` : '';
}

/** So many further voices are drawn unasked, as those of a hymn are; the tracks of a band are not. */
const FEW = 3;

/** Whether a tune is shown with its further voices where nobody has chosen. */
export function showsVoices(tune: Tune): boolean {
  const voices = voiceNames(tune).length;
  return voices > 0 && voices <= FEW;
}
