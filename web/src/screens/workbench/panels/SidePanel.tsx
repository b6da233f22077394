import { Text } from '@mantine/core';
import { useMemo } from 'react';
import { placeName } from '#core/check';
import type { Edit } from '#core/edit';
import { fingerLabel, stretchOf } from '#core/hand';
import { movesWords } from '#core/lesson';
import { type Arrangement, ledgerWords } from '#core/score';
import { later } from '../../../parts/later';
import type { ChordNames } from '../../../parts/ribbon/measureLayout';
import { handsOf, type Looked } from '../useLooked';
import styles from '../Workbench.module.css';
import { ComparePanel } from './ComparePanel';
import { FingeringPanel } from './FingeringPanel';
import { MeasurePanel } from './MeasurePanel';
import { NotePanel } from './NotePanel';
import { PassagePanel } from './PassagePanel';
import { RemarksPanel } from './RemarksPanel';
import { WeighedPanel } from './WeighedPanel';

interface SidePanelProps {
  view: Looked;
  /** Whether a proposal is shown in the arrangement's place. */
  proposed: boolean;
  names: ChordNames;
  onEdit: (edit: Edit, string?: number) => void;
}

/** Beside the ribbon: the note at the cursor, the hand at the moment, and why all is as it is. */
export const SidePanel = later(function SidePanel({ view, proposed, names, onEdit }: SidePanelProps) {
  const { arrangement, at, string, start, chosen } = view;
  const { setup, hand } = arrangement;
  const measures = useMemo(() => chosen.split(' '), [chosen]);
  const note = arrangement.measures[at]?.notes.find(n => n.start === start && n.string === string);
  // Where a proposal is shown, the moment of the present is told.
  const here = proposed ? { measure: at, start } : view.here;
  const hands = handsOf(view);
  const grip = hands.now;
  const stretch = stretchOf(setup, hand, grip);
  const placed = placeName(arrangement, here.measure, here.start);
  return (
    <>
      <NotePanel arrangement={arrangement} at={at} string={string} note={note} onEdit={onEdit} />
      <WeighedPanel arrangement={arrangement} at={at} onEdit={onEdit} />
      <ComparePanel arrangement={arrangement} at={at} range={rangeOf(arrangement, measures)} names={names} />
      <RemarksPanel arrangement={arrangement} at={at} note={note} onEdit={onEdit} />
      <FingeringPanel arrangement={arrangement} measure={at} onEdit={onEdit} />
      <PassagePanel arrangement={arrangement} measures={measures} onEdit={onEdit} />
      <MeasurePanel arrangement={arrangement} at={at} start={start} measures={measures} onEdit={onEdit} />
      <h3>Into {placed.charAt(0).toLowerCase() + placed.slice(1)}</h3>
      <Text size="sm">{movesWords(setup, hands) || 'No finger is needed.'}</Text>
      {grip.length > 1 && (
        <>
          <div className={styles.meter} style={{ marginTop: 8 }}>
            <div
              className={stretch.possible ? '' : styles.over}
              style={{ width: `${Math.min(100, (100 * stretch.widest) / stretch.limit)}%` }}
            />
          </div>
          <Text size="sm">
            Stretch {Math.round(stretch.widest)} of {Math.round(stretch.limit)} mm
            {stretch.fingers && `, fingers ${stretch.fingers.map(fingerLabel).join(' and ')}`}
          </Text>
        </>
      )}
      <h3>Why it is so</h3>
      <ul>
        {arrangement.reasons.map(line => (
          <li key={line}>{line}</li>
        ))}
        {arrangement.ledger.map(line => (
          <li key={line.id}>{ledgerWords(arrangement, line)}</li>
        ))}
      </ul>
    </>
  );
});

/** Places of the first and last of some measures. */
function rangeOf({ measures }: Arrangement, ids: readonly string[]): { from: number; to: number } {
  const places = ids.map(id => measures.findIndex(measure => measure.id === id)).filter(index => index >= 0);
  return { from: Math.min(...places), to: Math.max(...places) };
}
