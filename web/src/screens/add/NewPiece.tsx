import { Alert, NumberInput, Switch, Text, Textarea, TextInput, Title } from '@mantine/core';
import { useForm } from '@mantine/form';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import type { Reading } from '#core/formats';
import { withKindOfTitle } from '#core/formats/fields';
import {
  type InstrumentId,
  parseTuning,
  type Setup,
  standardSetup,
  tuningName,
  tuningsOf,
} from '#core/instrument';
import { type Key, MODES, type Mode, prettyAccidentals } from '#core/pitch';
import type { Arrangement, Style } from '#core/score';
import {
  beatsPerMinute,
  type Meter,
  meterName,
  pulseTicks,
  quartersFromBeats,
  TICKS_PER_WHOLE,
} from '#core/time';
import { blankTune, type Rights, type Tune } from '#core/tune';
import { useStoreChange } from '../../data/queries';
import { newId, save, storeWords } from '../../data/store';
import { arranger } from '../../engine/workers';
import { STYLE_WORDS } from '../../parts/arranging/arrangeWords';
import { BusyButton } from '../../parts/BusyButton';
import { Choice } from '../../parts/Choice';
import { DraftTrouble, useDraft } from '../../parts/draft';
import { INSTRUMENT_CHOICES } from '../../parts/instruments';
import { LettersHelp } from '../../parts/LettersHelp';
import { Masthead } from '../../parts/Masthead';
import { METERS, meterOf, TONIC_CHOICES } from '../../parts/meters';
import { RIGHTS_CHOICES } from '../../parts/rights';
import { TextReport } from '../../parts/TextReport';
import { textStyle } from '../../parts/textStyle';
import common from '../../theme/common.module.css';
import styles from './NewPiece.module.css';

/** A pattern accompanies chords, and a piece that begins with nothing has none. */
const WRITTEN: Style[] = ['fingerstyle', 'chord-melody', 'melody'];
/** Milliseconds without a key after which a text is read. */
const PAUSE = 250;

/** What a piece begins with where neither its text nor the teacher says anything else. */
const USUAL = {
  title: '',
  instrument: 'guitar' as InstrumentId,
  /** By its name, or note by note from the thickest string. */
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
};
type Values = typeof USUAL;

/** What a text says of its piece, as the form has it. */
function saidBy({ heading, measures, pickup, players }: Reading, key: Key | undefined): Partial<Values> {
  const { instrument, tuning, capo, meter, quartersPerMinute } = heading;
  const own = meter ?? meterOf(USUAL.meter);
  const player = players?.names[players.read];
  // Each player's part is a piece of its own on the shelf.
  const title = heading.title && player ? `${heading.title}, ${player}` : heading.title;
  return {
    ...(title !== undefined && { title }),
    ...(instrument && { instrument }),
    ...(tuning && { tuning: tuningName({ instrument: instrument ?? USUAL.instrument, tuning }) }),
    ...(capo !== undefined && { capo }),
    ...(meter && { meter: meterName(meter) }),
    ...(key && { tonic: key.tonic, mode: key.mode }),
    ...(quartersPerMinute !== undefined && {
      beats: Math.round(beatsPerMinute(own, quartersPerMinute) * 100) / 100,
    }),
    measures: measures.length,
    pickup: ((pickup ?? 0) * own.unit) / TICKS_PER_WHOLE,
  };
}

/** A text with the key of its notes, or what has to be answered first. */
async function pieceFrom(
  text: string,
  { setup, meter, player }: { setup: Setup | undefined; meter: Meter | undefined; player: number },
): Promise<{ reading: Reading; key?: Key }> {
  const given = { ...(setup && { setup }), ...(meter && { meter }) };
  const reading = await arranger().readText(text, { ...given, player });
  if (reading.questions.length) return { reading };
  const piece = await arranger().pieceOf(reading, { tuneId: 'read', id: 'read', given });
  if (piece.error !== undefined)
    return { reading: { ...reading, questions: [{ line: 1, column: 1, message: piece.error }] } };
  return { reading: { ...reading, guesses: [...reading.guesses, ...piece.guesses] }, key: piece.tune.key };
}

/** The choices of a list, with one more where none of them is meant. */
function withOwn<T extends string>(options: { value: T; label: string }[], value: T, label: string = value) {
  return options.some(option => option.value === value) ? options : [...options, { value, label }];
}

/** Instrument, tuning and capo of a form. */
function setupOf({ instrument, tuning, capo }: Pick<Values, 'instrument' | 'tuning' | 'capo'>): Setup {
  const named = tuningsOf(instrument).find(({ name }) => name === tuning);
  const typed = parseTuning(tuning, instrument);
  const own = named?.tuning ?? ('error' in typed ? undefined : typed);
  return { ...standardSetup(instrument, capo), ...(own && { tuning: own }) };
}

