import { Group, NumberInput, Switch } from '@mantine/core';
import { playsOverBass, type TunePlan, VOICE_TYPES, type VoiceType } from '#core/capo';
import { keyName, prettyAccidentals } from '#core/pitch';
import type { Tune } from '#core/tune';
import { usePupils } from '../../data/queries';
import type { PlanPatch } from '../../engine/useTunePlan';
import { Choice } from '../../parts/Choice';
import { PITCH_CHOICES, USUAL_RANGE } from '../../parts/pitches';
import common from '../../theme/common.module.css';

export function VoicePanel({
  tune,
  plan,
  change,
}: {
  tune: Tune;
  plan: TunePlan;
  change: (patch: PlanPatch) => void;
}) {
  const { voice, target } = plan;
  const singers = (usePupils().data ?? []).flatMap(({ id, name, voice: own }) =>
    own ? [{ value: `pupil ${id}`, label: name, voice: own }] : [],
  );
  const singer = singers.find(own => own.voice.low === voice?.low && own.voice.high === voice.high)?.value;
  const kind = voice ? (voice.type ?? singer ?? 'own') : 'none';
  return (
    <section className={`${common.panel} ${common.stack}`} aria-label="Voice and pitch">
      <Choice
        label="Voice"
        options={[
          { value: 'none', label: 'Nobody sings' },
          ...Object.entries(VOICE_TYPES).map(([value, v]) => ({ value, label: v.name })),
          ...singers,
          { value: 'own', label: 'By lowest and highest note' },
        ]}
        value={kind}
        onChange={v => {
          const pupil = singers.find(own => own.value === v);
          if (v === 'none') change({ voice: undefined });
          else if (pupil) change({ voice: { low: pupil.voice.low, high: pupil.voice.high } });
          else if (v === 'own')
            change({ voice: { low: voice?.low ?? USUAL_RANGE.low, high: voice?.high ?? USUAL_RANGE.high } });
          else if (v) {
            const { low, high } = VOICE_TYPES[v as VoiceType];
            change({ voice: { type: v as VoiceType, low, high } });
          }
        }}
      />
      {voice && (
        <Group grow gap={8}>
          <Choice
            label="Lowest comfortable"
            options={PITCH_CHOICES.filter(p => Number(p.value) < voice.high)}
            value={String(voice.low)}
            onChange={v => change({ voice: { low: Number(v), high: voice.high } })}
          />
          <Choice
            label="Highest comfortable"
            options={PITCH_CHOICES.filter(p => Number(p.value) > voice.low)}
            value={String(voice.high)}
            onChange={v => change({ voice: { low: voice.low, high: Number(v) } })}
          />
        </Group>
      )}
      <Choice
        label="Sounding key"
        options={[
          {
            value: 'any',
            label: voice ? 'Any that suits the voice' : `Near the written ${keyName(tune.key)}`,
          },
          ...['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'].map(tonic => ({
            value: tonic,
            label: `Must sound in ${prettyAccidentals(tonic)}`,
          })),
        ]}
        value={target?.tonic ?? 'any'}
        onChange={v =>
          v &&
          change(v === 'any' ? { target: undefined } : { target: { tonic: v, within: target?.within ?? 0 } })
        }
      />
      {target && (
        <NumberInput
          label="Give or take, semitones"
          min={0}
          max={6}
          value={target.within}
          onChange={v =>
            typeof v === 'number' && change({ target: { ...target, within: Math.min(6, Math.max(0, v)) } })
          }
        />
      )}
      <Switch
        label="The melody is played over a bass"
        checked={playsOverBass(plan, tune)}
        onChange={event => change({ overBass: event.currentTarget.checked })}
      />
      <Switch
        label="No barre"
        checked={plan.wishes.noBarre ?? false}
        onChange={event => change({ wishes: { ...plan.wishes, noBarre: event.currentTarget.checked } })}
      />
    </section>
  );
}
