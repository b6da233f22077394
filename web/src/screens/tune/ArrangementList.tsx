import { ActionIcon, Alert, Button, Group, Menu, TextInput } from '@mantine/core';
import { IconCopy, IconDotsVertical, IconPencil, IconTrash } from '@tabler/icons-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { applyEdit } from '#core/edit';
import { MOST_NAME } from '#core/score';
import { copyOf } from '../../data/copies';
import type { ArrangementEntry } from '../../data/db';
import { useStoreChange } from '../../data/queries';
import { newId, removeArrangement, save, storeWords } from '../../data/store';
import { offerPuttingBack } from '../../parts/putBack';
import styles from './TuneScreen.module.css';

/** The arrangements of a tune: opened, named, made twice, taken away. */
export function ArrangementList({ entries }: { entries: readonly ArrangementEntry[] }) {
  const [naming, setNaming] = useState<string>();
  const rename = useStoreChange(async ({ id, name }: { id: string; name: string }) => {
    const copy = copyOf('arrangements', id);
    await copy.content();
    copy.update(history => {
      const result = applyEdit(history, { kind: 'name', ids: [], values: { name } });
      return 'error' in result ? history : result;
    });
    await copy.save();
    setNaming(undefined);
  });
  const duplicate = useStoreChange(async (entry: ArrangementEntry) => {
    const content = await copyOf('arrangements', entry.id).content();
    if (!content) throw new Error('it could not be read');
    const name = `${entry.name ?? entry.label} (copy)`.slice(0, MOST_NAME);
    await save('arrangements', { ...content, id: newId(), name }, undefined);
  });
  const remove = useStoreChange(async ({ id, name, label }: ArrangementEntry) => {
    await copyOf('arrangements', id).save();
    await offerPuttingBack(`${name ?? label} was taken away`, await removeArrangement(id));
  });
  const trouble = rename.error ?? duplicate.error ?? remove.error;
  return (
    <>
      {trouble && (
        <Alert color="cranberry" mb="sm" title="It could not be done">
          {storeWords(trouble)}
        </Alert>
      )}
      <ul className={styles.arrangementList}>
        {entries.map(entry => (
          <li key={entry.id}>
            {naming === entry.id ? (
              <NameForm
                entry={entry}
                onName={name => rename.mutate({ id: entry.id, name })}
                onLeave={() => setNaming(undefined)}
              />
            ) : (
              <>
                <div>
                  <Link to={`/arrangement/${entry.id}`}>{entry.name ?? entry.label}</Link>
                  {entry.name && <div className={styles.meta}>{entry.label}</div>}
                </div>
                <Menu position="bottom-end">
                  <Menu.Target>
                    <ActionIcon variant="subtle" aria-label={`More for ${entry.name ?? entry.label}`}>
                      <IconDotsVertical size={18} />
                    </ActionIcon>
                  </Menu.Target>
                  <Menu.Dropdown>
                    <Menu.Item leftSection={<IconPencil size={16} />} onClick={() => setNaming(entry.id)}>
                      Give it a name
                    </Menu.Item>
                    <Menu.Item leftSection={<IconCopy size={16} />} onClick={() => duplicate.mutate(entry)}>
                      Make a copy
                    </Menu.Item>
                    <Menu.Item
                      c="var(--cranberry)"
                      leftSection={<IconTrash size={16} />}
                      onClick={() => remove.mutate(entry)}
                    >
                      Take it away
                    </Menu.Item>
                  </Menu.Dropdown>
                </Menu>
              </>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}

function NameForm({
  entry,
  onName,
  onLeave,
}: {
  entry: ArrangementEntry;
  onName: (name: string) => void;
  onLeave: () => void;
}) {
  const [name, setName] = useState(entry.name ?? '');
  return (
    <form
      onSubmit={event => {
        event.preventDefault();
        onName(name);
      }}
    >
      <Group align="end" gap={8}>
        <TextInput
          label="Name of this arrangement"
          placeholder={entry.label}
          maxLength={MOST_NAME}
          data-autofocus
          autoFocus
          value={name}
          onChange={event => setName(event.currentTarget.value)}
          onKeyDown={event => {
            if (event.key === 'Escape') onLeave();
          }}
        />
        <Button type="submit" color="marigold.6">
          Name it
        </Button>
        <Button variant="default" onClick={onLeave}>
          Leave it
        </Button>
      </Group>
    </form>
  );
}
