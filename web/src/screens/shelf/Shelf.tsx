import { ActionIcon, Alert, Button, Group, Text, TextInput, Title } from '@mantine/core';
import { useCallbackRef } from '@mantine/hooks';
import { IconDotsVertical, IconPlus, IconSearch } from '@tabler/icons-react';
import { measureElement, useWindowVirtualizer, windowScroll } from '@tanstack/react-virtual';
import { type DragEvent, lazy, memo, Suspense, useDeferredValue, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import { useShelf, useStoreChange } from '../../data/queries';
import { removeDemo, removeTune, type ShelfEntry, storeWords } from '../../data/store';
import { downloadStudio } from '../../engine/backup';
import { BusyButton } from '../../parts/BusyButton';
import { Choice } from '../../parts/Choice';
import { Masthead } from '../../parts/Masthead';
import { offerPuttingBack } from '../../parts/putBack';
import common from '../../theme/common.module.css';
import { Contour } from './Contour';
import { OpensLater } from './OpensLater';
import { SetAsideNotice } from './SetAsideNotice';
import styles from './Shelf.module.css';
import { useFiles } from './useFiles';

const ImportDialog = lazy(async () => ({ default: (await import('./ImportDialog')).ImportDialog }));

const NO_ENTRIES: ShelfEntry[] = [];

/** Home: the tunes, with what was made of them. */
export function Shelf() {
  const shelf = useShelf();
  const files = useFiles();
  const fileInput = useRef<HTMLInputElement>(null);
  const [search, setSearch] = useState('');
  const [rhythm, setRhythm] = useState('');
  const wanted = useDeferredValue(search.trim().toLowerCase());
  const remove = useStoreChange(async (entry: ShelfEntry) => {
    const restore = await removeTune(entry.id);
    await offerPuttingBack(`${entry.title} was taken off the shelf`, async () => {
      await restore();
      await shelf.refetch();
    });
  });
  const { mutate: exportAll, error: exportTrouble } = useStoreChange(downloadStudio);
  const trouble = shelf.error ?? remove.error ?? exportTrouble;

  const entries = shelf.data ?? NO_ENTRIES;
  const texts = useMemo(
    () => entries.map(e => `${e.title} ${e.composer ?? ''} ${e.rhythm ?? ''} ${e.key}`.toLowerCase()),
    [entries],
  );
  const rhythms = useMemo(
    () => [...new Set(entries.map(e => e.rhythm).filter(r => r !== undefined))].sort(),
    [entries],
  );
  const shown = useMemo(() => {
    const found = entries.filter((e, i) => (!rhythm || e.rhythm === rhythm) && texts[i]!.includes(wanted));
    // Where all are found the list stays the one that is drawn.
    return found.length === entries.length ? entries : found;
  }, [entries, texts, rhythm, wanted]);
  const onRemove = useCallbackRef((entry: ShelfEntry) => remove.mutate(entry));
  const hasDemo = entries.some(e => e.demo);
  const drop = (event: DragEvent) => {
    event.preventDefault();
    void files.open([...event.dataTransfer.files]);
  };

  const openFiles = useCallbackRef(() => fileInput.current?.click());

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: files may be dropped anywhere; the same is done with the button
    <div className={common.frame} onDragOver={e => e.preventDefault()} onDrop={drop}>
      <ShelfHead onExport={exportAll} onOpen={openFiles} />
      <input
        ref={fileInput}
        type="file"
        hidden
        multiple
        accept=".abc,.txt,.tab,.json,.cho,.chopro,.chordpro,.crd,.pro,.musicxml,.xml,.mxl,.mid,.midi"
        onChange={e => {
          void files.open([...(e.target.files ?? [])]);
          // The same file may be chosen again.
          e.target.value = '';
        }}
      />
      {files.waiting && (
        <Suspense>
          <ImportDialog key={files.waiting.name} bundle={files.waiting} onDone={files.done} />
        </Suspense>
      )}
      <main className={common.page}>
        {trouble && (
          <Alert color="cranberry" mb="md" title="The shelf can’t be reached">
            <Text size="sm">{storeWords(trouble)}.</Text>
            <Button size="compact-sm" mt={6} variant="default" onClick={() => void shelf.refetch()}>
              Try again
            </Button>
          </Alert>
        )}
        <SetAsideNotice />
        <Group mb="md" align="end">
          <TextInput
            label="Search"
            placeholder="title, kind, key"
            leftSection={<IconSearch size={16} />}
            value={search}
            onChange={e => setSearch(e.currentTarget.value)}
            flex={1}
          />
          <Choice
            label="Kind"
            options={[{ value: '', label: 'all' }, ...rhythms.map(kind => ({ value: kind, label: kind }))]}
            value={rhythm}
            onChange={setRhythm}
            w={150}
          />
          {ADD}
        </Group>
        {/* Below the buttons: it comes with the tunes, and nothing may move under a pointer that is about to click. */}
        {hasDemo && <DemoNotice />}
        <TuneList entries={shown} onRemove={onRemove} />
        {shelf.isSuccess && !shown.length && (
          <div style={{ textAlign: 'center', padding: 48 }}>
            <Title order={3}>{entries.length ? 'No tune is like that' : 'The shelf is empty'}</Title>
            <Text c="dimmed">
              {entries.length
                ? 'Try fewer letters or another kind.'
                : 'Add a tune, or drop a file here: ABC, ChordPro, MusicXML, MIDI or a bundle.'}
            </Text>
          </div>
        )}
      </main>
    </div>
  );
}

