import { FEELS, type Feel } from '#core/time';

/** What each feel is called in lists. */
const WORDS: Record<Feel, string> = { straight: 'straight', swing: 'swing', lilt: 'jig lilt' };

export const FEEL_CHOICES = FEELS.map(value => ({ value, label: WORDS[value] }));
