import { Button, Group, NumberInput } from '@mantine/core';
import { useState } from 'react';
import type { Edit, PassageGoal } from '#core/edit';
import { stringName } from '#core/instrument';
import { type Arrangement, ROLES, type Role } from '#core/score';
import { Choice } from '../../../parts/Choice';
import { Fold } from '../../../parts/Fold';

const ROLE_WORDS: Record<Role, string> = { melody: 'the melody', bass: 'the bass', inner: 'the inner notes' };

interface PassagePanelProps {
  arrangement: Arrangement;
  /** Ids of the chosen measures. */
  measures: readonly string[];
  onEdit: (edit: Edit) => void;
}

/** The chosen measures moved as a whole; the hand is solved anew. */
export function PassagePanel(props: PassagePanelProps) {
  const { length } = props.measures;
  return (
    <Fold name="passage" words={`Move ${length > 1 ? `these ${length} measures` : 'this measure'} at once`}>
      {() => <Moves {...props} />}
    </Fold>
  );
}

function Moves({ arrangement, measures, onEdit }: PassagePanelProps) {
  const { setup } = arrangement;
  const [role, setRole] = useState<Role | ''>('');
  const [string, setString] = useState(1);
  const [position, setPosition] = useState<number | string>(5);
  const move = (goal: PassageGoal) =>
    onEdit({ kind: 'passage', ids: measures, values: { goal, ...(role && { role }) } });
  return (
    <>
      <Choice
        size="xs"
        label="What of it"
        options={[
          { value: '', label: 'all notes' },
          ...ROLES.map(value => ({ value, label: ROLE_WORDS[value] })),
        ]}
        value={role}
        onChange={setRole}
      />
      <Group align="end" gap={8} mt={8}>
        <Choice
          size="xs"
          label="String"
          options={setup.tuning.map((_, i) => ({ value: i + 1, label: stringName(setup, i + 1) }))}
          value={string}
          onChange={setString}
        />
        <Button size="compact-sm" variant="default" onClick={() => move({ string })}>
          All on this string
        </Button>
      </Group>
      <Group align="end" gap={8} mt={8}>
        <NumberInput
          size="xs"
          label="Position (fret of finger 1)"
          min={1}
          max={15}
          w={170}
          value={position}
          onChange={setPosition}
        />
        <Button
          size="compact-sm"
          variant="default"
          disabled={!(Number(position) >= 1)}
          onClick={() => move({ position: Number(position) })}
        >
          Into it
        </Button>
      </Group>
      <Group gap={8} mt={8}>
        <Button size="compact-sm" variant="default" onClick={() => move({ octaves: 1 })}>
          An octave higher
        </Button>
        <Button size="compact-sm" variant="default" onClick={() => move({ octaves: -1 })}>
          An octave lower
        </Button>
      </Group>
      <Group gap={8} mt={8}>
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => onEdit({ kind: 'hold-shape', ids: measures, values: { on: true } })}
        >
          Keep the shape down
        </Button>
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => onEdit({ kind: 'hold-shape', ids: measures, values: { on: false } })}
        >
          Let it go
        </Button>
      </Group>
    </>
  );
}
