import { useEffect, useState } from 'react';
import type { Finding } from '#core/check';
import type { Arrangement } from '#core/score';
import type { Tune } from '#core/tune';
import { checker } from '../../engine/workers';

const NONE: readonly Finding[] = [];

/**
 * What can't be played or is doubtful, worked out beside the screen: while a newer state is looked at, the findings of
 * the one before stay in sight, and `looking` is true.
 */
export function useFindings(
  arrangement: Arrangement,
  tune: Tune | undefined,
): { findings: readonly Finding[] | undefined; looking: boolean } {
  const [last, setLast] = useState<{ of: Arrangement; findings: readonly Finding[] }>();
  useEffect(() => {
    let current = true;
    void checker()
      .check(arrangement, tune)
      .then(found => {
        if (current && found) setLast({ of: arrangement, findings: found.length ? found : NONE });
      });
    return () => {
      current = false;
    };
  }, [arrangement, tune]);
  return { findings: last?.findings, looking: last?.of !== arrangement };
}
