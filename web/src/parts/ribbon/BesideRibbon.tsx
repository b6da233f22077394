import { Text } from '@mantine/core';
import type { ReactNode } from 'react';
import { alignedRows } from '#core/compare';
import type { Arrangement } from '#core/score';
import { useCopy } from '../../data/queries';
import { STYLE_WORDS } from '../arranging/arrangeWords';
import styles from './BesideRibbon.module.css';
import type { ChordNames, ShownLanes } from './measureLayout';
import { Ribbon } from './Ribbon';

/** Measures of a row: as many as stand on a line of paper in a full arrangement. */
const IN_A_ROW = 2;

const nameOf = ({ name, style, settings }: Arrangement) =>
  name ?? `${STYLE_WORDS[style].split(':')[0]}${settings ? `, level ${settings.level}` : ''}`;

/** Two arrangements of one tune on one paper, row under row the same measures: the easy under the full one. */
export function BesideRibbon({
  arrangement,
  beside,
  names,
  scale,
  shown,
  foot,
}: {
  arrangement: Arrangement;
  /** Id of the other one. */
  beside: string;
  names: ChordNames;
  scale: number;
  shown: ShownLanes;
  /** What stands under the last row. */
  foot: ReactNode;
}) {
  const [state] = useCopy('arrangements', beside);
  const other = state.history?.present;
  if (!other)
    return (
      <>
        {state.status === 'missing' && <Text>The other arrangement was taken off the shelf.</Text>}
        <Ribbon arrangement={arrangement} names={names} scale={scale} shown={shown} foot={foot} />
      </>
    );
  return alignedRows(arrangement, other, IN_A_ROW).map((row, i, rows) => (
    <section key={row.own[0]} className={styles.beside}>
      <h3>{nameOf(arrangement)}</h3>
      <Ribbon arrangement={arrangement} names={names} scale={scale} shown={shown} show={row.own} />
      {row.other.length > 0 && (
        <>
          <h3>{nameOf(other)}</h3>
          <Ribbon arrangement={other} names={names} scale={scale} shown={shown} show={row.other} />
        </>
      )}
      {i === rows.length - 1 && foot}
    </section>
  ));
}
