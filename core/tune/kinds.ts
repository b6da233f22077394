import type { Tune } from './model';

/**
 * Whether a tune is a blues, by the name of its kind: its bass keeps to the root.
 *
 * @example isBlues({ rhythm: 'slow blues' }) // true
 */
export const isBlues = ({ rhythm = '' }: Pick<Tune, 'rhythm'>): boolean => /\bblues/i.test(rhythm);

/** Kinds to choose from: those that the arranger goes by, and others that players ask for. Any other may be named. */
export const KINDS = [
  'air',
  'ballad',
  'blues',
  'bossa nova',
  'carol',
  'habanera',
  'hornpipe',
  'hymn',
  'jig',
  'lullaby',
  'march',
  'mazurka',
  'polka',
  'rag',
  'reel',
  'slow air',
  'song',
  'strathspey',
  'tango',
  'waltz',
];

/** Further ones that stand in titles, in the languages whose names the arranger knows. */
const FURTHER = [
  'walzer|valse|vals|barndance|schottis(?:che)?|marsch|quickstep|lament|cradle song|wiegenlied|berceuse|noël|choral(?:e)?|psalm',
  'milonga|barcarolle|sarabande|pavane|elegy|romance|minuet|menuett?|gavotte|breakdown',
];
/** A song is so in too many titles. */
const NAMED = KINDS.filter(kind => kind !== 'song');
const KIND = `(?:(?:slow|slip|double|single|jazz|set) )?(?:${[...NAMED, ...FURTHER].join('|')})`;
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
