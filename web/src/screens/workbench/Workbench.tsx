import { Button, Group, Text } from '@mantine/core';
import { getHotkeyHandler, useCallbackRef, useDisclosure, useLocalStorage } from '@mantine/hooks';
import { type KeyboardEvent, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useLocation } from 'react-router';
import { type Finding, placeName } from '#core/check';
import { changedMeasures } from '#core/compare';
import type { Edit } from '#core/edit';
import type { Arrangement, SourceChanges } from '#core/score';
import { beatsPerMinute } from '#core/time';
import { measureNumbers } from '#core/tune';
import { useCopy } from '../../data/queries';
import { useFittingPlan } from '../../engine/useFittingPlan';
import { arrangeStoppable } from '../../engine/workers';
import { requestAnew, wishesOf } from '../../parts/arranging/requestAnew';
import { ArrangementGate, type OpenArrangement } from '../../parts/Gates';
import { keyPressed } from '../../parts/later';
import { type ChordNames, type ShownLanes, USUAL_LANES } from '../../parts/ribbon/measureLayout';
import { Ribbon } from '../../parts/ribbon/Ribbon';
import ribbonStyles from '../../parts/ribbon/Ribbon.module.css';
import type { Cursor } from '../../parts/ribbon/RibbonRow';
import common from '../../theme/common.module.css';
import { ArrangePanel } from './arrange/ArrangePanel';
import { Bar, HandOnNeck, Head, MeasuresMenu, PlayBar, type Task, TaskChoice } from './Bars';
import { editKeys, hotkeyItems, type Key, keyHelp, wayKeys } from './keys';
import { DictatePanel } from './panels/DictatePanel';
import { Findings } from './panels/Findings';
import { KeysHelp } from './panels/KeysHelp';
import { PartsPanel } from './panels/PartsPanel';
import { SidePanel } from './panels/SidePanel';
import { VersionsPanel } from './panels/VersionsPanel';
import { SourceNotice } from './SourceNotice';
import { useApplying } from './useApplying';
import { useCursor } from './useCursor';
import { useFindings } from './useFindings';
import { useLaidOut } from './useLaidOut';
import { useLooked } from './useLooked';
import { useMeasureEdits } from './useMeasureEdits';
import { usePlaying } from './usePlaying';
import { useWriting } from './useWriting';
import styles from './Workbench.module.css';
import { loopLabel, placeWords, underTitle } from './words';

export function WorkbenchScreen() {
  return <ArrangementGate>{open => <Workbench key={open.arrangement.id} {...open} />}</ArrangementGate>;
}

const NO_FINDINGS: readonly Finding[] = [];

