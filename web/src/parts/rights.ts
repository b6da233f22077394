import type { Rights } from '#core/tune';

/** What may be done with a tune, as it is chosen. */
export const RIGHTS_CHOICES: { value: Rights; label: string }[] = [
  { value: 'public-domain', label: 'Traditional, public domain' },
  { value: 'own-work', label: 'My own work' },
  { value: 'copyright', label: 'Under copyright' },
  { value: 'unknown', label: 'Not recorded' },
];
