import { Alert, Button, Group, Text } from '@mantine/core';
import { useMemo } from 'react';
import { type Arrangement, measureIndex, type SourceChanges, sourceChanges } from '#core/score';
import { measureNumbers, type Tune } from '#core/tune';
import { listed } from '#core/words';
import { later } from '../../parts/later';

/** "measures 3, 5 and 6" of numbered places. */
function measuresOf(numbers: readonly number[]): string {
  const names = [...new Set(numbers.map(number => (number === 0 ? 'the pickup' : String(number))))];
  return `measure${names.length > 1 ? 's' : ''} ${listed(names)}`;
}

/** Says that the tune was corrected since it was arranged, what no longer fits, and offers to make that anew. */
export const SourceNotice = later(function SourceNotice({
  arrangement,
  tune,
  onPropose,
}: {
  arrangement: Arrangement;
  tune: Tune;
  onPropose: (changes: SourceChanges) => void;
}) {
  const changes = useMemo(() => sourceChanges(arrangement, tune), [arrangement, tune]);
  if (!changes) return null;
  const inTune = measureNumbers(tune.measures);
  const here = measureNumbers(arrangement.measures);
  const ofTune = (ids: string[]) =>
    measuresOf(ids.map(id => inTune[tune.measures.findIndex(m => m.id === id)]!));
  const words = [
    changes.changed.length &&
      `${ofTune(changes.changed)} of the tune ${changes.changed.length > 1 ? 'were' : 'was'} changed`,
    changes.added.length &&
      `${ofTune(changes.added)} of the tune ${changes.added.length > 1 ? 'are' : 'is'} new`,
    changes.gone.length &&
      `${measuresOf(changes.gone.map(id => here[measureIndex(arrangement, id)]!))} here ${changes.gone.length > 1 ? 'are' : 'is'} no longer in the tune`,
    changes.form && 'repeats, endings, sections or words are others',
    changes.heading.length && `another ${changes.heading.join(', ')}`,
  ].filter(Boolean);
  return (
    <Alert color="marigold" title="The tune was corrected since this was arranged">
      <Group justify="space-between" gap={8}>
        <Text size="sm">{words.join('; ')}. All else stays as it is here.</Text>
        <Button size="compact-sm" variant="default" onClick={() => onPropose(changes)}>
          Propose these anew
        </Button>
      </Group>
    </Alert>
  );
});
