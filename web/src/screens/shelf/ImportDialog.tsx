import { Alert, Button, Group, Modal, Table, Text } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useState } from 'react';
import type { Kind } from '#core/records';
import { type Incoming, type Meeting, type Resolution, takeIn } from '../../data/incoming';
import { useStoreChange } from '../../data/queries';
import { storeWords } from '../../data/store';
import { saveFile } from '../../engine/files';
import { BusyButton } from '../../parts/BusyButton';
import { Choice } from '../../parts/Choice';
import type { WaitingBundle } from './useFiles';

const KIND_WORDS: Record<Kind, [one: string, many: string]> = {
  tunes: ['tune', 'tunes'],
  arrangements: ['arrangement', 'arrangements'],
  lessons: ['lesson', 'lessons'],
  plans: ['plan', 'plans'],
  snapshots: ['version', 'versions'],
  outlines: ['lesson outline', 'lesson outlines'],
  sheets: ['choice of papers', 'choices of papers'],
  patterns: ['pattern', 'patterns'],
  pupils: ['pupil', 'pupils'],
  learnings: ['piece of a pupil', 'pieces of pupils'],
  sittings: ['sitting', 'sittings'],
};
const MEETING_WORDS: Record<Exclude<Meeting, 'new' | 'same' | 'joined'>, string> = {
  'newer in the file': 'changed later in the file',
  'newer here': 'changed later here',
  different: 'different here',
};

const keyOf = (item: Incoming) => `${item.kind} ${item.record.id}`;
const nameOf = ({ record }: Incoming) => {
  const { title, name } = record as { title?: string; name?: string };
  return title ?? name ?? record.id;
};

function counted(items: readonly Incoming[]): string {
  return (Object.keys(KIND_WORDS) as Kind[])
    .flatMap(kind => {
      const count = items.filter(item => item.kind === kind).length;
      return count ? [`${count} ${KIND_WORDS[kind][count > 1 ? 1 : 0]}`] : [];
    })
    .join(', ');
}

/** What a file would bring in; asks about everything that is on the shelf already and is not the same. */
export function ImportDialog({ bundle, onDone }: { bundle: WaitingBundle; onDone: () => void }) {
  const { name, incoming, rejected } = bundle;
  const [choices, setChoices] = useState<Record<string, Resolution>>({});
  const faulty = incoming.filter(item => item.fault);
  const sound = incoming.filter(item => !item.fault);
  const fresh = sound.filter(item => item.meeting === 'new');
  const joined = sound.filter(item => item.meeting === 'joined');
  const same = sound.filter(item => item.meeting === 'same');
  const met = sound.filter(item => !['new', 'same', 'joined'].includes(item.meeting));
  // Nothing that is here is replaced unless somebody says so.
  const choiceOf = (item: Incoming): Resolution => choices[keyOf(item)] ?? 'mine';
  const setAside = [
    ...rejected.map(r => ({ name: r.name, message: r.message, record: r.record })),
    ...faulty.map(item => ({ name: nameOf(item), message: item.fault!, record: item.record as unknown })),
  ];
  const take = useStoreChange(async () => {
    const count = await takeIn(incoming, choiceOf);
    notifications.show({
      title: name,
      message: count
        ? `${count} record${count > 1 ? 's were' : ' was'} taken in.`
        : 'Nothing had to be taken in.',
    });
    onDone();
  });
  return (
    <Modal opened onClose={onDone} size="lg" title={`Open ${name}`}>
      {fresh.length > 0 && <Text>New: {counted(fresh)}.</Text>}
      {joined.length > 0 && <Text>Joined with what is here: {counted(joined)}.</Text>}
      {same.length > 0 && <Text>Already here, just the same: {counted(same)}.</Text>}
      {!incoming.length && !rejected.length && <Text>There is nothing in this file.</Text>}
      {met.length > 0 && (
        <>
          <Group justify="space-between" mt="sm" align="end">
            <Text fw={600}>On the shelf already, and not the same: {counted(met)}</Text>
            <Choice
              aria-label="All of them"
              size="xs"
              options={[
                { value: '', label: 'all …' },
                { value: 'mine', label: 'keep mine' },
                { value: 'theirs', label: 'take the file’s' },
                { value: 'both', label: 'keep both' },
              ]}
              value=""
              onChange={value => {
                if (value)
                  setChoices(Object.fromEntries(met.map(item => [keyOf(item), value as Resolution])));
              }}
            />
          </Group>
          <Table>
            <Table.Tbody>
              {met.map(item => (
                <Table.Tr key={keyOf(item)}>
                  <Table.Td>
                    {nameOf(item)} ({KIND_WORDS[item.kind][0]})
                  </Table.Td>
                  <Table.Td>{MEETING_WORDS[item.meeting as keyof typeof MEETING_WORDS]}</Table.Td>
                  <Table.Td>
                    <Choice
                      aria-label={`${nameOf(item)}, ${KIND_WORDS[item.kind][0]}: what to keep`}
                      size="xs"
                      options={[
                        { value: 'mine', label: 'keep mine' },
                        { value: 'theirs', label: 'take the file’s' },
                        ...(item.kind === 'tunes' || item.kind === 'arrangements'
                          ? [{ value: 'both', label: 'keep both' }]
                          : []),
                      ]}
                      value={choiceOf(item)}
                      onChange={value => {
                        setChoices(before => ({ ...before, [keyOf(item)]: value as Resolution }));
                      }}
                    />
                  </Table.Td>
                </Table.Tr>
              ))}
            </Table.Tbody>
          </Table>
        </>
      )}
      {setAside.length > 0 && (
        <Alert
          color="cranberry"
          mt="sm"
          title={`${setAside.length} record${setAside.length > 1 ? 's' : ''} set aside`}
        >
          {setAside.slice(0, 6).map(({ name: own, message }, i) => (
            <div key={i}>
              {own}: {message}
            </div>
          ))}
          {setAside.length > 6 && <div>and {setAside.length - 6} more</div>}
          <Button
            size="compact-sm"
            mt={6}
            variant="default"
            onClick={() => saveFile('set-aside.json', JSON.stringify(setAside, null, 1), 'application/json')}
          >
            Download them
          </Button>
        </Alert>
      )}
      {take.error && (
        <Alert color="cranberry" mt="sm" title="Nothing was taken in">
          {storeWords(take.error)}.
        </Alert>
      )}
      <Group mt="md" justify="flex-end">
        <Button variant="default" onClick={onDone}>
          {fresh.length || joined.length || met.length ? 'Leave it' : 'Close'}
        </Button>
        {(fresh.length > 0 || joined.length > 0 || met.length > 0) && (
          <BusyButton color="marigold.6" busy={take.isPending} onClick={() => take.mutate()}>
            Take it in
          </BusyButton>
        )}
      </Group>
    </Modal>
  );
}
