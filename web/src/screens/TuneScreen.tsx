import { Alert, Button, Group, NumberInput, Switch, Text, Title } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import {
  type ArrangeProblem,
  type ArrangeRequest,
  type ArrangeResult,
  BEGINNERS,
  type TextureName,
  textureIn,
} from '#core/arrange';
import { type KeyPlan, takenKey } from '#core/capo';
import { writeGroups } from '#core/formats/groups';
import { DEFAULT_HAND } from '#core/hand';
import { INSTRUMENTS, type InstrumentId, standardSetup, tuningName } from '#core/instrument';
import { keyFifths, keyName, midiOf, pitchName, spellMidi, transposeKey } from '#core/pitch';
import { LEVELS, type Level, STYLES, type Style } from '#core/score';
import { beatsPerMinute, quartersFromBeats } from '#core/time';
import { playingOrder } from '#core/timeline';
import {
  chordSpans,
  formOf,
  groupingsOf,
  hasMelody,
  measureNumbers,
  measureSpan,
  melodyRange,
  type Rights,
  secondVoice,
  sectionsOf,
  type Tune,
  transposeTune,
  type VoicePlace,
  withSecondVoice,
} from '#core/tune';
import type { Copy } from '../data/copies';
import { markOf as objectMark } from '../data/mark';
import { useArrangements, useStoreChange } from '../data/queries';
import { newId, save, storeWords } from '../data/store';
import { usePlayback } from '../engine/player';
import { useTunePlan } from '../engine/useTunePlan';
import { arranger, arrangeStoppable, warmArranging } from '../engine/workers';
import { ArrangeProgress } from '../parts/ArrangeProgress';
import { LEVEL_WORDS, STYLE_WORDS } from '../parts/arrangeWords';
import { Choice } from '../parts/Choice';
import { FEEL_CHOICES } from '../parts/feelWords';
import { TuneGate } from '../parts/Gates';
import { HarmonyPanel } from '../parts/HarmonyPanel';
import { INSTRUMENT_CHOICES } from '../parts/instruments';
import { Masthead } from '../parts/Masthead';
import { OtherKeyNote } from '../parts/OtherKeyNote';
import { OtherTuningNote } from '../parts/OtherTuningNote';
import { RIGHTS_CHOICES } from '../parts/rights';
import { Stave } from '../parts/Stave';
import { TextureChoice } from '../parts/TextureChoice';
import { WordSheet } from '../parts/WordSheet';
import common from '../theme/common.module.css';
import { ArrangementList } from './ArrangementList';
import styles from './TuneScreen.module.css';

/** The tune itself: stave, form, chords, words; heard; and the way to an arrangement. */
export function TuneScreen() {
  return <TuneGate>{(tune, copy) => <TunePage key={tune.id} tune={tune} copy={copy} />}</TuneGate>;
}

const SECOND_VOICES: { value: VoicePlace | ''; label: string }[] = [
  { value: '', label: 'one voice' },
  { value: 'below', label: 'a second voice below' },
  { value: 'above', label: 'a second voice above' },
];

const levelChoices = LEVELS.map(level => ({ value: String(level), label: LEVEL_WORDS[level] }));

