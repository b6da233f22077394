import { Alert, Button, Loader } from '@mantine/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { type KeyPlan, type KeyWishes, keyChoices, otherKey, playsOverBass, takenKey } from '#core/capo';
import { keyName } from '#core/pitch';
import { melodyRange, type Tune } from '#core/tune';
import { markOf as objectMark } from '../../data/mark';
import { useArrangements } from '../../data/queries';
import type { Planned } from '../../engine/useTunePlan';
import { arranger } from '../../engine/workers';
import { OtherKeyNote } from '../../parts/arranging/OtherKeyNote';
import { OtherTuningNote } from '../../parts/arranging/OtherTuningNote';
import { PlannedTuneGate } from '../../parts/Gates';
import { Masthead } from '../../parts/Masthead';
import { UndoPlan } from '../../parts/UndoPlan';
import common from '../../theme/common.module.css';
import shapesStyles from '../shapes/Shapes.module.css';
import { BestChoices } from './BestChoices';
import { CapoNotes } from './CapoNotes';
import styles from './KeyCapo.module.css';
import { KeyField, planId } from './KeyField';
import { cellName, markOf } from './marks';
import { Compared, PlanDetail } from './PlanDetail';
import { RangeChart } from './RangeChart';
import { SetupPanel } from './SetupPanel';
import { VoicePanel } from './VoicePanel';

export function KeyCapoScreen() {
  return <PlannedTuneGate>{(tune, planned) => <KeyCapo tune={tune} planned={planned} />}</PlannedTuneGate>;
}

/** How many best choices are listed. */
const CHOICES = 5;

function KeyCapo({ tune, planned }: { tune: Tune; planned: Planned }) {
  const { plan, change } = planned;
  const arrangements = useArrangements(tune.id);
  const [looked, setLooked] = useState<string>();
  const [beside, setBeside] = useState<string>();
  const overBass = playsOverBass(plan, tune);
  const wishes = useMemo<KeyWishes>(
    () => ({
      setup: { ...plan.setup, capo: 0 },
      hand: plan.hand,
      ...(plan.voice && { voice: plan.voice }),
      ...(plan.target && { target: plan.target }),
      ...(plan.wishes.noBarre && { noBarre: true }),
      ...(overBass && { overBass: true }),
      ...(plan.hand.beginner && { beginner: true }),
    }),
    [plan, overBass],
  );
  const table = useQuery({
    queryKey: ['key-table', objectMark(tune), wishes],
    queryFn: () => arranger().planKeys(tune, wishes),
    placeholderData: keepPreviousData,
  });
  const tuning = useQuery({
    queryKey: ['other-tuning', objectMark(tune), wishes],
    queryFn: async () => (await arranger().otherTuning(tune, wishes)) ?? null,
    enabled: overBass,
  });
  const plans = table.data ?? [];
  const byId = new Map(plans.map(p => [planId(p), p]));
  const taken = plan.keyOpen ? undefined : byId.get(planId(plan));
  const current = (looked && byId.get(looked)) || taken || plans[0];
  const other = beside === undefined ? undefined : byId.get(beside);
  const range = melodyRange(tune);
  const best = plans[0]?.cost ?? 0;
  const choices = keyChoices(plans, CHOICES);
  const offer = overBass ? otherKey(plans, plan.hand.beginner) : undefined;
  const look = (p: KeyPlan) => setLooked(planId(p));
  const take = ({ setup: { capo }, transposition }: KeyPlan) =>
    change(takenKey({ setup: { ...plan.setup, capo }, transposition }));

  return (
    <div className={common.frame}>
      <Masthead
        title={tune.title}
        under={`Key & capo · ${taken ? `${cellName(taken)}, sounds ${keyName(taken.soundingKey)}` : 'nothing chosen yet'}`}
        rail={{ tuneId: tune.id, arrangementId: arrangements.data?.[0]?.id }}
      >
        <UndoPlan planned={planned} />
      </Masthead>
      <main className={styles.planner}>
        <div className={common.stack}>
          <VoicePanel tune={tune} plan={plan} change={change} />
          <SetupPanel plan={plan} change={change} />
        </div>
        <div className={styles.field}>
          {table.error && <Alert color="cranberry">{table.error.message}</Alert>}
          {table.isPending && <Loader />}
          {table.data && !plans.length && (
            <Alert color="cranberry" title="No key fits">
              The melody's range does not fit this instrument in any key. Choose another instrument or tuning,
              or move part of the tune an octave in its source.
            </Alert>
          )}
          {plans.length > 0 && (
            <>
              <KeyField
                plans={plans}
                choices={choices}
                targeted={Boolean(plan.target)}
                looked={current}
                taken={taken}
                onLook={look}
                onTake={take}
              />
              {current && range && <RangeChart plan={current} voice={plan.voice} melody={range} />}
              {current && <CapoNotes key={planId(current)} tune={tune} plan={plan} cell={current} />}
            </>
          )}
        </div>
        <div className={`${common.stack} ${shapesStyles.detail}`}>
          <BestChoices choices={choices} looked={current} onLook={look} />
          {offer && offer.other !== taken && (
            <OtherKeyNote offer={offer} action="Look at it" onAct={() => look(offer.other)} />
          )}
          {overBass && tuning.data && (
            <OtherTuningNote offer={tuning.data} onAct={() => change(takenKey(tuning.data!.other))} />
          )}
          {current && (
            <PlanDetail
              cell={current}
              mark={markOf(current, best, Boolean(plan.target))}
              taken={current === taken}
              onTake={() => take(current)}
              onBeside={() => setBeside(planId(current))}
              hear={() => ({
                what: 'melody',
                tune,
                setup: current.setup,
                percent: 100,
                transposition: current.transposition + current.octaveShift,
                hand: plan.hand,
              })}
            />
          )}
          {current && other && other !== current && (
            <Compared a={other} b={current} onClose={() => setBeside(undefined)} />
          )}
          {taken && (
            <Button component={Link} to={`/tune/${tune.id}/shapes`} variant="default">
              On to the shapes
            </Button>
          )}
        </div>
      </main>
    </div>
  );
}
