import { Alert, Checkbox, Group, Text, Textarea, Title } from '@mantine/core';
import { useDebouncedCallback } from '@mantine/hooks';
import { notifications } from '@mantine/notifications';
import { type DragEvent, useEffect, useRef, useState } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import type { AbcTune } from '#core/formats';
import { withKindOfTitle } from '#core/formats/fields';
import { keyName } from '#core/pitch';
import { meterName } from '#core/time';
import {
  chordSpans,
  formOf,
  formWords,
  hasMelody,
  melodyNotes,
  type Rights,
  rereadTune,
  type Tune,
} from '#core/tune';
import { copyOf } from '../../data/copies';
import { useStoreChange } from '../../data/queries';
import { newId, save } from '../../data/store';
import { readTextFile } from '../../engine/files';
import { arranger } from '../../engine/workers';
import { BusyButton } from '../../parts/BusyButton';
import { Choice } from '../../parts/Choice';
import { DraftTrouble, useDraft } from '../../parts/draft';
import { furtherVoices } from '../../parts/furtherVoices';
import { Masthead } from '../../parts/Masthead';
import { RIGHTS_CHOICES } from '../../parts/rights';
import common from '../../theme/common.module.css';
import styles from './AddTune.module.css';

const EXAMPLE = `X:1
T:Title
M:6/8
L:1/8
K:D
|: A | "D"d2A F2A | "A"c2A E2A :|`;

export function AddTune() {
  return <SourceField />;
}

