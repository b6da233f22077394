import { ActionIcon, Alert, Button, Group, Menu, Select, Text, TextInput, Title } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import {
  IconDotsVertical,
  IconDownload,
  IconPlus,
  IconSearch,
  IconTrash,
  IconUpload,
} from '@tabler/icons-react';
import { type DragEvent, useDeferredValue, useMemo, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { INSTRUMENTS } from '#core/instrument';
import { keyName } from '#core/pitch';
import { formOf } from '#core/tune';
import { useShelf, useStoreChange } from '../data/queries';
import { importBundle, readBundleOfAll, removeDemo, removeTune, type ShelfEntry } from '../data/repository';
import { saveFile } from '../engine/files';
import { Contour } from '../parts/Contour';
import { Masthead } from '../parts/Masthead';

export function arrangementLabel(a: {
  setup: { instrument: keyof typeof INSTRUMENTS; capo: number };
  style: string;
}): string {
  return `${INSTRUMENTS[a.setup.instrument].name}, ${a.style.replace('-', ' ')}${a.setup.capo ? `, capo ${a.setup.capo}` : ''}`;
}

const NO_ENTRIES: ShelfEntry[] = [];

/** Home: the tunes, with what was made of them. */
export function Shelf() {
  const shelf = useShelf();
  const navigate = useNavigate();
  const fileInput = useRef<HTMLInputElement>(null);
  const [search, setSearch] = useState('');
  const [rhythm, setRhythm] = useState<string | null>(null);
  const wanted = useDeferredValue(search.trim().toLowerCase());
  const remove = useStoreChange(async (entry: ShelfEntry) => {
    const restore = await removeTune(entry.stored.id);
    const id = notifications.show({
      autoClose: 12000,
      title: `${entry.stored.tune.title} was taken off the shelf`,
      message: (
        <Button
          size="compact-sm"
          variant="light"
          onClick={async () => {
            await restore();
            notifications.hide(id);
            await shelf.refetch();
          }}
        >
          Put it back
        </Button>
      ),
    });
  });
  const startEmpty = useStoreChange(removeDemo);
  const takeBundle = useStoreChange(importBundle);

  const entries = shelf.data ?? NO_ENTRIES;
  const rhythms = useMemo(
    () => [...new Set(entries.map(e => e.stored.tune.rhythm).filter(r => r !== undefined))].sort(),
    [entries],
  );
  const shown = entries.filter(
    ({ stored: { tune } }) =>
      (!rhythm || tune.rhythm === rhythm) &&
      `${tune.title} ${tune.composer ?? ''} ${tune.rhythm ?? ''} ${keyName(tune.key)}`
        .toLowerCase()
        .includes(wanted),
  );
  const hasDemo = entries.some(e => e.stored.demo);

  const openFiles = async (files: readonly File[]) => {
    for (const file of files) {
      const text = await file.text();
      if (!/\.json$/i.test(file.name)) {
        navigate('/add', { state: { text, name: file.name } });
        return;
      }
      const { readBundle } = await import('#core/formats/bundle');
      const result = readBundle(text);
      if (result.error !== undefined) {
        notifications.show({
          color: 'cranberry',
          autoClose: false,
          title: `${file.name} could not be taken in`,
          message: result.error,
        });
        continue;
      }
      await takeBundle.mutateAsync(result.bundle);
      const { bundle, rejected } = result;
      notifications.show({
        title: file.name,
        message: `${bundle.tunes.length} tunes and ${bundle.arrangements.length} arrangements are on the shelf.`,
      });
      if (rejected.length) {
        notifications.show({
          color: 'cranberry',
          autoClose: false,
          title: `${rejected.length} record${rejected.length > 1 ? 's' : ''} set aside`,
          message: (
            <>
              {rejected.slice(0, 5).map(r => (
                <div key={r.name}>
                  {r.name}: {r.message}
                </div>
              ))}
              <Button
                size="compact-sm"
                mt={6}
                onClick={() =>
                  saveFile('set-aside.json', JSON.stringify(rejected, null, 1), 'application/json')
                }
              >
                Download them
              </Button>
            </>
          ),
        });
      }
    }
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    void openFiles([...event.dataTransfer.files]);
  };
  const exportAll = async () => {
    const { writeBundle } = await import('#core/formats/bundle');
    saveFile('velvet-porch-studio.json', writeBundle(await readBundleOfAll()), 'application/json');
  };

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: files may be dropped anywhere; the same is done with the button
    <div className="frame" onDragOver={e => e.preventDefault()} onDrop={drop}>
      <Masthead title="Velvet Porch" under="The shelf: tunes and songs">
        <Menu position="bottom-end">
          <Menu.Target>
            <Button variant="transparent" c="var(--on-velvet)">
              Studio
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item leftSection={<IconDownload size={16} />} onClick={exportAll}>
              Export the whole studio
            </Menu.Item>
            <Menu.Item leftSection={<IconUpload size={16} />} onClick={() => fileInput.current?.click()}>
              Open files (ABC, bundle)
            </Menu.Item>
          </Menu.Dropdown>
        </Menu>
      </Masthead>
      <input
        ref={fileInput}
        type="file"
        hidden
        multiple
        accept=".abc,.txt,.json"
        onChange={e => void openFiles([...(e.target.files ?? [])])}
      />
      <main className="page">
        {hasDemo && (
          <Alert variant="light" color="spruce" mb="md" title="This is the demo studio">
            <Group justify="space-between">
              <Text size="sm">
                Made up for trying things out; the tunes are traditional. Whatever you add stays in this
                browser.
              </Text>
              <Button
                variant="default"
                size="compact-md"
                loading={startEmpty.isPending}
                onClick={() => startEmpty.mutate()}
              >
                Start empty
              </Button>
            </Group>
          </Alert>
        )}
        <Group mb="md" align="end">
          <TextInput
            label="Search"
            placeholder="title, kind, key"
            leftSection={<IconSearch size={16} />}
            value={search}
            onChange={e => setSearch(e.currentTarget.value)}
            flex={1}
          />
          <Select
            label="Kind"
            placeholder="all"
            clearable
            data={rhythms}
            value={rhythm}
            onChange={setRhythm}
            w={150}
          />
          <Button component={Link} to="/add" leftSection={<IconPlus size={18} />} color="marigold.6">
            Add a tune
          </Button>
        </Group>
        <ul className="tune-list">
          {shown.map(entry => (
            <TuneRow key={entry.stored.id} entry={entry} onRemove={() => remove.mutate(entry)} />
          ))}
        </ul>
        {shelf.isSuccess && !shown.length && (
          <div style={{ textAlign: 'center', padding: 48 }}>
            <Title order={3}>{entries.length ? 'No tune is like that' : 'The shelf is empty'}</Title>
            <Text c="dimmed">
              {entries.length
                ? 'Try fewer letters or another kind.'
                : 'Add a tune, or drop an ABC file here.'}
            </Text>
          </div>
        )}
      </main>
    </div>
  );
}