// What stands around the search is drawn by itself: a key in it draws again what it finds.
const ShelfHead = memo(function ShelfHead({
  onExport,
  onOpen,
}: {
  onExport: () => void;
  onOpen: () => void;
}) {
  return (
    <Masthead title="Velvet Porch" under="The shelf: tunes and songs">
      <OpensLater
        button={
          <Button variant="transparent" c="var(--on-velvet)" aria-haspopup="dialog">
            Today
          </Button>
        }
      >
        {({ TodayPopover }, opens) => <TodayPopover {...opens} />}
      </OpensLater>
      <OpensLater
        button={
          <Button variant="transparent" c="var(--on-velvet)" aria-haspopup="menu">
            Studio
          </Button>
        }
      >
        {({ StudioMenu }, opens) => <StudioMenu {...opens} onExport={onExport} onOpen={onOpen} />}
      </OpensLater>
    </Masthead>
  );
});

/** Ways to a new tune. */
const ADD = (
  <>
    <Button component={Link} to="/add" leftSection={<IconPlus size={18} />} color="marigold.6">
      Add a tune
    </Button>
    <Button component={Link} to="/song" variant="default">
      Add a song
    </Button>
    <Button component={Link} to="/new" variant="default">
      Begin with nothing
    </Button>
  </>
);

/** What the demo is, and the way out of it. */
const DemoNotice = memo(function DemoNotice() {
  const startEmpty = useStoreChange(removeDemo);
  return (
    <Alert variant="light" color="spruce" mb="md" title="This is the demo studio">
      <Group justify="space-between">
        <Text size="sm" maw={760}>
          Velvet Porch turns a tune or a song into tablature that the hand can play, and helps you teach it
          measure by measure. Ready to walk through:{' '}
          <Link to="/tune/demo-6" className={styles.plainLink}>
            an air for the guitar
          </Link>
          ,{' '}
          <Link to="/tune/demo-song" className={styles.plainLink}>
            a ballad with its strum
          </Link>
          , and{' '}
          <Link to="/pupils/demo-juniper" className={styles.plainLink}>
            a pupil who practises both
          </Link>
          . All made up; whatever you add stays in this browser.
        </Text>
        <BusyButton
          variant="default"
          size="compact-md"
          busy={startEmpty.isPending}
          onClick={() => startEmpty.mutate()}
        >
          Start empty
        </BusyButton>
      </Group>
      {startEmpty.error && (
        <Text size="sm" role="alert">
          {storeWords(startEmpty.error)}.
        </Text>
      )}
    </Alert>
  );
});

