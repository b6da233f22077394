import type { CSSProperties } from 'react';

/** Rows of a tab must not be broken; what is dictated may. */
export const textStyle = (text: string): CSSProperties => ({
  fontFamily: 'var(--mono)',
  whiteSpace: text.includes('---') ? 'pre' : 'pre-wrap',
  overflowX: 'auto',
});
