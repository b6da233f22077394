import { Button, Group, Text } from '@mantine/core';
import type { KeyPlan, PlanPart } from '#core/capo';
import { keyName, keyShort } from '#core/pitch';
import type { SoundRequest } from '../../engine/sound.worker';
import { Hear } from '../../parts/playing/Hear';
import common from '../../theme/common.module.css';
import { cellName, MARKS, type Mark } from './marks';
import styles from './PlanDetail.module.css';

const PART_WORDS: Record<PlanPart, string> = {
  shapes: 'Holding the shapes',
  changes: 'Changing between them',
  voice: 'Voice',
  melody: 'Melody on the strings',
  room: 'No root under the melody',
  bass: 'Roots not on open strings',
  capo: 'Height of the capo',
  pitch: 'Away from the wanted pitch',
  tuning: 'Tuning',
};

/** The parts of a plan's effort, longest bar for the largest. */
function Parts({ cell, most }: { cell: KeyPlan; most: number }) {
  return (
    <table className={styles.parts}>
      <tbody>
        {(Object.keys(PART_WORDS) as PlanPart[])
          .filter(part => cell.parts[part] >= 0.05)
          .map(part => (
            <tr key={part}>
              <th scope="row">{PART_WORDS[part]}</th>
              <td>
                <div className={styles.bar} style={{ width: `${(100 * cell.parts[part]) / most}%` }} />
              </td>
              <td>{cell.parts[part].toFixed(1)}</td>
            </tr>
          ))}
      </tbody>
    </table>
  );
}

export function PlanDetail({
  cell,
  mark,
  taken,
  onTake,
  onBeside,
  hear,
}: {
  cell: KeyPlan;
  mark: Mark;
  taken: boolean;
  onTake: () => void;
  onBeside: () => void;
  /** The song as it sounds there. */
  hear: () => SoundRequest;
}) {
  return (
    <section className={common.panel} aria-label="The choice looked at" aria-live="polite">
      <h2>{cellName(cell)}</h2>
      <Text size="sm" mb={6}>
        {MARKS[mark].sign} {MARKS[mark].words} · effort {cell.cost.toFixed(1)}
      </Text>
      <Group gap={8} mb={10}>
        <Button color="marigold.6" onClick={onTake} disabled={taken}>
          {taken ? 'Taken' : 'Take this'}
        </Button>
        <Button variant="default" onClick={onBeside}>
          Set beside another
        </Button>
        <Hear label="Hear it in this key" request={hear} />
      </Group>
      <ul className={common.reasons}>
        {cell.reasons.map(reason => (
          <li key={reason}>{reason}</li>
        ))}
      </ul>
      <details>
        <summary>What the effort is made of</summary>
        <Parts cell={cell} most={Math.max(...Object.values(cell.parts))} />
      </details>
    </section>
  );
}

export function Compared({ a, b, onClose }: { a: KeyPlan; b: KeyPlan; onClose: () => void }) {
  const parts = (Object.keys(PART_WORDS) as PlanPart[]).filter(
    part => a.parts[part] >= 0.05 || b.parts[part] >= 0.05,
  );
  const rows: [string, string, string][] = [
    ['Sounds in', keyName(a.soundingKey), keyName(b.soundingKey)],
    ['Barre', `${Math.round(100 * a.barre)} %`, `${Math.round(100 * b.barre)} %`],
    ['Widest stretch', `${Math.round(a.stretch)} mm`, `${Math.round(b.stretch)} mm`],
    ['Highest melody fret', String(a.melody.highestFret), String(b.melody.highestFret)],
    ...parts.map((part): [string, string, string] => [
      PART_WORDS[part],
      a.parts[part].toFixed(1),
      b.parts[part].toFixed(1),
    ]),
    ['Effort in all', a.cost.toFixed(1), b.cost.toFixed(1)],
  ];
  return (
    <section className={common.panel} aria-label="Two choices side by side">
      <h2>Side by side</h2>
      <table className={styles.compared}>
        <thead>
          <tr>
            <td />
            {[a, b].map((p, i) => (
              <th scope="col" key={i}>
                {keyShort(p.shapeKey)} shapes, {p.setup.capo ? `capo ${p.setup.capo}` : 'no capo'}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(([name, left, right]) => (
            <tr key={name}>
              <th scope="row">{name}</th>
              <td>{left}</td>
              <td>{right}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <Button size="xs" variant="default" mt={8} onClick={onClose}>
        Close
      </Button>
    </section>
  );
}