function TuneRow({ entry, onRemove }: { entry: ShelfEntry; onRemove: () => void }) {
  const { tune, id } = { tune: entry.stored.tune, id: entry.stored.id };
  return (
    <li className="tune-row">
      <div>
        <Link className="title" to={`/tune/${id}`}>
          {tune.title}
        </Link>
        <div className="meta">
          {[
            tune.rhythm,
            keyName(tune.key),
            `${tune.meter.beats}/${tune.meter.unit}`,
            formOf(tune.measures).join(' '),
          ]
            .filter(Boolean)
            .join(' · ')}
        </div>
      </div>
      <div className="contour-cell">
        <Contour tune={tune} />
      </div>
      <div className="meta">
        {entry.arrangements.length === 0 && 'not arranged yet'}
        {entry.arrangements.map(({ arrangement }) => (
          <div key={arrangement.id}>
            <Link to={`/arrangement/${arrangement.id}`} style={{ color: 'var(--spruce)' }}>
              {arrangementLabel(arrangement)}
            </Link>
          </div>
        ))}
      </div>
      <Menu position="bottom-end">
        <Menu.Target>
          <ActionIcon variant="subtle" aria-label={`More for ${tune.title}`}>
            <IconDotsVertical size={18} />
          </ActionIcon>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item color="cranberry" leftSection={<IconTrash size={16} />} onClick={onRemove}>
            Take off the shelf
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
    </li>
  );
}