function TunePage({ tune, copy }: { tune: Tune; copy: Copy<'tunes'> }) {
  const navigate = useNavigate();
  const arrangements = useArrangements(tune.id);
  const { state: playing, toggle: playOrStop } = usePlayback();
  /** What it is played on where not as planned. */
  const [otherwise, setOtherwise] = useState<InstrumentId>('guitar');
  const sings = hasMelody(tune);
  const [style, setStyle] = useState<Style>(sings ? 'fingerstyle' : 'pattern');
  const [level, setLevel] = useState<Level>(3);
  const [texture, setTexture] = useState<TextureName>();
  const [capo, setCapo] = useState('auto');
  const settling = useTunePlan(tune.id);
  const plan = settling?.settled ? settling.plan : undefined;
  const [asPlanned, setAsPlanned] = useState(true);
  const planned = asPlanned ? plan : undefined;
  const keyTaken = planned !== undefined && !planned.keyOpen;
  const [problem, setProblem] = useState<ArrangeProblem>();
  const [progress, setProgress] = useState<number>();
  const stop = useRef(() => {});
  const onSheet = tune.song !== undefined && !sings;
  const [drawn, setDrawn] = useState(onSheet);
  const onDrawn = useCallback(() => setDrawn(true), []);
  useEffect(() => {
    warmArranging();
    // Leaving the screen stops what is still being made.
    return () => stop.current();
  }, []);
  const range = melodyRange(tune);
  const [second, setSecond] = useState<VoicePlace | ''>('');
  const shownTune = useMemo(() => (second ? withSecondVoice(tune, second) : tune), [tune, second]);
  const secondRange = useMemo(() => {
    const midis = second ? [...secondVoice(tune, second).values()].map(midiOf) : [];
    return midis.length ? { low: Math.min(...midis), high: Math.max(...midis) } : undefined;
  }, [tune, second]);
  const fifths = keyFifths(tune.key);
  const name = (midi: number) => pitchName(spellMidi(midi, fifths), true);
  const numbers = measureNumbers(tune.measures);

  const { groups } = tune.meter;
  const groupings = groupingsOf(tune.meter);

  const setup = planned?.setup ?? standardSetup(plan ? otherwise : 'guitar');
  // Key & capo and Shapes go on with the instrument that is chosen here.
  const setInstrument = (id: InstrumentId) => {
    if (plan && !planned) setOtherwise(id);
    else settling?.change({ setup: standardSetup(id), choices: {} });
  };
  const strings = setup.tuning.length;
  const textured = style === 'fingerstyle';
  const overBass = strings > 4 && (textured || style === 'chord-melody');
  const hand = planned?.hand ?? DEFAULT_HAND;
  const beginner = hand.beginner || level <= BEGINNERS;
  // The first level has a melody alone.
  const offering = overBass && level > 1 && !keyTaken && capo === 'auto' && sings;
  const offers = useQuery({
    queryKey: ['offers', objectMark(tune), setup, hand, beginner],
    queryFn: () => arranger().offers(tune, { setup, hand, overBass: true, beginner }),
    enabled: offering,
  });

  /** What it is played on, and how, as it was planned. */
  const played = () => ({
    instrument: setup.instrument,
    ...(planned && {
      setup,
      hand,
      transposition: planned.transposition,
      choices: planned.choices,
      wishes: planned.wishes,
    }),
  });
  const asked = (): ArrangeRequest => ({
    id: newId(),
    style,
    settings: {
      level,
      ...(style === 'pattern' && planned?.pattern && { pattern: planned.pattern }),
      ...(textured && level > 2 && texture && textureIn(texture, tune.meter)),
    },
    ...played(),
    capo: keyTaken ? setup.capo : capo === 'auto' ? 'auto' : Number(capo),
  });
  const arrange = useStoreChange(async () => {
    setProblem(undefined);

    const result = await new Promise<ArrangeResult | { error: string } | undefined>(resolve => {
      const end = arrangeStoppable(tune, asked(), setProgress, resolve);
      stop.current = () => {
        end();
        resolve(undefined);
      };
    });
    setProgress(undefined);
    if (!result) return;
    if ('error' in result) throw new Error(result.error);
    if (result.problem) {
      setProblem(result.problem);
      return;
    }
    await save('arrangements', result.arrangement, undefined);
    navigate(`/arrangement/${result.arrangement.id}`, { state: { isNew: true } });
  });
  const writeIt = useStoreChange(async () => {
    const made = await arranger().emptyArrangement(tune, {
      id: newId(),
      style: style === 'pattern' ? 'fingerstyle' : style,
      ...played(),
      capo: keyTaken ? setup.capo : capo === 'auto' ? 0 : Number(capo),
    });
    await save('arrangements', made, undefined);
    navigate(`/arrangement/${made.id}`, { state: { isNew: true } });
  });
  const planAs = (offered: KeyPlan) => {
    settling?.change({ ...takenKey(offered), overBass: true });
    setAsPlanned(true);
  };
  /** The melody; a song as it would be accompanied. */
  const hear = useStoreChange(async () => {
    if (sings || playing.status !== 'stopped') {
      playOrStop({ what: 'melody', tune: shownTune, setup: standardSetup('guitar'), percent: 100 }, false);
      return;
    }
    const { arrangement, problem: fault } = await arranger().arrange(tune, asked());
    if (fault) {
      setProblem(fault);
      return;
    }
    const order = playingOrder(arrangement);
    playOrStop({ what: 'arrangement', arrangement, order, percent: 100, click: false, countIn: true }, false);
  });

  return (
    <div className={common.frame}>
      <Masthead
        title={tune.title}
        under={[tune.rhythm, keyName(tune.key), tune.source ?? tune.composer].filter(Boolean).join(' · ')}
        rail={{ tuneId: tune.id, arrangementId: arrangements.data?.[0]?.id }}
      />
      <main className={common.page}>
        <Group align="end" mb="md" gap="lg">
          <div>
            <Title order={2} size="h4" mb={4}>
              Form
            </Title>
            <ul
              className={styles.formStrip}
              aria-label={`Form: ${formOf(tune.measures, tune.order).join(' ')}`}
            >
              {sectionsOf(tune.measures).flatMap(section =>
                Array.from({ length: section.passes }, (_, i) => i + 1).map(time => (
                  <li key={`${section.from}-${time}`}>
                    {section.name}
                    <small>{time === 1 ? measureSpan(numbers, section.from, section.to - 1) : 'again'}</small>
                  </li>
                )),
              )}
            </ul>
          </div>
          <div style={{ flex: 1 }} />
          <NumberInput
            label="Tempo, beats a minute"
            w={150}
            min={10}
            max={300}
            value={Math.round(beatsPerMinute(tune.meter, tune.quartersPerMinute))}
            onChange={value =>
              typeof value === 'number' &&
              value >= 10 &&
              value <= 300 &&
              copy.replace({ ...tune, quartersPerMinute: quartersFromBeats(tune.meter, value) })
            }
          />
          {groupings.length > 1 && (
            <Choice
              label="Beats go together"
              options={[
                ...(groups ? [] : [{ value: '', label: 'not said' }]),
                ...groupings.map(own => ({ value: own.join('+'), label: own.join(' + ') })),
              ]}
              value={groups?.join('+') ?? ''}
              onChange={value => value && copy.replace(writeGroups(tune, value.split('+').map(Number)))}
            />
          )}
          <Choice
            label="Feel"
            options={FEEL_CHOICES}
            value={tune.feel ?? 'straight'}
            onChange={feel => copy.replace({ ...tune, feel })}
          />
          <Choice
            label="Rights"
            options={RIGHTS_CHOICES}
            value={tune.rights}
            onChange={value => copy.replace({ ...tune, rights: value as Rights })}
          />
          <Button
            variant="default"
            loading={playing.status === 'preparing' || hear.isPending}
            disabled={!sings && !chordSpans(tune).length}
            onClick={() => hear.mutate()}
          >
            {playing.status === 'playing' ? 'Stop' : 'Hear it'}
          </Button>
          <Button variant="default" component={Link} to={`/tune/${tune.id}/source`}>
            Edit the source
          </Button>
          {chordSpans(tune).length > 0 && (
            <Button variant="default" component={Link} to={`/tune/${tune.id}/words`}>
              Words and chords
            </Button>
          )}
        </Group>
        {onSheet ? (
          <section className={styles.songWords} aria-label="Words and chords">
            <WordSheet
              tune={transposeTune(tune, plan?.transposition ?? 0)}
              capo={plan?.setup.capo ?? 0}
              names="both"
            />
          </section>
        ) : (
          <Stave tune={shownTune} onDrawn={onDrawn} />
        )}
        {tune.verses && (
          <details>
            <summary>Further words</summary>
            <p style={{ whiteSpace: 'pre-line' }}>{tune.verses.join('\n')}</p>
          </details>
        )}
        {playing.error && <Alert color="cranberry">No sound: {playing.error}</Alert>}
        {range && (
          <Group mt={6} gap="md">
            <Text size="sm" c="dimmed">
              The melody goes from {name(range.low)} to {name(range.high)}.
            </Text>
            <Choice aria-label="A second voice" options={SECOND_VOICES} value={second} onChange={setSecond} />
            {second && secondRange && (
              <Text size="sm" c="dimmed">
                The second voice goes from {name(secondRange.low)} to {name(secondRange.high)}; it can be put
                into an arrangement under Parts.
              </Text>
            )}
          </Group>
        )}
        <div
          style={{
            display: 'grid',
            gridTemplateColumns: 'repeat(auto-fit, minmax(300px, 1fr))',
            gap: 32,
            marginTop: 24,
            // What is pressed here must not move away under the pointer when the stave above gets its height.
            visibility: drawn ? undefined : 'hidden',
          }}
        >
          <section className={common.panel} aria-labelledby="arrange-title">
            <h2 id="arrange-title">Arrange it</h2>
            <div style={{ display: 'grid', gap: 10, maxWidth: 380 }}>
              {!keyTaken && (
                <Choice
                  label="Instrument"
                  options={INSTRUMENT_CHOICES}
                  value={setup.instrument}
                  onChange={setInstrument}
                  disabled={!settling}
                />
              )}
              {plan && (
                <Switch
                  label="As planned in Key & capo and Shapes"
                  description={[
                    INSTRUMENTS[plan.setup.instrument].name,
                    tuningName(plan.setup),
                    ...(plan.keyOpen
                      ? ['no key taken yet']
                      : [
                          `${keyName(transposeKey(tune.key, plan.transposition - plan.setup.capo))} shapes`,
                          plan.setup.capo ? `capo ${plan.setup.capo}` : 'no capo',
                        ]),
                  ].join(', ')}
                  checked={asPlanned}
                  onChange={event => setAsPlanned(event.currentTarget.checked)}
                />
              )}
              <Choice
                label="Style"
                options={STYLES.map(s => ({
                  value: s,
                  label: STYLE_WORDS[s],
                  disabled: !sings && s !== 'pattern',
                }))}
                description={
                  sings
                    ? undefined
                    : chordSpans(tune).length
                      ? 'There is no melody in this tune: its chords are accompanied.'
                      : 'There is neither a melody nor a chord in this tune: write it yourself, note by note.'
                }
                value={style}
                onChange={setStyle}
              />
              {style !== 'melody' && style !== 'pattern' && (
                <Choice
                  label="Level"
                  options={levelChoices}
                  value={String(level)}
                  onChange={v => setLevel(Number(v) as Level)}
                />
              )}
              {textured && level > 2 && (
                <TextureChoice
                  tune={tune}
                  {...(planned && { setup: planned.setup })}
                  value={texture}
                  otherwise="as the tune asks"
                  onChange={setTexture}
                />
              )}
              {!keyTaken && (
                <Choice
                  label="Capo"
                  options={[
                    { value: 'auto', label: 'Find the best one' },
                    { value: '0', label: 'No capo' },
                    ...Array.from({ length: 9 }, (_, i) => ({
                      value: String(i + 1),
                      label: `Fret ${i + 1}`,
                    })),
                  ]}
                  value={capo}
                  onChange={v => setCapo(v)}
                />
              )}
              {offering && offers.data?.key && (
                <OtherKeyNote
                  offer={offers.data.key}
                  action={`Plan it in ${keyName(offers.data.key.other.soundingKey)}`}
                  onAct={() => planAs(offers.data.key!.other)}
                />
              )}
              {offering && offers.data?.tuning && (
                <OtherTuningNote offer={offers.data.tuning} onAct={() => planAs(offers.data.tuning!.other)} />
              )}
              {offers.error && (
                <Text size="sm">No other key or tuning could be looked for: {offers.error.message}</Text>
              )}
              <Button color="marigold.6" loading={arrange.isPending} onClick={() => arrange.mutate()}>
                Arrange
              </Button>
              <Button variant="default" loading={writeIt.isPending} onClick={() => writeIt.mutate()}>
                Write it yourself, note by note
              </Button>
              {progress !== undefined && (
                <>
                  <ArrangeProgress done={progress} />
                  <Button variant="default" onClick={() => stop.current()}>
                    Stop
                  </Button>
                </>
              )}
            </div>
            {writeIt.error && (
              <Alert color="cranberry" mt="md" title="It could not be begun">
                {storeWords(writeIt.error)}
              </Alert>
            )}
            {arrange.error && (
              <Alert color="cranberry" mt="md" title="The arrangement could not be made">
                {arrange.error.message}
              </Alert>
            )}
            {problem && (
              <Alert color="cranberry" mt="md" title="This tune can't be arranged so">
                <Text size="sm">{problem.message}</Text>
                {problem.measures.length > 0 && (
                  <Text size="sm">
                    In the way: measure {problem.measures.map(m => numbers[m]).join(', ')}.
                  </Text>
                )}
                <ul>
                  {problem.offers.map(offer => (
                    <li key={offer}>{offer}</li>
                  ))}
                </ul>
              </Alert>
            )}
          </section>
          <HarmonyPanel tune={tune} onTune={copy.replace} />
          <section className={common.panel}>
            <h2>Arrangements of this tune</h2>
            {!arrangements.data?.length && <Text c="dimmed">None yet.</Text>}
            <ArrangementList entries={arrangements.data ?? []} />
            <Text size="sm" c="dimmed">
              Stretches, barres and repetition strain hands: warm up, rest, and stop at pain or numbness; if
              it stays, see a doctor or physiotherapist.
            </Text>
          </section>
        </div>
      </main>
    </div>
  );
}
