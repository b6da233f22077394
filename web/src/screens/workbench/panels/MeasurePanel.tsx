import { Button, Group, MultiSelect, NumberInput, Switch } from '@mantine/core';
import { useState } from 'react';
import type { BarsValues, Edit } from '#core/edit';
import { MODES, type Mode } from '#core/pitch';
import type { Arrangement, ScoreMeasure } from '#core/score';
import { shapeText } from '#core/shape';
import { beatsPerMinute, meterName, quartersFromBeats, TICKS_PER_WHOLE } from '#core/time';
import { ROAD_MARKS, type RoadMark } from '#core/tune';
import { capital } from '#core/words';
import { Choice } from '../../../parts/Choice';
import { Field } from '../../../parts/Field';
import { Fold } from '../../../parts/Fold';
import { METERS, meterOf, TONIC_CHOICES } from '../../../parts/meters';
import styles from './NotePanel.module.css';

const ENDINGS = [
  { value: '', label: 'none' },
  { value: '1', label: '1st' },
  { value: '2', label: '2nd' },
  { value: '3', label: '3rd' },
  { value: '1,2', label: '1st and 2nd' },
];
const BARLINES = [
  { value: '', label: 'single' },
  { value: 'double', label: 'double' },
  { value: 'final', label: 'final' },
] as const;

const ROAD_WORDS: Record<RoadMark, string> = {
  segno: 'Sign',
  coda: 'Coda begins',
  'to-coda': 'To the coda',
  fine: 'Fine',
  'da-capo': 'D.C.',
  'dal-segno': 'D.S.',
  'last-time-end': 'Ends here the last time',
};

/** A whole measure, or a pickup of some of its units. */
function pickupChoices({ meter, ticks }: ScoreMeasure) {
  const unit = TICKS_PER_WHOLE / meter.unit;
  const full = unit * meter.beats;
  const parts = Array.from({ length: meter.beats - 1 }, (_, i) => (i + 1) * unit);
  return [...new Set([...parts, full, ticks])]
    .sort((a, b) => a - b)
    .map(value => ({
      value,
      label: value === full ? 'none' : `${Number((value / unit).toFixed(2))} of ${meter.beats}`,
    }));
}

interface MeasurePanelProps {
  arrangement: Arrangement;
  /** The measure at the cursor by place, and the tick. */
  at: number;
  start: number;
  /** Ids of the chosen measures. */
  measures: readonly string[];
  onEdit: (edit: Edit) => void;
}

/** What stands around the notes at the cursor: chord and words there, and the measure's section, bars, meter, key, tempo. */
export function MeasurePanel(props: MeasurePanelProps) {
  return (
    <Fold name="around" words="Chord, words, bars and tempo here">
      {() => <Around {...props} />}
    </Fold>
  );
}

