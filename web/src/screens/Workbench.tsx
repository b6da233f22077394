import {
  ActionIcon,
  Alert,
  Button,
  Group,
  Loader,
  Modal,
  SegmentedControl,
  Switch,
  Text,
  Tooltip,
} from '@mantine/core';
import { useDisclosure, useLocalStorage } from '@mantine/hooks';
import { IconArrowBackUp, IconArrowForwardUp, IconKeyboard } from '@tabler/icons-react';
import { type KeyboardEvent, useCallback, useDeferredValue, useMemo, useRef, useState } from 'react';
import { useParams } from 'react-router';
import { checkArrangement, type Finding, placeName } from '#core/check';
import { type Finger, fingerLabel, stretchOf } from '#core/hand';
import { INSTRUMENTS, stringName } from '#core/instrument';
import { gripAt, gripBefore, movesInto } from '#core/lesson';
import { keyName, transposeKey } from '#core/pitch';
import {
  type Arrangement,
  changedMeasures,
  type History,
  momentsOf,
  moveToString,
  refinger,
  removeNote,
  type ScoreNote,
  setAccent,
  setFinger,
  setFret,
  setInto,
  setPluck,
  soundingAt,
  takeProposal,
} from '#core/score';
import { beatsPerMinute } from '#core/time';
import { measureNumbers, playingOrder, type Tune } from '#core/tune';
import type { StoredArrangement } from '../data/db';
import { useArrangement, useTune } from '../data/queries';
import { usePlayer } from '../engine/player';
import { useWorkingCopy } from '../engine/useWorkingCopy';
import { soundMaker } from '../engine/workers';
import { ArrangePanel } from '../parts/ArrangePanel';
import { ExportMenu } from '../parts/ExportMenu';
import { Findings } from '../parts/Findings';
import { FingeringPanel } from '../parts/FingeringPanel';
import { KeysHelp } from '../parts/KeysHelp';
import { Masthead } from '../parts/Masthead';
import type { ChordNames } from '../parts/measureLayout';
import { Neck } from '../parts/Neck';
import { NotePanel } from '../parts/NotePanel';
import { type Cursor, Ribbon } from '../parts/Ribbon';
import { type PlaySettings, Transport } from '../parts/Transport';
import { NotFound } from './NotFound';

export function WorkbenchScreen() {
  const { arrangementId } = useParams();
  const stored = useArrangement(arrangementId!);
  const tune = useTune(stored.data?.tuneId);
  if (stored.isPending || (stored.data && tune.isPending)) return <Loader m="xl" />;
  if (!stored.data) return <NotFound what="arrangement" />;
  return <Workbench key={arrangementId} stored={stored.data} tune={tune.data?.tune} />;
}

const NO_FINDINGS: Finding[] = [];
const DEFAULT_PLAY: PlaySettings = { percent: 100, click: false, countIn: true, loop: false };
/** Digits typed within this time make one fret number. */
const DIGITS_TOGETHER = 700;

/** One key for each technique: the same key again takes it back. */
const TECHNIQUE_KEYS: Record<string, (history: History, note: ScoreNote) => History | { error: string }> = {
  h: (history, note) => {
    if (note.into) return setInto(history, note.id, undefined);
    const up = setInto(history, note.id, 'hammer');
    return 'error' in up ? setInto(history, note.id, 'pull') : up;
  },
  s: (history, note) => setInto(history, note.id, note.into ? undefined : 'slide'),
  '>': (history, note) => setAccent(history, note.id, !note.accent),
  ...Object.fromEntries(
    (['p', 'i', 'm', 'a'] as const).map(pluck => [
      pluck,
      (history: History, note: ScoreNote) =>
        setPluck(history, note.id, note.pluckPinned && note.pluck === pluck ? undefined : pluck),
    ]),
  ),
};

/** Where the cursor begins: the first note. */
function firstPlace(arrangement: Arrangement): Cursor {
  for (const [measure, { notes }] of arrangement.measures.entries()) {
    const first = [...notes].sort((a, b) => a.start - b.start || a.string - b.string)[0];
    if (first) return { measure, start: first.start, string: first.string };
  }
  return { measure: 0, start: 0, string: 1 };
}

