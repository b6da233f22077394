import { useState } from 'react';

/** The time at which a screen was opened, in milliseconds since 1970: what it shows does not change under the eye. */
export function useNow(): number {
  const [now] = useState(Date.now);
  return now;
}
