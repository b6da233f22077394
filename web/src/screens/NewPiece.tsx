import { Alert, Button, NumberInput, Text, Textarea, TextInput } from '@mantine/core';
import { useForm } from '@mantine/form';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Reading } from '#core/formats';
import { type InstrumentId, standardSetup, tuningsOf } from '#core/instrument';
import { MODES, type Mode } from '#core/pitch';
import type { Arrangement, Style } from '#core/score';
import { pulseTicks, quartersFromBeats, TICKS_PER_WHOLE } from '#core/time';
import { blankTune, type Rights, type Tune } from '#core/tune';
import { useStoreChange } from '../data/queries';
import { newId, save, storeWords } from '../data/store';
import { arranger } from '../engine/workers';
import { STYLE_WORDS } from '../parts/arrangeWords';
import { Choice } from '../parts/Choice';
import { INSTRUMENT_CHOICES } from '../parts/instruments';
import { LettersHelp } from '../parts/LettersHelp';
import { Masthead } from '../parts/Masthead';
import { METERS, meterOf, TONIC_CHOICES } from '../parts/meters';
import { RIGHTS_CHOICES } from '../parts/rights';
import { TextReport } from '../parts/TextReport';
import { textStyle } from '../parts/textStyle';
import './NewPiece.css';

/** A pattern accompanies chords, and a piece that begins with nothing has none. */
const WRITTEN: Style[] = ['fingerstyle', 'chord-melody', 'melody'];