function Workbench({ stored, tune }: { stored: StoredArrangement; tune: Tune | undefined }) {
  const copy = useWorkingCopy(stored);
  const { arrangement, history, setHistory } = copy;
  const { setup, measures } = arrangement;
  const [cursor, setCursor] = useState<Cursor>(() => firstPlace(arrangement));
  const [range, setRange] = useState<{ from: number; to: number }>();
  const [message, setMessage] = useState('');
  const [names, setNames] = useLocalStorage<ChordNames>({ key: 'chord-names', defaultValue: 'both' });
  const [degrees, setDegrees] = useLocalStorage({ key: 'degrees', defaultValue: false });
  const [play, setPlay] = useLocalStorage<PlaySettings>({ key: 'play-settings', defaultValue: DEFAULT_PLAY });
  const [keysShown, keys] = useDisclosure(false);
  const [player, playing] = usePlayer();
  const [task, setTask] = useState<'look' | 'arrange'>('look');
  const [proposal, setProposal] = useState<Arrangement>();
  const changed = useMemo(
    () => (proposal ? new Set(changedMeasures(arrangement, proposal)) : undefined),
    [arrangement, proposal],
  );
  const shown = proposal ?? arrangement;
  const board = useRef<HTMLDivElement>(null);
  const typed = useRef({ text: '', at: 0, id: '' });
  const settled = useDeferredValue(arrangement);
  const findings = useMemo(() => checkArrangement(settled, tune), [settled, tune]);
  const numbers = useMemo(() => measureNumbers(measures), [measures]);

  const note = measures[cursor.measure]?.notes.find(
    n => n.start === cursor.start && n.string === cursor.string,
  );

  /** Takes an edit over, or says why it can't be done. Tells whether it was. */
  const attempt = useCallback(
    (edit: (history: History) => History | { error: string }) => {
      if (proposal) {
        setMessage('Take the proposal or leave it first: then notes can be changed.');
        return false;
      }
      const result = edit(history);
      if ('error' in result) {
        setMessage(result.error);
        return false;
      }
      setMessage('');
      setHistory(result);
      return true;
    },
    [history, setHistory, proposal],
  );

  const choose = useCallback((measure: number, start: number, string: number, extend: boolean) => {
    setCursor(before => {
      setRange(
        extend
          ? { from: Math.min(before.measure, measure), to: Math.max(before.measure, measure) }
          : undefined,
      );
      return { measure, start, string };
    });
    setMessage('');
    board.current?.focus({ preventScroll: true });
  }, []);
  const move = useCallback(
    (id: string, string: number) => {
      if (attempt(history => moveToString(history, id, string))) setCursor(before => ({ ...before, string }));
    },
    [attempt],
  );

  const goTo = (next: Cursor) => {
    setCursor(next);
    setMessage('');
    document.querySelector(`[data-measure="${next.measure}"]`)?.scrollIntoView({ block: 'nearest' });
  };
  const step = (direction: 1 | -1, byMeasure: boolean) => {
    let { measure, start } = cursor;
    const startsOf = (m: number) => momentsOf(measures[m]!, m).map(moment => moment.start);
    let next = byMeasure
      ? undefined
      : direction > 0
        ? startsOf(measure).find(s => s > start)
        : startsOf(measure).findLast(s => s < start);
    while (next === undefined) {
      measure += direction;
      if (measure < 0 || measure >= measures.length) return;
      const starts = startsOf(measure);
      next = direction > 0 || byMeasure ? starts[0] : starts[starts.length - 1];
    }
    start = next;
    const here = measures[measure]!.notes.filter(n => n.start === start);
    // The cursor stays on its string where there is a note, else it goes to the nearest one.
    const nearest = [...here].sort(
      (a, b) => Math.abs(a.string - cursor.string) - Math.abs(b.string - cursor.string),
    )[0];
    goTo({ measure, start, string: nearest?.string ?? cursor.string });
  };

  const toggle = useCallback(() => {
    if (playing.status !== 'stopped') {
      player.stop();
      return;
    }
    const from = range?.from ?? cursor.measure;
    const to = range?.to ?? cursor.measure;
    const all = playingOrder(measures);
    // A loop plays the chosen measures as written; playing on starts at the cursor's measure.
    const order = play.loop
      ? Array.from({ length: to - from + 1 }, (_, i) => from + i)
      : all.slice(Math.max(0, all.indexOf(cursor.measure)));
    void player.play(
      sampleRate =>
        soundMaker().renderArrangement({
          arrangement: shown,
          order,
          percent: play.percent,
          click: play.click,
          countIn: play.countIn,
          sampleRate,
        }),
      play.loop,
    );
  }, [playing.status, player, range, cursor.measure, measures, play, shown]);

  const onKey = (event: KeyboardEvent) => {
    const { key } = event;
    const control = event.ctrlKey || event.metaKey;
    const handled = () => event.preventDefault();
    if (control && key.toLowerCase() === 'z') {
      handled();
      if (event.shiftKey) copy.redo();
      else copy.undo();
    } else if (control && key.toLowerCase() === 'y') {
      handled();
      copy.redo();
    } else if (control) return;
    else if (key === 'ArrowRight' || key === 'ArrowLeft') {
      handled();
      const direction = key === 'ArrowRight' ? 1 : -1;
      if (event.shiftKey) {
        const to = Math.min(
          measures.length - 1,
          Math.max(
            0,
            (range && range.from < cursor.measure ? cursor.measure : (range?.to ?? cursor.measure)) +
              direction,
          ),
        );
        setRange({ from: Math.min(cursor.measure, to), to: Math.max(cursor.measure, to) });
      } else step(direction, event.altKey);
    } else if (key === 'ArrowUp' || key === 'ArrowDown') {
      handled();
      const string = cursor.string + (key === 'ArrowDown' ? 1 : -1);
      if (string < 1 || string > setup.tuning.length) return;
      if (event.shiftKey) {
        if (note) move(note.id, string);
      } else goTo({ ...cursor, string });
    } else if (key === 'Home' || key === 'End') {
      handled();
      const measure = key === 'Home' ? 0 : measures.length - 1;
      goTo({ ...cursor, measure, start: momentsOf(measures[measure]!, measure)[0]?.start ?? 0 });
    } else if (/^\d$/.test(key) || /^Digit\d$/.test(event.code)) {
      handled();
      const digit = /^\d$/.test(key) ? key : event.code.slice(5);
      if (!note) {
        setMessage(
          `There is no note on ${stringName(setup, cursor.string)} here: the up and down arrows lead to the strings that sound.`,
        );
        return;
      }
      if (event.altKey) {
        if (Number(digit) >= 1 && Number(digit) <= 4)
          attempt(history => setFinger(history, note.id, Number(digit) as Finger));
        return;
      }
      const now = performance.now();
      const goesOn =
        typed.current.id === note.id &&
        now - typed.current.at < DIGITS_TOGETHER &&
        typed.current.text.length < 2;
      const text = goesOn ? typed.current.text + digit : digit;
      typed.current = { text, at: now, id: note.id };
      attempt(history => setFret(history, note.id, Number(text)));
    } else if (key === 'Delete' || key === 'Backspace') {
      handled();
      if (note) attempt(history => removeNote(history, note.id));
    } else if (key === ' ') {
      handled();
      toggle();
    } else if (note && TECHNIQUE_KEYS[key]) {
      handled();
      attempt(history => TECHNIQUE_KEYS[key]!(history, note));
    } else if (key.toLowerCase() === 'l') {
      setPlay({ ...play, loop: !play.loop });
    } else if (key === 'Escape') {
      setRange(undefined);
      player.stop();
    } else if (key === '?') keys.open();
  };

  const shapeKey = transposeKey(measures[0]!.key, -setup.capo);
  const under = [
    `sounds ${keyName(measures[0]!.key)}`,
    setup.capo ? `${keyName(shapeKey)} shapes, capo ${setup.capo}` : 'no capo',
    INSTRUMENTS[setup.instrument].name.toLowerCase(),
    arrangement.style.replace('-', ' '),
  ].join(' · ');
  const here = playing.cue ? { measure: playing.cue.measure, start: playing.cue.tick } : cursor;
  const grip = gripAt(shown, here.measure, here.start);
  const open = soundingAt(shown.measures[here.measure]!, here.start)
    .filter(n => n.fret === 0)
    .map(n => n.string);
  const stretch = stretchOf(setup, arrangement.hand, grip);
  const placed = placeName(arrangement, here.measure, here.start);

  return (
    <div className="frame full">
      <Masthead
        title={arrangement.title}
        under={under}
        rail={{
          tune: `/tune/${arrangement.tuneId}`,
          workbench: `/arrangement/${arrangement.id}`,
          lesson: `/arrangement/${arrangement.id}/lesson`,
          handout: `/arrangement/${arrangement.id}/handout`,
        }}
      >
        <Tooltip label="Undo (Ctrl Z)">
          <ActionIcon
            variant="transparent"
            color="gray.3"
            disabled={!copy.history.past.length}
            onClick={copy.undo}
            aria-label="Undo"
          >
            <IconArrowBackUp />
          </ActionIcon>
        </Tooltip>
        <Tooltip label="Redo (Ctrl Shift Z)">
          <ActionIcon
            variant="transparent"
            color="gray.3"
            disabled={!copy.history.future.length}
            onClick={copy.redo}
            aria-label="Redo"
          >
            <IconArrowForwardUp />
          </ActionIcon>
        </Tooltip>
        <span className="under" role="status">
          {copy.saveState === 'saved' ? 'Saved' : copy.saveState === 'saving' ? 'Saving…' : 'Not saved'}
        </span>
        <ExportMenu arrangement={arrangement} tune={tune} />
      </Masthead>
      {copy.trouble && (
        <Alert color="cranberry" title="The last change could not be stored">
          {copy.trouble}. Keep this window open and export the arrangement to be safe.
        </Alert>
      )}
      <div className="workbench">
        <div className="board">
          <Group justify="space-between" mb={6}>
            <SegmentedControl
              size="xs"
              value={names}
              onChange={value => setNames(value as ChordNames)}
              aria-label="Names of chords"
              data={[
                { value: 'shape', label: 'Shape names' },
                { value: 'sounding', label: 'Sounding names' },
                { value: 'both', label: 'Both' },
              ]}
            />
            <Switch
              size="sm"
              label="Degrees"
              checked={degrees}
              onChange={event => setDegrees(event.currentTarget.checked)}
            />
            <Text size="sm" role="status" aria-live="polite">
              {message ||
                `${placed}: ${stringName(setup, cursor.string)}${note ? `, fret ${note.fret}${note.finger ? `, finger ${note.finger}` : ''}` : ', no note'}`}
            </Text>
          </Group>
          <div
            ref={board}
            className="ribbon"
            tabIndex={0}
            role="group"
            aria-label="Measures. Arrows move, digits set the fret, ? shows all keys."
            onKeyDown={onKey}
          >
            <Ribbon
              arrangement={shown}
              names={names}
              degrees={degrees}
              findings={proposal ? NO_FINDINGS : findings}
              changed={changed}
              cursor={cursor}
              range={range}
              playing={playing.cue && { measure: playing.cue.measure, tick: playing.cue.tick }}
              onChoose={choose}
              onDragNote={move}
            />
          </div>
        </div>
        <aside className="side panel">
          <SegmentedControl
            fullWidth
            mb={12}
            value={task}
            onChange={v => {
              setTask(v as 'look' | 'arrange');
              setProposal(undefined);
            }}
            aria-label="At the side"
            data={[
              { value: 'look', label: 'Notes and findings' },
              { value: 'arrange', label: 'Arrange' },
            ]}
          />
          {task === 'arrange' && tune && (
            <ArrangePanel
              arrangement={arrangement}
              tune={tune}
              at={cursor.measure}
              range={range}
              proposal={proposal}
              onPropose={setProposal}
              onRefinger={(part, goal) => {
                if (attempt(history => refinger(history, part, goal))) setMessage('Fingered anew.');
              }}
              onTake={label => proposal && setHistory(takeProposal(history, label, proposal))}
            />
          )}
          {task === 'arrange' && !tune && (
            <Text size="sm">
              The tune of this arrangement is not on the shelf, so nothing can be made anew.
            </Text>
          )}
          {task === 'look' && (
            <>
              <Findings
                arrangement={arrangement}
                tune={tune}
                findings={findings}
                onGoTo={goTo}
                onRemedy={remedy => attempt(remedy.apply)}
              />
              <NotePanel
                arrangement={arrangement}
                cursor={cursor}
                onEdit={(edit, string) => {
                  if (attempt(edit) && string) setCursor(before => ({ ...before, string }));
                }}
              />
              <FingeringPanel arrangement={arrangement} measure={cursor.measure} onEdit={attempt} />
              <h3 style={{ marginTop: 16 }}>Into {placed.charAt(0).toLowerCase() + placed.slice(1)}</h3>
              <Text size="sm">
                {movesInto(arrangement, here.measure, here.start) || 'No finger is needed.'}
              </Text>
              {grip.length > 1 && (
                <>
                  <div className="meter" style={{ marginTop: 8 }}>
                    <div
                      className={stretch.possible ? '' : 'over'}
                      style={{ width: `${Math.min(100, (100 * stretch.widest) / stretch.limit)}%` }}
                    />
                  </div>
                  <Text size="sm">
                    Stretch {Math.round(stretch.widest)} of {Math.round(stretch.limit)} mm
                    {stretch.fingers && `, fingers ${stretch.fingers.map(fingerLabel).join(' and ')}`}
                  </Text>
                </>
              )}
              <h3 style={{ marginTop: 16 }}>Why it is so</h3>
              <ul style={{ margin: 0, paddingLeft: 18, fontSize: 14 }}>
                {[...arrangement.reasons, ...arrangement.ledger].map(line => (
                  <li key={line}>{line}</li>
                ))}
              </ul>
            </>
          )}
        </aside>
        <div className="under">
          <Neck setup={setup} grip={grip} ghost={gripBefore(shown, here.measure, here.start)} open={open} />
        </div>
      </div>
      <Transport
        state={playing}
        settings={play}
        tempo={beatsPerMinute(arrangement.measures[0]!.meter, arrangement.quartersPerMinute)}
        loopLabel={
          play.loop ? loopLabel(numbers, range ?? { from: cursor.measure, to: cursor.measure }) : 'Loop'
        }
        onSettings={setPlay}
        onToggle={toggle}
      >
        <Text size="xs" c="var(--on-velvet-soft)">
          Keep it at a safe loudness.
        </Text>
        <Button
          variant="transparent"
          c="var(--on-velvet)"
          leftSection={<IconKeyboard size={18} />}
          onClick={keys.open}
        >
          Keys
        </Button>
      </Transport>
      <KeysHelp opened={keysShown} onClose={keys.close} />
      <Modal
        opened={copy.conflict !== undefined}
        onClose={() => copy.resolveConflict('mine')}
        title="Changed in another window"
        withCloseButton={false}
        closeOnClickOutside={false}
        closeOnEscape={false}
      >
        <Text>
          This arrangement was changed and saved in another window since it was opened here. Which one shall
          be kept?
        </Text>
        <Group mt="md">
          <Button onClick={() => copy.resolveConflict('mine')}>Keep this one</Button>
          <Button variant="default" onClick={() => copy.resolveConflict('theirs')}>
            Take the other one
          </Button>
        </Group>
      </Modal>
    </div>
  );
}

function loopLabel(numbers: readonly number[], range: { from: number; to: number }): string {
  const name = (index: number) => (numbers[index] === 0 ? 'pickup' : String(numbers[index]));
  return range.from === range.to ? `Loop ${name(range.from)}` : `Loop ${name(range.from)}–${name(range.to)}`;
}
