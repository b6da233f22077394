/** What stands around the ribbon of the Workbench; each part draws again only when what it shows is another. */
import { ActionIcon, Button, Menu, SegmentedControl, Switch, Text, Tooltip } from '@mantine/core';
import { IconArrowBackUp, IconArrowForwardUp, IconKeyboard } from '@tabler/icons-react';
import { memo, useSyncExternalStore } from 'react';
import type { Edit } from '#core/edit';
import { type Arrangement, soundingAt } from '#core/score';
import type { Feel } from '#core/time';
import type { Tune } from '#core/tune';
import { Choice } from '../../parts/Choice';
import type { OpenArrangement } from '../../parts/Gates';
import { later } from '../../parts/later';
import { Masthead } from '../../parts/Masthead';
import mastheadStyles from '../../parts/Masthead.module.css';
import { FEEL_CHOICES } from '../../parts/playing/feelWords';
import { Transport, type TransportProps } from '../../parts/playing/Transport';
import { LanesMenu } from '../../parts/ribbon/LanesMenu';
import type { ChordNames, ShownLanes } from '../../parts/ribbon/measureLayout';
import { Neck } from '../../parts/shape/Neck';
import { ExportMenu } from './ExportMenu';
import { lengthChoices } from './panels/lengths';
import { handsOf, type Looked } from './useLooked';
import type { MeasuresMenuProps } from './useMeasureEdits';

const SAVE_WORDS = { saved: 'Saved', saving: 'Saving…', failed: 'Not saved' };

/** Whether what is typed is saved; true at every moment, so it looks for itself. */
const SaveState = memo(function SaveState({ copy }: Pick<OpenArrangement, 'copy'>) {
  const { saveState } = useSyncExternalStore(copy.subscribe, copy.snapshot);
  return (
    <span className={mastheadStyles.under} role="status">
      {SAVE_WORDS[saveState]}
    </span>
  );
});

/** The masthead; draws again only when something in it is another. */
export const Head = later(function Head(props: {
  title: string;
  under: string;
  tuneId: string;
  id: string;
  past: string | undefined;
  future: string | undefined;
  undo: () => void;
  redo: () => void;
  copy: OpenArrangement['copy'];
  newest: () => Arrangement;
  tune: Tune | undefined;
}) {
  return (
    <Masthead
      title={props.title}
      under={props.under}
      rail={{ tuneId: props.tuneId, arrangementId: props.id }}
    >
      <UndoButtons past={props.past} future={props.future} undo={props.undo} redo={props.redo} />
      <SaveState copy={props.copy} />
      <ExportMenu newest={props.newest} tune={props.tune} />
    </Masthead>
  );
});

/** What is chosen for the whole ribbon. */
export const Bar = memo(function Bar({
  names,
  onNames,
  lanes,
  onLanes,
  size,
  onSize,
  out,
  onOut,
  feel,
  length,
  onLength,
  onEdit,
}: {
  names: ChordNames;
  onNames: (names: ChordNames) => void;
  lanes: ShownLanes;
  onLanes: (lanes: ShownLanes) => void;
  /** Of the ribbon, in per cent. */
  size: number;
  onSize: (size: number) => void;
  /** Whether repeats are written out. */
  out: boolean;
  onOut: (out: boolean) => void;
  feel: Feel;
  /** Of the next note that is typed, in ticks. */
  length: number;
  onLength: (ticks: number) => void;
  onEdit: (edit: Edit) => void;
}) {
  return (
    <>
      <SegmentedControl
        size="xs"
        value={names}
        onChange={value => onNames(value as ChordNames)}
        aria-label="Names of chords"
        data={[
          { value: 'shape', label: 'Shape names' },
          { value: 'sounding', label: 'Sounding names' },
          { value: 'both', label: 'Both' },
        ]}
      />
      <LanesChoice lanes={lanes} onLanes={onLanes} size={size} onSize={onSize} out={out} onOut={onOut} />
      <Choice
        size="xs"
        aria-label="Feel"
        options={FEEL_CHOICES}
        value={feel}
        onChange={chosen => onEdit({ kind: 'feel', ids: [], values: { feel: chosen } })}
      />
      <Choice
        size="xs"
        aria-label="Length of the next note"
        options={lengthChoices(length).map(({ value, label }) => ({ value, label: `next: ${label}` }))}
        value={length}
        onChange={onLength}
      />
    </>
  );
});

/** Sizes in which the ribbon is shown, in per cent. */
const SIZES = [100, 115, 130, 150, 180];

