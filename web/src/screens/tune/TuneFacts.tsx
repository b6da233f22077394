import { Autocomplete, Group, NumberInput, Title } from '@mantine/core';
import { type ReactNode, useState } from 'react';
import { writeGroups, writeKind, writeTempo } from '#core/formats/fields';
import { beatsPerMinute, quartersFromBeats } from '#core/time';
import {
  formOf,
  groupingsOf,
  KINDS,
  measureNumbers,
  measureSpan,
  type Rights,
  sectionsOf,
  type Tune,
} from '#core/tune';
import { Choice } from '../../parts/Choice';
import { FEEL_CHOICES } from '../../parts/playing/feelWords';
import { RIGHTS_CHOICES } from '../../parts/rights';
import styles from './TuneScreen.module.css';

/** What holds for the whole tune: its form, kind, tempo, how its beats go together, feel and rights; beside it what can be done. */
export function TuneFacts({
  tune,
  onTune,
  children,
}: {
  tune: Tune;
  onTune: (tune: Tune) => void;
  children: ReactNode;
}) {
  const numbers = measureNumbers(tune.measures);
  const { groups } = tune.meter;
  const groupings = groupingsOf(tune.meter);
  const { rhythm = '' } = tune;
  /** The kind as it is typed: a space at its end is no part of it yet. */
  const [typed, setTyped] = useState(rhythm);
  return (
    <Group align="end" mb="md" gap="lg">
      <div style={{ width: '100%' }}>
        <Title order={2} size="h4" mb={4}>
          Form
        </Title>
        <ul className={styles.formStrip} aria-label={`Form: ${formOf(tune.measures, tune.order).join(' ')}`}>
          {sectionsOf(tune.measures).flatMap(section =>
            Array.from({ length: section.passes }, (_, i) => i + 1).map(time => (
              <li key={`${section.from}-${time}`}>
                {section.name}
                <small>{time === 1 ? measureSpan(numbers, section.from, section.to - 1) : 'again'}</small>
              </li>
            )),
          )}
        </ul>
      </div>
      <Autocomplete
        label="Kind"
        w={140}
        placeholder="waltz, reel …"
        data={KINDS}
        // Where one is chosen the others are shown, so that it can be changed.
        filter={({ options, search }) =>
          KINDS.includes(search)
            ? options
            : options.filter(
                option => 'value' in option && option.value.includes(search.trim().toLowerCase()),
              )
        }
        value={typed.trim() === rhythm ? typed : rhythm}
        onChange={value => {
          setTyped(value);
          onTune(writeKind(tune, value));
        }}
      />
      <NumberInput
        label="Tempo, beats a minute"
        w={150}
        min={10}
        max={300}
        value={Math.round(beatsPerMinute(tune.meter, tune.quartersPerMinute))}
        onChange={value =>
          typeof value === 'number' &&
          value >= 10 &&
          value <= 300 &&
          onTune(writeTempo(tune, quartersFromBeats(tune.meter, value)))
        }
      />
      {groupings.length > 1 && (
        <Choice
          label="Beats go together"
          options={[
            ...(groups ? [] : [{ value: '', label: 'not said' }]),
            ...groupings.map(own => ({ value: own.join('+'), label: own.join(' + ') })),
          ]}
          value={groups?.join('+') ?? ''}
          onChange={value => value && onTune(writeGroups(tune, value.split('+').map(Number)))}
        />
      )}
      <Choice
        label="Feel"
        options={FEEL_CHOICES}
        value={tune.feel ?? 'straight'}
        onChange={feel => onTune({ ...tune, feel })}
      />
      <Choice
        label="Rights"
        options={RIGHTS_CHOICES}
        value={tune.rights}
        onChange={value => onTune({ ...tune, rights: value as Rights })}
      />
      <Group gap="sm" ml="auto">
        {children}
      </Group>
    </Group>
  );
}