function Around({ arrangement, at, start, measures, onEdit }: MeasurePanelProps) {
  const measure = arrangement.measures[at]!;
  const { id, meter, key, words, chords } = measure;
  const bars = (values: BarsValues) => onEdit({ kind: 'bars', ids: [id], values });
  const tempo = measure.tempos?.find(change => change.start === 0);
  const own = meterName(meter);
  const verses = Math.max(1, ...arrangement.measures.flatMap(m => m.words.map(w => w.verses.length)));
  const sung = words.find(word => word.start === start)?.verses ?? [];
  const others = arrangement.measures.flatMap(m =>
    m.section && m.section.id !== measure.section?.id && !m.section.as ? [m.section] : [],
  );
  const named = chords.find(c => c.start === start);
  const chord = named?.shape ?? '';
  const grip = named?.frets ? shapeText(named.frets) : '';
  const glide = measure.tempos?.find(change => change.over !== undefined);
  return (
    <>
      <div className={styles.howItSounds} style={{ marginTop: 8 }}>
        <Field
          key={`chord ${id} ${start} ${chord}`}
          label="Chord (name of the shape)"
          value={chord}
          onTake={name => onEdit({ kind: 'chord', ids: [id], values: { start, name } })}
        />
        <Field
          key={`grip ${id} ${start} ${grip}`}
          label="Its grip (as x32010)"
          value={grip}
          onTake={frets => onEdit({ kind: 'chord', ids: [id], values: { start, name: chord, frets } })}
        />
        {Array.from({ length: verses }, (_, verse) => (
          <Field
            key={`word ${id} ${start} ${verse} ${sung[verse] ?? ''}`}
            label={verses > 1 ? `Syllable, verse ${verse + 1}` : 'Syllable'}
            value={sung[verse] ?? ''}
            onTake={text => onEdit({ kind: 'word', ids: [id], values: { start, verse, text } })}
          />
        ))}
        <Field
          key={`section ${id} ${measure.section?.name ?? ''}`}
          label="Section begins"
          value={measure.section?.name ?? ''}
          onTake={section => bars({ section })}
        />
        {measure.section && others.length > 0 && (
          <Choice
            size="xs"
            label="This section is played"
            options={[
              { value: '', label: 'as written' },
              ...others.map(other => ({ value: other.id, label: `as ${other.name}, but its end` })),
            ]}
            value={measure.section.as ?? ''}
            onChange={as => bars({ as: as || null })}
          />
        )}
        <Choice
          size="xs"
          label="Ending"
          options={ENDINGS}
          value={measure.ending?.join(',') ?? ''}
          onChange={value => bars({ ending: value ? value.split(',').map(Number) : null })}
        />
        <Choice
          size="xs"
          label="Bar line at its end"
          options={BARLINES}
          value={measure.barline ?? ''}
          onChange={value => bars({ barline: value || null })}
        />
        <Choice
          size="xs"
          label={measures.length > 1 ? 'Meter of these' : 'Meter of this one'}
          options={[...new Set([own, ...METERS])].map(text => ({ value: text, label: text }))}
          value={own}
          onChange={text => onEdit({ kind: 'meter', ids: measures, values: { meter: meterOf(text) } })}
        />
        {at === 0 && (
          <Choice
            size="xs"
            label="Pickup"
            options={pickupChoices(measure)}
            value={measure.ticks}
            onChange={ticks => onEdit({ kind: 'pickup', ids: [], values: { ticks } })}
          />
        )}
        <Choice
          size="xs"
          label="Key from here on"
          options={TONIC_CHOICES}
          value={key.tonic}
          onChange={tonic => onEdit({ kind: 'key', ids: [id], values: { key: { ...key, tonic } } })}
        />
        <Choice
          size="xs"
          label="Mode"
          options={MODES.map(mode => ({ value: mode, label: mode }))}
          value={key.mode}
          onChange={(mode: Mode) => onEdit({ kind: 'key', ids: [id], values: { key: { ...key, mode } } })}
        />
      </div>
      <Group gap={16} mb={8}>
        <Switch
          size="sm"
          label="Repeat begins"
          checked={measure.repeatStart ?? false}
          onChange={event => bars({ repeatStart: event.currentTarget.checked })}
        />
        <Switch
          size="sm"
          label="Repeat ends"
          checked={measure.repeatEnd ?? false}
          onChange={event => bars({ repeatEnd: event.currentTarget.checked })}
        />
        <Switch
          size="sm"
          label="Freely"
          checked={measure.free ?? false}
          onChange={event => bars({ free: event.currentTarget.checked })}
        />
        <Switch
          size="sm"
          label="Fermata here"
          checked={measure.fermatas?.includes(start) ?? false}
          onChange={event => bars({ fermata: { start, on: event.currentTarget.checked } })}
        />
      </Group>
      <MultiSelect
        size="xs"
        mb={8}
        label="Marks of the road"
        placeholder={measure.marks?.length ? '' : 'sign, coda, fine, D.C. …'}
        data={ROAD_MARKS.map(value => ({ value, label: ROAD_WORDS[value] }))}
        value={measure.marks ?? []}
        onChange={chosen => {
          const mark = ROAD_MARKS.find(
            own => chosen.includes(own) !== (measure.marks?.includes(own) ?? false),
          );
          if (mark) bars({ mark: { mark, on: chosen.includes(mark) } });
        }}
      />
      <TempoField
        label="Slower or faster, at its end"
        button="Set the tempo at its end"
        present={glide && beatsPerMinute(meter, glide.quartersPerMinute)}
        otherwise="even"
        onSet={beats => bars({ glide: beats === null ? null : quartersFromBeats(meter, beats) })}
      />
      <TempoField
        label="Beats a minute from here"
        button="Set the tempo"
        present={tempo && beatsPerMinute(meter, tempo.quartersPerMinute)}
        otherwise="as before"
        onSet={beats => bars({ tempo: beats === null ? null : quartersFromBeats(meter, beats) })}
      />
    </>
  );
}

/** A tempo in beats a minute that is set, and taken off again. */
function TempoField({
  label,
  button,
  present,
  otherwise,
  onSet,
}: {
  label: string;
  /** What the button is called for those who can't see the field beside it. */
  button: string;
  present: number | undefined;
  /** How it goes without. */
  otherwise: string;
  onSet: (beats: number | null) => void;
}) {
  const [beats, setBeats] = useState<number | string>('');
  return (
    <Group align="end" gap={8} mb={8}>
      <NumberInput
        size="xs"
        w={190}
        label={label}
        min={10}
        max={400}
        placeholder={present === undefined ? otherwise : String(Math.round(present))}
        value={beats}
        onChange={setBeats}
      />
      <Button
        size="compact-sm"
        variant="default"
        disabled={beats === ''}
        aria-label={button}
        onClick={() => {
          onSet(Number(beats));
          setBeats('');
        }}
      >
        Set
      </Button>
      {present !== undefined && (
        <Button size="compact-sm" variant="default" onClick={() => onSet(null)}>
          {capital(otherwise)}
        </Button>
      )}
    </Group>
  );
}
