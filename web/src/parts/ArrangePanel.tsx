import { Alert, Button, Group, NumberInput, Select, Switch, Text } from '@mantine/core';
import { useEffect, useMemo, useState } from 'react';
import { type ArrangeRequest, ornamentingOf, usualPattern } from '#core/arrange';
import { DIFFICULTY_PARTS, difficultyOf } from '#core/check';
import { HAND_SIZES, type HandSize } from '#core/hand';
import { INSTRUMENTS } from '#core/instrument';
import {
  type Alternation,
  type Arrangement,
  type ArrangeSettings,
  type BassSchool,
  changedMeasures,
  type Density,
  type Doubling,
  type Level,
  type Ornamenting,
  type PluckSchool,
  ringFactor,
  STYLES,
  type Style,
  settingsOf,
} from '#core/score';
import { beatsPerMinute, isCompound, type Meter, quartersFromBeats } from '#core/time';
import { measureNumbers, sectionsOf, type Tune } from '#core/tune';
import { arrangeStoppable, warmArranging } from '../engine/workers';
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
import { PatternChoice } from './PatternChoice';

type Scope = 'all' | 'section' | 'chosen';

interface ArrangePanelProps {
  arrangement: Arrangement;
  tune: Tune;
  /** Measure of the cursor, and the chosen measures. */
  at: number;
  range: { from: number; to: number } | undefined;
  proposal: Arrangement | undefined;
  onPropose: (proposal: Arrangement | undefined) => void;
  onTake: (label: string) => void;
  /** Fingers the part anew; strings and frets stay. */
  onRefinger: (range: { from: number; to: number }, goal: 'total' | 'worst') => void;
}

const options = <T extends string | number>(words: Record<T, string>) =>
  Object.entries<string>(words).map(([value, label]) => ({ value, label }));

