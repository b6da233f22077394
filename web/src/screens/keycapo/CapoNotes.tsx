import { Group, NumberInput, Text } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import {
  bandView,
  capoChart,
  type KeyPlan,
  type Progression,
  smallestCapoFor,
  type TunePlan,
  wayBack,
} from '#core/capo';
import { chordLabel } from '#core/chord';
import { keyName, prettyAccidentals, semitoneWords } from '#core/pitch';
import type { Tune } from '#core/tune';
import { arranger } from '../../engine/workers';
import common from '../../theme/common.module.css';
import styles from './KeyCapo.module.css';

/** Millimetres from which on a stretch counts as wider than another. */
const WIDER = 0.5;

/** What follows from a capo: names by shape and by sound, what the band plays, stretches, and the way back. */
export function CapoNotes({ tune, plan, cell }: { tune: Tune; plan: TunePlan; cell: KeyPlan }) {
  const { capo } = cell.setup;
  const [limit, setLimit] = useState(90);
  const band = bandView(tune, cell.transposition, capo);
  const shapes = useQuery({
    queryKey: ['plan-shapes', tune.id, plan, cell.transposition, capo],
    queryFn: (): Promise<Progression> =>
      arranger().planShapes(tune, {
        ...plan,
        setup: cell.setup,
        transposition: cell.transposition,
        choices: {},
      }),
  });
  const grips = shapes.data?.chords.flatMap(c => (c.chosen ? [c.chosen.grip] : [])) ?? [];
  const smallest = smallestCapoFor(cell.setup, plan.hand, grips, limit);
  const back = wayBack(cell.setup, plan.hand, grips);
  const [now, bare] = [back[0], back.at(-1)];
  // Across the strings a hand opens less near the nut.
  const isWider = now && bare && bare.stretch > now.stretch + WIDER;
  const moved = smallest ? smallest.pitchMove : 0;
  return (
    <div className={styles.capoNotes}>
      <section className={common.panel}>
        <h2>{capo ? `Names with capo ${capo}` : 'Names without capo'}</h2>
        <table className={common.names}>
          <tbody>
            <tr>
              <th scope="row">Shape</th>
              {capoChart(capo).map(pair => (
                <td key={pair.shape}>{prettyAccidentals(pair.shape)}</td>
              ))}
            </tr>
            <tr>
              <th scope="row">Sounds</th>
              {capoChart(capo).map(pair => (
                <td key={pair.shape}>{prettyAccidentals(pair.sounding)}</td>
              ))}
            </tr>
          </tbody>
        </table>
      </section>
      <section className={common.panel}>
        <h2>Tell the pianist</h2>
        <p>
          {keyName(band.key)}: {band.chords.map(c => `${chordLabel(c.sounding)} (${c.step})`).join(', ')}.{' '}
          {band.words}
        </p>
      </section>
      {grips.length > 0 && (
        <section className={common.panel}>
          <h2>Stretch and capo</h2>
          <Group align="end" gap={12}>
            <NumberInput
              label="My limit, mm"
              w={110}
              min={30}
              max={160}
              step={5}
              value={limit}
              onChange={v => typeof v === 'number' && v >= 30 && v <= 160 && setLimit(v)}
            />
            <Text size="sm" style={{ flex: 1 }}>
              {smallest
                ? `These shapes stay within ${limit} mm from ${smallest.capo ? `capo ${smallest.capo}` : 'no capo'} on (${Math.round(smallest.stretch)} mm). ${
                    moved
                      ? `Against now the sound moves ${semitoneWords(moved)} ${moved > 0 ? 'up' : 'down'}.`
                      : 'That is where the capo is.'
                  }`
                : `On this neck no capo brings these shapes within ${limit} mm: choose other shapes.`}
            </Text>
          </Group>
          {back.length > 1 && bare && !isWider && (
            <Text size="sm">
              Without the capo these shapes open the hand no further ({Math.round(bare.stretch)} mm).
            </Text>
          )}
          {isWider && (
            <>
              <h3>The way back without the capo</h3>
              <ol className={styles.wayBack}>
                {back.map(step => (
                  <li key={step.week}>
                    Week {step.week}: {step.capo ? `capo ${step.capo}` : 'no capo'},{' '}
                    {Math.round(step.stretch)} mm
                    {step.wider > WIDER && ` (${Math.round(step.wider)} mm wider)`}
                  </li>
                ))}
              </ol>
              <Text size="sm" c="dimmed">
                Go on only while it stays easy. Stop at pain or numbness; if it stays, see a doctor or
                physiotherapist.
              </Text>
            </>
          )}
        </section>
      )}
    </div>
  );
}
