import { Text } from '@mantine/core';
import { useMemo } from 'react';
import { DIFFICULTY_PARTS, difficultyOf } from '#core/check';
import { changedMeasures } from '#core/compare';
import { type Arrangement, ledgerWords } from '#core/score';
import { ringFactor } from '#core/track';
import { DIFFICULTY_WORDS } from '../../../parts/arranging/arrangeWords';
import common from '../../../theme/common.module.css';
import styles from './ArrangePanel.module.css';

/** How hard the arrangement is as it stands. */
export function PresentVerdict({
  arrangement,
  name,
}: {
  arrangement: Arrangement;
  name: (measure: number) => string;
}) {
  const { mean, hardest, worst } = useMemo(() => difficultyOf(arrangement), [arrangement]);
  return (
    <Text size="sm">
      Difficulty {mean.toFixed(1)} a measure; the hardest is {name(hardest)} with {worst.toFixed(1)}.
    </Text>
  );
}

/** What a proposal would change: measures, difficulty, ringing, and what is not as in the source. */
export function ProposalVerdict({
  arrangement,
  proposal,
  where,
  name,
}: {
  arrangement: Arrangement;
  proposal: Arrangement;
  /** The part that was arranged anew. */
  where: string;
  name: (measure: number) => string;
}) {
  const changed = useMemo(() => changedMeasures(arrangement, proposal), [arrangement, proposal]);
  const now = useMemo(() => difficultyOf(arrangement), [arrangement]);
  const then = useMemo(() => difficultyOf(proposal), [proposal]);
  return (
    <>
      <Text size="sm">
        {changed.length
          ? `${changed.length} of ${arrangement.measures.length} measures ${changed.length === 1 ? 'differs' : 'differ'} (in ${where}).`
          : 'Nothing differs from the present.'}{' '}
        Difficulty {now.mean.toFixed(1)} → {then.mean.toFixed(1)}; the hardest {name(then.hardest)} with{' '}
        {then.worst.toFixed(1)}. Melody notes ring {ringFactor(proposal).toFixed(1)} times as long as written
        (now {ringFactor(arrangement).toFixed(1)}).
      </Text>
      <details>
        <summary>What the difficulty is made of</summary>
        <table className={styles.difficulty}>
          <tbody>
            {DIFFICULTY_PARTS.map(part => (
              <tr key={part}>
                <th scope="row">{DIFFICULTY_WORDS[part]}</th>
                <td>
                  {now.parts[part].toFixed(1)} → {then.parts[part].toFixed(1)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
      {proposal.ledger.length > 0 && (
        <details>
          <summary>What is not as in the source</summary>
          <ul className={common.reasons}>
            {proposal.ledger.map(line => (
              <li key={line.id}>{ledgerWords(proposal, line)}</li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