/** A piece that a teacher has in the fingers: no notation to paste, only what has to be known before the first note. */
export function NewPiece() {
  const navigate = useNavigate();
  const form = useForm({
    initialValues: {
      title: '',
      instrument: 'guitar' as InstrumentId,
      tuning: 'Standard',
      capo: 0,
      style: 'fingerstyle' as Style,
      meter: '4/4',
      tonic: 'G',
      mode: 'major' as Mode,
      beats: 80,
      measures: 8,
      pickup: 0,
      rights: 'own-work' as Rights,
      text: '',
    },
    validate: {
      title: title => (title.trim() ? null : 'A piece needs a name, so that it is found again'),
      capo: capo => (Number.isInteger(capo) && capo >= 0 && capo <= 12 ? null : 'Fret 0 to 12'),
      beats: beats => (beats >= 10 && beats <= 300 ? null : '10 to 300'),
      measures: count => (Number.isInteger(count) && count >= 1 && count <= 400 ? null : '1 to 400'),
      pickup: (count, { meter }) =>
        Number.isInteger(count) && count >= 0 && count < meterOf(meter).beats
          ? null
          : `0 to ${meterOf(meter).beats - 1}`,
    },
  });
  const { values } = form;
  const meter = meterOf(values.meter);
  const tunings = tuningsOf(values.instrument);

  /** What was asked back of the text. */
  const [reading, setReading] = useState<Reading>();
  const own = tunings.find(({ name }) => name === values.tuning);
  const setup = {
    ...standardSetup(values.instrument, values.capo),
    ...(own && { tuning: own.tuning }),
  };

  /** What the text makes; undefined while something in it is to be answered. */
  const fromText = async (): Promise<{ tune: Tune; arrangement: Arrangement } | undefined> => {
    const read = await arranger().readText(values.text, { setup, meter });
    setReading(read);
    if (read.questions.length) return undefined;
    const { heading } = read;
    const piece = await arranger().pieceOf(
      {
        ...read,
        // What the form says holds where the text says nothing.
        heading: {
          key: { tonic: values.tonic, mode: values.mode },
          ...heading,
          title: values.title.trim(),
        },
      },
      {
        tuneId: newId(),
        id: newId(),
        given: { setup, meter },
        style: values.style,
        rights: values.rights,
        quartersPerMinute: quartersFromBeats(meter, values.beats),
      },
    );
    if (piece.error !== undefined) throw new Error(piece.error);
    return piece;
  };

  const blank = async (): Promise<{ tune: Tune; arrangement: Arrangement }> => {
    const tune = blankTune({
      id: newId(),
      title: values.title.trim(),
      meter,
      key: { tonic: values.tonic, mode: values.mode },
      quartersPerMinute: quartersFromBeats(meter, values.beats),
      measures: values.measures,
      pickup: (values.pickup * TICKS_PER_WHOLE) / meter.unit,
      rights: values.rights,
    });
    const { instrument, style, capo } = values;
    const arrangement = await arranger().emptyArrangement(tune, {
      id: newId(),
      instrument,
      style,
      capo,
      setup,
    });
    return { tune, arrangement };
  };

  const begin = useStoreChange(async () => {
    const made = values.text.trim() ? await fromText() : await blank();
    if (!made) return;
    const { tune, arrangement } = made;
    await save('tunes', tune, undefined);
    await save('arrangements', arrangement, undefined);
    navigate(`/arrangement/${arrangement.id}`);
  });

  return (
    <div className="frame">
      <Masthead title="Begin with nothing" under="for what you have in the fingers" rail={{ tune: '/new' }} />
      <main className="page">
        <form className="panel new-piece" onSubmit={form.onSubmit(() => begin.mutate())}>
          <TextInput label="Name of the piece" data-autofocus {...form.getInputProps('title')} />
          <div className="fields">
            <Choice
              label="Instrument"
              options={INSTRUMENT_CHOICES}
              value={values.instrument}
              onChange={instrument => form.setValues({ instrument, tuning: tuningsOf(instrument)[0]!.name })}
            />
            <Choice
              label="Tuning"
              options={tunings.map(({ name }) => ({ value: name, label: name }))}
              value={values.tuning}
              onChange={tuning => form.setFieldValue('tuning', tuning)}
            />
            <NumberInput label="Capo" min={0} max={12} {...form.getInputProps('capo')} />
            <Choice
              label="Played as"
              options={WRITTEN.map(style => ({ value: style, label: STYLE_WORDS[style] }))}
              value={values.style}
              onChange={style => form.setFieldValue('style', style)}
            />
            <Choice
              label="Meter"
              options={METERS.map(text => ({ value: text, label: text }))}
              value={values.meter}
              onChange={text => form.setFieldValue('meter', text)}
            />
            <Choice
              label="Key, as it sounds"
              options={TONIC_CHOICES}
              value={values.tonic}
              onChange={tonic => form.setFieldValue('tonic', tonic)}
            />
            <Choice
              label="Mode"
              options={MODES.map(mode => ({ value: mode, label: mode }))}
              value={values.mode}
              onChange={mode => form.setFieldValue('mode', mode)}
            />
            <NumberInput
              label={`Tempo, beats a minute${pulseTicks(meter) * meter.unit === TICKS_PER_WHOLE ? '' : ' (dotted)'}`}
              {...form.getInputProps('beats')}
            />
            <NumberInput label="Measures" min={1} max={400} {...form.getInputProps('measures')} />
            <NumberInput
              label={`Pickup, in ${meter.unit === 8 ? 'eighths' : meter.unit === 2 ? 'halves' : 'quarters'}`}
              min={0}
              {...form.getInputProps('pickup')}
            />
            <Choice
              label="Rights"
              options={RIGHTS_CHOICES}
              value={values.rights}
              onChange={rights => form.setFieldValue('rights', rights)}
            />
          </div>
          <Textarea
            className="as-text"
            label="What you play, if you have it as text"
            description="Said string by string, or a tab to paste; it can also be written in the Workbench."
            placeholder={'s4 E 0 2h3 s3 0 2/4 | s2 Q 1 ...'}
            autosize
            minRows={3}
            maxRows={16}
            spellCheck={false}
            styles={{ input: textStyle(values.text) }}
            {...form.getInputProps('text')}
          />
          {reading && values.text && <TextReport reading={reading} />}
          <LettersHelp />
          {begin.error && (
            <Alert color="cranberry" title="The piece could not be begun">
              {storeWords(begin.error)}. What you have chosen stays here.
            </Alert>
          )}
          <Button type="submit" color="marigold.6" loading={begin.isPending}>
            Begin
          </Button>
          <Text size="sm" c="dimmed">
            In the Workbench digits write notes where the cursor stands. Measures can be added and taken out
            there.
          </Text>
        </form>
      </main>
    </div>
  );
}
