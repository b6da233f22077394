import { Alert, Button, Switch, Text } from '@mantine/core';
import { INSTRUMENTS, tuningName } from '#core/instrument';
import { keyName, transposeKey } from '#core/pitch';
import { LEVELS, type Level, STYLES } from '#core/score';
import { chordSpans, hasMelody, measureNumbers, type Tune } from '#core/tune';
import { storeWords } from '../../data/store';
import { ArrangeProgress } from '../../parts/arranging/ArrangeProgress';
import { LEVEL_WORDS, STYLE_WORDS } from '../../parts/arranging/arrangeWords';
import { OtherKeyNote } from '../../parts/arranging/OtherKeyNote';
import { OtherTuningNote } from '../../parts/arranging/OtherTuningNote';
import { TextureChoice } from '../../parts/arranging/TextureChoice';
import { BusyButton } from '../../parts/BusyButton';
import { Choice } from '../../parts/Choice';
import { INSTRUMENT_CHOICES } from '../../parts/instruments';
import common from '../../theme/common.module.css';
import type { Arranging } from './useArranging';

const levelChoices = LEVELS.map(level => ({ value: String(level), label: LEVEL_WORDS[level] }));

/** What a tune is to be arranged for, with what else it could be planned in. */
export function ArrangeIt({ tune, arranging }: { tune: Tune; arranging: Arranging }) {
  const { plan, planned, setup, keyTaken, style, level, offers, problem, progress } = arranging;
  const { arrange, writeIt, planAs } = arranging;
  const sings = hasMelody(tune);
  const textured = style === 'fingerstyle';
  const numbers = measureNumbers(tune.measures);
  return (
    <section className={common.panel} aria-labelledby="arrange-title">
      <h2 id="arrange-title">Arrange it</h2>
      <div style={{ display: 'grid', gap: 10, maxWidth: 380 }}>
        {!keyTaken && (
          <Choice
            label="Instrument"
            options={INSTRUMENT_CHOICES}
            value={setup.instrument}
            onChange={id => arranging.setInstrument?.(id)}
            disabled={!arranging.setInstrument}
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
            checked={arranging.asPlanned}
            onChange={event => arranging.setAsPlanned(event.currentTarget.checked)}
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
          onChange={arranging.setStyle}
        />
        {style !== 'melody' && style !== 'pattern' && (
          <Choice
            label="Level"
            options={levelChoices}
            value={String(level)}
            onChange={v => arranging.setLevel(Number(v) as Level)}
          />
        )}
        {textured && level > 2 && (
          <TextureChoice
            tune={tune}
            {...(planned && { setup: planned.setup })}
            value={arranging.texture}
            otherwise="as the tune asks"
            onChange={arranging.setTexture}
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
            value={arranging.capo}
            onChange={arranging.setCapo}
          />
        )}
        {offers?.key && (
          <OtherKeyNote
            offer={offers.key}
            action={`Plan it in ${keyName(offers.key.other.soundingKey)}`}
            onAct={() => planAs(offers.key!.other)}
          />
        )}
        {offers?.tuning && (
          <OtherTuningNote offer={offers.tuning} onAct={() => planAs(offers.tuning!.other)} />
        )}
        {arranging.offersError && (
          <Text size="sm">No other key or tuning could be looked for: {arranging.offersError.message}</Text>
        )}
        <BusyButton color="marigold.6" busy={arrange.isPending} onClick={() => arrange.mutate()}>
          Arrange
        </BusyButton>
        <BusyButton variant="default" busy={writeIt.isPending} onClick={() => writeIt.mutate()}>
          Write it yourself, note by note
        </BusyButton>
        {progress !== undefined && (
          <>
            <ArrangeProgress done={progress} />
            <Button variant="default" onClick={arranging.stop}>
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
            <Text size="sm">In the way: measure {problem.measures.map(m => numbers[m]).join(', ')}.</Text>
          )}
          <ul>
            {problem.offers.map(offer => (
              <li key={offer}>{offer}</li>
            ))}
          </ul>
        </Alert>
      )}
    </section>
  );
}
