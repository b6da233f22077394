import { Group, NumberInput, Switch } from '@mantine/core';
import { useMemo } from 'react';
import { ornamentingOf, patternSuiting, textureIn, textureNamed } from '#core/arrange';
import { measureDifficulty } from '#core/check';
import { HAND_SIZES } from '#core/hand';
import { isOpenTo } from '#core/instrument';
import { pitchClassOf } from '#core/pitch';
import {
  type Arrangement,
  type ArrangeSettings,
  BASSES_IN_TURN,
  LEVELS,
  STYLES,
  type Style,
  usualSettings,
} from '#core/score';
import { beatsPerMinute, isCompound, quartersFromBeats } from '#core/time';
import type { Tune } from '#core/tune';
import {
  ALTERNATION_WORDS,
  BASS_WORDS,
  DENSITY_WORDS,
  DOUBLING_WORDS,
  LEVEL_WORDS,
  ORNAMENTING_WORDS,
  SCHOOL_WORDS,
  STYLE_WORDS,
} from '../../../parts/arranging/arrangeWords';
import type { ArrangingWishes } from '../../../parts/arranging/requestAnew';
import { TextureChoice } from '../../../parts/arranging/TextureChoice';
import { Choice, optionsOf } from '../../../parts/Choice';
import { MannerChoice } from './MannerChoice';
import { Patterns } from './Patterns';