/** The heart: the arrangement as a ribbon of measures, corrected note by note, heard, and arranged anew. */
function Workbench({ arrangement, history, copy }: OpenArrangement) {
  const [tuneState] = useCopy('tunes', arrangement.tuneId);
  const tune = tuneState.history?.present;
  const plan = useFittingPlan(arrangement);
  const { measures } = arrangement;
  const place = useCursor(arrangement);
  const { cursor, at, note, range } = place;
  const [message, setMessage] = useState('');
  const [names, setNames] = useLocalStorage<ChordNames>({ key: 'chord-names', defaultValue: 'both' });
  const [storedLanes, setLanes] = useLocalStorage<Partial<ShownLanes>>({
    key: 'lanes',
    defaultValue: USUAL_LANES,
  });
  // Lanes that there were not yet when the choice was stored are as usual.
  const lanes = useMemo((): ShownLanes => ({ ...USUAL_LANES, ...storedLanes }), [storedLanes]);
  const [size, setSize] = useLocalStorage({ key: 'ribbon-size', defaultValue: 100 });
  const [out, setOut] = useLocalStorage({ key: 'ribbon-written-out', defaultValue: false });
  const [keysShown, keysHelp] = useDisclosure(false);
  const [task, setTask] = useState<Task>('look');
  const [proposal, setProposal] = useState<Arrangement>();
  const shown = proposal ?? arrangement;
  const laid = useLaidOut(shown, out);
  const playing = usePlaying(shown, at, range);
  const changed = useMemo(
    () => (proposal ? new Set(changedMeasures(arrangement, proposal)) : undefined),
    [arrangement, proposal],
  );
  const board = useRef<HTMLElement>(null);
  const ribbon = useRef<HTMLDivElement>(null);
  // What has just been made is gone into at once: the keys lead through its notes.
  const { state } = useLocation();
  const isNew = (state as { isNew?: boolean } | null)?.isNew;
  useEffect(() => {
    if (isNew) ribbon.current?.focus({ preventScroll: true });
  }, [isNew]);
  const { found, looking, fault } = useFindings(arrangement, tune, cursor);
  const numbers = useMemo(() => measureNumbers(measures), [measures]);

  const { apply, undo, redo, twins, doInTwins, forgetTwins } = useApplying(arrangement, copy, setMessage);
  // What is handed to the ribbon and the panels stays the same function: a new one would have all of them drawn anew.
  /** Does an edit, or says why it can't be done. Tells whether it was. */
  const attempt = useCallbackRef((edit: Edit) => {
    if (proposal) {
      setMessage('Take the proposal or leave it first: then notes can be changed.');
      return false;
    }
    return apply(edit);
  });
  const newest = useCallbackRef(() => arrangement);
  const chooseTask = useCallback((chosen: Task) => {
    setTask(chosen);
    setProposal(undefined);
  }, []);
  const editAt = useCallbackRef((edit: Edit, string?: number) => {
    if (attempt(edit) && string) place.toStringNumber(string);
  });
  const move = useCallbackRef((id: string, string: number) =>
    editAt({ kind: 'string', ids: [laid.idOf(id)], values: { string } }, string),
  );
  const choose = useCallbackRef((measure: string, start: number, string: number, extend: boolean) => {
    place.choose(laid.idOf(measure), start, string, extend);
    setMessage('');
    ribbon.current?.focus({ preventScroll: true });
  });

  const writing = useWriting({
    arrangement,
    history,
    cursor,
    at,
    note,
    attempt,
    update: copy.update,
    stepBy: place.stepBy,
  });
  const { length } = writing;
  const pickOnNeck = useCallbackRef((string: number, fret: number) => {
    if (writing.writeFret(string, fret)) place.toStringNumber(string);
    ribbon.current?.focus({ preventScroll: true });
  });
  const edits = useMeasureEdits({
    arrangement,
    cursor,
    at,
    range,
    attempt,
    clearRange: place.clearRange,
    say: setMessage,
  });
  const inRange = edits.chosen;
  /** Sets where the loop begins, or (behind what begins at the cursor) where it ends. */
  const markLoop = (end: 'from' | 'to') => {
    const own = measures[at]!;
    const after = Math.min(own.ticks, ...own.notes.map(n => n.start).filter(start => start > cursor.start));
    const start = end === 'from' ? cursor.start : after;
    playing.setMarks({ ...playing.marks, [end]: { measure: cursor.measure, start } });
    if (!playing.settings.loop) playing.setSettings({ ...playing.settings, loop: true });
    setMessage(
      `The loop ${end === 'from' ? 'begins here' : 'ends behind this'}: ${placeName(arrangement, at, cursor.start)}.`,
    );
  };
  const keys: Key[] = [
    ...wayKeys(place, arrangement, length, () => setMessage('')),
    ...writing.keys,
    ...edits.keys,
    { key: 'e', does: 'the same in the measures that were just alike', run: doInTwins },
    ...editKeys(arrangement, note, edit =>
      editAt(edit, edit.kind === 'string' ? edit.values.string : undefined),
    ),
    { key: 'shift+ArrowLeft', does: 'choose fewer or more measures', run: () => place.extend(-1) },
    { key: 'shift+ArrowRight', does: 'choose fewer or more measures', run: () => place.extend(1) },
    { key: 'space', does: 'play or stop', run: playing.toggle },
    {
      key: 'l',
      does: 'loop on or off',
      run: () => playing.setSettings({ ...playing.settings, loop: !playing.settings.loop }),
    },
    { key: '[', does: 'the loop begins here, or ends behind this note', run: () => markLoop('from') },
    { key: ']', does: 'the loop begins here, or ends behind this note', run: () => markLoop('to') },
    {
      key: 'Escape',
      does: 'stop, and choose no measures',
      run: () => {
        place.clearRange();
        forgetTwins();
        playing.setMarks({});
        playing.player.stop();
      },
    },
    { key: 'mod+Z', does: 'undo', run: undo },
    { key: 'mod+shift+Z', does: 'redo', run: redo },
    { key: 'mod+Y', does: 'redo', run: redo },
    { key: 't', does: 'dictate a passage, or paste a tab', run: () => chooseTask('dictate') },
    { key: '?', does: 'these keys', run: keysHelp.open },
  ];
  const onKey = (event: KeyboardEvent<HTMLElement>) => {
    keyPressed();
    getHotkeyHandler(hotkeyItems(keys))(event);
  };

  /** Makes anew what in the tune is another by now, and shows it beside the present. */
  const proposeFromSource = useCallbackRef((changes: SourceChanges) => {
    if (!tune) return;
    const anew = [...changes.changed, ...changes.added];
    const request = requestAnew(arrangement, plan, wishesOf(arrangement), anew);
    setMessage('Making the changed measures anew …');
    arrangeStoppable(
      tune,
      request,
      () => {},
      result => {
        if ('error' in result) setMessage(result.error);
        else if (result.problem) setMessage(result.problem.message);
        else {
          setMessage('');
          setProposal(result.arrangement);
        }
      },
    );
  });
  const take = (what: string, only?: readonly string[]) => {
    if (!proposal) return false;
    const values = { proposal, what, ...(only && { only }) };
    const taken = apply({ kind: 'take', ids: [], values });
    if (taken && !only) setProposal(undefined);
    return taken;
  };

  const { heardAt } = playing;
  const playingAt = heardAt && shown.measures[heardAt.measure] ? heardAt : undefined;
  const here = playingAt
    ? { measure: playingAt.measure, start: playingAt.tick }
    : { measure: Math.min(at, shown.measures.length - 1), start: cursor.start };
  const playingPlace = useMemo(
    () => playingAt && { ...playingAt, measure: laid.placeOf(playingAt.measure, playingAt.road) },
    [playingAt, laid],
  );
  const changedPlaces = useMemo(() => laid.placesOf(changed), [laid, changed]);
  const view = useLooked(
    arrangement,
    shown,
    Math.min(at, measures.length - 1),
    cursor,
    here,
    inRange.map(m => m.id).join(' '),
  );

  return (
    <div className={`${common.frame} ${common.full} ${styles.whole}`}>
      <Head
        title={arrangement.title}
        under={underTitle(arrangement)}
        tuneId={arrangement.tuneId}
        id={arrangement.id}
        past={history.past.at(-1)?.label}
        future={history.future.at(-1)?.label}
        undo={undo}
        redo={redo}
        copy={copy}
        newest={newest}
        tune={tune}
      />
      {tune && !proposal && (
        <SourceNotice arrangement={arrangement} tune={tune} onPropose={proposeFromSource} />
      )}
      {proposal && task === 'look' && (
        <Group gap={8}>
          <Text size="sm">{changed?.size ?? 0} measures are proposed anew; they are marked.</Text>
          <Button size="compact-sm" color="marigold.6" onClick={() => take('the corrected source followed')}>
            Take the proposal
          </Button>
          <Button size="compact-sm" variant="default" onClick={() => setProposal(undefined)}>
            Leave it
          </Button>
        </Group>
      )}
      <div className={styles.workbench}>
        <main className={styles.board} ref={board}>
          <div className={styles.bar}>
            <Bar
              names={names}
              onNames={setNames}
              lanes={lanes}
              onLanes={setLanes}
              size={size}
              onSize={setSize}
              out={out}
              onOut={setOut}
              feel={arrangement.feel ?? 'straight'}
              length={length}
              onLength={writing.setLength}
              onEdit={attempt}
            />
            <MeasuresMenu {...edits.menu} />
            <span role="status" aria-live="polite">
              {message ||
                placeName(shown, here.measure, here.start) +
                  (playingAt ? '' : `: ${placeWords(shown, here, cursor.string)}`)}
            </span>
          </div>
          <div
            ref={ribbon}
            className={ribbonStyles.ribbon}
            tabIndex={0}
            role="group"
            aria-label="Measures. Arrows move, digits set the fret, ? shows all keys."
            onKeyDown={onKey}
          >
            <Ribbon
              arrangement={laid.arrangement}
              names={names}
              shown={lanes}
              scale={size / 100}
              findings={proposal ? NO_FINDINGS : (found?.findings ?? NO_FINDINGS)}
              changed={changedPlaces}
              cursor={cursor}
              range={out ? undefined : range}
              playing={playingPlace}
              scroller={board}
              onChoose={choose}
              onDragNote={move}
            />
          </div>
          {twins.length > 0 && !proposal && (
            <div className={styles.twins}>
              <Button size="compact-md" color="spruce" onClick={doInTwins}>
                Do the same in measure{twins.length > 1 ? 's' : ''}{' '}
                {twins.map(index => numbers[index]).join(', ')} (E)
              </Button>
            </div>
          )}
        </main>
        <aside className={`${common.panel} ${styles.side}`} aria-busy={looking}>
          <TaskChoice task={task} onTask={chooseTask} />
          {task === 'arrange' && tune && (
            <ArrangePanel
              arrangement={arrangement}
              tune={tune}
              plan={plan}
              at={at}
              range={range}
              proposal={proposal}
              onPropose={setProposal}
              onRefinger={(part, goal) => {
                const ids = measures.slice(part.from, part.to + 1).map(m => m.id);
                if (attempt({ kind: 'refinger', ids, values: { goal } })) setMessage('Fingered anew.');
              }}
              onTake={take}
              onBar={on => attempt({ kind: 'slide-bar', ids: [], values: { on } })}
            />
          )}
          {task === 'arrange' && !tune && (
            <Text size="sm">
              The tune of this arrangement is not on the shelf, so nothing can be made anew.
            </Text>
          )}
          {task === 'dictate' && (
            <DictatePanel
              arrangement={arrangement}
              measure={measures[at]!.id}
              place={placeName(arrangement, at, 0)}
              ready={proposal !== undefined}
              onPropose={setProposal}
              onTake={() => {
                take('dictated');
                setTask('look');
                ribbon.current?.focus({ preventScroll: true });
              }}
            />
          )}
          {task === 'parts' && (
            <PartsPanel
              arrangement={arrangement}
              tune={tune}
              at={at}
              place={placeName(arrangement, at, 0)}
              ready={proposal !== undefined}
              onPropose={setProposal}
              onTake={take}
            />
          )}
          {task === 'versions' && (
            <VersionsPanel
              arrangement={arrangement}
              measures={inRange.map(m => m.id)}
              onPropose={setProposal}
              onEdit={edit => {
                setProposal(undefined);
                apply(edit);
              }}
              onChooseMeasures={place.chooseMeasures}
            />
          )}
          {task === 'look' && (
            <Findings
              found={found}
              fault={fault}
              onGoTo={place.goTo as (cursor: Cursor) => void}
              onEdit={editAt}
            />
          )}
          {task === 'look' && (
            <SidePanel
              view={view}
              proposed={proposal !== undefined}
              atOnce={playingAt !== undefined}
              names={names}
              onEdit={editAt}
            />
          )}
        </aside>
        <div className={styles.under}>
          <HandOnNeck view={view} onPick={pickOnNeck} atOnce={playingAt !== undefined} />
        </div>
      </div>
      <PlayBar
        state={playing.state}
        settings={playing.settings}
        tempo={beatsPerMinute(measures[0]!.meter, arrangement.quartersPerMinute)}
        loopLabel={
          !playing.settings.loop
            ? 'Loop'
            : playing.marked
              ? 'Loop as marked'
              : loopLabel(numbers, range ?? { from: at, to: at })
        }
        onSettings={playing.setSettings}
        onToggle={playing.toggle}
        onKeys={keysHelp.open}
      />
      {keysShown && <KeysHelp opened onClose={keysHelp.close} rows={keyHelp(keys)} />}
    </div>
  );
}