/** What the arranger is asked for; a proposal is made at once and shown beside the present before it is taken. */
export function ArrangePanel({
  arrangement,
  tune,
  at,
  range,
  proposal,
  onPropose,
  onTake,
  onRefinger,
}: ArrangePanelProps) {
  const { setup } = arrangement;
  const [style, setStyle] = useState<Style>(arrangement.style);
  const [settings, setSettings] = useState<ArrangeSettings>(() => settingsOf(arrangement));
  const [hand, setHand] = useState(arrangement.hand);
  const [quarters, setQuarters] = useState(arrangement.quartersPerMinute);
  const [scope, setScope] = useState<Scope>('all');
  const [asked, setAsked] = useState(false);
  const [progress, setProgress] = useState<number>();
  const working = progress !== undefined;
  const [trouble, setTrouble] = useState<string>();
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
    (): ArrangeRequest | undefined =>
      asked
        ? {
            id: arrangement.id,
            instrument: arrangement.setup.instrument,
            setup: arrangement.setup,
            capo: arrangement.setup.capo,
            style,
            settings,
            hand,
            ...(arrangement.transposition && { transposition: arrangement.transposition }),
            keep: {
              present: arrangement,
              ...(from !== undefined && to !== undefined && { range: { from, to } }),
            },
          }
        : undefined,
    [asked, arrangement, style, settings, hand, from, to],
  );

  useEffect(warmArranging, []);
  useEffect(() => {
    if (!request) return;
    let stop = () => {};
    setProgress(0);
    // Several choices made in quick succession are one question.
    const timer = setTimeout(() => {
      stop = arrangeStoppable(tune, request, setProgress, result => {
        setProgress(undefined);
        if ('error' in result) {
          setTrouble(result.error);
          return;
        }
        setTrouble(result.problem?.message);
        onPropose(result.arrangement && { ...result.arrangement, quartersPerMinute: quarters });
      });
    }, 150);
    // Another question, or none any more: what is still being made is stopped.
    return () => {
      clearTimeout(timer);
      stop();
      setProgress(undefined);
    };
  }, [request, tune, quarters, onPropose]);

  const ask = () => setAsked(true);
  const set = (patch: Partial<ArrangeSettings>) => {
    setSettings({ ...settings, ...patch });
    ask();
  };
  const stop = () => {
    setAsked(false);
    onPropose(undefined);
  };
  const changed = proposal ? changedMeasures(arrangement, proposal) : [];
  const now = difficultyOf(arrangement);
  const then = proposal && difficultyOf(proposal);
  const name = (index: number) => (numbers[index] === 0 ? 'the pickup' : `measure ${numbers[index]}`);
  const where =
    scope === 'all'
      ? 'all'
      : from === undefined || to === undefined
        ? ''
        : from === to
          ? name(from)
          : `${name(from)} to ${numbers[to]}`;
  const byPattern = style === 'pattern' || (style === 'fingerstyle' && settings.bass === 'pattern');
  const picks = settings.school === 'pick' || settings.school === 'pick-fingers';
  return (
    <section aria-label="Arrange" className="stack">
      <Select
        label="What to arrange"
        data={[
          { value: 'all', label: 'the whole tune' },
          { value: 'section', label: `section ${section?.name ?? ''} (at the cursor)` },
          { value: 'chosen', label: range ? 'the chosen measures' : 'the measure at the cursor' },
        ]}
        value={scope}
        allowDeselect={false}
        onChange={v => {
          if (!v) return;
          setScope(v as Scope);
          ask();
        }}
      />
      <Select
        label="Style"
        data={STYLES.map(s => ({ value: s, label: STYLE_WORDS[s] }))}
        value={style}
        allowDeselect={false}
        onChange={v => {
          if (!v) return;
          setStyle(v as Style);
          ask();
        }}
      />
      {style !== 'melody' && style !== 'pattern' && (
        <Select
          label="Level"
          data={options(LEVEL_WORDS)}
          value={String(settings.level)}
          allowDeselect={false}
          onChange={v => v && set({ level: Number(v) as Level })}
        />
      )}
      {style === 'fingerstyle' && (
        <Select
          label="Bass"
          data={options(BASS_WORDS)}
          value={settings.bass}
          allowDeselect={false}
          onChange={v => v && set({ bass: v as BassSchool })}
        />
      )}
      {style === 'fingerstyle' && settings.bass === 'alternating' && (
        <Select
          label="Alternation"
          data={options(ALTERNATION_WORDS)}
          value={settings.alternation ?? 'fifth'}
          allowDeselect={false}
          onChange={v => v && set({ alternation: v as Alternation })}
        />
      )}
      {byPattern && (
        <Patterns
          meter={meter}
          strings={arrangement.setup.tuning.length}
          sections={[...new Set(sectionsOf(arrangement.measures).map(s => s.name))]}
          settings={settings}
          onChange={set}
        />
      )}
      {style === 'chord-melody' && (
        <Select
          label="With the melody"
          data={options(DOUBLING_WORDS)}
          value={settings.doubling ?? 'grips'}
          allowDeselect={false}
          onChange={v => v && set({ doubling: v as Doubling })}
        />
      )}
      {style === 'chord-melody' && (
        <>
          <Select
            label="Where"
            data={options(DENSITY_WORDS)}
            value={settings.density}
            allowDeselect={false}
            onChange={v => v && set({ density: v as Density })}
          />
          {(settings.doubling ?? 'grips') === 'grips' && (
            <Select
              label="Notes at once"
              data={['2', '3', '4']}
              value={String(settings.voices)}
              allowDeselect={false}
              onChange={v => v && set({ voices: Number(v) })}
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
        <Select
          label="Ornaments"
          data={options(ORNAMENTING_WORDS)}
          value={ornamentingOf(settings)}
          allowDeselect={false}
          onChange={v => v && set({ ornaments: v as Ornamenting })}
        />
      )}
      {style !== 'pattern' && (
        <Switch
          label="Let the melody ring across strings"
          checked={settings.ringing ?? false}
          onChange={event => set({ ringing: event.currentTarget.checked })}
        />
      )}
      <Select
        label="Plucking hand"
        data={options(SCHOOL_WORDS)}
        value={settings.school}
        allowDeselect={false}
        onChange={v => v && set({ school: v as PluckSchool })}
      />
      {picks && isCompound(meter) && (
        <Select
          label="Jig strokes"
          data={[
            { value: 'group', label: 'down-up-down in each group' },
            { value: 'alternate', label: 'strictly in turn' },
          ]}
          value={settings.jig}
          allowDeselect={false}
          onChange={v => v && set({ jig: v as ArrangeSettings['jig'] })}
        />
      )}
      <Group grow gap={8}>
        <Select
          label="Hand"
          data={HAND_SIZES.map(size => ({ value: size, label: size }))}
          value={hand.size}
          allowDeselect={false}
          onChange={v => {
            if (!v) return;
            setHand({ ...hand, size: v as HandSize });
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
      <div className="verdict">
        <div aria-live="polite">
          {working && (
            <>
              <Text size="sm">Arranging …</Text>
              <ArrangeProgress done={progress} />
            </>
          )}
          {!asked && (
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
                <table className="difficulty">
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
                  <ul className="reasons">
                    {proposal.ledger.map(line => (
                      <li key={line}>{line}</li>
                    ))}
                  </ul>
                </details>
              )}
            </>
          )}
        </div>
        <Group gap={8}>
          {!asked && (
            <Button variant="default" onClick={ask}>
              Propose anew
            </Button>
          )}
          {asked && (
            <>
              <Button
                color="marigold.6"
                disabled={!proposal || working}
                onClick={() => {
                  onTake(`arranged ${where} anew`);
                  stop();
                }}
              >
                Take the proposal
              </Button>
              <Button variant="default" onClick={stop}>
                {working ? 'Stop' : 'Leave it'}
              </Button>
            </>
          )}
        </Group>
      </div>
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
  settings,
  onChange,
}: {
  meter: Meter;
  strings: number;
  sections: readonly string[];
  settings: ArrangeSettings;
  onChange: (patch: Partial<ArrangeSettings>) => void;
}) {
  const own = settings.sectionPatterns ?? {};
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
          <div className="stack">
            {sections.map(name => (
              <PatternChoice
                key={name}
                label={`Section ${name}`}
                meter={meter}
                strings={strings}
                text={own[name] ?? ''}
                usual={usual}
                placeholder="as the whole"
                onChange={pattern => {
                  const { [name]: _before, ...others } = own;
                  onChange({ sectionPatterns: pattern ? { ...others, [name]: pattern } : others });
                }}
              />
            ))}
          </div>
        </details>
      )}
    </>
  );
}
