import { useDebouncedValue } from '@mantine/hooks';
import { startTransition, useEffect, useState } from 'react';
import type { Finding } from '#core/check';
import type { Arrangement } from '#core/score';
import type { Tune } from '#core/tune';
import { checker } from '../../engine/workers';
import { QUIET } from '../../parts/later';

const NONE: readonly Finding[] = [];

/** What was found, and in which state. */
export interface Found {
  of: Arrangement;
  findings: readonly Finding[];
}

/**
 * What can't be played or is doubtful, worked out beside the screen once no key is pressed for a moment: while a newer
 * state is looked at, the findings of the one before stay in sight, and `looking` is true.
 */
export function useFindings(
  arrangement: Arrangement,
  tune: Tune | undefined,
): { found: Found | undefined; looking: boolean } {
  const [settled] = useDebouncedValue(arrangement, QUIET);
  const [found, setFound] = useState<Found>();
  useEffect(() => {
    let current = true;
    void checker()
      .check(settled, tune)
      .then(findings => {
        // What is typed comes before what is found.
        if (current && findings)
          startTransition(() => setFound({ of: settled, findings: findings.length ? findings : NONE }));
      });
    return () => {
      current = false;
    };
  }, [settled, tune]);
  return { found, looking: found?.of !== arrangement };
}
