import { Alert, Button, Group, Switch, Text } from '@mantine/core';
import { useMemo, useState } from 'react';
import type { TunePlan } from '#core/capo';
import { INSTRUMENTS } from '#core/instrument';
import type { Arrangement } from '#core/score';
import { measureNumbers, measureSpan, sectionsOf, type Tune } from '#core/tune';
import { ArrangeProgress } from '../../../parts/arranging/ArrangeProgress';
import { type ArrangingWishes, requestAnew, tuneIds, wishesOf } from '../../../parts/arranging/requestAnew';
import { Choice } from '../../../parts/Choice';
import { Fold } from '../../../parts/Fold';
import common from '../../../theme/common.module.css';
import styles from './ArrangePanel.module.css';
import { ArrangeWishes } from './ArrangeWishes';
import { PresentVerdict, ProposalVerdict } from './ProposalVerdict';
import { useProposal } from './useProposal';
import { VariationList } from './VariationList';

type Scope = 'all' | 'section' | 'chosen';

/** What is arranged where nothing less is chosen. */
const WHOLE = 'the whole tune';

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
  const [wishes, setWishes] = useState<ArrangingWishes>(() => wishesOf(arrangement));
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
  const request = useMemo(() => {
    const part = from !== undefined && to !== undefined ? tuneIds(arrangement, from, to) : undefined;
    return requestAnew(arrangement, plan, wishes, part);
  }, [arrangement, wishes, plan, from, to]);
  const { progress, trouble } = useProposal(tune, asked ? request : undefined, onPropose);
  const working = progress !== undefined;

  const ask = () => setAsked(true);
  const stop = () => {
    setAsked(false);
    onPropose(undefined);
  };
  const span = (first: number, last: number) => measureSpan(numbers, first, last);
  const name = (index: number) => span(index, index);
  const where = from === undefined || to === undefined ? WHOLE : span(from, to);
  const chosen = range ?? { from: at, to: at };
  return (
    <section aria-label="Arrange" className={`${common.stack} ${styles.panel}`}>
      <Choice
        label="What to arrange"
        options={[
          { value: 'all', label: WHOLE },
          { value: 'section', label: `section ${section?.name ?? ''} (at the cursor)` },
          { value: 'chosen', label: range ? 'the chosen measures' : 'the measure at the cursor' },
        ]}
        value={scope}
        onChange={v => {
          setScope(v);
          ask();
        }}
      />
      <ArrangeWishes
        arrangement={arrangement}
        tune={tune}
        chosen={{
          measures: tuneIds(arrangement, chosen.from, chosen.to),
          name: span(chosen.from, chosen.to),
        }}
        wishes={wishes}
        onChange={wished => {
          setWishes(wished);
          ask();
        }}
      />
      {trouble && <Alert color="cranberry">{trouble}</Alert>}
      <div className={styles.verdict}>
        <div aria-live="polite">
          {working && (
            <>
              <Text size="sm">Arranging …</Text>
              <ArrangeProgress done={progress} />
            </>
          )}
          {!asked && !proposal && <PresentVerdict arrangement={arrangement} name={name} />}
          {proposal && !working && (
            <ProposalVerdict arrangement={arrangement} proposal={proposal} where={where} name={name} />
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
            where={where}
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
            setWishes({ ...wishes, hand: { ...wishes.hand, slide: on } });
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
