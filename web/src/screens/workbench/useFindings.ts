import { startTransition, useEffect, useMemo, useState } from 'react';
import type { Finding } from '#core/check';
import type { Arrangement } from '#core/score';
import type { Tune } from '#core/tune';
import { checker } from '../../engine/workers';
import { useRested } from '../../parts/later';
import type { Cursor } from '../../parts/ribbon/RibbonRow';

const NONE: readonly Finding[] = [];

/** Findings as they were known before where they say the same, so that only what is new is drawn. */
function keptOf(before: readonly Finding[], now: readonly Finding[]): readonly Finding[] {
  const known = new Map(before.map(finding => [JSON.stringify(finding), finding]));
  return now.length ? now.map(finding => known.get(JSON.stringify(finding)) ?? finding) : NONE;
}

/** What was found, and in which state. */
export interface Found {
  of: Arrangement;
  findings: readonly Finding[];
}

/**
 * What can't be played or is doubtful, worked out beside the screen once no key is pressed for a moment: while a newer
 * state is looked at, the findings of the one before stay in sight, and `looking` is true.
 *
 * @param cursor where one is: who moves on is still at work
 * @returns `fault` is why nothing can be looked for
 */
export function useFindings(
  arrangement: Arrangement,
  tune: Tune | undefined,
  cursor: Cursor,
): { found: Found | undefined; looking: boolean; fault: string | undefined } {
  const now = useMemo(() => ({ arrangement, cursor }), [arrangement, cursor]);
  const { arrangement: settled } = useRested(now);
  const [found, setFound] = useState<Found>();
  const [fault, setFault] = useState<string>();
  useEffect(() => {
    let current = true;
    void checker()
      .check(settled, tune)
      .then(
        findings => {
          // What is typed comes before what is found.
          if (current && findings)
            startTransition(() => {
              setFault(undefined);
              setFound(before => ({ of: settled, findings: keptOf(before?.findings ?? NONE, findings) }));
            });
        },
        cause => current && setFault(cause instanceof Error ? cause.message : String(cause)),
      );
    return () => {
      current = false;
    };
  }, [settled, tune]);
  return { found, looking: !fault && found?.of !== arrangement, fault };
}
