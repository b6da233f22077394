import { Alert, Button, Group, NumberInput, Switch, Text } from '@mantine/core';
import { useMemo, useState } from 'react';
import { ornamentingOf, patternSuiting, textureIn, textureNamed, usualPattern } from '#core/arrange';
import type { TunePlan } from '#core/capo';
import { DIFFICULTY_PARTS, difficultyOf, measureDifficulty } from '#core/check';
import { changedMeasures } from '#core/compare';
import { HAND_SIZES } from '#core/hand';
import { INSTRUMENTS, isOpenTo } from '#core/instrument';
import { pitchClassOf } from '#core/pitch';
import {
  type Arrangement,
  type ArrangeSettings,
  BASSES_IN_TURN,
  LEVELS,
  ledgerWords,
  STYLES,
  type Style,
  settingsOf,
  usualSettings,
} from '#core/score';
import { beatsPerMinute, isCompound, type Meter, quartersFromBeats } from '#core/time';
import { ringFactor } from '#core/track';
import { measureNumbers, type Section, sectionsOf, type Tune } from '#core/tune';
import common from '../theme/common.module.css';
import styles from './ArrangePanel.module.css';
import { ArrangeProgress } from './ArrangeProgress';
import {
  ALTERNATION_WORDS,
  BASS_WORDS,
  DENSITY_WORDS,
  DIFFICULTY_WORDS,
  DOUBLING_WORDS,
  LEVEL_WORDS,
  ORNAMENTING_WORDS,
  SCHOOL_WORDS,
  STYLE_WORDS,
} from './arrangeWords';
import { Choice, optionsOf } from './Choice';
import { Fold } from './Fold';
import { MannerChoice } from './MannerChoice';
import { PatternChoice } from './PatternChoice';
import { requestAnew } from './requestAnew';
import { TextureChoice } from './TextureChoice';
import { useProposal } from './useProposal';
import { VariationList } from './VariationList';

type Scope = 'all' | 'section' | 'chosen';

interface ArrangePanelProps {
  arrangement: Arrangement;
  tune: Tune;
  /** What was settled for the tune, where it is for these strings. */
  plan: TunePlan | undefined;
  /** Measure of the cursor, and the chosen measures. */
  at: number;
  range: { from: number; to: number } | undefined;
  proposal: Arrangement | undefined;
  onPropose: (proposal: Arrangement | undefined) => void;
  /** Takes the proposal, or `only` some measures of it: the rest of it is shown on. Tells whether it was taken. */
  onTake: (label: string, only?: readonly string[]) => boolean;
  /** Fingers the part anew; strings and frets stay. */
  onRefinger: (range: { from: number; to: number }, goal: 'total' | 'worst') => void;
  /** With a bar on the strings, or with fingers. */
  onBar: (on: boolean) => void;
}