/** What is shown over and under the strings. */
function LanesChoice({
  lanes,
  onLanes,
  size,
  onSize,
  out,
  onOut,
}: {
  lanes: ShownLanes;
  onLanes: (lanes: ShownLanes) => void;
  size: number;
  onSize: (size: number) => void;
  out: boolean;
  onOut: (out: boolean) => void;
}) {
  return (
    <LanesMenu size="compact-sm" lanes={lanes} onLane={(lane, shown) => onLanes({ ...lanes, [lane]: shown })}>
      <Switch
        size="sm"
        label="Repeats written out"
        checked={out}
        onChange={event => onOut(event.currentTarget.checked)}
      />
      <Choice
        size="xs"
        label="Size"
        options={SIZES.map(value => ({ value, label: `${value} %` }))}
        value={size}
        onChange={onSize}
      />
    </LanesMenu>
  );
}

/** Measures that come and go. */
export const MeasuresMenu = memo(function MeasuresMenu(edits: MeasuresMenuProps) {
  const { several, copied } = edits;
  const these = several ? 'these' : 'this one';
  return (
    <Menu>
      <Menu.Target>
        <Button size="compact-sm" variant="default">
          Measures
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => edits.add(false)}>
          An empty one after {several ? 'these' : 'this'}
        </Menu.Item>
        <Menu.Item onClick={() => edits.add(true)}>
          An empty one before {several ? 'these' : 'this'}
        </Menu.Item>
        <Menu.Item onClick={edits.again}>{several ? 'These' : 'This one'} once more, behind</Menu.Item>
        <Menu.Item onClick={edits.split}>Divide it here</Menu.Item>
        <Menu.Item onClick={edits.join}>Join it with the next one</Menu.Item>
        <Menu.Divider />
        <Menu.Item onClick={edits.copy}>Copy {these}</Menu.Item>
        <Menu.Item onClick={edits.cut}>Cut {these}</Menu.Item>
        <Menu.Item disabled={!copied} onClick={() => edits.paste(false)}>
          Paste over from here on
        </Menu.Item>
        <Menu.Item disabled={!copied} onClick={() => edits.paste(true)}>
          Paste behind
        </Menu.Item>
        <Menu.Divider />
        <Menu.Item onClick={edits.remove}>Take {these} out</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
});

/** What is done at the side: look at notes and findings, arrange anew, write a passage as text, put parts together, keep. */
export type Task = 'look' | 'arrange' | 'dictate' | 'parts' | 'versions';

export const TaskChoice = memo(function TaskChoice({
  task,
  onTask,
}: {
  task: Task;
  onTask: (task: Task) => void;
}) {
  return (
    <SegmentedControl
      fullWidth
      size="xs"
      mb={12}
      value={task}
      onChange={value => onTask(value as Task)}
      aria-label="At the side"
      data={[
        { value: 'look', label: 'Notes' },
        { value: 'arrange', label: 'Arrange' },
        { value: 'dictate', label: 'Dictate' },
        { value: 'parts', label: 'Parts' },
        { value: 'versions', label: 'Versions' },
      ]}
    />
  );
});

/** The neck below: the fingers at what is looked at, and where they were. */
export const HandOnNeck = later(function HandOnNeck({
  view,
  onPick,
}: {
  view: Looked;
  onPick: (string: number, fret: number) => void;
}) {
  const { shown, here } = view;
  const hands = handsOf(view);
  const open = soundingAt(shown.measures[here.measure]!, here.start)
    .filter(n => n.fret === 0)
    .map(n => n.string);
  return <Neck setup={shown.setup} grip={hands.now} ghost={hands.before} open={open} onPick={onPick} />;
});

/** Playing, and the way to the keys. */
export const PlayBar = memo(function PlayBar({
  onKeys,
  ...transport
}: Omit<TransportProps, 'children'> & { onKeys: () => void }) {
  return (
    <Transport {...transport}>
      <Text size="xs" c="var(--on-velvet-soft)">
        Keep it at a safe loudness.
      </Text>
      <Button
        variant="transparent"
        c="var(--on-velvet)"
        leftSection={<IconKeyboard size={18} />}
        onClick={onKeys}
      >
        Keys
      </Button>
    </Transport>
  );
});

function UndoButtons({
  past,
  future,
  undo,
  redo,
}: {
  /** What the newest step did; undefined when there is none. */
  past: string | undefined;
  future: string | undefined;
  undo: () => void;
  redo: () => void;
}) {
  return (
    <>
      <Tooltip label={past ? `Undo: ${past} (Ctrl Z)` : 'Undo (Ctrl Z)'}>
        <ActionIcon
          variant="transparent"
          color="gray.3"
          disabled={past === undefined}
          onClick={undo}
          aria-label="Undo"
        >
          <IconArrowBackUp />
        </ActionIcon>
      </Tooltip>
      <Tooltip label={future ? `Redo: ${future} (Ctrl Shift Z)` : 'Redo (Ctrl Shift Z)'}>
        <ActionIcon
          variant="transparent"
          color="gray.3"
          disabled={future === undefined}
          onClick={redo}
          aria-label="Redo"
        >
          <IconArrowForwardUp />
        </ActionIcon>
      </Tooltip>
    </>
  );
}
