import { Loader } from '@mantine/core';
import type { ReactNode } from 'react';
import { useParams } from 'react-router';
import type { Tune } from '#core/tune';
import { useTune } from '../data/queries';
import { NotFound } from '../screens/NotFound';

/** Shows a screen for the tune in the address, once it is read; says so when there is none. */
export function TuneGate({ children }: { children: (tune: Tune, revision: number) => ReactNode }) {
  const { tuneId } = useParams();
  const stored = useTune(tuneId);
  if (stored.isPending) return <Loader m="xl" />;
  if (!stored.data) return <NotFound what="tune" />;
  return children(stored.data.tune, stored.data.revision);
}
