import { Alert, Group, Switch, Text, Title } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { useCallback, useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import type { MidiGrid, ScoreFileReading } from '#core/formats';
import { withKindOfTitle } from '#core/formats/fields';
import { type FileRemark, fileRemarkWords } from '#core/formats/file';
import { standardSetup } from '#core/instrument';
import { keyName } from '#core/pitch';
import { meterName } from '#core/time';
import { formOf, formWords, melodyNotes, type Rights } from '#core/tune';
import { useStoreChange } from '../../data/queries';
import { newId, save, storeWords } from '../../data/store';
import { arranger } from '../../engine/workers';
import { BusyButton } from '../../parts/BusyButton';
import { Choice } from '../../parts/Choice';
import { furtherVoices, showsVoices } from '../../parts/furtherVoices';
import { Masthead } from '../../parts/Masthead';
import { METERS, meterOf } from '../../parts/meters';
import { Hear } from '../../parts/playing/Hear';
import { Stave } from '../../parts/ribbon/Stave';
import { RIGHTS_CHOICES } from '../../parts/rights';
import styles from '../../parts/TextReport.module.css';
import common from '../../theme/common.module.css';
import { NotFound } from '../NotFound';
import type { ScoreFile } from '../shelf/useFiles';

const GRID_CHOICES: { value: MidiGrid | ''; label: string }[] = [
  { value: '', label: 'as it fits' },
  { value: 'eighth', label: 'an eighth' },
  { value: '16th', label: 'a 16th' },
  { value: '32nd', label: 'a 32nd' },
];

const PICKUP_CHOICES = [
  { value: '0', label: 'nothing' },
  { value: '1', label: 'one beat' },
  { value: '2', label: 'two beats' },
  { value: '3', label: 'three beats' },
];

/** A file of notes that another program wrote: what was understood of it is shown before it goes on the shelf. */
export function AddFile() {
  const { score } = (useLocation().state ?? {}) as { score?: ScoreFile };
  return score ? <FilePage key={score.name} score={score} /> : <NotFound what="file" />;
}

function FilePage({ score: { name, bytes } }: { score: ScoreFile }) {
  const navigate = useNavigate();
  const midi = /\.midi?$/i.test(name);
  const [part, setPart] = useState('');
  const [others, setOthers] = useState(true);
  const [grid, setGrid] = useState<MidiGrid | ''>('');
  const [triplets, setTriplets] = useState(true);
  const [meter, setMeter] = useState('');
  const [pickup, setPickup] = useState('0');
  const [withTab, setWithTab] = useState(true);
  const [chosenRights, setRights] = useState<Rights>();
  const { data: reading, error } = useQuery({
    queryKey: ['file', name, bytes.length, part, others, grid, triplets, meter, pickup],
    queryFn: async (): Promise<ScoreFileReading> =>
      await arranger().readScoreFile(name, bytes, {
        tuneId: 'read',
        id: 'read',
        title: name.replace(/\.[^.]*$/, ''),
        others,
        ...(part && { part: Number(part) }),
        ...(midi && grid && { grid }),
        ...(midi && !triplets && { triplets }),
        ...(midi && meter && { meter: meterOf(meter) }),
        ...(midi && { pickup: Number(pickup) }),
      }),
    placeholderData: before => before,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const read = reading?.error ? undefined : reading;
  const rights = chosenRights ?? read?.tune.rights ?? 'unknown';
  const keep = useStoreChange(async () => {
    if (!read) return;
    const id = newId();
    await save('tunes', withKindOfTitle({ ...read.tune, id, rights }), undefined);
    if (read.arrangement && withTab) {
      const own = newId();
      await save('arrangements', { ...read.arrangement, id: own, tuneId: id, rights }, undefined);
      navigate(`/arrangement/${own}`);
    } else navigate(`/tune/${id}`);
  });
  const onDrawn = useCallback(() => {}, []);
  return (
    <div className={common.frame}>
      <Masthead title={read?.tune.title ?? 'Add a file'} under={name} rail={{}} />
      <main className={common.page}>
        <div className={common.columns}>
          <div className={`${common.panel} ${common.stack}`}>
            <Title order={2}>What to take</Title>
            {error && <Alert color="cranberry">{storeWords(error)}</Alert>}
            {reading?.error && (
              <Alert color="cranberry" title="This file can’t be read">
                line {reading.error.line}, column {reading.error.column}: {reading.error.message}
              </Alert>
            )}
            {!reading && !error && <Text c="dimmed">Reading…</Text>}
            {read && read.parts.length > 1 && (
              <Choice
                label={midi ? 'The track that is the tune' : 'The part that is the tune'}
                options={read.parts.map((own, i) => ({
                  value: String(i),
                  label: `${own.name}, ${own.notes} notes${own.tab ? ', with tablature' : ''}`,
                }))}
                value={part || String(read.part)}
                onChange={setPart}
              />
            )}
            {read && (
              <Switch
                label="Keep the other voices beside it"
                description="They can be put under the melody in the Workbench."
                checked={others}
                onChange={event => setOthers(event.currentTarget.checked)}
              />
            )}
            {read && midi && (
              <>
                <Group grow align="end">
                  <Choice
                    label="Meter"
                    options={[
                      { value: '', label: 'as the file has it' },
                      ...METERS.map(own => ({ value: own, label: own })),
                    ]}
                    value={meter}
                    onChange={setMeter}
                  />
                  <Choice
                    label="Before the first measure"
                    options={PICKUP_CHOICES}
                    value={pickup}
                    onChange={setPickup}
                  />
                </Group>
                <Choice
                  label="Shortest straight note"
                  options={GRID_CHOICES}
                  value={grid}
                  onChange={value => setGrid(value)}
                />
                <Switch
                  label="Triplets where they are played"
                  checked={triplets}
                  onChange={event => setTriplets(event.currentTarget.checked)}
                />
              </>
            )}
            {read?.arrangement && (
              <Switch
                label="Take its tablature as an arrangement"
                description="Strings, frets and fingers as they are written."
                checked={withTab}
                onChange={event => setWithTab(event.currentTarget.checked)}
              />
            )}
            <Group align="end">
              <Choice label="Rights" options={RIGHTS_CHOICES} value={rights} onChange={setRights} />
              <BusyButton
                color="marigold.6"
                disabled={!read}
                busy={keep.isPending}
                onClick={() => keep.mutate()}
              >
                Put it on the shelf
              </BusyButton>
              {read && (
                <Hear
                  label="Hear it"
                  size="sm"
                  request={() => ({
                    what: 'melody',
                    tune: read.tune,
                    setup: standardSetup('guitar'),
                    percent: 100,
                    voices: showsVoices(read.tune),
                  })}
                />
              )}
            </Group>
            {keep.error && (
              <Alert color="cranberry" title="It could not be put on the shelf">
                {storeWords(keep.error)}.
              </Alert>
            )}
          </div>
          <div className={`${common.panel} ${common.stack}`} aria-live="polite">
            <Title order={2}>What was understood</Title>
            {read && <Understood read={read} />}
          </div>
        </div>
        {read && (
          <div style={{ marginTop: 24 }}>
            <Stave tune={read.tune} voices={showsVoices(read.tune)} onDrawn={onDrawn} />
          </div>
        )}
      </main>
    </div>
  );
}

function Understood({ read }: { read: Exclude<ScoreFileReading, { error: object }> }) {
  const { tune, arrangement, guesses, leftOut } = read;
  const chords = tune.measures.reduce((sum, measure) => sum + measure.chords.length, 0);
  const notes = arrangement?.measures.reduce((sum, measure) => sum + measure.notes.length, 0);
  return (
    <>
      <Text size="sm">
        {keyName(tune.key)}, {meterName(tune.meter)}, {tune.measures.length} measures,{' '}
        {melodyNotes(tune).length} notes, {chords} chord names
        {furtherVoices(tune)}, form {formWords(formOf(tune.measures, tune.order))}.
      </Text>
      {notes !== undefined && <Text size="sm">Tablature: {notes} notes on their strings.</Text>}
      <FileRemarks title="Taken to be meant" remarks={guesses} tone="guess" />
      <FileRemarks title="Left out" remarks={leftOut} tone="lost" />
    </>
  );
}

function FileRemarks({
  title,
  remarks,
  tone,
}: {
  title: string;
  remarks: readonly FileRemark[];
  tone: string;
}) {
  if (!remarks.length) return null;
  return (
    <>
      <h3>{title}</h3>
      <ul className={clsx(styles.textRemarks, tone && styles[tone])}>
        {remarks.map(remark => (
          <li key={remark.message}>{fileRemarkWords(remark)}</li>
        ))}
      </ul>
    </>
  );
}
