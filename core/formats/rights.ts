import type { Rights } from '../tune';

/** The rights status of a tune in words, for paper and files. */
export const RIGHTS_TEXT: Record<Rights, string> = {
  'public-domain': 'Traditional, in the public domain',
  'own-work': 'Written by the teacher',
  copyright: 'Under copyright: for private study; ask the owner before selling or posting it',
  unknown: 'Rights not recorded',
};