/** About how high a row is with up to two arrangements, on a desk and a phone, and what each further one adds, until it was measured. */
const ROW = { wide: 74, narrow: 118 };
const NARROW = 800;
const LINE = 22;

/** Whether the window was ever scrolled: before that it need not be put back to its top, for which all would be laid out. */
let scrolled = false;
window.addEventListener('scroll', () => (scrolled = true), { once: true, passive: true });

/** The rows in sight, however long the shelf is. */
const TuneList = memo(function TuneList({
  entries,
  onRemove,
}: {
  entries: ShelfEntry[];
  onRemove: (entry: ShelfEntry) => void;
}) {
  const list = useRef<HTMLUListElement>(null);
  const virtual = useWindowVirtualizer({
    count: entries.length,
    estimateSize: index =>
      (window.innerWidth > NARROW ? ROW.wide : ROW.narrow) +
      LINE * Math.max(0, entries[index]!.arrangements.length - 2),
    overscan: 4,
    gap: 10,
    getItemKey: index => entries[index]!.id,
    // All rows in sight are there at the first drawing.
    // Measured when they are laid out, not before: asking for a height at once would lay all of it out twice.
    measureElement: (row, entry, list) =>
      entry ? measureElement(row, entry, list) : list.options.estimateSize(list.indexFromElement(row)),
    scrollToFn: (offset, how, list) => {
      if (scrolled || offset + (how.adjustments ?? 0) !== 0) windowScroll(offset, how, list);
    },
    initialRect: { width: window.innerWidth, height: window.innerHeight },
    scrollMargin: list.current?.offsetTop ?? 0,
  });
  return (
    <ul
      ref={list}
      className={styles.tuneList}
      style={{ position: 'relative', height: virtual.getTotalSize() }}
      aria-label={`${entries.length} tune${entries.length === 1 ? '' : 's'}`}
    >
      {virtual.getVirtualItems().map(item => (
        <li
          key={item.key}
          data-index={item.index}
          ref={virtual.measureElement}
          className={styles.tuneRow}
          aria-setsize={entries.length}
          aria-posinset={item.index + 1}
          style={{
            position: 'absolute',
            top: 0,
            left: 0,
            width: '100%',
            transform: `translateY(${item.start - virtual.options.scrollMargin}px)`,
          }}
        >
          <TuneRow entry={entries[item.index]!} onRemove={onRemove} />
        </li>
      ))}
    </ul>
  );
});

const TuneRow = memo(function TuneRow({
  entry,
  onRemove,
}: {
  entry: ShelfEntry;
  onRemove: (entry: ShelfEntry) => void;
}) {
  return (
    <>
      <div>
        <Link className={styles.title} to={`/tune/${entry.id}`}>
          {entry.title}
        </Link>
        <div className={styles.meta}>
          {[entry.rhythm, entry.key, entry.meter, entry.form].filter(Boolean).join(' · ')}
        </div>
      </div>
      <div className={styles.contourCell}>
        <Contour path={entry.contour} />
      </div>
      <div className={styles.meta}>
        {entry.arrangements.length === 0 && 'not arranged yet'}
        {entry.arrangements.map(({ id, name, label }) => (
          <div key={id}>
            <Link to={`/arrangement/${id}`} style={{ color: 'var(--spruce)' }}>
              {name ? `${name}: ${label.charAt(0).toLowerCase()}${label.slice(1)}` : label}
            </Link>
          </div>
        ))}
      </div>
      <OpensLater
        button={
          <ActionIcon variant="subtle" aria-label={`More for ${entry.title}`} aria-haspopup="menu">
            <IconDotsVertical size={18} />
          </ActionIcon>
        }
      >
        {({ TuneMenu }, opens) => <TuneMenu {...opens} onRemove={() => onRemove(entry)} />}
      </OpensLater>
    </>
  );
});
