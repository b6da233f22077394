import type { Tune } from './model';

/**
 * Whether a tune is a blues, by the name of its kind: its bass keeps to the root.
 *
 * @example isBlues({ rhythm: 'slow blues' }) // true
 */
export const isBlues = ({ rhythm = '' }: Pick<Tune, 'rhythm'>): boolean => /\bblues/i.test(rhythm);

/** Kinds of tunes as they stand in titles, in the languages whose names the arranger knows. */
const KIND =
  '(?:(?:slow|slip|double|single|jazz|set) )?(?:waltz|walzer|valse|vals|reel|jig|hornpipe|polka|mazurka|strathspey|barndance|schottis(?:che)?|march|marsch|quickstep|air|lament|lullaby|cradle song|wiegenlied|berceuse|ballad|carol|noël|hymn|choral(?:e)?|psalm|blues|rag|tango|milonga|habanera|bossa nova|barcarolle|sarabande|pavane|elegy|romance|minuet|menuett?|gavotte|breakdown)';
/** At the end, as in The Kesh Jig, but not in Winds of March; at the beginning, as in March of the Lamps. */
const AT_END = new RegExp(`(?<!\\b(?:of|in|on|the|by))(?:^|[\\s_-])(${KIND})$`, 'i');
const AT_BEGINNING = new RegExp(`^(?:the )?(${KIND}) (?:of|for|to|in|at|from|no|nr|number)\\b`, 'i');

/**
 * The kind of tune that a title names (common practice): "The Kesh Jig", "March of the Lamps", "Wiegenlied (trad.)".
 *
 * @returns undefined where it names none
 * @example kindInTitle('The Ferryman’s Reel') // 'reel'
 */
export function kindInTitle(title: string): string | undefined {
  // What stands behind the name is no part of it: "(trad.)", ", arr.", "No. 2".
  const name = title.replace(/\s*(?:[([,;–].*|\b(?:no|nr)\.?\s*\d+.*)$/i, '').trim();
  const [, kind] = AT_END.exec(name) ?? AT_BEGINNING.exec(title.trim()) ?? [];
  return kind?.toLowerCase();
}