/** What the arranger is asked for; a proposal is made at once and shown beside the present before it is taken. */
export function ArrangePanel({
  arrangement,
  tune,
  plan,
  at,
  range,
  proposal,
  onPropose,
  onTake,
  onRefinger,
  onBar,
}: ArrangePanelProps) {
  const { setup } = arrangement;
  const [style, setStyle] = useState<Style>(arrangement.style);
  const [settings, setSettings] = useState<ArrangeSettings>(() => settingsOf(arrangement));
  const [hand, setHand] = useState(arrangement.hand);
  const [quarters, setQuarters] = useState(arrangement.quartersPerMinute);
  const [scope, setScope] = useState<Scope>('all');
  const [asked, setAsked] = useState(false);
  const numbers = measureNumbers(arrangement.measures);
  const section = sectionsOf(arrangement.measures).find(s => at >= s.from && at < s.to);
  const [from, to] =
    scope === 'section' && section
      ? [section.from, section.to - 1]
      : scope === 'chosen'
        ? [range?.from ?? at, range?.to ?? at]
        : [undefined, undefined];
  const meter = arrangement.measures[0]!.meter;
  const request = useMemo(
    () =>
      requestAnew(
        arrangement,
        plan,
        { style, settings, hand, quartersPerMinute: quarters },
        from !== undefined && to !== undefined
          ? arrangement.measures.slice(from, to + 1).map((_, i) => from + i)
          : undefined,
      ),
    [arrangement, style, settings, hand, quarters, plan, from, to],
  );
  const { progress, trouble } = useProposal(tune, asked ? request : undefined, onPropose);
  const working = progress !== undefined;

  const ask = () => setAsked(true);
  const set = (patch: Partial<ArrangeSettings>) => {
    setSettings({ ...settings, ...patch });
    ask();
  };
  const stop = () => {
    setAsked(false);
    onPropose(undefined);
  };
  const changed = useMemo(
    () => (proposal ? changedMeasures(arrangement, proposal) : []),
    [arrangement, proposal],
  );
  const now = useMemo(() => difficultyOf(arrangement), [arrangement]);
  const easiest = useMemo(
    () => Math.min(...arrangement.measures.map((_, index) => measureDifficulty(arrangement, index).total)),
    [arrangement],
  );
  const then = useMemo(() => proposal && difficultyOf(proposal), [proposal]);
  const name = (index: number) => (numbers[index] === 0 ? 'the pickup' : `measure ${numbers[index]}`);
  const span = (first: number, last: number) =>
    first === last ? name(first) : `${name(first)} to ${numbers[last]}`;
  const where = from === undefined || to === undefined ? 'all' : span(from, to);
  const chosen = range ?? { from: at, to: at };
  const byPattern = style === 'pattern' || (style === 'fingerstyle' && settings.bass === 'pattern');
  const texture = textureNamed(settings, tune.meter);
  const picks = settings.school === 'pick' || settings.school === 'pick-fingers';
  return (
    <section aria-label="Arrange" className={`${common.stack} ${styles.panel}`}>
      <Choice
        label="What to arrange"
        options={[
          { value: 'all', label: 'the whole tune' },
          { value: 'section', label: `section ${section?.name ?? ''} (at the cursor)` },
          { value: 'chosen', label: range ? 'the chosen measures' : 'the measure at the cursor' },
        ]}
        value={scope}
        onChange={v => {
          setScope(v);
          ask();
        }}
      />
      <MannerChoice
        own={arrangement.id}
        onManner={manner => {
          const { school, jig } = settings;
          // A pick on few strings has grips where fingers have a bass.
          const grips = setup.tuning.length <= 4 && school === 'pick' && manner.style === 'fingerstyle';
          setStyle(grips ? 'chord-melody' : manner.style);
          setSettings({ ...manner.settings, school, jig });
          ask();
        }}
      />
      <Choice
        label="Style"
        options={STYLES.map(s => ({ value: s, label: STYLE_WORDS[s] }))}
        value={style}
        onChange={v => {
          setStyle(v);
          // The plucking hand that is usual goes with the style: a pick on a mandolin, but fingers for a bass under the melody.
          const usual = (own: Style) => usualSettings(setup.instrument, own).school;
          const school = settings.school === usual(style) ? usual(v) : settings.school;
          const lacksPattern = v === 'pattern' && !settings.pattern;
          const suits = lacksPattern ? patternSuiting(tune, school, setup.tuning.length) : undefined;
          const { why: _why, ...own } = suits ?? {};
          set({ school, ...own });
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
          description={`Where it would be, that measure is played at a lower level. Now ${easiest.toFixed(1)} to ${now.worst.toFixed(1)}.`}
          placeholder="any"
          min={1}
          max={100}
          decimalScale={1}
          value={settings.hardest ?? ''}
          onChange={v => {
            const { hardest: _before, ...others } = settings;
            setSettings(typeof v === 'number' && v >= 1 ? { ...others, hardest: v } : others);
            ask();
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
          strings={arrangement.setup.tuning.length}
          sections={sectionsOf(arrangement.measures)}
          measures={arrangement.measures.slice(chosen.from, chosen.to + 1).flatMap(m => m.from?.id ?? [])}
          where={span(chosen.from, chosen.to)}
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
          label="Jig strokes"
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
          onChange={v => {
            setHand({ ...hand, size: v });
            ask();
          }}
        />
        <NumberInput
          label="Beats a minute"
          min={10}
          max={300}
          value={Math.round(beatsPerMinute(meter, quarters))}
          onChange={v => {
            if (typeof v !== 'number' || v < 10 || v > 300) return;
            setQuarters(quartersFromBeats(meter, v));
            ask();
          }}
        />
      </Group>
      {trouble && <Alert color="cranberry">{trouble}</Alert>}
      <div className={styles.verdict}>
        <div aria-live="polite">
          {working && (
            <>
              <Text size="sm">Arranging …</Text>
              <ArrangeProgress done={progress} />
            </>
          )}
          {!asked && !proposal && (
            <Text size="sm">
              Difficulty {now.mean.toFixed(1)} a measure; the hardest is {name(now.hardest)} with{' '}
              {now.worst.toFixed(1)}.
            </Text>
          )}
          {proposal && then && !working && (
            <>
              <Text size="sm">
                {changed.length
                  ? `${changed.length} of ${arrangement.measures.length} measures differ (${where}).`
                  : 'Nothing differs from the present.'}{' '}
                Difficulty {now.mean.toFixed(1)} → {then.mean.toFixed(1)}; the hardest {name(then.hardest)}{' '}
                with {then.worst.toFixed(1)}. Melody notes ring {ringFactor(proposal).toFixed(1)} times as
                long as written (now {ringFactor(arrangement).toFixed(1)}).
              </Text>
              <details>
                <summary>What the difficulty is made of</summary>
                <table className={styles.difficulty}>
                  <tbody>
                    {DIFFICULTY_PARTS.map(part => (
                      <tr key={part}>
                        <th scope="row">{DIFFICULTY_WORDS[part]}</th>
                        <td>
                          {now.parts[part].toFixed(1)} → {then.parts[part].toFixed(1)}
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </details>
              {proposal.ledger.length > 0 && (
                <details>
                  <summary>What is not as in the source</summary>
                  <ul className={common.reasons}>
                    {proposal.ledger.map(line => (
                      <li key={line.id}>{ledgerWords(proposal, line)}</li>
                    ))}
                  </ul>
                </details>
              )}
            </>
          )}
        </div>
        <Group gap={8}>
          {!asked && !proposal && (
            <Button variant="default" onClick={ask}>
              Propose anew
            </Button>
          )}
          {(asked || proposal) && (
            <>
              <Button
                color="marigold.6"
                disabled={!proposal || working}
                onClick={() => {
                  if (onTake(`arranged ${where} anew`)) stop();
                }}
              >
                Take the proposal
              </Button>
              <Button
                variant="default"
                disabled={!proposal || working}
                onClick={() => {
                  const ids = arrangement.measures.slice(chosen.from, chosen.to + 1).map(m => m.id);
                  onTake(`${span(chosen.from, chosen.to)} of a proposal`, ids);
                }}
              >
                Take only {span(chosen.from, chosen.to)}
              </Button>
              <Button variant="default" onClick={stop}>
                {working ? 'Stop' : 'Leave it'}
              </Button>
            </>
          )}
        </Group>
      </div>
      <Fold name="other settings" words="Three other settings to compare">
        {() => (
          <VariationList
            arrangement={arrangement}
            where={scope === 'all' ? 'the whole tune' : where}
            ask={() => {
              setAsked(false);
              return { tune, request };
            }}
            proposal={proposal}
            onPropose={made => {
              setAsked(false);
              onPropose(made);
            }}
          />
        )}
      </Fold>
      {!asked && (
        <Group gap={8}>
          {(['total', 'worst'] as const).map(goal => (
            <Button
              key={goal}
              size="compact-sm"
              variant="default"
              onClick={() => onRefinger({ from: from ?? 0, to: to ?? arrangement.measures.length - 1 }, goal)}
            >
              {goal === 'total' ? 'Finger anew' : 'Finger for the easiest worst change'}
            </Button>
          ))}
        </Group>
      )}
      {!asked && (
        <Switch
          label="Played with a bar that slides on the strings"
          checked={arrangement.hand.slide ?? false}
          onChange={event => {
            const on = event.currentTarget.checked;
            setHand({ ...hand, slide: on });
            onBar(on);
          }}
        />
      )}
      <Text size="sm" c="dimmed">
        {INSTRUMENTS[setup.instrument].name}
        {setup.capo ? `, capo ${setup.capo}` : ''}. Pinned notes stay. Key, capo and tuning are changed in Key
        & capo.
      </Text>
    </section>
  );
}

/** The pattern of the whole, and those of sections that have their own. */
function Patterns({
  meter,
  strings,
  sections,
  measures,
  where,
  settings,
  onChange,
}: {
  meter: Meter;
  strings: number;
  sections: readonly Section[];
  /** Ids of the tune's measures that are chosen, and what they are called. */
  measures: readonly string[];
  where: string;
  settings: ArrangeSettings;
  onChange: (patch: Partial<ArrangeSettings>) => void;
}) {
  const own = settings.sectionPatterns ?? {};
  const byMeasure = settings.measurePatterns ?? {};
  const usual = usualPattern(meter, settings.school);
  return (
    <>
      <PatternChoice
        label="Pattern"
        meter={meter}
        strings={strings}
        text={settings.pattern ?? ''}
        usual={usual}
        placeholder={`as usual: ${usual.name}`}
        onChange={pattern => onChange({ pattern })}
      />
      {sections.length > 1 && (
        <details open={Object.values(own).some(Boolean)}>
          <summary>A pattern of its own for a section</summary>
          <div className={common.stack}>
            {sections.map(({ id, name }) => (
              <PatternChoice
                key={id}
                label={`Section ${sections.filter(s => s.name === name).length > 1 ? `${name} (${sections.findIndex(s => s.id === id) + 1})` : name}`}
                meter={meter}
                strings={strings}
                text={own[id] ?? ''}
                usual={usual}
                placeholder="as the whole"
                onChange={pattern => {
                  const { [id]: _before, ...others } = own;
                  onChange({ sectionPatterns: pattern ? { ...others, [id]: pattern } : others });
                }}
              />
            ))}
          </div>
        </details>
      )}
      <details open={measures.some(id => byMeasure[id])}>
        <summary>A pattern of its own for {where}</summary>
        <PatternChoice
          key={measures.join()}
          label={`Pattern of ${where}`}
          meter={meter}
          strings={strings}
          text={byMeasure[measures[0] ?? ''] ?? ''}
          usual={usual}
          placeholder="as the section"
          onChange={pattern => {
            const others = Object.entries(byMeasure).filter(([id]) => !measures.includes(id));
            const chosen = pattern ? measures.map(id => [id, pattern] as const) : [];
            onChange({ measurePatterns: Object.fromEntries([...others, ...chosen]) });
          }}
        />
      </details>
    </>
  );
}
