import { Button, Loader } from '@mantine/core';
import type { ReactNode } from 'react';
import { Link, useParams } from 'react-router';
import type { History } from '#core/history';
import type { Kind, Records } from '#core/records';
import type { Arrangement } from '#core/score';
import type { Tune } from '#core/tune';
import type { Copy, CopyState } from '../data/copies';
import { useCopy } from '../data/queries';
import { type Planned, useTunePlan } from '../engine/useTunePlan';
import { NotFound } from '../screens/NotFound';
import common from '../theme/common.module.css';
import { Masthead } from './Masthead';

/** What stands in for a screen until its record is there, or because it can't be. */
function Waiting<K extends Kind>({ state, what }: { state: CopyState<K>; what: 'tune' | 'arrangement' }) {
  if (state.status === 'reading') return <Loader m="xl" aria-label={`Reading the ${what}`} />;
  if (state.status === 'missing') return <NotFound what={what} />;
  return (
    <div className={common.frame}>
      <Masthead title="Velvet Porch" />
      <main className={common.page}>
        <h2>The {what} can’t be read now</h2>
        <p>{state.trouble}.</p>
        <Button component={Link} to="/">
          To the shelf
        </Button>
      </main>
    </div>
  );
}

/** Shows a screen for the tune in the address, once it is read; says so when there is none. */
export function TuneGate({ children }: { children: (tune: Tune, copy: Copy<'tunes'>) => ReactNode }) {
  const { tuneId } = useParams();
  const [state, copy] = useCopy('tunes', tuneId!);
  if (state.status !== 'ready') return <Waiting state={state} what="tune" />;
  return children(state.history!.present, copy);
}

/** Shows a screen for the tune in the address together with its plan. */
export function PlannedTuneGate({ children }: { children: (tune: Tune, planned: Planned) => ReactNode }) {
  return (
    <TuneGate>
      {tune => (
        <WithPlan key={tune.id} tuneId={tune.id}>
          {planned => children(tune, planned)}
        </WithPlan>
      )}
    </TuneGate>
  );
}

function WithPlan({ tuneId, children }: { tuneId: string; children: (planned: Planned) => ReactNode }) {
  const planned = useTunePlan(tuneId);
  if (!planned) return <Loader m="xl" aria-label="Reading the plan" />;
  return children(planned);
}

export interface OpenArrangement {
  arrangement: Arrangement;
  history: History<Arrangement>;
  state: CopyState<'arrangements'>;
  copy: Copy<'arrangements'>;
}

/** Shows a screen for the arrangement in the address, as it stands on every screen of this window. */
export function ArrangementGate({ children }: { children: (open: OpenArrangement) => ReactNode }) {
  const { arrangementId } = useParams();
  const [state, copy] = useCopy('arrangements', arrangementId!);
  if (state.status !== 'ready') return <Waiting state={state} what="arrangement" />;
  const history: History<Records['arrangements']> = state.history!;
  return children({ arrangement: history.present, history, state, copy });
}