/**
 * A piece that a teacher has in the fingers, or as a text: no notation to paste, only what has to be known before the first
 * note. What the text says stands in the form, and holds unless something else is chosen there.
 */
export function NewPiece() {
  const navigate = useNavigate();
  const given = (useLocation().state as { text?: string; name?: string } | null) ?? {};
  const { text = '', setText, unkept, forget } = useDraft('draft-piece', given.text, true);
  const [settled] = useDebouncedValue(text, PAUSE);
  /** Whose part of a text for several players is read. */
  const [player, setPlayer] = useState(0);
  /** Whether the parts of the others become pieces, too. */
  const [withOthers, setWithOthers] = useState(false);
  const form = useForm<Partial<Values>>({
    initialValues: {},
    validate: {
      title: () => (values.title.trim() ? null : 'A piece needs a name, so that it is found again'),
      capo: () =>
        Number.isInteger(values.capo) && values.capo >= 0 && values.capo <= 12 ? null : 'Fret 0 to 12',
      beats: () => (values.beats >= 10 && values.beats <= 300 ? null : '10 to 300'),
      measures: () =>
        text.trim() || (Number.isInteger(values.measures) && values.measures >= 1 && values.measures <= 400)
          ? null
          : '1 to 400',
      pickup: () =>
        text.trim() ||
        (Number.isInteger(values.pickup) && values.pickup >= 0 && values.pickup < meterOf(values.meter).beats)
          ? null
          : `0 to ${meterOf(values.meter).beats - 1}`,
    },
  });
  /** What is chosen here and not said by the text. */
  const chosen = form.values;
  const request = {
    setup:
      chosen.instrument === undefined && chosen.tuning === undefined
        ? undefined
        : setupOf({ ...USUAL, ...chosen }),
    meter: chosen.meter === undefined ? undefined : meterOf(chosen.meter),
    player,
  };
  const read = useQuery({
    queryKey: ['piece text', settled, request],
    queryFn: () => pieceFrom(settled, request),
    enabled: settled.trim() !== '',
    gcTime: 0,
    retry: false,
    placeholderData: before => before,
  });
  const known = text.trim() ? read.data : undefined;
  const valuesWith = (made: Awaited<ReturnType<typeof pieceFrom>> | undefined): Values => {
    const said = made && saidBy(made.reading, made.key);
    const { instrument = USUAL.instrument } = { ...chosen, ...said };
    return {
      ...USUAL,
      // On four or five strings a melody is played alone.
      ...(tuningsOf(instrument)[0]!.tuning.length < 6 && { style: 'melody' as Style }),
      // A tab is rather found than made.
      ...(text.includes('---') && { rights: 'unknown' }),
      ...(given.name !== undefined && { title: given.name }),
      ...said,
      ...chosen,
      // Rows are read for their instrument and in their meter.
      ...(said?.instrument && { instrument: said.instrument }),
      ...(said?.meter && { meter: said.meter }),
    };
  };
  const values = valuesWith(known);
  const meter = meterOf(values.meter);
  const tunings = tuningsOf(values.instrument);
  const setup = setupOf(values);

  /** What the text makes for a player; undefined while something in that part is to be answered. */
  const fromText = async (own: number): Promise<{ tune: Tune; arrangement: Arrangement } | undefined> => {
    const made = await pieceFrom(text, { ...request, player: own });
    const { reading } = made;
    if (reading.questions.length) return undefined;
    const final = valuesWith(made);
    // A name that is typed is that of the part which is chosen.
    if (own !== player && chosen.title !== undefined)
      final.title = `${chosen.title.trim()}, ${reading.players?.names[own]}`;
    const piece = await arranger().pieceOf(
      {
        ...reading,
        heading: {
          ...reading.heading,
          title: final.title.trim(),
          capo: final.capo,
          tuning: [...setupOf(final).tuning],
          key: { tonic: final.tonic, mode: final.mode },
          quartersPerMinute: quartersFromBeats(meterOf(final.meter), final.beats),
        },
      },
      {
        tuneId: newId(),
        id: newId(),
        given: { setup: setupOf(final), meter: meterOf(final.meter) },
        style: final.style,
        rights: final.rights,
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

  /** The pieces of the other players, all or none of them. */
  const ofOthers = async (): Promise<{ tune: Tune; arrangement: Arrangement }[]> => {
    const names = (withOthers && known?.reading.players?.names) || [];
    const made: { tune: Tune; arrangement: Arrangement }[] = [];
    for (const [own, name] of names.entries()) {
      if (own === player) continue;
      const piece = await fromText(own);
      if (!piece)
        throw new Error(`in the part of ${name} something is to be answered first: choose it to see what`);
      made.push(piece);
    }
    return made;
  };

  const begin = useStoreChange(async () => {
    const own = text.trim() ? await fromText(player) : await blank();
    if (!own) return;
    for (const { tune, arrangement } of [...(await ofOthers()), own]) {
      await save('tunes', withKindOfTitle(tune), undefined);
      await save('arrangements', arrangement, undefined);
    }
    await forget();
    navigate(`/arrangement/${own.arrangement.id}`, { state: { isNew: true } });
  });

  /** What is said of a choice that the text does not leave. */
  const otherwise = (field: 'instrument' | 'meter') =>
    chosen[field] !== undefined && chosen[field] !== values[field] ? 'The text says otherwise' : undefined;
  return (
    <div className={common.frame}>
      <Masthead
        title={text.trim() ? 'A piece from its text' : 'Begin with nothing'}
        under="for what you have in the fingers"
        rail={{}}
      />
      <main className={common.page}>
        <form className={`${common.panel} ${styles.newPiece}`} onSubmit={form.onSubmit(() => begin.mutate())}>
          <TextInput
            label="Name of the piece"
            data-autofocus
            {...form.getInputProps('title')}
            value={values.title}
          />
          <Textarea
            className={styles.asText}
            label="What you play, if you have it as text"
            description="Said string by string, or a tab to paste; it can also be written in the Workbench."
            placeholder={'s4 E 0 2h3 s3 0 2/4 | s2 Q 1 ...'}
            autosize
            minRows={3}
            maxRows={16}
            spellCheck={false}
            styles={{ input: textStyle(text) }}
            value={text}
            onChange={event => setText(event.currentTarget.value)}
          />
          <LettersHelp />
          <div role="status" aria-live="polite" className={styles.asText}>
            {known && (
              <>
                <Title order={2}>What was understood</Title>
                {known.reading.players && (
                  <>
                    <Choice
                      label="The player whose part it is"
                      options={known.reading.players.names.map((name, i) => ({
                        value: String(i),
                        label: name,
                      }))}
                      value={String(known.reading.players.read)}
                      onChange={own => setPlayer(Number(own))}
                    />
                    <Switch
                      label="Put the others’ parts on the shelf, too"
                      description="Each is a piece of its own."
                      checked={withOthers}
                      onChange={event => setWithOthers(event.currentTarget.checked)}
                    />
                  </>
                )}
                <TextReport reading={known.reading} />
              </>
            )}
            {read.error && text.trim() && (
              <Text size="sm" c="var(--cranberry)">
                The text could not be read: {read.error.message}
              </Text>
            )}
          </div>
          <div className={styles.fields}>
            <Choice
              label="Instrument"
              description={otherwise('instrument')}
              options={INSTRUMENT_CHOICES}
              value={values.instrument}
              onChange={instrument => form.setValues({ instrument, tuning: tuningsOf(instrument)[0]!.name })}
            />
            <Choice
              label="Tuning"
              options={withOwn(
                tunings.map(({ name }) => ({ value: name, label: name })),
                values.tuning,
              )}
              value={values.tuning}
              onChange={tuning => form.setFieldValue('tuning', tuning)}
            />
            <NumberInput label="Capo" min={0} max={12} {...form.getInputProps('capo')} value={values.capo} />
            <Choice
              label="Played as"
              options={WRITTEN.map(style => ({ value: style, label: STYLE_WORDS[style] }))}
              value={values.style}
              onChange={style => form.setFieldValue('style', style)}
            />
            <Choice
              label="Meter"
              description={otherwise('meter')}
              options={withOwn(
                METERS.map(own => ({ value: own, label: own })),
                values.meter,
              )}
              value={values.meter}
              onChange={own => form.setFieldValue('meter', own)}
            />
            <Choice
              label="Key, as it sounds"
              options={withOwn(TONIC_CHOICES, values.tonic, prettyAccidentals(values.tonic))}
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
              value={values.beats}
            />
            <NumberInput
              label="Measures"
              min={1}
              max={400}
              disabled={text.trim() !== ''}
              {...form.getInputProps('measures')}
              value={values.measures}
            />
            <NumberInput
              label={`Pickup, in ${meter.unit === 8 ? 'eighths' : meter.unit === 2 ? 'halves' : 'quarters'}`}
              min={0}
              disabled={text.trim() !== ''}
              {...form.getInputProps('pickup')}
              value={values.pickup}
            />
            <Choice
              label="Rights"
              options={RIGHTS_CHOICES}
              value={values.rights}
              onChange={rights => form.setFieldValue('rights', rights)}
            />
          </div>
          <DraftTrouble unkept={unkept} error={undefined} />
          {begin.error && (
            <Alert color="cranberry" title="The piece could not be begun">
              {storeWords(begin.error)}. What you have chosen stays here.
            </Alert>
          )}
          <BusyButton type="submit" color="marigold.6" busy={begin.isPending}>
            Begin
          </BusyButton>
          <Text size="sm" c="dimmed">
            In the Workbench digits write notes where the cursor stands. Measures can be added and taken out
            there.
          </Text>
        </form>
      </main>
    </div>
  );
}