/** How an arrangement is to be made anew: its style, level, bass, pattern, ornaments, hands and tempo. */
export function ArrangeWishes({
  arrangement,
  tune,
  chosen,
  wishes,
  onChange,
}: {
  arrangement: Arrangement;
  tune: Tune;
  /** Ids of the tune's measures that are chosen, and what they are called. */
  chosen: { measures: readonly string[]; name: string };
  wishes: ArrangingWishes;
  onChange: (wishes: ArrangingWishes) => void;
}) {
  const { setup } = arrangement;
  const { style, settings, hand } = wishes;
  const { meter } = arrangement.measures[0]!;
  const set = (patch: Partial<ArrangeSettings>) =>
    onChange({ ...wishes, settings: { ...settings, ...patch } });
  const [easiest, hardest] = useMemo(() => {
    const difficulties = arrangement.measures.map((_, index) => measureDifficulty(arrangement, index).total);
    return [Math.min(...difficulties), Math.max(...difficulties)] as const;
  }, [arrangement]);
  const byPattern = style === 'pattern' || (style === 'fingerstyle' && settings.bass === 'pattern');
  const texture = textureNamed(settings, tune.meter);
  const picks = settings.school === 'pick' || settings.school === 'pick-fingers';
  return (
    <>
      <MannerChoice
        own={arrangement.id}
        onManner={manner => {
          const { school, jig } = settings;
          // A pick on few strings has grips where fingers have a bass.
          const grips = setup.tuning.length <= 4 && school === 'pick' && manner.style === 'fingerstyle';
          onChange({
            ...wishes,
            style: grips ? 'chord-melody' : manner.style,
            settings: { ...manner.settings, school, jig },
          });
        }}
      />
      <Choice
        label="Style"
        options={STYLES.map(s => ({ value: s, label: STYLE_WORDS[s] }))}
        value={style}
        onChange={v => {
          // The plucking hand that is usual goes with the style: a pick on a mandolin, but fingers for a bass under the melody.
          const usual = (own: Style) => usualSettings(setup.instrument, own).school;
          const school = settings.school === usual(style) ? usual(v) : settings.school;
          const lacksPattern = v === 'pattern' && !settings.pattern;
          const suits = lacksPattern ? patternSuiting(tune, school, setup.tuning.length) : undefined;
          const { why: _why, ...own } = suits ?? {};
          onChange({ ...wishes, style: v, settings: { ...settings, school, ...own } });
        }}
      />
      {style !== 'melody' && style !== 'pattern' && (
        <Choice
          label="Level"
          options={LEVELS.map(level => ({ value: level, label: LEVEL_WORDS[level] }))}
          value={settings.level}
          onChange={level => set({ level })}
        />
      )}
      {style !== 'melody' && style !== 'pattern' && (
        <NumberInput
          label="No measure harder than"
          description={`Where it would be, that measure is played at a lower level. Now ${easiest.toFixed(1)} to ${hardest.toFixed(1)}.`}
          placeholder="any"
          min={1}
          max={100}
          decimalScale={1}
          value={settings.hardest ?? ''}
          onChange={v => {
            const { hardest: _before, ...others } = settings;
            const asked = typeof v === 'number' && v >= 1 ? { ...others, hardest: v } : others;
            onChange({ ...wishes, settings: asked });
          }}
        />
      )}
      {style === 'fingerstyle' && (
        <TextureChoice
          tune={tune}
          setup={setup}
          value={texture}
          otherwise={texture ? undefined : 'another, as set below'}
          onChange={name => {
            const own = name && textureIn(name, tune.meter);
            if (own) set(own);
          }}
        />
      )}
      {style === 'fingerstyle' && (
        <Choice
          label="Bass"
          options={optionsOf(BASS_WORDS)}
          value={settings.bass}
          onChange={bass => set({ bass })}
        />
      )}
      {style === 'fingerstyle' && settings.bass === 'alternating' && (
        <Choice
          label="Alternation"
          options={optionsOf(ALTERNATION_WORDS)}
          value={settings.alternation ?? 'fifth'}
          onChange={alternation => set({ alternation })}
        />
      )}
      {byPattern && (
        <Patterns
          meter={meter}
          strings={setup.tuning.length}
          form={arrangement.measures}
          measures={chosen.measures}
          where={chosen.name}
          settings={settings}
          onChange={set}
        />
      )}
      {style === 'pattern' && (
        <Switch
          label="The bass runs from root to root before a chord changes"
          checked={settings.rootRuns ?? false}
          onChange={event => set({ rootRuns: event.currentTarget.checked })}
        />
      )}
      {(style === 'pattern' || (style === 'fingerstyle' && BASSES_IN_TURN.has(settings.bass))) && (
        <Switch
          label="Root and fifth in turn where a chord stays"
          checked={settings.bassTurns ?? false}
          onChange={event => set({ bassTurns: event.currentTarget.checked })}
        />
      )}
      {byPattern && (
        <Switch
          label="The pattern begins again where the chord changes"
          checked={settings.patternRestarts ?? false}
          onChange={event => set({ patternRestarts: event.currentTarget.checked })}
        />
      )}
      {style === 'chord-melody' && (
        <Choice
          label="With the melody"
          options={optionsOf(DOUBLING_WORDS)}
          value={settings.doubling ?? 'grips'}
          onChange={doubling => set({ doubling })}
        />
      )}
      {style === 'chord-melody' && (
        <>
          <Choice
            label="Where"
            options={optionsOf(DENSITY_WORDS)}
            value={settings.density}
            onChange={density => set({ density })}
          />
          {(settings.doubling ?? 'grips') === 'grips' && (
            <Choice
              label="Notes at once"
              options={[2, 3, 4].map(n => ({ value: n, label: String(n) }))}
              value={settings.voices}
              onChange={voices => set({ voices })}
            />
          )}
        </>
      )}
      {style === 'chord-melody' && (
        <Switch
          label="Passing chords before a change"
          checked={settings.passing ?? false}
          onChange={event => set({ passing: event.currentTarget.checked })}
        />
      )}
      {style !== 'pattern' && (
        <Choice
          label="Ornaments"
          options={optionsOf(ORNAMENTING_WORDS)}
          value={ornamentingOf(settings, tune)}
          onChange={ornaments => set({ ornaments })}
        />
      )}
      {style !== 'pattern' && (
        <Switch
          label="Tremolo on long notes"
          checked={settings.tremolo ?? false}
          onChange={event => set({ tremolo: event.currentTarget.checked })}
        />
      )}
      {style !== 'pattern' && (
        <Switch
          label="Let the melody ring across strings"
          checked={settings.ringing ?? false}
          onChange={event => set({ ringing: event.currentTarget.checked })}
        />
      )}
      {style === 'fingerstyle' && isOpenTo(setup, pitchClassOf(arrangement.measures[0]!.key.tonic)) && (
        <Switch
          label="Let open strings drone"
          checked={settings.drones ?? true}
          onChange={event => set({ drones: event.currentTarget.checked })}
        />
      )}
      <Choice
        label="Plucking hand"
        options={optionsOf(SCHOOL_WORDS)}
        value={settings.school}
        onChange={school => set({ school })}
      />
      {picks && isCompound(meter) && (
        <Choice
          label="Strokes in 6/8, 9/8 and 12/8"
          options={[
            { value: 'group', label: 'down-up-down in each group' },
            { value: 'alternate', label: 'strictly in turn' },
          ]}
          value={settings.jig}
          onChange={jig => set({ jig })}
        />
      )}
      <Group grow gap={8}>
        <Choice
          label="Hand"
          options={HAND_SIZES.map(size => ({ value: size, label: size }))}
          value={hand.size}
          onChange={size => onChange({ ...wishes, hand: { ...hand, size } })}
        />
        <NumberInput
          label="Beats a minute"
          min={10}
          max={300}
          value={Math.round(beatsPerMinute(meter, wishes.quartersPerMinute))}
          onChange={v => {
            if (typeof v !== 'number' || v < 10 || v > 300) return;
            onChange({ ...wishes, quartersPerMinute: quartersFromBeats(meter, v) });
          }}
        />
      </Group>
    </>
  );
}