/** A tune goes in: pasted, typed or dropped as ABC; read while it is typed. Also corrects the source of a tune. */
export function SourceField({ existing }: { existing?: Tune }) {
  const tuneId = existing?.id;
  const navigate = useNavigate();
  const location = useLocation();
  const given = (location.state as { text?: string } | null)?.text;
  const { text, setText, unkept, forget } = useDraft(
    'draft-abc',
    existing ? (existing.abc ?? '') : given,
    !existing,
  );
  const [book, setBook] = useState<AbcTune[]>();
  /** What it is where it is no tune. */
  const [kind, setKind] = useState<'abc' | 'tab' | 'song'>();
  const [chosen, setChosen] = useState<Set<number>>(new Set([0]));
  const [rights, setRights] = useState<Rights>(existing?.rights ?? 'unknown');
  const [trouble, setTrouble] = useState<string>();
  const field = useRef<HTMLTextAreaElement>(null);
  const turn = useRef(0);

  const read = useDebouncedCallback(async (source: string) => {
    const mine = ++turn.current;
    try {
      const result = source.trim() ? await arranger().readAbc(source) : undefined;
      const other = result?.length === 0 ? await arranger().kindOfText(source) : undefined;
      if (mine !== turn.current) return;
      setKind(other);
      setTrouble(undefined);
      setBook(result);
      setChosen(new Set(result?.length ? [0] : []));
    } catch (cause) {
      setTrouble(cause instanceof Error ? cause.message : 'the text could not be read');
    }
  }, 250);
  useEffect(() => {
    if (text === undefined) return;
    read(text);
  }, [text, read]);

  const goTo = (line: number, column: number) => {
    const area = field.current;
    if (!area || text === undefined) return;
    const offset =
      text
        .split('\n')
        .slice(0, line - 1)
        .reduce((sum, l) => sum + l.length + 1, 0) +
      column -
      1;
    area.focus();
    area.setSelectionRange(offset, offset + 1);
  };
  const drop = async (event: DragEvent) => {
    event.preventDefault();
    const texts = await Promise.all([...event.dataTransfer.files].map(readTextFile));
    // An empty line ends a tune, so books that follow each other stay apart.
    if (texts.length) setText(texts.join('\n\n'));
  };
  // A song may come without its melody: its chords are accompanied.
  const usable = (entry: AbcTune) => hasMelody(entry.tune) || chordSpans(entry.tune).length > 0;
  const selected = (book ?? []).filter((entry, i) => chosen.has(i) && usable(entry));

  const keep = useStoreChange(async () => {
    if (existing) {
      // Measures, notes and chords that are still there keep their ids: what was made of them finds them again.
      const copy = copyOf('tunes', existing.id);
      copy.replace({ ...rereadTune(existing, selected[0]!.tune), rights });
      await copy.save();
      navigate(`/tune/${existing.id}`);
      return;
    }
    let first: string | undefined;
    for (const { tune } of selected) {
      const id = newId();
      first ??= id;
      await save('tunes', withKindOfTitle({ ...tune, id, rights }), undefined);
    }
    await forget();
    if (selected.length > 1) notifications.show({ message: `${selected.length} tunes are on the shelf.` });
    navigate(selected.length > 1 ? '/' : `/tune/${first}`);
  });

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: a file may be dropped anywhere; typing and pasting do the same
    <div className={common.frame} onDragOver={e => e.preventDefault()} onDrop={e => void drop(e)}>
      <Masthead
        title={existing ? `Source of ${existing?.title}` : 'Add a tune'}
        under="in ABC notation"
        rail={{ tuneId }}
      />
      <main className={common.page}>
        <div className={common.columns}>
          <div className={styles.abcField}>
            <Textarea
              ref={field}
              label="Tune or tune book"
              description={
                tuneId ? (
                  'Correct it here; what is still the same keeps its arrangements.'
                ) : (
                  <>
                    Paste ABC here, or drop a file. What you type is kept. No notation at hand?{' '}
                    <Link to="/song" style={{ color: 'var(--spruce)' }}>
                      Add a song
                    </Link>{' '}
                    by its chords and words, or{' '}
                    <Link to="/new" style={{ color: 'var(--spruce)' }}>
                      begin with nothing
                    </Link>{' '}
                    and write it in the Workbench.
                  </>
                )
              }
              placeholder={EXAMPLE}
              autosize
              minRows={16}
              maxRows={28}
              spellCheck={false}
              value={text ?? ''}
              onChange={e => setText(e.currentTarget.value)}
            />
          </div>
          <div className={common.panel} aria-live="polite">
            <Title order={2}>What was understood</Title>
            {trouble && <Alert color="cranberry">{trouble}</Alert>}
            <DraftTrouble unkept={unkept} error={keep.error} />
            {!book && !trouble && <Text c="dimmed">{text?.trim() ? 'Reading…' : 'Nothing yet.'}</Text>}
            {book?.length === 0 && kind === 'song' && (
              <Alert title="This is a song in chords and words">
                It has no notation of a tune.{' '}
                <Link to="/song" state={{ song: text }} style={{ color: 'var(--spruce)' }}>
                  Add it as a song
                </Link>
                .
              </Alert>
            )}
            {book?.length === 0 && kind === 'tab' && (
              <Alert title="This is a tab">
                It has rows of strings, and no tune that an arrangement could be made of.{' '}
                <Link to="/new" state={{ text }} style={{ color: 'var(--spruce)' }}>
                  Begin a piece with it
                </Link>
                .
              </Alert>
            )}
            {book?.length === 0 && kind !== 'tab' && kind !== 'song' && (
              <Alert color="cranberry" title="There is no tune in this text">
                A tune begins with a line such as <code>X:1</code> and its heading ends with a key, such as{' '}
                <code>K:G</code>.
              </Alert>
            )}
            {book && book.length > 1 && (
              <Text size="sm" mb={6}>
                A book of {book.length} tunes: choose which to take.
              </Text>
            )}
            <div style={{ maxHeight: 380, overflowY: 'auto' }}>
              {book?.map((entry, i) => (
                <div key={i} style={{ padding: '8px 0', borderBottom: '1px solid var(--line)' }}>
                  <Checkbox
                    checked={chosen.has(i)}
                    disabled={!usable(entry)}
                    label={<strong>{entry.tune.title}</strong>}
                    onChange={e => {
                      const next = new Set(tuneId ? [] : chosen);
                      if (e.currentTarget.checked) next.add(i);
                      else next.delete(i);
                      setChosen(next);
                    }}
                  />
                  <Understood entry={entry} onGoTo={goTo} />
                </div>
              ))}
            </div>
            <Group mt="md" align="end">
              <Choice label="Rights" options={RIGHTS_CHOICES} value={rights} onChange={setRights} />
              <BusyButton
                color="marigold.6"
                disabled={!selected.length}
                busy={keep.isPending}
                onClick={() => keep.mutate()}
              >
                {tuneId
                  ? 'Keep the new source'
                  : selected.length > 1
                    ? `Put ${selected.length} tunes on the shelf`
                    : 'Put it on the shelf'}
              </BusyButton>
            </Group>
            {selected.some(entry => entry.problems.some(p => p.severity === 'error')) && (
              <Text size="sm" c="var(--cranberry)" mt="xs">
                Something may be missing: see the places above. You can mend them here, or go on with what was
                understood.
              </Text>
            )}
          </div>
        </div>
      </main>
    </div>
  );
}

function Understood({ entry, onGoTo }: { entry: AbcTune; onGoTo: (line: number, column: number) => void }) {
  const { tune, problems } = entry;
  const chords = tune.measures.reduce((sum, m) => sum + m.chords.length, 0);
  return (
    <>
      <Text size="sm" c="dimmed">
        {keyName(tune.key)}, {meterName(tune.meter)}, {tune.measures.length} measures,{' '}
        {melodyNotes(tune).length} notes, {chords} chord symbols
        {furtherVoices(tune)}
        {tune.measures.length > 0 && `, form ${formWords(formOf(tune.measures, tune.order))}`}
      </Text>
      <ul className={common.problems}>
        {problems.map((p, i) => (
          <li key={i}>
            <button
              type="button"
              onClick={() => onGoTo(p.line, p.column)}
              style={{
                all: 'unset',
                cursor: 'pointer',
                textDecoration: 'underline',
                fontFamily: 'var(--mono)',
              }}
            >
              line {p.line}, column {p.column}
            </button>
            :{' '}
            <span style={{ color: p.severity === 'error' ? 'var(--cranberry)' : 'inherit' }}>
              {p.severity === 'error' ? 'Error: ' : 'Note: '}
            </span>
            {p.message}
          </li>
        ))}
      </ul>
    </>
  );
}
